// SPDX-License-Identifier: GPL-3.0-or-later
// A board whose names differ from the design's, from the pegs to a proof of every output; and a wrong peg, a wrong
// polarity and a wrong clock on it, each of which once ended green.
#include "tests/kpeg/runner.hpp"

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

namespace kpeg_test {
namespace {

using Json = nlohmann::json;

/// Pins of the shipped part that the board below wires, in the order in which it asks for them.
constexpr const char* pins[] = {"22", "23", "26", "27", "28", "33", "34", "46", "47", "49",
                                "50", "58", "61", "62", "81", "82", "83", "85", "86"};

struct OwnBoard : Demo {
    OwnBoard() : Demo("own_board") {
        put("Y1", "oscillator", "drives", {"out"});
        put("SW1", "rocker", "drives", {"A", "B", "C", "D"});
        put("DS1", "display", "reads", {"a", "b", "c", "d", "e", "f", "g"});
        put("K1", "key", "drives", {"k"}, "reset");
        put("U2", "serial", "both", {});
        for (const auto& [name, direction] : {std::pair("tx", "drives"), {"rx", "reads"}})
            add(board["parts"].back(), name, direction);
        board["oscillators"] = Json::parse(R"([{"terminal": "Y1.out", "mhz": 24, "ppm": 50}])");
        terminal("K1", "k")["active"] = "low";
        keep_board();
        write("top.v",
              "module top(input clk, input rst_n, input [3:0] nib, output reg [6:0] seg, input rxd, output txd);\n"
              "reg [3:0] d = 0; reg r0 = 1, r1 = 1;\n"
              "always @(posedge clk) begin r0 <= rst_n; r1 <= r0; if (!r1) d <= 0; else d <= nib; end\n"
              "always @* case (d) 0: seg = 7'h3f; 1: seg = 7'h06; 2: seg = 7'h5b; 3: seg = 7'h4f; 4: seg = 7'h66;\n"
              "5: seg = 7'h6d; 6: seg = 7'h7d; 7: seg = 7'h07; 8: seg = 7'h7f; 9: seg = 7'h6f; 10: seg = 7'h77;\n"
              "11: seg = 7'h7c; 12: seg = 7'h39; 13: seg = 7'h5e; 14: seg = 7'h79; default: seg = 7'h71; endcase\n"
              "assign txd = rxd;\nendmodule\n");
        write("own.sdc", "create_clock -name clk -period 41.667 [get_ports clk]\n");
        project = Json::parse(slurp(*this / "vane.kpeg"));
        project["name"] = "own";
        project["board"] = "own";
        project["top"] = "top";
        project["netlists"] = {"own_netlist.v"};
        project["sources"] = {"top.v"};
        project["delays"] = "";
        project["constraints"] = Json::parse(
            R"([{"path": "own.sdc", "planning": true, "analysis": true, "handoff": true, "receives": true}])");
        for (const char* list : {"pegs", "attributes", "waivers"}) project[list] = Json::array();
        keep();
        const auto mapped = run("map " + (*this / "top.v") + " --top top --part SKR11-Q144-MN --out " +
                                (*this / "own_netlist.v") + " --json -");
        EXPECT_EQ(mapped.status, 0) << mapped.err;
    }
    void write(const std::string& name, const std::string& text) const { std::ofstream(*this / name) << text; }
    void keep() const { write("own.kpeg", project.dump(1)); }
    void keep_board() const { write("own.board.json", board.dump(1)); }
    void load() { project = Json::parse(slurp(*this / "own.kpeg")); }

    void put(const char* ref, const char* kind, const char* direction, std::initializer_list<const char*> names,
             const char* label = "") {
        board["parts"].push_back({{"ref", ref},
                                  {"name", ref},
                                  {"kind", kind},
                                  {"label", label},
                                  {"x", 2},
                                  {"y", y_},
                                  {"w", 6},
                                  {"h", 3},
                                  {"terminals", Json::array()}});
        y_ += 4;
        for (const char* name : names) add(board["parts"].back(), name, direction);
    }
    void add(Json& part, const std::string& name, const char* direction) {
        part["terminals"].push_back(
            {{"name", name}, {"direction", direction}, {"active", "high"}, {"standard", "LVCMOS 3.3 V"}});
        const std::string pin = part["kind"] == "oscillator" ? "16" : pins[next_++];
        board["nets"].push_back(
            {{"pin", pin}, {"terminal", part["ref"].get<std::string>() + "." + name}, {"trace_mm", 20}});
    }
    Json& terminal(const std::string& ref, const std::string& name) {
        for (auto& part : board["parts"])
            if (part["ref"] == ref)
                for (auto& t : part["terminals"])
                    if (t["name"] == name) return t;
        throw std::runtime_error("no terminal");
    }
    Json& pin_of(const std::string& port) {
        for (auto& peg : project["pegs"])
            if (peg["port"] == port) return peg["pin"];
        throw std::runtime_error("no peg of " + port);
    }
    [[nodiscard]] Answer kpeg(const std::string& command, const std::string& more) const {
        return run(command + " " + (*this / "own.kpeg") + " " + more + " --json -");
    }
    void match() {
        const auto a = kpeg("pegs", "--match");
        EXPECT_EQ(a.status, 0) << a.out;
        load();
    }
    /// "rule port": of all findings of these rules.
    [[nodiscard]] std::string findings(const std::string& rule) const {
        std::string out;
        const auto j = Json::parse(kpeg("rules", "").out);
        for (const auto& f : j["findings"])
            if (f["rule"] == rule) out += f["text"].get<std::string>() + "\n";
        return out;
    }

    Json project, board = Json::parse(slurp(KP_SOURCE "/data/boards/tussock.board.json"));

private:
    struct Bare {
        explicit Bare(Json& b) {
            b["name"] = "own";
            for (const char* list : {"parts", "nets", "oscillators", "notes"}) b[list] = Json::array();
            b["parts"].push_back(Json::parse(
                R"({"ref": "U1", "name": "fpga", "kind": "fpga", "label": "", "x": 30, "y": 20, "w": 20, "h": 20,
                    "terminals": []})"));
        }
    } bare_{board};
    int y_ = 2;
    size_t next_ = 0;
};

TEST(KpegMeant, NamesOrderAndRolesPegTheBoardAndEveryOutputIsProven) {
    OwnBoard b;
    b.match();
    EXPECT_EQ(b.pin_of("clk"), "16") << "the one clock on the one oscillator";
    for (const char* against : {"names", "source", "simulation"}) {
        const auto a = b.kpeg("prove", std::string("--against ") + against);
        ASSERT_EQ(a.status, 0) << against << a.err << a.out.substr(0, 2000);
        const auto j = Json::parse(a.out);
        EXPECT_EQ(j["rows"].size(), 64u) << "all combinations of rst_n, nib and rxd";
        ASSERT_EQ(j["outputs"].size(), 8u);
        for (const auto& o : j["outputs"]) EXPECT_EQ(o["state"], "proven") << o;
        EXPECT_EQ(j["inputs"].size(), 7u);
    }
    EXPECT_EQ(b.findings("L13") + b.findings("L15") + b.findings("D12"), "");
}

TEST(KpegMeant, SegmentsInReverseDiffer) {
    OwnBoard b;
    b.match();
    for (int i = 0; i < 3; ++i)
        std::swap(b.pin_of("seg[" + std::to_string(i) + "]"), b.pin_of("seg[" + std::to_string(6 - i) + "]"));
    b.keep();
    const auto a = b.kpeg("prove", "");
    EXPECT_EQ(a.status, 1);
    int differ = 0;
    const auto j = Json::parse(a.out);
    for (const auto& o : j["outputs"]) differ += o["state"] == "differs";
    EXPECT_EQ(differ, 6) << "the middle one stays where it was";
}

TEST(KpegMeant, WhatNobodySaidIsNotProven) {
    OwnBoard b;
    b.match();
    // Another board: the display is a header, so that nothing says what the segments are for.
    for (auto& part : b.board["parts"])
        if (part["ref"] == "DS1") {
            part["kind"] = "header";
            for (auto& t : part["terminals"])
                t["name"] = "p" + std::to_string(30 + t["name"].get<std::string>()[0] - 'a');
        }
    for (auto& net : b.board["nets"])
        if (const auto t = net["terminal"].get<std::string>(); t.starts_with("DS1."))
            net["terminal"] = "DS1.p" + std::to_string(30 + t.back() - 'a');
    b.keep_board();
    auto a = b.kpeg("prove", "");
    EXPECT_EQ(a.status, 1);
    std::string why;
    auto j = Json::parse(a.out);
    for (const auto& o : j["outputs"])
        if (o["port"] == "seg[0]") why = o["why"];
    EXPECT_EQ(why, "nobody said what seg[0] is meant for");
    EXPECT_EQ(b.kpeg("prove", "--leave-out seg").status, 0) << "left out as was asked, the rest is proven";
    // Said by hand, a whole bus at once: proven, and rules know where it belongs.
    const auto said =
        run("set " + (b / "own.kpeg") + " 'seg[6:0].meant=DS1.p36,DS1.p35,DS1.p34,DS1.p33,DS1.p32,DS1.p31,DS1.p30'");
    ASSERT_EQ(said.status, 0) << said.err;
    b.load();
    EXPECT_EQ(b.kpeg("prove", "").status, 0);
    std::swap(b.pin_of("seg[0]"), b.pin_of("seg[1]"));
    b.keep();
    EXPECT_EQ(b.kpeg("prove", "").status, 1);
    EXPECT_NE(b.findings("L13").find("seg[0] is meant for DS1.p30"), std::string::npos) << b.findings("L13");
    EXPECT_EQ(run("set " + (b / "own.kpeg") + " 'seg[0].meant=DS1.nothing'").status, 2);
    EXPECT_EQ(run("set " + (b / "own.kpeg") + " 'seg[6:0].meant=DS1.p30,DS1.p31'").status, 2)
        << "seven ports, two places";
}

TEST(KpegMeant, InputsAreHeldOnlyWhenAsked) {
    OwnBoard b;
    b.match();
    auto j = Json::parse(b.kpeg("prove", "--held 'nib[3:0]=0101'").out);
    EXPECT_EQ(j["rows"].size(), 4u);
    for (const auto& i : j["inputs"])
        if (i["port"] == "nib[2]") {
            EXPECT_EQ(i["state"], "held");
            EXPECT_EQ(i["value"], "1");
        }
    EXPECT_EQ(b.kpeg("prove", "--held nib=7").status, 2);
    EXPECT_EQ(b.kpeg("prove", "--held seg=0000000").status, 2) << "an output cannot be held";
    EXPECT_EQ(b.kpeg("prove", "--board-part NONE").status, 2);
    EXPECT_EQ(b.kpeg("prove", "--leave-out nobody").status, 2);
    j = Json::parse(b.kpeg("prove", "--board-part DS1 --board-part SW1").out);
    for (const auto& o : j["outputs"])
        if (o["port"] == "txd") EXPECT_EQ(o["state"], "not proven") << "it was not asked for, and that is said";
}

TEST(KpegMeant, PolarityIsSeenOnDisplaysKeysAndRockers) {
    OwnBoard b;
    b.match();
    for (const char* name : {"a", "b", "c", "d", "e", "f", "g"}) b.terminal("DS1", name)["active"] = "low";
    b.terminal("SW1", "A")["active"] = "low";
    b.keep_board();
    const auto text = b.findings("D12");
    EXPECT_NE(text.find("seg is active high by its name, and DS1."), std::string::npos) << text;
    EXPECT_NE(text.find("nib[0] is active high"), std::string::npos) << text;
    // The adapter turns the display too.
    const auto adapter =
        run("pegs " + (b / "own.kpeg") + " --adapter " + (b / "adapter.v") + " --despite-stops --json -");
    EXPECT_LE(adapter.status, 1) << adapter.err;
    EXPECT_NE(slurp(b / "adapter.v").find("DS1.a is active low"), std::string::npos);
    EXPECT_EQ(run("set " + (b / "own.kpeg") + " seg.invert=adapter nib.sense=low").status, 0);
    const auto j = Json::parse(b.kpeg("rules", "").out);
    for (const auto& f : j["findings"])
        if (f["rule"] == "D12" && f["severity"] != "note")
            EXPECT_EQ(f["text"].get<std::string>().find("seg"), std::string::npos) << f;
}

TEST(KpegMeant, AClockBesideItsOscillatorIsLedToIt) {
    OwnBoard b;
    b.match();
    const auto key = b.pin_of("rst_n").get<std::string>();
    b.pin_of("rst_n") = "16";
    b.pin_of("clk") = key;
    b.keep();
    const auto text = b.findings("L15");
    EXPECT_NE(text.find("the oscillator Y1.out (24 MHz) is on pin 16"), std::string::npos) << text;
    // No oscillator of the board has what the constraints say: that is what disagrees.
    b.write("own.sdc", "create_clock -name clk -period 10 [get_ports clk]\n");
    EXPECT_NE(b.findings("L15").find("constraints say 100 MHz"), std::string::npos) << b.findings("L15");
}

}  // namespace
}  // namespace kpeg_test
