// SPDX-License-Identifier: GPL-3.0-or-later
// A project without a window: new, part, board, set, fix, and what `time` lists.
#include "tests/kpeg/runner.hpp"

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

namespace {

using namespace kpeg_test;
namespace fs = std::filesystem;

struct MakeFolder {
    std::string path = testing::TempDir() + "make_test_" + std::to_string(getpid());
    MakeFolder() {
        fs::remove_all(path);
        fs::create_directories(path);
    }
    ~MakeFolder() {
        std::error_code ignored;
        fs::remove_all(path, ignored);
    }
    std::string operator()(const std::string& name, const std::string& text) const {
        std::ofstream(path + "/" + name) << text;
        return path + "/" + name;
    }
    std::string operator/(const std::string& name) const { return path + "/" + name; }
};

const char* const pin_list =
    "remark above the "
    "table,,,,\nBall,Name,Bank,Pair,Polarity\nA1,IO_1,1,A2,N\nA2,IO_2,,A1,P\nB1,GND,,,\nB2,VIO_1,1,,\nC1,IO_3,2,,\nC2,"
    "CLK_IN,2,,\nC3,IO_4,2,,\nD1,IO_5,2,,\n";
const char* const part_columns =
    R"({"schema": "kitepeg.columns/1", "heading_row": 2, "columns": {"Ball": "FPGA pin", "Name": "terminal", )"
    R"("Bank": "bank", "Pair": "pair", "Polarity": "half of the pair"}})";
const char* const wires =
    "Ref;Signal;Pin;Dir;Freq\nD5;;;;\nD5;VENT1;pad C1;out;\n;VENT2;pad C3;out;\nX1;CLKIN;Pin C2;in;25 MHz\nJ9;Spare "
    "n.c.;pad D1;;\n";

TEST(KpegMake, AStarterIsMadeForABoardFileOfOnesOwn) {
    const MakeFolder f;
    auto text = slurp(KP_SOURCE "/data/boards/tussock.board.json");
    const auto board = f("m\u00F6we.board.json", text);
    const auto a = run("new " + (f / "proj") + " --name first --board " + board + " --starter");
    ASSERT_EQ(a.status, 0) << a.err;
    EXPECT_TRUE(fs::exists(f / "proj/m\u00F6we.board.json"));
    EXPECT_TRUE(fs::exists(f / "proj/starter.v"));
    const auto built = run("build " + (f / "proj/starter.kpeg") + " --out " + (f / "out") + " --json -");
    EXPECT_EQ(built.status, 0) << built.err << built.out;
    // A board that is none is refused, and nothing of it stays.
    const auto none = run("new " + (f / "other") + " --board " + f("bad.board.json", "{}") + " --starter");
    EXPECT_EQ(none.status, 2);
    EXPECT_FALSE(fs::exists(f / "other/bad.board.json"));
}

TEST(KpegMake, APartFromAPinListBuildsOnAGenericFabricThatIsNamed) {
    const MakeFolder f;
    ASSERT_EQ(run("part " + f("pins.csv", pin_list) + " --columns " + f("map.json", part_columns) +
                  " --name ABX7-B16 --out " + (f / "abx7.part.json"))
                  .status,
              0);
    const auto source = f("s.v", "module top(input clk, d, output reg q);\nalways @(posedge clk) q <= d;\nendmodule\n");
    const auto sdc = f("s.sdc",
                       "create_clock -name clk -period 40 [get_ports clk]\nset_input_delay -clock clk 1 [get_ports d]\n"
                       "set_output_delay -clock clk 1 [get_ports q]\n");
    const auto build = [&](const std::string& part, const std::string& out) {
        const auto a = run("build " + source + " --top top --part " + part + " --sdc " + sdc + " --out " + (f / out) +
                           " --json -");
        EXPECT_EQ(a.status, 0) << a.err << a.out;
        return nlohmann::json::parse(a.out);
    };
    const auto own = build(f / "abx7.part.json", "own");
    EXPECT_EQ(own["verdict"], "met");
    ASSERT_EQ(own["assumed"].size(), 2U);
    EXPECT_EQ(own["assumed"][0]["what"], "fabric");
    EXPECT_NE(own["assumed"][0]["from"].get<std::string>().find("ABX7-B16"), std::string::npos);
    EXPECT_TRUE(fs::exists(f / "own/placed.json"));
    EXPECT_TRUE(build("SKR11-Q144-MN", "shipped")["assumed"].empty()) << "a part that says what is inside";
}

TEST(KpegMake, APartFromAPinListKeepsHyphenHalvesAndBanks) {
    const MakeFolder f;
    const auto a = run("part " + f("pins.csv", pin_list) + " --columns " + f("map.json", part_columns) +
                       " --name ABX7-B16 --out " + (f / "abx7.part.json") + " --json -");
    ASSERT_EQ(a.status, 0) << a.err;
    const auto j = nlohmann::json::parse(a.out);
    EXPECT_EQ(j["part"], "ABX7-B16");
    EXPECT_EQ(j["banks"], 2);
    const auto part = nlohmann::json::parse(slurp(f / "abx7.part.json"));
    EXPECT_EQ(part["codes"], "ABX7-B16");
    for (const auto& pin : part["pins"]) {
        if (pin["name"] == "A2") {
            EXPECT_EQ(pin.value("pair", ""), "A1");
        }
        if (pin["name"] == "A2") {
            EXPECT_EQ(pin.value("bank", ""), "1") << "below a merged cell";
        }
    }
    EXPECT_EQ(run("part " + (f / "pins.csv") + " --columns " +
                  f("bad.json", R"({"schema": "kitepeg.columns/1", "columns": {"Bull": "FPGA pin"}})") + " --out " +
                  (f / "x.part.json"))
                  .status,
              2);
}

TEST(KpegMake, ABoardFromATable) {
    const MakeFolder f;
    ASSERT_EQ(run("part " + f("pins.csv", pin_list) + " --columns " + f("map.json", part_columns) +
                  " --name ABX7-B16 --out " + (f / "abx7.part.json"))
                  .status,
              0);
    const auto a = run("board " + f("wires.csv", wires) + " --part " + (f / "abx7.part.json") + " --out " +
                       (f / "shed.board.json") + " --json -");
    ASSERT_EQ(a.status, 0) << a.err;
    const auto j = nlohmann::json::parse(a.out);
    EXPECT_EQ(j["wired"], 3);
    EXPECT_EQ(j["unused"], 2) << "'Spare n.c.' wires nothing, and neither does the heading of a group";
    EXPECT_EQ(j["merged"], 1);
    const auto board = nlohmann::json::parse(slurp(f / "shed.board.json"));
    for (const auto& part : board["parts"]) EXPECT_NE(part["ref"], "BOARD");
    EXPECT_FALSE(board["oscillators"][0].contains("duty_percent")) << "nobody gave one";
    EXPECT_EQ(board["oscillators"][0]["mhz"], 25.0);
}

TEST(KpegMake, NewSetFixAndNothingIsLeftOfWhatIsRefused) {
    const MakeFolder f;
    const auto hdl = f("top.v", "module top(input clk, output [1:0] vent); endmodule\n");
    const auto made = run("new " + (f / "p") + " --name shed --part SKR11-Q144-LN --board tussock --source " + hdl);
    ASSERT_EQ(made.status, 0) << made.err;
    EXPECT_TRUE(fs::exists(f / "p/shed.kpeg"));
    EXPECT_TRUE(fs::exists(f / "p/top.v"));
    const std::string project = f / "p/shed.kpeg";
    EXPECT_EQ(run("new " + (f / "p") + " --name shed").status, 2) << "never over another";
    EXPECT_EQ(run("pegs " + project + " --set clk=osc_20 --set vent=rose0..rose1 --json -").status, 0);
    EXPECT_EQ(run("set " + project + " vent.slew=slow vent[0].drive=4 top=top").status, 0);
    const auto rows = nlohmann::json::parse(run("pegs " + project + " --json -").out)["ports"];
    for (const auto& r : rows)
        if (r["port"] == "vent[0]") {
            EXPECT_EQ(r["drive"], "4");
        }
    for (const auto& r : rows)
        if (r["port"] == "vent[1]") {
            EXPECT_EQ(r["slew"], "slow");
        }
    EXPECT_EQ(run("set " + project + " vent.colour=red").err,
              "kpeg: Ports have no attribute 'colour'; they have standard, drive, slew, pull, termination, partner, "
              "pad_register, pad_delay, note, role, sense, open, tie, invert and meant.\n");
    EXPECT_EQ(run("set " + project + " boart=x").status, 2);
    EXPECT_EQ(run("set " + project + " vent.drive=3").status, 2);
    // All or nothing, and no journal of the half.
    const auto whole = slurp(project);
    EXPECT_EQ(run("set " + project + " vent.drive=8 boart=x").status, 2);
    EXPECT_EQ(run("pegs " + project + " --set clk= --set nobody=1 --json -").status, 2);
    EXPECT_EQ(slurp(project), whole);
    EXPECT_FALSE(fs::exists(project + ".journal"));
    const auto before = slurp(project);
    const auto dry = run("fix " + project + " all --dry --json -");
    EXPECT_EQ(slurp(project), before);
    for (const auto& t : nlohmann::json::parse(dry.out)["taken"]) {
        EXPECT_FALSE(t["clears"].empty());
        EXPECT_TRUE(t["adds"].empty());
    }
    EXPECT_EQ(run("fix " + project + " Q9 --json -").status, 2);
    const auto fixed = run("fix " + project + " all --json -");
    EXPECT_EQ(nlohmann::json::parse(fixed.out)["taken"], nlohmann::json::parse(dry.out)["taken"]);
    EXPECT_TRUE(nlohmann::json::parse(run("fix " + project + " all --json -").out)["taken"].empty())
        << "what could be taken was taken";
}

TEST(KpegMake, ANetlistOfShippedCellsAndABoardFileComeAlong) {
    const MakeFolder f;
    const auto a = run("new " + (f / "p") +
                       " --name vane --board " KP_SOURCE "/data/boards/tussock.board.json --netlist " KP_SOURCE
                       "/demo/vane/vane.v --file " KP_SOURCE "/demo/vane/vane.sdf --file " KP_SOURCE
                       "/demo/vane/closed-ports.sdc --file " KP_SOURCE "/demo/vane/closed-clocks.sdc");
    ASSERT_EQ(a.status, 0) << a.err;
    EXPECT_TRUE(fs::exists(f / "p/tussock.board.json"));
    const auto project = nlohmann::json::parse(slurp(f / "p/vane.kpeg"));
    EXPECT_EQ(project["netlists"][0], "vane.v");
    EXPECT_EQ(project["libraries"][0], "skerry.lib");
    EXPECT_EQ(project["constraints"][0]["path"], "closed-clocks.sdc") << "clocks come before what speaks of them";
    EXPECT_EQ(run("time " + (f / "p/vane.kpeg") + " --json -").status, 0);
}

TEST(KpegMake, APartCodeThatNobodyKnowsHoldsNothingUp) {
    const MakeFolder f;
    const auto a = run("new " + (f / "p") + " --name shed --part QQ99");
    EXPECT_EQ(a.status, 0) << a.err;
    EXPECT_NE(a.err.find("The project starts without a part"), std::string::npos);
    EXPECT_EQ(run("rules " + (f / "p/shed.kpeg") + " --json -").status, 0);
}

TEST(KpegPegs, SaysWhoLosesAPin) {
    const Demo demo("evict");
    const auto j = nlohmann::json::parse(run("pegs " + (demo / "vane.kpeg") + " --json -").out);
    std::string holder, pin, other;
    for (const auto& r : j["ports"])
        if (r["pin"] != "") {
            (holder.empty() ? holder : other) = r["port"];
            pin = holder == r["port"] ? r["pin"].get<std::string>() : pin;
        }
    const auto after =
        nlohmann::json::parse(run("pegs " + (demo / "vane.kpeg") + " --set '" + other + "=" + pin + "' --json -").out);
    ASSERT_EQ(after["messages"].size(), 1u);
    EXPECT_EQ(after["messages"][0]["text"],
              holder + " was on pin " + pin + " and is adrift now; " + other + "=" + pin + " took its place.");
}

TEST(KpegTime, FromToThroughCheckAndClockChooseWhatIsListed) {
    const auto time = [](const std::string& more) {
        return nlohmann::json::parse(
            run("time " KP_SOURCE "/demo/vane/vane-closed.kpeg --all-endpoints --paths 50 --json - " + more).out);
    };
    const auto all = time("");
    const std::string end = all["paths"][0]["endpoint"], start = all["paths"][0]["startpoint"];
    for (const auto& p : time("--to '" + end + "'")["paths"]) EXPECT_EQ(p["endpoint"], end);
    const auto from = time("--from '" + start + "' --check setup");
    EXPECT_FALSE(from["paths"].empty());
    for (const auto& p : from["paths"]) {
        EXPECT_EQ(p["startpoint"], start);
        EXPECT_EQ(p["check"], "setup");
    }
    for (const auto& e : time("--check hold")["endpoints"]) EXPECT_EQ(e["check"], "hold");
    EXPECT_EQ(time("--check hold")["summary"], all["summary"]) << "the verdict is of the whole";
    const std::string middle = all["paths"][0]["points"][1]["pin"];
    const auto through = time("--through '" + middle + "'");
    EXPECT_FALSE(through["paths"].empty());
    for (const auto& p : through["paths"]) {
        bool met = false;
        for (const auto& q : p["points"])
            met |= q["pin"] == middle || q["pin"].get<std::string>().starts_with(middle + "/");
        EXPECT_TRUE(met);
    }
    EXPECT_TRUE(time("--clock nobody")["paths"].empty());
    EXPECT_EQ(run("time " KP_SOURCE "/demo/vane/vane-closed.kpeg --check speed --json -").status, 2);
}

}  // namespace
