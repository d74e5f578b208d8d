// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/format/csv/csv.hpp"
#include "core/format/json/json_text.hpp"
#include "core/format/sdc/read.hpp"
#include "core/format/sdc/table.hpp"
#include "core/format/sdc/sdc_text.hpp"
#include "core/hdl/verilog/read_netlist.hpp"

#include <gtest/gtest.h>
#include <random>
#include <tcl.h>

namespace kp {
namespace {

struct SdcDesign {
    Library library;
    Netlist netlist;
    std::unique_ptr<NetlistIndex> index;
    SdcDesign() {
        LibraryCell reg;
        reg.name = "R";
        reg.flip_flop = true;
        reg.pins = {{"D", Direction::in}, {"CK", Direction::in}, {"Q", Direction::out}};
        library.by_name["R"] = 0;
        library.cells.push_back(reg);
        const SourceText source{"d.v",
                                "module d(input clk, input [3:0] a, output [3:0] y); R r0(.D(a[0]),.CK(clk),.Q(y[0])), "
                                "r1(.D(a[1]),.CK(clk),.Q(y[1])); endmodule"};
        netlist = read_netlist({&source, 1}, "d", library).take();
        index = std::make_unique<NetlistIndex>(netlist);
    }
    [[nodiscard]] Constraints run(const std::string& text, double seconds = 10) const {
        sdc::RunLimits limits;
        limits.seconds = seconds;
        return read_sdc({{"t.sdc", "", text}}, netlist, *index, library, limits);
    }
};

std::string messages(const Constraints& c) {
    std::string out;
    for (const auto& m : c.messages) out += std::string(name_of(m.severity)) + " " + m.sentence() + "\n";
    return out;
}

TEST(Sdc, TclRunsVariablesLoopsAndExpressions) {
    const auto c = SdcDesign().run(
        "set p 8.0\ncreate_clock -name c -period $p [get_ports clk]\nforeach i {0 1} { set_input_delay -clock c [expr "
        "{$i + 0.5}] [get_ports a[$i]] }\n");
    EXPECT_EQ(messages(c), "");
    ASSERT_EQ(c.clocks.size(), 1u);
    EXPECT_EQ(c.clocks[0].waveform, (std::vector<double>{0, 4}));
    ASSERT_EQ(c.io_delays.size(), 2u);
    EXPECT_DOUBLE_EQ(c.io_delays[1].value, 1.5);
    EXPECT_EQ(c.io_delays[1].span.line, 3);
}

TEST(Sdc, AnUnbracedIndexMeansTheIndex) {
    const auto c = SdcDesign().run(
        "create_clock -period 5 [get_ports clk]\nset_input_delay -clock clk 1 [get_ports a[*]]\nset_output_delay "
        "-clock clk 1 [get_ports y[2]]");
    EXPECT_EQ(messages(c), "");
    EXPECT_EQ(c.io_delays.size(), 5u);
}

TEST(Sdc, FindingsAreSentencesWithALine) {
    struct Row {
        const char *text, *wanted;
    };
    const SdcDesign d;
    for (const auto& r : {
             Row{"create_clock -perod 5 [get_ports clk]",
                 "stop t.sdc:1: '-perod' is not an option of create_clock. Did you mean '-period'?\n"},
             Row{"\ncreate_clok -period 5",
                 "caution t.sdc:2: 'create_clok' is not portable SDC; the line is kept and not used. Did you mean "
                 "'create_clock'?\n"},
             Row{"create_clock -period 0 [get_ports clk]",
                 "stop t.sdc:1: The period of a clock is above 0 ns, not 0.\n"},
             Row{"create_clock -period 5 [get_ports clj]",
                 "stop t.sdc:1: get_ports finds nothing for 'clj'. Did you mean 'clk'?\n"},
             Row{"set_output_delay -clock c 1 y", "stop t.sdc:1: There is no clock 'c'.\n"},
             Row{"set x {",
                 "stop t.sdc:1: A brace, bracket or quote of this command is not closed, or something follows a "
                 "closing one without a blank.\n"},
             Row{"exec ls", "caution t.sdc:1: 'exec' is not portable SDC; the line is kept and not used.\n"},
             Row{"puts $nothing", "stop t.sdc:1: can't read \"nothing\": no such variable.\n"},
             Row{"create_clock -period 5 clk extra",
                 "stop t.sdc:1: 'extra' is one word too many for create_clock; a list goes into braces or [list …].\n"},
             Row{"set_false_path",
                 "stop t.sdc:1: set_false_path needs -from, -through or -to; without them it would hold for every "
                 "path.\n"},
             Row{"create_clock -period 5 clk\nset_input_delay -clock clk 1 y",
                 "stop t.sdc:2: Port y[3] is an output; set_output_delay is meant for it.\nstop t.sdc:2: Port y[2] is "
                 "an output; set_output_delay is meant for it.\nstop t.sdc:2: Port y[1] is an output; set_output_delay "
                 "is meant for it.\nstop t.sdc:2: Port y[0] is an output; set_output_delay is meant for it.\n"},
         })
        EXPECT_EQ(messages(d.run(r.text)), r.wanted) << r.text;
}

TEST(Sdc, WhatFollowsABadCommandIsStillRead) {
    const auto c = SdcDesign().run("create_clock -perod 5 clk\ncreate_clock -period 5 clk\n");
    EXPECT_EQ(c.clocks.size(), 1u);
}

TEST(Sdc, EndlessAndGreedyScriptsEndAndTheProgramLives) {
    const SdcDesign d;
    EXPECT_EQ(messages(d.run("create_clock -period 5 clk\nwhile 1 {}\n", 0.3)),
              "stop t.sdc:2: This command did not end within 0.3 s and was stopped; what follows it was not read.\n");
    EXPECT_EQ(d.run("string repeat abcdefgh 400000000").messages.at(0).severity,
              Severity::stop);  // Tcl refuses this one itself
    for (const char* greedy : {"lrepeat 500000000 a", "set a x; while 1 {append a $a}"})
        EXPECT_EQ(messages(d.run(greedy)),
                  "stop t.sdc:1: This command asked for more time or memory than a constraint file may have and was "
                  "stopped; what follows it was not read.\n")
            << greedy;
    // What was said before the greedy command counts.
    EXPECT_EQ(d.run("create_clock -period 5 clk\nlrepeat 500000000 a").clocks.size(), 1u);
}

TEST(Sdc, SafeModeHasNoWayOut) {
    const SdcDesign d;
    for (const char* way : {"open /etc/passwd", "exec true", "socket x 1", "file delete x", "source /etc/passwd",
                            "cd /", "glob *", "load x"}) {
        const auto c = d.run(way);
        ASSERT_EQ(c.messages.size(), 1u) << way;
    }
}

TEST(Sdc, ANewerDelayReplacesTheOlder) {
    const SdcDesign d;
    const std::string clock = "create_clock -name c -period 5 clk\ncreate_clock -name k -period 7\n";
    auto c = d.run(clock + "set_input_delay -clock c 1 a[0]\nset_input_delay -clock c -max 2 a[0]");
    ASSERT_EQ(c.io_delays.size(), 2u);  // the old -min side stays
    EXPECT_TRUE(c.io_delays[0].early && !c.io_delays[0].late);
    c = d.run(clock + "set_input_delay -clock c 1 a[0]\nset_input_delay -clock k 2 a[0]");
    ASSERT_EQ(c.io_delays.size(), 1u);  // another clock replaces all
    c = d.run(clock + "set_input_delay -clock c 1 a[0]\nset_input_delay -clock k 2 -add_delay a[0]");
    EXPECT_EQ(c.io_delays.size(), 2u);
}

/// Tcl itself splits what we quote; it must give back the same text.
TEST(SdcText, QuotingAgreesWithTcl) {
    std::mt19937 random(20261123);
    const std::string alphabet = "ab[]{}\\$\" ;#*?\n\t1";
    for (int round = 0; round < 20000; ++round) {
        std::string text;
        for (size_t n = random() % 9; n > 0; --n) text += alphabet[random() % alphabet.size()];
        const std::string quoted = sdc::quote(text);
        int count = 0;
        const char** items = nullptr;
        ASSERT_EQ(Tcl_SplitList(nullptr, quoted.c_str(), &count, &items), TCL_OK) << quoted;
        ASSERT_EQ(count, 1) << quoted;
        EXPECT_EQ(items[0], text) << quoted;
        Tcl_Free(reinterpret_cast<char*>(items));
    }
}

TEST(SdcText, SpansFollowTcl) {
    const std::string text = "# note ; x\ncreate_clock -period 5 \\\n  [get_ports {a b}]\nset x 1; set y {a\nb}\n";
    const auto list = sdc::split_commands(text, "t");
    ASSERT_EQ(list.commands.size(), 3u);
    EXPECT_EQ(list.commands[0].of(text), "create_clock -period 5 \\\n  [get_ports {a b}]");
    EXPECT_EQ(list.commands[1].of(text), "set x 1");
    EXPECT_EQ(list.commands[2].of(text), "set y {a\nb}");
    EXPECT_EQ(sdc::words_of(text, list.commands[0]).size(), 4u);
}

TEST(SdcText, AnOptionIsReplacedAndAllOtherBytesStay) {
    const std::string text = "create_clock  -name x -period   40 \\\n\t[get_ports osc] ;# keep";
    const auto command = sdc::split_commands(text, "t").commands[0];
    EXPECT_EQ(sdc::with_option(text, command, "-period", "50"),
              "create_clock  -name x -period   50 \\\n\t[get_ports osc]");
    EXPECT_EQ(sdc::with_option(text, command, "-waveform", "{0 10}"),
              "create_clock -waveform {0 10}  -name x -period   40 \\\n\t[get_ports osc]");
    EXPECT_EQ(sdc::with_option(text, command, "-name", std::nullopt),
              "create_clock  -period   40 \\\n\t[get_ports osc]");
}

TEST(SdcTable, EveryRowHasItsHelp) {
    for (const auto& row : sdc::commands()) {
        EXPECT_GT(std::string(row.help).size(), 10u) << row.name;
        EXPECT_LE(row.least, row.most) << row.name;
    }
    EXPECT_NE(sdc::find_command("set_input_delay"), nullptr);
}

TEST(Csv, RoundTripOfOddTexts) {
    // RFC 4180, section 2, rules 5 to 7: quotes, commas and line ends inside quoted fields.
    const std::vector<std::string> row{"a,b", "say \"x\"", "two\nlines", "", "plain"};
    const auto back = read_csv(csv_row(row) + csv_row({"1", "2"}));
    ASSERT_EQ(back.size(), 2u);
    EXPECT_EQ(back[0], row);
    EXPECT_EQ(csv_field("say \"x\""), "\"say \"\"x\"\"\"");
}

TEST(Json, ErrorsKnowTheirLine) {
    EXPECT_EQ(JsonText::parse("{\n \"schema\": \"kitepeg.part/1\",\n", "f", "part", 1).first().sentence(),
              "f:3:1: The file ends in the middle of a value; it seems to be cut off. Restore it from a copy.");
    EXPECT_EQ(JsonText::parse("{\"schema\": \"kitepeg.part/9\"}", "f", "part", 1).first().text,
              "The file is of schema kitepeg.part/9, this program reads up to 1; open it with a newer Kite Peg.");
    auto j = JsonText::parse("{\n\"schema\": \"kitepeg.part/1\",\n\"a\": [1,\n {\"b\": 2}]}", "f", "part", 1).take();
    EXPECT_EQ(j.at("/a/1/b", "x").line, 4);
    std::string deep(100000, '[');
    EXPECT_FALSE(JsonText::parse(deep, "f", "part", 1).ok());
}

}  // namespace
}  // namespace kp
