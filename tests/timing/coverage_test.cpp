// SPDX-License-Identifier: GPL-3.0-or-later
// Every endpoint is constrained, taken out on purpose, or untimed with the reason and a command; and the command, when
// it is written, does what it says.
#include "tests/timing/circuit.hpp"

#include <algorithm>
#include <random>
#include <set>

namespace kp {
namespace {

using test::Circuit;

struct CoverageRow {
    const char *what, *verilog, *sdc;
    const char *object, *why, *suggest;
};

const char* const chain =
    "module m(input clk, k2, d, output y); wire a; R r1(.D(d),.CK(clk),.Q(a)); R r2(.D(a),.CK(k2),.Q(y)); endmodule";
const char* const clocked = "create_clock -name c -period 8 clk\n";

const CoverageRow rows_of_coverage[] = {
    {"an input without a delay", chain, "create_clock -name c -period 8 clk\ncreate_clock -name s -period 8 k2", "d",
     "no input delay", "set_input_delay -clock c <ns> [get_ports d]"},
    {"what it feeds", chain, "create_clock -name c -period 8 clk\ncreate_clock -name s -period 8 k2", "r1/D",
     "paths come from d: no input delay", "set_input_delay -clock c <ns> [get_ports d]"},
    {"half a delay", chain, "create_clock -name c -period 8 clk\nset_input_delay -clock c -max 1 d", "d",
     "only -max of its input delay is given", "set_input_delay -clock c -add_delay -min <ns> [get_ports d]"},
    {"what half a delay leaves", chain, "create_clock -name c -period 8 clk\nset_input_delay -clock c -max 1 d", "r1/D",
     "its hold side is unconstrained: paths come from d: only -max of its input delay is given",
     "set_input_delay -clock c -add_delay -min <ns> [get_ports d]"},
    {"the other half", chain, "create_clock -name c -period 8 clk\nset_input_delay -clock c -min 1 d", "r1/D",
     "its setup side is unconstrained: paths come from d: only -min of its input delay is given",
     "set_input_delay -clock c -add_delay -max <ns> [get_ports d]"},
    {"an output without a delay", chain, "create_clock -name c -period 8 clk\ncreate_clock -name s -period 8 k2", "y",
     "no output delay", "set_output_delay -clock s <ns> [get_ports y]"},
    {"half of an output's", chain,
     "create_clock -name c -period 8 clk\ncreate_clock -name s -period 8 k2\nset_output_delay -clock s -min 0 y", "y",
     "only -min of its output delay is given", "set_output_delay -clock s -add_delay -max <ns> [get_ports y]"},
    {"a register without a clock", chain, clocked, "r2/CK", "no clock reaches this register; it comes from port k2",
     "create_clock -name k2 -period <ns> [get_ports k2]"},
    {"its endpoint", chain, clocked, "r2/D", "no clock reaches r2/CK; it comes from port k2",
     "create_clock -name k2 -period <ns> [get_ports k2]"},
    {"an output behind a register without a clock", chain,
     "create_clock -name c -period 8 clk\nset_output_delay -clock c 1 y", "y",
     "paths come from r2/CK, which no clock reaches; it comes from port k2",
     "create_clock -name k2 -period <ns> [get_ports k2]"},
    {"a wire that nothing drives", "module m(input clk, output y); wire a; R r(.D(a),.CK(clk),.Q(y)); endmodule",
     clocked, "r/D", "nothing drives it", "set_false_path -to [get_pins r/D]"},
    {"behind a cut arc",
     "module m(input clk, d, output y); wire a, q; R r0(.D(d),.CK(clk),.Q(q)); BUF b(.A(q),.Y(a)); R "
     "r(.D(a),.CK(clk),.Q(y)); endmodule",
     "create_clock -name c -period 8 clk\nset_disable_timing b", "r/D", "no path with a clock leads here",
     "set_false_path -to [get_pins r/D]"},
};

TEST(Coverage, SaysWhyAndWhatToWrite) {
    for (const auto& r : rows_of_coverage) {
        const auto report = Circuit(r.verilog, r.sdc).time();
        const auto& list = report.coverage.untimed;
        const auto at =
            std::find_if(list.begin(), list.end(), [&](const UntimedObject& u) { return u.object == r.object; });
        if (at == list.end()) {
            ADD_FAILURE() << r.what << ": nothing is said of " << r.object;
            continue;
        }
        EXPECT_EQ(at->why, r.why) << r.what;
        EXPECT_EQ(at->suggest, r.suggest) << r.what;
    }
}

/// The clock of a proposal is the one that captures, with its edge; the first one of the file has nothing to do with
/// it.
TEST(Coverage, ProposesTheClockThatCaptures) {
    const auto suggest = [](const char* verilog, const std::string& object) {
        const auto report =
            Circuit(verilog, "create_clock -name c -period 8 clk\ncreate_clock -name s -period 8 k2\n").time();
        for (const auto& u : report.coverage.untimed)
            if (u.object == object) return u.suggest;
        return std::string("nothing");
    };
    const char* const second = "module m(input clk, k2, d, output y); R r(.D(d),.CK(k2),.Q(y)); endmodule";
    EXPECT_EQ(suggest(second, "d"), "set_input_delay -clock s <ns> [get_ports d]");
    EXPECT_EQ(suggest(second, "y"), "set_output_delay -clock s <ns> [get_ports y]");
    const char* const falling =
        "module m(input clk, k2, d, output y); wire n; INV i(.A(k2),.Y(n)); R r(.D(d),.CK(n),.Q(y)); endmodule";
    EXPECT_EQ(suggest(falling, "d"), "set_input_delay -clock s -clock_fall <ns> [get_ports d]");
    EXPECT_EQ(suggest(falling, "y"), "set_output_delay -clock s -clock_fall <ns> [get_ports y]");
}

TEST(Coverage, EndsThatVanishAreListedWithTheReason) {
    const auto why = [](const char* verilog, const char* sdc) {
        const auto report = Circuit(verilog, sdc).time();
        return report.coverage.left_out.size() == 1
                   ? report.coverage.left_out[0].object + ": " + report.coverage.left_out[0].why
                   : std::to_string(report.coverage.left_out.size());
    };
    EXPECT_EQ(why("module m(input clk, output y); R r(.D(1'b1),.CK(clk),.Q(y)); endmodule", clocked),
              "r/D: it is tied to 1");
    EXPECT_EQ(why("module m(input clk, output y); R r(.CK(clk),.Q(y)); endmodule", clocked),
              "r/D: it is not connected");
    EXPECT_EQ(why("module m(input clk, d, output y); R r(.D(d),.CK(clk),.Q(y)); endmodule",
                  "create_clock -name c -period 8 clk\nset_case_analysis 0 d"),
              "r/D: it stays at 0 by constants or case analysis");
    EXPECT_EQ(why("module m(input clk, d, output y); R r(.D(d),.CK(clk),.Q(y)); endmodule",
                  "create_clock -name c -period 8 clk\nset_disable_timing r"),
              "r/D: its checks are switched off by set_disable_timing or by a condition");
    EXPECT_EQ(why("module m(input clk, d, output y); R r(.D(d),.CK(clk),.Q(y)); endmodule", clocked), "0");
}

/// An open-drain pad: its data pin is 0 for ever, its enable says when it pulls. Enable to port and port to register
/// are paths like others (IEEE 1364-2005, 7.1: a bufif1 with enable 0 gives z, whatever its data).
TEST(Coverage, AnOpenDrainPadIsTimed) {
    const auto lib =
        read_liberty(R"lib(library (l) { cell (PAD) { pin (I) { direction : input; } pin (OE) { direction : input; }
      pin (P) { direction : inout; function : "I"; three_state : "!OE"; timing () { related_pin : "I";
          cell_rise (scalar) { values ("1"); } cell_fall (scalar) { values ("1"); } }
        timing () { related_pin : "OE"; timing_type : three_state_enable; cell_rise (scalar) { values ("2"); }
            cell_fall (scalar) { values ("2"); } } }
      pin (O) { direction : output; function : "P"; timing () { related_pin : "P"; cell_rise (scalar) {
          values ("0.5"); } cell_fall (scalar) { values ("0.5"); } } } }
      cell (R) { ff (S, SN) { clocked_on : "CK"; next_state : "D"; } pin (CK) { direction : input; clock : true; }
      pin (D) { direction : input; timing () { related_pin : "CK"; timing_type : setup_rising;
          rise_constraint (scalar) { values ("0.1"); } fall_constraint (scalar) { values ("0.1"); } }
        timing () { related_pin : "CK"; timing_type : hold_rising; rise_constraint (scalar) { values ("0"); }
            fall_constraint (scalar) { values ("0"); } } }
      pin (Q) { direction : output; function : "S"; timing () { related_pin : "CK"; timing_type : rising_edge;
          cell_rise (scalar) { values ("0.2"); } cell_fall (scalar) { values ("0.2"); } } } } })lib",
                     "l.lib")
            .take();
    const auto time = [&](const char* enable, const std::string& more) {
        const std::string text = std::string(
                                     "module m(input clk, inout sda, output y); wire oe, in; R "
                                     "e(.D(in),.CK(clk),.Q(oe)); PAD p(.I(1'b0),.OE(") +
                                 enable + "),.P(sda),.O(in)); R r(.D(in),.CK(clk),.Q(y)); endmodule";
        const SourceText source{"t.v", text};
        const auto netlist = read_netlist({&source, 1}, "m", lib).take();
        const NetlistIndex index(netlist);
        const auto k =
            read_sdc({{"t", "", "create_clock -name c -period 10 clk\nset_output_delay -clock c 1 y\n" + more}},
                     netlist, index, lib);
        return analyse_timing({netlist, lib, k, nullptr}, {});
    };
    const auto open = time("oe", "");
    std::set<std::string> untimed;
    for (const auto& u : open.coverage.untimed) untimed.insert(u.object + ", " + u.why);
    EXPECT_TRUE(untimed.contains("sda, no input delay"));
    EXPECT_TRUE(untimed.contains("sda, no output delay"));
    const auto closed = time("oe", "set_output_delay -clock c 1 sda\nset_input_delay -clock c 1 sda\n");
    EXPECT_TRUE(closed.coverage.untimed.empty());
    EXPECT_EQ(closed.coverage.constrained, closed.coverage.endpoints);
    double out = 0, in = 0;
    for (const auto& e : closed.endpoints) {
        if (e.check != "setup") continue;
        if (e.endpoint == "sda") out = e.slack;
        if (e.endpoint == "r/D") in = e.slack;
    }
    EXPECT_NEAR(out, 10 - 1 - 0.2 - 2, 1e-9);  // enable to port
    EXPECT_NEAR(in, 10 - 0.1 - 0.2 - 2 - 0.5,
                1e-9);  // its own enable, back through the pad, is later than the port's delay of 1 ns
    // A pad that always pulls is a constant; one that never drives passes nothing from inside.
    for (const auto& e : time("1'b1", "set_input_delay -clock c 1 sda\n").endpoints) EXPECT_NE(e.endpoint, "sda");
    for (const auto& e : time("1'b0", "set_output_delay -clock c 1 sda\n").endpoints) EXPECT_NE(e.endpoint, "sda");
}

TEST(Coverage, OnPurposeIsNotUntimed) {
    const auto r = Circuit(chain,
                           "create_clock -name c -period 8 clk\ncreate_clock -name s -period 8 k2\nset_clock_groups "
                           "-asynchronous -group c -group s\nset_input_delay -clock c 1 d\nset_false_path -to y")
                       .time();
    EXPECT_TRUE(r.coverage.untimed.empty()) << r.coverage.untimed.front().object;
    EXPECT_EQ(r.coverage.endpoints, 3);
    EXPECT_EQ(r.coverage.constrained, 3);
    EXPECT_EQ(r.coverage.excluded, 2);
}

TEST(Coverage, ACheckOfOneSideAsksForThatSideOnly) {
    const auto lib = read_liberty(
                         R"lib(library (l) { cell (S) { ff (S, SN) { clocked_on : "CK"; next_state : "D"; } pin (CK) {
                direction : input; clock : true; }
      pin (D) { direction : input; timing () { related_pin : "CK"; timing_type : setup_rising;
          rise_constraint (scalar) { values ("0.1"); } fall_constraint (scalar) { values ("0.1"); } } }
      pin (Q) { direction : output; function : "S"; timing () { related_pin : "CK"; timing_type : rising_edge;
          cell_rise (scalar) { values ("0.2"); } cell_fall (scalar) { values ("0.2"); } } } } })lib",
                         "l.lib")
                         .take();
    const SourceText source{"t.v", "module m(input clk, d, output y); S r(.D(d),.CK(clk),.Q(y)); endmodule"};
    const auto netlist = read_netlist({&source, 1}, "m", lib).take();
    const NetlistIndex index(netlist);
    const auto k = read_sdc(
        {{"t", "", "create_clock -name c -period 8 clk\nset_input_delay -clock c 1 d\nset_output_delay -clock c 1 y"}},
        netlist, index, lib);
    const auto r = analyse_timing({netlist, lib, k, nullptr}, {});
    EXPECT_EQ(r.coverage.endpoints, 2);
    EXPECT_EQ(r.coverage.constrained, 2);
    EXPECT_TRUE(r.coverage.untimed.empty());
}

/// Registers of two clocks with and without delays: whatever is missing, writing the proposed lines ends in nothing
/// untimed.
TEST(Coverage, TheProposedLinesCloseIt) {
    std::mt19937 random(12);
    for (int round = 0; round < 60; ++round) {
        std::string v = "module m(input clk, k2, input [3:0] d, output [3:0] y);\n",
                    sdc = "create_clock -name c -period 8 clk\ncreate_clock -name s -period 6 k2\n";
        std::vector<std::string> nets{"d[0]", "d[1]", "d[2]", "d[3]"};
        for (int i = 0; i < 8; ++i) {
            const auto n = std::to_string(i), from = nets[random() % nets.size()], and_ = nets[random() % nets.size()];
            v += "AND g" + n + "(.A(" + from + "),.B(" + and_ + "),.Y(n" + n + "));\nR r" + n + "(.D(n" + n + "),.CK(" +
                 (random() % 2 ? "clk" : "k2") + "),.Q(q" + n + "));\n";
            nets.push_back("q" + n);
            nets.push_back("n" + n);
        }
        for (int i = 0; i < 4; ++i)
            v += "assign y[" + std::to_string(i) + "] = " + nets[nets.size() - 1 - random() % 6] + ";\n";
        v += "endmodule\n";
        for (int i = 0; i < 4; ++i)
            for (const bool input : {true, false})
                if (random() % 2)
                    sdc += std::string(input ? "set_input_delay" : "set_output_delay") + " -clock c" +
                           (random() % 3   ? ""
                            : random() % 2 ? " -min"
                                           : " -max") +
                           " 0.5 {" + (input ? "d[" : "y[") + std::to_string(i) + "]}\n";
        for (int pass = 0; pass < 3; ++pass) {
            const auto r = Circuit(v, sdc).time();
            std::set<std::string> untimed, lines;
            for (const auto& u : r.coverage.untimed) {
                EXPECT_FALSE(u.why.empty()) << u.object;
                EXPECT_FALSE(u.suggest.empty()) << u.object;
                EXPECT_TRUE(untimed.insert(u.object).second) << u.object << " is said twice";
                auto line = u.suggest;
                EXPECT_EQ(u.ask.empty(), line.find(number_wanted) == std::string::npos) << line;
                if (const auto at = line.find(number_wanted); at != std::string::npos)
                    line.replace(at, std::string(number_wanted).size(), "0.25");
                lines.insert(line);
            }
            // Every endpoint that is not constrained is named, or is an output whose port is.
            EXPECT_GE(static_cast<int>(
                          std::count_if(r.coverage.untimed.begin(), r.coverage.untimed.end(),
                                        [](const UntimedObject& u) { return u.endpoint || u.object[0] == 'y'; })),
                      r.coverage.endpoints - r.coverage.constrained)
                << sdc << v;
            if (lines.empty()) {
                EXPECT_EQ(r.coverage.endpoints, r.coverage.constrained) << sdc << v;
                break;
            }
            ASSERT_LT(pass, 2) << "still untimed: " << *untimed.begin() << "\n" << sdc << v;
            for (const auto& l : lines) sdc += l + "\n";
        }
    }
}

TEST(Coverage, PortsThatAreOnlyPlannedMissNothing) {
    const auto r = Circuit("module m(input d, output y); endmodule", "").time();
    EXPECT_EQ(r.coverage.endpoints, 1);
    EXPECT_TRUE(r.coverage.untimed.empty());
}

TEST(Coverage, ExceptionsThatMeetNothingAreTold) {
    const auto told = [](const char* sdc) {
        std::vector<int> lines;
        for (const auto& m :
             Circuit(chain,
                     std::string("create_clock -name c -period 8 clk\ncreate_clock -name s -period 8 k2\n") + sdc)
                 .time()
                 .messages)
            if (m.code == Code::unused_exception) lines.push_back(m.line);
        return lines;
    };
    EXPECT_TRUE(told("set_false_path -from r1/CK -to r2/D").empty());
    EXPECT_EQ(told("set_false_path -from r2/CK -to r1/D"), std::vector<int>{3});
    EXPECT_EQ(told("set_multicycle_path 2 -through r1/Q\nset_multicycle_path 2 -through r1/Q -to r1/D"),
              std::vector<int>{4});
}

TEST(Coverage, SeveralClocksAtARegisterAreANote) {
    const auto r = Circuit(chain,
                           "create_clock -name c -period 8 clk\ncreate_clock -name e -add -period 4 clk\ncreate_clock "
                           "-name s -period 8 k2")
                       .time();
    const auto at = std::find_if(r.messages.begin(), r.messages.end(),
                                 [](const Message& m) { return m.code == Code::several_clocks; });
    ASSERT_NE(at, r.messages.end());
    EXPECT_EQ(at->text,
              "1 clock pin is reached by several clocks, such as r1/CK by c and e; each pair of them is timed. "
              "set_clock_groups says which never run together.");
}

}  // namespace
}  // namespace kp
