// SPDX-License-Identifier: GPL-3.0-or-later
// The program as a script meets it: arguments, exit status, standard error, JSON.
#include "tests/kpeg/runner.hpp"

#include <algorithm>
#include <fstream>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>
#include <string>

namespace {

using namespace kpeg_test;

std::string temporary(const std::string& name, const std::string& text) {
    const std::string path = testing::TempDir() + name;
    std::ofstream(path) << text;
    return path;
}

const std::string files = " --netlist " KP_SOURCE "/demo/vane/vane.v --lib " KP_SOURCE "/data/cells/skerry.lib ";
const std::string sdc = " --sdc " KP_SOURCE "/demo/vane/clocks.sdc --sdc " KP_SOURCE "/demo/vane/ports.sdc ";

TEST(KpegTime, GivesTheContractsObject) {
    const auto a = run("time" + files + sdc +
                       "--top vane --sdf " KP_SOURCE "/demo/vane/vane.sdf --all-endpoints --paths 3 --json -");
    ASSERT_EQ(a.status, 0) << a.err;
    const auto j = nlohmann::json::parse(a.out);
    EXPECT_EQ(j["schema"], "kitepeg.timing/1");
    EXPECT_EQ(j["time_unit"], "ns");
    EXPECT_EQ(j["paths"].size(), 3u);
    EXPECT_EQ(j["summary"]["recovery"]["wns"], nullptr);
    EXPECT_EQ(j["clocks"][0]["sources"][0], "osc_20");
    EXPECT_EQ(j["endpoints"].size(), static_cast<size_t>(j["summary"]["setup"]["endpoints"].get<int>() +
                                                         j["summary"]["hold"]["endpoints"].get<int>()));
    for (const char* key : {"read", "build", "update", "report"}) EXPECT_TRUE(j["seconds"][key].is_number());
    EXPECT_EQ(j["coverage"]["untimed"][0]["object"], "tone");
    EXPECT_EQ(a.err, "");
}

TEST(KpegTime, CornersAreTimedTogetherAndNamed) {
    const auto a = run("time" + files + sdc +
                       "--top vane --sdf " KP_SOURCE
                       "/demo/vane/vane.sdf --corner quick,early=min,late=min --corner slow,late-factor=1.1 --paths 5 "
                       "--all-endpoints --json -");
    ASSERT_EQ(a.status, 0) << a.err;
    const auto j = nlohmann::json::parse(a.out);
    ASSERT_EQ(j["corners"].size(), 2u);
    // All together is the worst of each.
    for (const char* check : {"setup", "hold"})
        EXPECT_EQ(j["summary"][check]["wns"],
                  std::min(j["corners"][0][check]["wns"].get<double>(), j["corners"][1][check]["wns"].get<double>()));
    EXPECT_LT(j["corners"][1]["setup"]["wns"], j["corners"][0]["setup"]["wns"]);
    EXPECT_EQ(j["paths"][0].contains("corner"), true);
    const auto one = run("time" + files + sdc + "--top vane --sdf " KP_SOURCE "/demo/vane/vane.sdf --json -");
    EXPECT_FALSE(nlohmann::json::parse(one.out).contains("corners"));
    EXPECT_EQ(run("time" + files + sdc + "--corner slow,speed=3 --json -").err,
              "kpeg: --corner slow,speed=3: 'speed=3' is not understood; a corner is "
              "NAME[,sdf=FILE][,lib=FILE][,early=min|typ|max][,late=min|typ|max][,early-factor=X][,late-factor=X].\n");
    EXPECT_EQ(run("time" + files + sdc + "--corner a --corner a --json -").status, 2);
    EXPECT_EQ(run("time" + files + sdc + "--corner a,sdf=nowhere.sdf --json -").status, 2);
}

TEST(KpegTime, TriesALineOnAProject) {
    const std::string vane = "time " KP_SOURCE "/demo/vane/vane.kpeg --json - ";
    const auto a = run(vane + "--what-if 'set_clock_uncertainty 2.5 [all_clocks]'");
    const auto j = nlohmann::json::parse(a.out);
    EXPECT_LT(j["what_if"]["setup"]["wns"], j["summary"]["setup"]["wns"]);
    EXPECT_FALSE(nlohmann::json::parse(run(vane).out).contains("what_if"));
    EXPECT_EQ(run(vane + "--what-if 'set_false_path -to nowhere/D'").status, 2);
}

TEST(KpegTime, AViolationGivesOne) {
    const auto fast = temporary("fast.sdc", "create_clock -period 2 osc_20\n");
    EXPECT_EQ(run("time" + files + "--sdc " + fast + " --json -").status, 1);
}

TEST(KpegTime, UnusableInputGivesTwoAndOneLine) {
    struct Row {
        std::string arguments, wanted;
    };
    const auto typo = temporary("typo.sdc", "create_clock -perod 5 osc_20\n");
    const auto cut = temporary("cut.v", "module vane(input a, output y);\n SK_TABLE_9 u(a, y);\nendmodule\n");
    const auto lib = std::string(" --lib " KP_SOURCE "/data/cells/skerry.lib ");
    for (const auto& r :
         {Row{"time" + files + "--sdc " + typo + " --json -",
              "kpeg: " + typo + ":1: '-perod' is not an option of create_clock. Did you mean '-period'?\n"},
          Row{"time --netlist " + cut + lib + "--json -",
              "kpeg: " + cut +
                  ":2:2: Instance u connects the pins of SK_TABLE_9 by order, and nothing says that order; name the "
                  "pins, or give the cell's library or model.\n"},
          Row{"time --netlist /nowhere.v" + lib + "--json -",
              "kpeg: /nowhere.v: cannot be read: No such file or directory.\n"},
          Row{"time --early soon --json -", ""}, Row{"", ""}, Row{"time" + files, ""}}) {
        const auto a = run(r.arguments);
        EXPECT_EQ(a.status, 2) << r.arguments;
        EXPECT_EQ(std::count(a.err.begin(), a.err.end(), '\n'), 1) << a.err;
        if (!r.wanted.empty()) EXPECT_EQ(a.err, r.wanted);
        EXPECT_EQ(a.out, "");
    }
}

TEST(KpegTime, WithoutALibraryTheCellsComeFromTheDelays) {
    const std::string demo = KP_SOURCE "/demo/vane/";
    const auto a = run("time --netlist " + demo + "vane.v --sdf " + demo + "vane.sdf --sdc " + demo +
                       "clocks.sdc --sdc " + demo + "ports.sdc --json -");
    ASSERT_NE(a.status, 2) << a.err;
    const auto j = nlohmann::json::parse(a.out);
    EXPECT_GT(j["summary"]["setup"]["endpoints"], 10);
    size_t instances = 0;
    for (const auto& c : j["cells"]) {
        EXPECT_EQ(c["from"], "sdf") << c["type"];
        instances += c["count"].get<size_t>();
    }
    const auto with = nlohmann::json::parse(
        run("time" + files + "--sdc " + demo + "clocks.sdc --sdc " + demo + "ports.sdc --json -").out);
    size_t known = 0;
    for (const auto& c : with["cells"]) {
        EXPECT_EQ(c["from"], "liberty");
        known += c["count"].get<size_t>();
    }
    EXPECT_EQ(instances, known);
    EXPECT_LE(j["summary"]["setup"]["wns"].get<double>(), with["summary"]["setup"]["wns"].get<double>());
    EXPECT_EQ(j["summary"]["setup"]["endpoints"], with["summary"]["setup"]["endpoints"]);
}

TEST(KpegTime, UnknownCellsAreListedAndTheRestIsTimed) {
    const auto netlist = temporary("strange.v",
                                   "module m(input a, c, output q, y);\n SK_REGISTER r(.D(a), .CK(c), .Q(q));\n"
                                   " SK_REGISTERR s(.D(a), .CK(c), .Q(y));\nendmodule\n");
    const auto sdc = temporary("strange.sdc", "create_clock -period 10 c\nset_input_delay -clock c 1 a\n");
    const auto a =
        run("time --netlist " + netlist + " --lib " KP_SOURCE "/data/cells/skerry.lib --sdc " + sdc + " --json -");
    ASSERT_EQ(a.status, 0) << a.err;
    const auto j = nlohmann::json::parse(a.out);
    EXPECT_EQ(j["summary"]["setup"]["endpoints"], 1);
    EXPECT_EQ(j["cells"].dump(),
              "[{\"count\":1,\"from\":\"liberty\",\"type\":\"SK_REGISTER\"},{\"count\":1,\"from\":"
              "\"unknown\",\"type\":\"SK_REGISTERR\"}]");
    EXPECT_EQ(j["messages"][0]["code"], "unknown-cell");
    EXPECT_TRUE(j["messages"][0]["text"].get<std::string>().ends_with("Did you mean 'SK_REGISTER'?"));
}

TEST(KpegTime, AProjectGivesWhatItsFilesGive) {
    const auto a = run("time " KP_SOURCE "/demo/vane/vane.kpeg --all-endpoints --json -");
    const auto b = run("time" + files + sdc + "--sdf " KP_SOURCE "/demo/vane/vane.sdf --all-endpoints --json -");
    ASSERT_EQ(a.status, 0) << a.err;
    EXPECT_EQ(nlohmann::json::parse(a.out)["endpoints"], nlohmann::json::parse(b.out)["endpoints"]);
}

TEST(KpegRules, FindsThePlantedTroubles) {
    const auto a = run("rules " KP_SOURCE "/demo/vane/vane.kpeg --json -");
    EXPECT_EQ(a.status, 1);
    const auto j = nlohmann::json::parse(a.out);
    EXPECT_EQ(j["schema"], "kitepeg.findings/1");
    ASSERT_EQ(j["findings"].size(), 4u);
    EXPECT_EQ(j["findings"][0]["waived"], nullptr);
    EXPECT_TRUE(j["findings"][0]["objects"][0].contains("kind"));
}

TEST(KpegRules, KeepsSomeAndWritesForOthers) {
    const std::string sarif = testing::TempDir() + "kpeg.sarif", junit = testing::TempDir() + "kpeg.xml",
                      vane = "rules " KP_SOURCE "/demo/vane/vane.kpeg ";
    const auto a = run(vane + "--only L --sarif " + sarif + " --junit " + junit + " --json -");
    EXPECT_EQ(a.status, 1) << a.err;
    const auto j = nlohmann::json::parse(a.out);
    ASSERT_EQ(j["findings"].size(), 2u);
    for (const auto& f : j["findings"]) EXPECT_EQ(f["rule"].get<std::string>()[0], 'L');
    EXPECT_EQ(nlohmann::json::parse(slurp(sarif))["runs"][0]["results"].size(), 2u);
    EXPECT_NE(slurp(junit).find("failures=\"2\""), std::string::npos);
    EXPECT_EQ(run(vane + "--only E --json -").status, 0);
    EXPECT_EQ(run(vane + "--only L02,d --json -").status, 1);
    const auto wrong = run(vane + "--only Q7 --json -");
    EXPECT_EQ(wrong.status, 2);
    EXPECT_EQ(wrong.err, "kpeg: No rule starts with 'Q7'; --only takes codes or their beginnings, such as L,E03.\n");
    EXPECT_EQ(run("rules --json -").status, 2);
}

TEST(KpegTime, PropagatedClocksByTheSwitchAndByTheText) {
    // Through its pad and root the clock of vane takes some nanoseconds; the switch and the command say the same.
    const auto ask = [](const std::string& more) {
        return nlohmann::json::parse(
            run("time" + files + sdc +
                "--top vane --sdf " KP_SOURCE "/demo/vane/vane.sdf --all-endpoints --paths 1000 --json - " + more)
                .out);
    };
    // The first path between two registers.
    const auto worst = [](const nlohmann::json& j) {
        for (const auto& p : j["paths"])
            if (p["startpoint"].get<std::string>().ends_with("/CK") && p["endpoint"].get<std::string>().ends_with("/D"))
                return p;
        return nlohmann::json();
    };
    const auto ideal = ask(""), by_switch = ask("--clocks propagated"),
               by_text = ask("--sdc " + temporary("propagated.sdc", "set_propagated_clock [all_clocks]\n")),
               no_credit = ask("--clocks propagated --no-common-path-credit");
    EXPECT_EQ(by_switch["endpoints"], by_text["endpoints"]);
    EXPECT_NE(by_switch["endpoints"], ideal["endpoints"]);
    EXPECT_GT(worst(by_switch)["points"][0]["arrival"].get<double>(),
              worst(ideal)["points"][0]["arrival"].get<double>() + 1);
    // What is given back is late minus early of the stretch both ends share.
    double most = 0;
    for (const auto& p : by_switch["paths"]) most = std::max(most, p["credit"].get<double>());
    EXPECT_GT(most, 0.5);
    for (const auto& p : no_credit["paths"]) EXPECT_EQ(p["credit"], 0.0);
    EXPECT_LE(no_credit["summary"]["hold"]["wns"].get<double>(), by_switch["summary"]["hold"]["wns"].get<double>());
    EXPECT_NE(no_credit["endpoints"], by_switch["endpoints"]);
    EXPECT_EQ(run("time" + files + sdc + "--top vane --json - --clocks sometimes").status, 2);
}

TEST(KpegRules, ClosedProjectsHaveNoFindings) {
    for (const char* project : {"vane/vane-closed.kpeg", "profiler/profiler-closed.kpeg", "linkwatch/linkwatch.kpeg"}) {
        const auto a = run(std::string("rules " KP_SOURCE "/demo/") + project + " --json -");
        EXPECT_EQ(a.status, 0) << project << a.err;
        EXPECT_TRUE(nlohmann::json::parse(a.out)["findings"].empty()) << project;
        const auto t = run(std::string("time " KP_SOURCE "/demo/") + project + " --json -");
        EXPECT_EQ(t.status, 0) << project;
    }
}

TEST(KpegRules, EveryFindingIsWhole) {
    const auto a = run("rules " KP_SOURCE "/demo/profiler/profiler.kpeg --json -");
    EXPECT_EQ(a.status, 1);
    const auto j = nlohmann::json::parse(a.out);
    EXPECT_EQ(j["schema"], "kitepeg.findings/1");
    EXPECT_GT(j["findings"].size(), 8u);
    for (const auto& f : j["findings"]) {
        EXPECT_TRUE(f["severity"] == "stop" || f["severity"] == "caution" || f["severity"] == "note");
        EXPECT_GT(f["text"].get<std::string>().size(), 10u);
        EXPECT_GT(f["source"].get<std::string>().size(), 3u);
        EXPECT_FALSE(f["objects"].empty()) << f["text"];
        EXPECT_TRUE(f["waived"].is_null());
        for (const auto& n : f["numbers"]) EXPECT_TRUE(n.is_number());
        for (const auto& w : f["fixes"]) EXPECT_TRUE(w.is_string());
    }
}

TEST(KpegPorts, GivesThePortList) {
    const auto a = run("ports " KP_SOURCE "/demo/vane/vane.v --top vane --json -");
    ASSERT_EQ(a.status, 0) << a.err;
    const auto j = nlohmann::json::parse(a.out);
    EXPECT_EQ(j["ports"].size(), 7u);
    EXPECT_EQ(j["ports"][1]["left"], 4);
    EXPECT_EQ(j["ports"][0]["left"], nullptr);
}

TEST(KpegPorts, ReadsVhdlMacrosAndParameters) {
    const auto a = run("ports " KP_SOURCE "/demo/profiler/profiler_shell.vhd --json -");
    ASSERT_EQ(a.status, 0) << a.err;
    const auto j = nlohmann::json::parse(a.out);
    EXPECT_EQ(j["schema"], "kitepeg.ports/1");
    EXPECT_EQ(j["language"], "vhdl");
    EXPECT_TRUE(j["messages"].is_array());
    const auto b = run("ports " KP_SOURCE "/tests/hdl/headers/v04_override.v --param WIDTH=6 --json -");
    EXPECT_EQ(nlohmann::json::parse(b.out)["ports"][0]["width"], 6);
    EXPECT_EQ(
        run("ports " KP_SOURCE "/tests/hdl/headers/v10_ifdef_given.v --define BOARD_A --define DEEP=1 --json -").status,
        0);
    EXPECT_EQ(run("ports " KP_SOURCE "/tests/hdl/headers/v26_two_tops.v --json -").status, 2);
}

TEST(KpegPegs, ShowsChangesComparesAndWrites) {
    for (const char* file : {"vane.kpeg", "vane.v", "vane.sdf", "clocks.sdc", "ports.sdc"})
        temporary(file, slurp(std::string(KP_SOURCE "/demo/vane/") + file));
    const auto project = temporary("vane.kpeg", slurp(KP_SOURCE "/demo/vane/vane.kpeg"));
    const auto folder = project.substr(0, project.rfind('/'));
    auto a = run("pegs " + project + " --set tone= --json -");
    ASSERT_EQ(a.status, 1) << a.err;  // one port is adrift now
    EXPECT_EQ(nlohmann::json::parse(a.out)["adrift"], 1);
    a = run("pegs " + project + " --match --compare " KP_SOURCE "/demo/vane/vane.kpeg --json -");
    auto j = nlohmann::json::parse(a.out);
    EXPECT_TRUE(j["changed"]);
    EXPECT_EQ(j["adrift"], 0);
    EXPECT_EQ(j["differences"].size(), 0u) << j["differences"];
    a = run("pegs " + project + " --set 'rose_n[7:5]=59..62' --json -");
    EXPECT_EQ(a.status, 2);
    EXPECT_EQ(a.err, "kpeg: 'rose_n[7:5]=59..62' gives 3 ports 4 pins.\n");
    // Open stops hold a template's file back.
    const std::string made = folder + "/made.txt",
                      text = " --template " KP_SOURCE "/data/templates/pins.list.mustache --out " + made + " --json -";
    std::remove(made.c_str());
    EXPECT_EQ(run("pegs " + project + text).status, 1);
    EXPECT_FALSE(std::ifstream(made).good());
    EXPECT_EQ(run("pegs " + project + text + " --despite-stops").status, 0);
    EXPECT_TRUE(slurp(made).starts_with("# 3 stops are open"));
    // An adapter top is held back the same way, in both languages.
    for (const char* ending : {".v", ".vhd"}) {
        const auto adapter = testing::TempDir() + "kpeg_adapter" + ending;
        std::remove(adapter.c_str());
        EXPECT_EQ(run("pegs " + project + " --adapter " + adapter + " --json -").status, 1);
        EXPECT_EQ(slurp(adapter), "");
        EXPECT_EQ(run("pegs " + project + " --adapter " + adapter + " --despite-stops --json -").status, 0);
        EXPECT_EQ(run("ports " + adapter + " --top vane_on_Tussock --json -").status, 0)
            << slurp(adapter).substr(0, 200);
    }
}

TEST(KpegSdc, GivesTheFindingsOfTheText) {
    const auto bad = temporary("odd.sdc", "create_clock -period 5 osc_20\nset_wonder 1\n");
    const auto a = run("sdc " + bad + files + "--top vane --json -");
    EXPECT_EQ(a.status, 1);
    EXPECT_EQ(nlohmann::json::parse(a.out)["messages"][0]["line"], 2);
    EXPECT_EQ(run("sdc " KP_SOURCE "/demo/vane/clocks.sdc" + files + "--json -").status, 0);
}

}  // namespace
