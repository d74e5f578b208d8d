// SPDX-License-Identifier: GPL-3.0-or-later
// What attacks on kpeg found: each input once ended the program by a signal, held it, let files out, or was taken for
// right.
#include "core/format/json/json_text.hpp"
#include "tests/kpeg/runner.hpp"

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>
#include <sys/stat.h>
#include <unistd.h>

namespace {

namespace fs = std::filesystem;
using kpeg_test::Demo;
using kpeg_test::run;
using kpeg_test::slurp;
using Json = nlohmann::json;

std::string path_in(const Demo& d, const std::string& name) {
    return d.folder + "/" + name;
}

void write_file(const std::string& path, const std::string& text) {
    std::ofstream(path, std::ios::binary) << text;
}

/// Exit 2 and one line that has `part`.
void is_refused(const kpeg_test::Answer& a, const std::string& part) {
    EXPECT_EQ(a.status, 2) << a.err;
    EXPECT_NE(a.err.find(part), std::string::npos) << a.err;
    EXPECT_EQ(std::count(a.err.begin(), a.err.end(), '\n'), 1) << a.err;
}

/// The shipped part with something in it that is other.
template <class Change>
std::string part_with(const Demo& d, Change change) {
    auto j = Json::parse(slurp(KP_SOURCE "/data/parts/skr11-q144.part.json"));
    change(j);
    const auto path = path_in(d, "odd.part.json");
    write_file(path, j.dump());
    return path;
}

Json project_of(const Demo& d, const std::string& name = "vane.kpeg") {
    return Json::parse(slurp(path_in(d, name)));
}

TEST(Attacks, AHandoffTakesNoFileAlongThatLiesElsewhere) {
    const Demo d("attack-out"), elsewhere("attack-secret");
    write_file(path_in(elsewhere, "key.v"), "module vane(input osc_20); endmodule // private\n");
    for (const bool by_link : {false, true}) {
        auto j = project_of(d);
        const auto outside = path_in(elsewhere, "key.v");
        const auto named = by_link ? "inside.v" : outside;
        if (by_link) fs::create_symlink(outside, path_in(d, named));
        j["sources"] = Json::array({named});
        write_file(path_in(d, "odd.kpeg"), j.dump());
        const auto out = path_in(d, by_link ? "out2" : "out1");
        is_refused(run("handoff '" + path_in(d, "odd.kpeg") + "' --out '" + out + "' --open-stops x --json -"),
                   "lies outside the project's folder");
        EXPECT_FALSE(fs::exists(out));
        const auto allowed = run("handoff '" + path_in(d, "odd.kpeg") + "' --out '" + out + "' --allow '" + outside +
                                 "' --open-stops x --json -");
        EXPECT_EQ(allowed.status, 0) << allowed.err;
        EXPECT_TRUE(fs::exists(out + "/manifest.json"));
        EXPECT_FALSE(fs::exists(out + "/unfinished.json"));
    }
    // A template of the folder that leads elsewhere is such a file too.
    fs::create_symlink(path_in(elsewhere, "key.v"), path_in(d, "x.mustache"));
    is_refused(
        run("handoff '" + path_in(d, "vane.kpeg") + "' --out '" + path_in(d, "out3") + "' --open-stops x --json -"),
        "lies outside the project's folder");
}

TEST(Attacks, ABuildWritesThroughNoLink) {
    const Demo d("attack-link"), elsewhere("attack-mine");
    write_file(path_in(elsewhere, "mine.txt"), "mine");
    write_file(path_in(d, "top.v"),
               "module top(input c, input a, output reg q); always @(posedge c) q <= a; endmodule\n");
    fs::create_directory(path_in(d, "out"));
    fs::create_symlink(path_in(elsewhere, "mine.txt"), path_in(d, "out/netlist.v"));
    const auto a = run("build '" + path_in(d, "top.v") + "' --top top --part SKR11-Q144-MN --out '" +
                       path_in(d, "out") + "' --json -");
    EXPECT_NE(a.status, 0);
    EXPECT_NE((a.out + a.err).find("is a link"), std::string::npos) << a.out << a.err;
    EXPECT_EQ(slurp(path_in(elsewhere, "mine.txt")), "mine");
}

TEST(Attacks, ASetThatFailedDoesNotComeBack) {
    const Demo d("attack-full");
    const auto project = path_in(d, "vane.kpeg");
    const auto before = slurp(project);
    // No file may grow: the journal, the copy and the project itself cannot be written.
    const auto failed = kpeg_test::run_with("ulimit -f 1", "set '" + project + "' load=stored");
    EXPECT_EQ(failed.status, 2) << failed.err;
    EXPECT_EQ(slurp(project), before);
    const auto next = run("set '" + project + "' unused_pins=float --json -");
    EXPECT_EQ(next.status, 0) << next.err;
    EXPECT_FALSE(project_of(d).contains("load")) << "what failed is not done later";
    for (const auto& entry : fs::directory_iterator(d.folder))
        EXPECT_NE(entry.path().extension(), ".new") << entry.path();
}

TEST(Attacks, ClosedStreamsGoIntoNoFile) {
    const Demo d("attack-closed");
    const auto project = path_in(d, "vane.kpeg");
    const auto no_output = kpeg_test::run_with("exec 1>&-", "set '" + project + "' load=stored --json -");
    EXPECT_EQ(no_output.status, 2) << no_output.err;
    EXPECT_NE(no_output.err.find("standard output"), std::string::npos) << no_output.err;
    EXPECT_EQ(project_of(d)["load"], "stored") << "the project is saved before its summary is written";
    EXPECT_FALSE(fs::exists(project + ".lock"));
    // With two of them closed, constraints run as ever.
    const auto all = path_in(d, "all.json"), two = path_in(d, "two.json");
    (void)run("rules '" + project + "' --json '" + all + "'");
    (void)kpeg_test::run_with("exec 0<&- 1>&-", "rules '" + project + "' --json '" + two + "'");
    EXPECT_FALSE(slurp(all).empty());
    EXPECT_EQ(slurp(all), slurp(two));
}

TEST(Attacks, WithoutMemoryThereIsASentence) {
    const auto a = kpeg_test::run_with("ulimit -v 90000",
                                       "recipe --part SKR23-B256-MN --in 25 --want 100,125,150 --best 100000 --json -");
    if (a.status == 127 || a.status == 126) GTEST_SKIP() << "the program itself does not load in so little memory";
    is_refused(a, "not enough memory");
}

TEST(Attacks, AProofAsksNoSimulationForItsTime) {
    const Demo d("attack-time");
    for (const char* formula :
         {"rose_n = ~$random", "rose_n = $time", "rose_n = $clog2()", "rose_n = {99999999999{gray}}",
          "rose_n = gray[99999999:0]", "rose_n = {1000000{gray}} ** gray"})
        is_refused(run("prove '" + path_in(d, "vane.kpeg") + "' --against formula --formula '" + formula +
                           "' --board-part J3 --board-part D1 --json -",
                       20),
                   "formula");
}

TEST(Attacks, AFileOfColumnsMayHoldAnything) {
    const Demo d("attack-columns");
    write_file(path_in(d, "t.csv"), "Ball,Net\n16,x\n");
    for (const char* text :
         {R"({"schema":5,"columns":{}})", R"({"schema":"kitepeg.columns/1","columns":{},"seen_from":{}})",
          R"({"schema":"kitepeg.columns/1","columns":{},"leave_out":{"a":1}})",
          R"({"schema":"kitepeg.columns/1","columns":{},"seen_from":"moon"})",
          R"({"schema":"kitepeg.columns/1","columns":{},"comment":[]})", "[]", "5"}) {
        write_file(path_in(d, "c.json"), text);
        is_refused(run("board '" + path_in(d, "t.csv") + "' --columns '" + path_in(d, "c.json") +
                       "' --part SKR11-Q144-MN --out '" + path_in(d, "b.board.json") + "'"),
                   "columns");
    }
}

TEST(Attacks, LimitsOfAPartAreLimits) {
    const Demo d("attack-part");
    const auto recipe = [&](const std::string& part) {
        return run("recipe --part '" + part + "' --in 25 --want 100 --json -", 20);
    };
    const auto pll = [&](const char* key, const Json& value) {
        return part_with(d, [&](Json& j) {
            for (auto& p : j["plls"]) p[key] = value;
        });
    };
    is_refused(recipe(part_with(d, [](Json& j) { j["fabric"]["cells_per_site"] = 1000000000; })), "16 million slots");
    is_refused(recipe(part_with(d, [](Json& j) { j["fabric"]["base_ns"] = -0.1; })), "not negative");
    is_refused(recipe(pll("output_mhz", {3.2, 1e9})), "1000000 MHz");
    is_refused(recipe(pll("multiply", {1, 100000})), "between 1 and 10000");
    is_refused(recipe(pll("divide", {-4, 16})), "between 1 and 10000");
    is_refused(recipe(part_with(d,
                                [](Json& j) {
                                    for (auto& p : j["plls"]) p["multiply"] = p["divide"] = Json::array({1, 9000});
                                })),
               "a million pairs");
    is_refused(recipe(pll("outputs", 1000)), "at most 64 outputs");
}

TEST(Attacks, ListsOfFilesEnd) {
    const Demo d("attack-lists");
    // Each list names the ten of the next level: 10^14 readings, were each read each time it is named.
    for (int level = 0; level < 14; ++level) {
        for (int n = 0; n < 10; ++n) {
            std::string text;
            for (int k = 0; k < 10; ++k)
                text += level == 13 ? "top.v\n" : "-f l" + std::to_string(level + 1) + "_" + std::to_string(k) + ".f\n";
            write_file(path_in(d, "l" + std::to_string(level) + "_" + std::to_string(n) + ".f"),
                       (n == 3 ? "\xEF\xBB\xBF" : "") + text);
        }
    }
    write_file(path_in(d, "top.v"), "module top(input a, output y); assign y = a; endmodule\n");
    auto j = project_of(d);
    j["sources"] = {"l0_0.f"};
    j["netlists"] = Json::array();
    j["pegs"] = j["attributes"] = Json::array();
    j["top"] = "top";
    write_file(path_in(d, "many.kpeg"), j.dump());
    const auto a = run("pegs '" + path_in(d, "many.kpeg") + "' --json -", 20);
    EXPECT_LE(a.status, 1) << a.err;
    write_file(path_in(d, "ring.f"), "-f ring.f\n");
    j["sources"] = {"ring.f"};
    write_file(path_in(d, "ring.kpeg"), j.dump());
    is_refused(run("pegs '" + path_in(d, "ring.kpeg") + "' --json -", 20), "Lists of files name each other.");
}

TEST(Attacks, MoreLinksThanLanesIsCounted) {
    const Demo d("attack-lanes");
    const auto ask = [&](int links) {
        Json j{{"schema", "kitepeg.links/1"}, {"links", Json::array()}};
        for (int n = 0; n < links; ++n)
            j["links"].push_back({{"name", "l" + std::to_string(n)},
                                  {"protocol", "raw 8b/10b"},
                                  {"lanes", 1},
                                  {"gbps", 2.5},
                                  {"clock_mhz", 125}});
        write_file(path_in(d, "ask.json"), j.dump());
        return run("lanes --part SKR44L-B529-HW --ask '" + path_in(d, "ask.json") + "' --json -", 30);
    };
    const auto ten = ask(10);
    EXPECT_EQ(ten.status, 1) << ten.err;
    const auto answer = Json::parse(ten.out);
    EXPECT_EQ(answer["status"], "conflict");
    EXPECT_GE(answer["conflict"].size(), 2u);
    is_refused(ask(1001), "More than 1000 links");
}

TEST(Attacks, EmptyValuesAndOneStreamForTwoResultsAreTold) {
    const Demo d("attack-empty");
    is_refused(run("rules '" + path_in(d, "vane.kpeg") + "' --json ''"), "--json: the value is empty");
    is_refused(run("sdc --draft '" + path_in(d, "vane.kpeg") + "' --out '' --json -"), "--out: the value is empty");
    write_file(path_in(d, "n.v"), "module t(input a, output y); assign y = a; endmodule\n");
    is_refused(run("simulate --netlist '" + path_in(d, "n.v") +
                   "' --top t --lib '" KP_SOURCE "/data/cells/skerry.lib' --all-combinations --vcd - --json -"),
               "named for two results");
}

TEST(Attacks, TermsOfBudgetsAreNumbers) {
    const Demo d("attack-budget");
    for (const char* text : {"abc", "1 2 3", "1e308", "-2000000", ""}) {
        auto j = project_of(d);
        j["budgets"] = {{"J3 in.allowance", text}};
        write_file(path_in(d, "odd.kpeg"), j.dump());
        is_refused(run("budget '" + path_in(d, "odd.kpeg") + "' --json -"), "J3 in.allowance");
    }
}

TEST(Attacks, ALineThatBeginsLikeAShapeIsReadOnce) {
    const Demo d("attack-lines");
    std::string text;
    for (int n = 0; n < 4; ++n) text += "wire " + std::string(40000, '(') + "\n";
    text += "wire " + std::string(40000, 'a') + " '" + std::string(20000, 'b') + "\n";
    write_file(path_in(d, "t.txt"), text);
    const auto a = run(
        "lines '" + path_in(d, "t.txt") + "' --pattern '" KP_SOURCE "/docs/examples/tussock-pads.lines.json' --json -",
        10);
    EXPECT_LE(a.status, 1) << a.err;
}

TEST(Attacks, ALongTimeLimitIsOne) {
    const Demo d("attack-seconds");
    const auto a = run("place '" + path_in(d, "vane.kpeg") + "' --seconds 1e300 --json -");
    EXPECT_LE(a.status, 1) << a.err;
    EXPECT_NE(Json::parse(a.out)["status"], "partial");
}

TEST(Attacks, AProofOfNothingDoesNotAgree) {
    const Demo d("attack-nothing");
    const auto a = run("prove '" + path_in(d, "vane.kpeg") +
                       "' --board-part J3 --board-part D1 --against formula --formula 'tone = 1' --json -");
    EXPECT_EQ(a.status, 1);
    const auto j = Json::parse(a.out);
    EXPECT_EQ(j["differ"], 0);
    EXPECT_EQ(j["proven"], false);
    for (const auto& o : j["outputs"]) EXPECT_EQ(o["state"], "not proven") << o;
}

TEST(Attacks, AProjectHasANameThatCanBeWritten) {
    const Demo d("attack-name");
    for (const char* name : {"a\xff", "a\nb"})
        is_refused(run("new '" + path_in(d, "made") + "' --name '" + name + "' --part SKR11-Q144-MN"), "UTF-8");
}

TEST(Attacks, ListsAndPatternsStandForTheirFilesInABuildToo) {
    const Demo d("attack-lists");
    write_file(path_in(d, "lamp.v"),
               "module lamp(input osc, output reg lit); always @(posedge osc) lit <= `TURN lit; endmodule\n");
    write_file(path_in(d, "all.f"), "+define+TURN=~\nlamp.v\n");
    const auto made = run("new '" + path_in(d, "lamp") + "' --name lamp --part SKR11-Q144-MN");
    ASSERT_LE(made.status, 1) << made.err;
    auto j = project_of(d, "lamp/lamp.kpeg");
    for (const char* named : {"*.v", "all.f"}) {
        write_file(path_in(d, "lamp/lamp.v"), slurp(path_in(d, "lamp.v")));
        write_file(path_in(d, "lamp/all.f"), slurp(path_in(d, "all.f")));
        j["sources"] = Json::array({named});
        if (named[0] == '*') j["defines"] = {{"TURN", "~"}};
        write_file(path_in(d, "lamp/lamp.kpeg"), j.dump());
        j.erase("defines");
        const auto out = path_in(d, named[0] == '*' ? "by-pattern" : "by-list");
        const auto a = run("build '" + path_in(d, "lamp/lamp.kpeg") + "' --out '" + out + "' --json -");
        EXPECT_LE(a.status, 1) << a.err;
        EXPECT_NE(slurp(out + "/netlist.v").find("module lamp"), std::string::npos) << a.err;
    }
    // What a list brings from outside of the project is not read unasked.
    write_file(path_in(d, "lamp/all.f"), "+define+TURN=~\nlamp.v\n../lamp.v\n");
    is_refused(run("build '" + path_in(d, "lamp/lamp.kpeg") + "' --out '" + path_in(d, "again") + "' --json -"),
               "lamp.v");
}

/// Each makes minutes and gigabytes of a few lines.
TEST(Attacks, WhatBecomesTooMuchLogicIsToldSoon) {
    const Demo d("attack-bombs");
    const std::pair<const char*, const char*> bombs[] = {
        {"generate",
         "genvar i, j; generate for (i = 0; i < 60000; i = i + 1) begin : g for (j = 0; j < 60000; j = j + 1) begin : "
         "h "
         "wire x; assign x = a[0]; end end endgenerate assign y = a;"},
        {"function",
         "function [31:0] f; input [31:0] x; integer i; begin f = x; for (i = 0; i < 1000000; i = i + 1) f = f * x + "
         "i; "
         "end endfunction assign y = f(a);"},
        {"memory",
         "reg [31:0] m [0:8191]; reg [31:0] q; always @(posedge a[0]) begin m[a[12:0]] <= a; m[a[13:1]] <= ~a; q <= "
         "m[a[14:2]]; end assign y = q;"},
        {"multiplication", "wire [4095:0] p = {128{a}}; wire [4095:0] q = p * {128{~a ^ 32'd5}}; assign y = ^q;"},
        {"index", "wire [7:0] v [0:255]; assign y = v[v[v[v[v[v[v[v[v[v[v[v[a]]]]]]]]]]]];"}};
    for (const auto& [name, body] : bombs) {
        const auto file = path_in(d, std::string(name) + ".v");
        write_file(file, std::string("module t(input [31:0] a, output [31:0] y); ") + body + " endmodule\n");
        const auto a = kpeg_test::run_with("ulimit -v 2000000",
                                           "map '" + file + "' --part SKR44L-B529-HW --out '" + path_in(d, "o.v") +
                                               "' --json '" + path_in(d, "o.json") + "'",
                                           20);
        if (std::string(name) == "index" && a.status == 0) continue;  // it may be built, if it is soon
        is_refused(a, "more logic than any part here holds");
    }
}

TEST(Attacks, AnIndexOutsideOfItsDeclarationIsAFinding) {
    const Demo d("attack-index");
    const auto file = path_in(d, "i.v");
    const auto mapped = [&](const std::string& body) {
        write_file(file, "module t(input [7:0] a, input c, output reg [3:0] y);\n reg [3:0] m [0:7];\n" + body +
                             "\nendmodule\n");
        return run("map '" + file + "' --part SKR11-Q144-MN --out '" + path_in(d, "o.v") + "' --json -");
    };
    for (const char* body : {"always @* y = a[10:7];", "always @* y = a[65'h1_0000_0000_0000_0003];",
                             "always @(posedge c) m[8] <= a[3:0];", "always @* y = m[-1];"}) {
        const auto a = mapped(body);
        EXPECT_EQ(a.status, 1) << body << a.err;
        EXPECT_NE(a.err.find("i.v:3:"), std::string::npos) << a.err;
    }
    // What is never worked out may be written.
    EXPECT_EQ(mapped("integer i; always @* begin y = 0; for (i = 0; i < 4; i = i + 1) if (i > 0) y[i] = a[i - 1]; end")
                  .status,
              0);
    is_refused(mapped("wire [64'hffff_ffff_ffff_ffff:0] x;"), "more than 63 bits");
}

TEST(Attacks, ATableOfPinsIsHeldAgainstDesignAndPart) {
    const Demo d("attack-pins");
    const auto source = path_in(d, "c.v"), pins = path_in(d, "p.csv");
    write_file(source, "module t(input [3:0] a, output y); assign y = ^a; endmodule\n");
    for (const auto& [rows, told] :
         {std::pair("port,pin\na[0],22\na[0],23\n", "p.csv:3: The port 'a[0]' is there twice"),
          {"port,pin\na,22\n", "p.csv:2: 'a' is a bus"},
          {"port,pin\na[3:0],22\n", "p.csv:2: 'a[3:0]' is a bus"},
          {"port,pin\nb,22\n", "p.csv:2: The design has no port 'b'"},
          {"port,pin\na[0],22\na[1],22\n", "p.csv:3: The pin 22 is there twice"},
          {"port,pin\na[0],222\n", "p.csv:2: The part has no pin '222'"},
          {"port,pin,standard\na[0],22,odd\n", "p.csv:2: There is no I/O standard 'odd'"},
          {"port,pin\n\"a[0],22\n", "p.csv:2: A quote begins here that nothing ends"},
          {"port,place\na[0],22\n", "p.csv:1: The headings"}}) {
        write_file(pins, rows);
        is_refused(run("build '" + source + "' --part SKR11-Q144-MN --pins '" + pins + "' --out '" + path_in(d, "o") +
                       "' --json -"),
                   told);
    }
}

TEST(Attacks, ABuildGoesOnFromItsOwnFilesOnly) {
    const Demo d("attack-from");
    const auto source = path_in(d, "c.v"), out = path_in(d, "o");
    const std::string first = "module t(input c, d, output reg q); always @(posedge c) q <= d; endmodule\n";
    write_file(source, first);
    write_file(path_in(d, "c.sdc"),
               "create_clock -name c -period 20 [get_ports c]\nset_input_delay -clock c 1 [get_ports d]\n"
               "set_output_delay -clock c 1 [get_ports q]\n");
    const auto build = [&](const std::string& part, const std::string& more) {
        return run("build '" + source + "' --part " + part + " --sdc '" + path_in(d, "c.sdc") + "' --out '" + out +
                   "' " + more + " --json -");
    };
    ASSERT_EQ(build("SKR11-Q144-MN", "").status, 0);
    EXPECT_EQ(build("SKR11-Q144-MN", "--from time").status, 0);
    is_refused(build("SKR44L-B529-HW", "--from time"), "placed on another part (SKR11-Q144-MN); build from 'pins'");
    is_refused(build("SKR11-Q144-LN", "--from power"), "delays of SKR11-Q144-MN");
    EXPECT_EQ(build("SKR11-Q144-LN", "--from delays").status, 0) << "the same places at another speed";
    write_file(source, "module t(input c, d, output reg q); always @(posedge c) q <= ~d; endmodule\n");
    is_refused(build("SKR11-Q144-LN", "--from time"), "other sources than those of now");
    write_file(source, first);
    write_file(out + "/delays.sdf", slurp(out + "/delays.sdf") + "\n");
    is_refused(build("SKR11-Q144-LN", "--from time"), "not what the build wrote here; build from 'delays'");
    fs::remove(out + "/origin.json");
    is_refused(build("SKR11-Q144-LN", "--from delays"), "build from 'map'");
}

TEST(Attacks, NamesAsLongAsTheFileSystemTakesAreWritten) {
    const Demo d("attack-names");
    const std::string name(244, 'p');
    ASSERT_EQ(run("new '" + path_in(d, "long") + "' --name " + name + " --part SKR11-Q144-MN --source '" +
                  path_in(d, "vane.v") + "' --top vane")
                  .status,
              0);
    const auto project = path_in(d, "long/" + name + ".kpeg");
    for (const char* pins : {"'pull up'", "float"})
        EXPECT_EQ(run("set '" + project + "' unused_pins=" + pins).status, 0);
    const auto out = path_in(d, std::string(250, 'j') + ".json");
    EXPECT_EQ(run("rules '" + project + "' --json '" + out + "'").status, 1);
    EXPECT_TRUE(fs::exists(out));
}

}  // namespace
