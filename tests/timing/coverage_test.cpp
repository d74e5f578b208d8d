// SPDX-License-Identifier: GPL-3.0-or-later
// Every endpoint is constrained, taken out on purpose, or untimed with the reason and a command; and the command, when it is written,
// does what it says.
#include "tests/timing/circuit.hpp"

#include <algorithm>
#include <random>
#include <set>

namespace kp {
namespace {

using test::Circuit;

struct Row {
    const char *what, *verilog, *sdc;
    const char *object, *why, *suggest;
};

const char* const chain = "module m(input clk, k2, d, output y); wire a; R r1(.D(d),.CK(clk),.Q(a)); R r2(.D(a),.CK(k2),.Q(y)); endmodule";
const char* const clocked = "create_clock -name c -period 8 clk\n";

const Row rows[] = {
    {"an input without a delay", chain, "create_clock -name c -period 8 clk\ncreate_clock -name s -period 8 k2", "d", "no input delay", "set_input_delay -clock c 2 [get_ports d]"},
    {"what it feeds", chain, "create_clock -name c -period 8 clk\ncreate_clock -name s -period 8 k2", "r1/D", "paths come from d: no input delay", "set_input_delay -clock c 2 [get_ports d]"},
    {"half a delay", chain, "create_clock -name c -period 8 clk\nset_input_delay -clock c -max 1 d", "d", "only -max of its input delay is given", "set_input_delay -clock c -min 0 [get_ports d]"},
    {"what half a delay leaves", chain, "create_clock -name c -period 8 clk\nset_input_delay -clock c -max 1 d", "r1/D", "its hold side is not timed: paths come from d: only -max of its input delay is given", "set_input_delay -clock c -min 0 [get_ports d]"},
    {"the other half", chain, "create_clock -name c -period 8 clk\nset_input_delay -clock c -min 1 d", "r1/D", "its setup side is not timed: paths come from d: only -min of its input delay is given", "set_input_delay -clock c -max 0 [get_ports d]"},
    {"an output without a delay", chain, "create_clock -name c -period 8 clk\ncreate_clock -name s -period 8 k2", "y", "no output delay", "set_output_delay -clock c 2 [get_ports y]"},
    {"half of an output's", chain, "create_clock -name c -period 8 clk\ncreate_clock -name s -period 8 k2\nset_output_delay -clock s -min 0 y", "y", "only -min of its output delay is given", "set_output_delay -clock c -max 0 [get_ports y]"},
    {"a register without a clock", chain, clocked, "r2/CK", "no clock reaches this register", "create_clock -name NAME -period NS [get_ports PORT]"},
    {"its endpoint", chain, clocked, "r2/D", "no clock reaches r2/CK", "create_clock -name NAME -period NS [get_ports PORT]"},
    {"an output behind a register without a clock", chain, "create_clock -name c -period 8 clk\nset_output_delay -clock c 1 y", "y", "paths come from r2/CK, which no clock reaches", "create_clock -name NAME -period NS [get_ports PORT]"},
    {"a wire that nothing drives", "module m(input clk, output y); wire a; R r(.D(a),.CK(clk),.Q(y)); endmodule", clocked, "r/D", "nothing drives it", "set_false_path -to [get_pins r/D]"},
    {"behind a cut arc", "module m(input clk, d, output y); wire a, q; R r0(.D(d),.CK(clk),.Q(q)); BUF b(.A(q),.Y(a)); R r(.D(a),.CK(clk),.Q(y)); endmodule", "create_clock -name c -period 8 clk\nset_disable_timing b", "r/D", "no path with a clock leads here", "set_false_path -to [get_pins r/D]"},
};

TEST(Coverage, SaysWhyAndWhatToWrite) {
    for (const auto& r : rows) {
        const auto report = Circuit(r.verilog, r.sdc).time();
        const auto& list = report.coverage.untimed;
        const auto at = std::find_if(list.begin(), list.end(), [&](const UntimedObject& u) { return u.object == r.object; });
        if (at == list.end()) {
            ADD_FAILURE() << r.what << ": nothing is said of " << r.object;
            continue;
        }
        EXPECT_EQ(at->why, r.why) << r.what;
        EXPECT_EQ(at->suggest, r.suggest) << r.what;
    }
}

TEST(Coverage, OnPurposeIsNotUntimed) {
    const auto r = Circuit(chain, "create_clock -name c -period 8 clk\ncreate_clock -name s -period 8 k2\nset_clock_groups -asynchronous -group c -group s\nset_input_delay -clock c 1 d\nset_false_path -to y").time();
    EXPECT_TRUE(r.coverage.untimed.empty()) << r.coverage.untimed.front().object;
    EXPECT_EQ(r.coverage.endpoints, 3);
    EXPECT_EQ(r.coverage.constrained, 3);
    EXPECT_EQ(r.coverage.excluded, 2);
}

TEST(Coverage, ACheckOfOneSideAsksForThatSideOnly) {
    const auto lib = read_liberty(R"lib(library (l) { cell (S) { ff (S, SN) { clocked_on : "CK"; next_state : "D"; } pin (CK) { direction : input; clock : true; }
      pin (D) { direction : input; timing () { related_pin : "CK"; timing_type : setup_rising; rise_constraint (scalar) { values ("0.1"); } fall_constraint (scalar) { values ("0.1"); } } }
      pin (Q) { direction : output; function : "S"; timing () { related_pin : "CK"; timing_type : rising_edge; cell_rise (scalar) { values ("0.2"); } cell_fall (scalar) { values ("0.2"); } } } } })lib",
                                  "l.lib").take();
    const SourceText source{"t.v", "module m(input clk, d, output y); S r(.D(d),.CK(clk),.Q(y)); endmodule"};
    const auto netlist = read_netlist({&source, 1}, "m", lib).take();
    const NetlistIndex index(netlist);
    const auto k = read_sdc({{"t", "", "create_clock -name c -period 8 clk\nset_input_delay -clock c 1 d\nset_output_delay -clock c 1 y"}}, netlist, index, lib);
    const auto r = analyse_timing({netlist, lib, k, nullptr}, {});
    EXPECT_EQ(r.coverage.endpoints, 2);
    EXPECT_EQ(r.coverage.constrained, 2);
    EXPECT_TRUE(r.coverage.untimed.empty());
}

/// Registers of two clocks with and without delays: whatever is missing, writing the proposed lines ends in nothing untimed.
TEST(Coverage, TheProposedLinesCloseIt) {
    std::mt19937 random(12);
    for (int round = 0; round < 60; ++round) {
        std::string v = "module m(input clk, k2, input [3:0] d, output [3:0] y);\n", sdc = "create_clock -name c -period 8 clk\ncreate_clock -name s -period 6 k2\n";
        std::vector<std::string> nets{"d[0]", "d[1]", "d[2]", "d[3]"};
        for (int i = 0; i < 8; ++i) {
            const auto n = std::to_string(i), from = nets[random() % nets.size()], and_ = nets[random() % nets.size()];
            v += "AND g" + n + "(.A(" + from + "),.B(" + and_ + "),.Y(n" + n + "));\nR r" + n + "(.D(n" + n + "),.CK(" + (random() % 2 ? "clk" : "k2") + "),.Q(q" + n + "));\n";
            nets.push_back("q" + n), nets.push_back("n" + n);
        }
        for (int i = 0; i < 4; ++i) v += "assign y[" + std::to_string(i) + "] = " + nets[nets.size() - 1 - random() % 6] + ";\n";
        v += "endmodule\n";
        for (int i = 0; i < 4; ++i)
            for (const bool input : {true, false})
                if (random() % 2) sdc += std::string(input ? "set_input_delay" : "set_output_delay") + " -clock c" + (random() % 3 ? "" : random() % 2 ? " -min" : " -max") + " 0.5 {" + (input ? "d[" : "y[") + std::to_string(i) + "]}\n";
        for (int pass = 0; pass < 3; ++pass) {
            const auto r = Circuit(v, sdc).time();
            std::set<std::string> untimed, lines;
            for (const auto& u : r.coverage.untimed) {
                EXPECT_FALSE(u.why.empty()) << u.object;
                EXPECT_FALSE(u.suggest.empty()) << u.object;
                EXPECT_TRUE(untimed.insert(u.object).second) << u.object << " is said twice";
                lines.insert(u.suggest);
            }
            // Every endpoint that is not constrained is named, or is an output whose port is.
            EXPECT_GE(static_cast<int>(std::count_if(r.coverage.untimed.begin(), r.coverage.untimed.end(), [](const UntimedObject& u) { return u.endpoint || u.object[0] == 'y'; })), r.coverage.endpoints - r.coverage.constrained) << sdc << v;
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
        for (const auto& m : Circuit(chain, std::string("create_clock -name c -period 8 clk\ncreate_clock -name s -period 8 k2\n") + sdc).time().messages)
            if (m.code == "unused-exception") lines.push_back(m.line);
        return lines;
    };
    EXPECT_TRUE(told("set_false_path -from r1/CK -to r2/D").empty());
    EXPECT_EQ(told("set_false_path -from r2/CK -to r1/D"), std::vector<int>{3});
    EXPECT_EQ(told("set_multicycle_path 2 -through r1/Q\nset_multicycle_path 2 -through r1/Q -to r1/D"), std::vector<int>{4});
}

TEST(Coverage, SeveralClocksAtARegisterAreANote) {
    const auto r = Circuit(chain, "create_clock -name c -period 8 clk\ncreate_clock -name e -add -period 4 clk\ncreate_clock -name s -period 8 k2").time();
    const auto at = std::find_if(r.messages.begin(), r.messages.end(), [](const Message& m) { return m.code == "several-clocks"; });
    ASSERT_NE(at, r.messages.end());
    EXPECT_EQ(at->text, "1 clock pin is reached by several clocks, such as r1/CK by c, e; each pair of them is timed. set_clock_groups says which never run together.");
}

}  // namespace
}  // namespace kp
