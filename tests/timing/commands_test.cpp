// SPDX-License-Identifier: GPL-3.0-or-later
// Each SDC command that changes a figure, on circuits small enough for a pencil: the sum stands beside its result.
// Cells are those of circuit.hpp: R and F take 0.2 to Q, setup 0.1, hold 0.05; BUF 1.0 rising, 2.0 falling; INV 0.5 and
// 0.7.
#include "tests/timing/circuit.hpp"

#include "core/timing/engine.hpp"

#include <cmath>

namespace kp {
namespace {

const std::string pair =
    "module m(input clk, k2, d, output y); wire a; R r1(.D(d),.CK(clk),.Q(a)); R r2(.D(a),.CK(clk),.Q(y)); endmodule";
const std::string to_falling =
    "module m(input clk, d, output y); wire a; R r1(.D(d),.CK(clk),.Q(a)); F r2(.D(a),.CK(clk),.Q(y)); endmodule";
const std::string two_clocks_of_commands =
    "module m(input clk, k2, d, output y); wire a; R r1(.D(d),.CK(clk),.Q(a)); R r2(.D(a),.CK(k2),.Q(y)); endmodule";
const std::string divided =
    "module m(input clk, d, output y); wire a, q, n; R dv(.D(n),.CK(clk),.Q(q)); INV i(.A(q),.Y(n)); R "
    "r1(.D(d),.CK(clk),.Q(a)); R r2(.D(a),.CK(q),.Q(y)); endmodule";
const std::string divided_falling =
    "module m(input clk, d, output y); wire a, q, n; R dv(.D(n),.CK(clk),.Q(q)); INV i(.A(q),.Y(n)); R "
    "r1(.D(d),.CK(clk),.Q(a)); F r2(.D(a),.CK(q),.Q(y)); endmodule";
const std::string buffered =
    "module m(input clk, d, output y); wire a, k; BUF b(.A(clk),.Y(k)); R r1(.D(d),.CK(clk),.Q(a)); R "
    "r2(.D(a),.CK(k),.Q(y)); endmodule";
const std::string wires_of_commands = "module m(input d, output y); BUF b(.A(d),.Y(y)); endmodule";
const std::string clock_of_commands = "create_clock -name c -period 4 clk\n",
                  slow = "create_clock -name s -period 8 k2\n";

struct CommandsRow {
    const char* what;
    std::string verilog, sdc;
    const char *check, *endpoint;
    double slack;
};

const CommandsRow rows_of_commands[] = {
    {"create_clock", pair, clock_of_commands, "setup", "r2/D", 4 - 0.1 - 0.2},
    {"create_clock, hold", pair, clock_of_commands, "hold", "r2/D", 0.2 - 0.05},
    {"create_clock -waveform: rise at 1, fall at 3", to_falling, "create_clock -name c -period 4 -waveform {1 3} clk",
     "setup", "r2/D", 3 - 1 - 0.1 - 0.2},
    {"create_clock on a net is one on its driver", buffered,
     "create_clock -name c -period 4 clk\ncreate_clock -name n -period 2 [get_nets k]", "setup", "r2/D", 2 - 0.1 - 0.2},
    {"create_clock without -add replaces", pair, clock_of_commands + "create_clock -name e -period 3 clk", "setup",
     "r2/D", 3 - 0.1 - 0.2},
    {"create_clock -add: both, and each against the other", pair,
     clock_of_commands + "create_clock -name e -add -period 3 clk", "setup", "r2/D", 1 - 0.1 - 0.2},
    {"create_generated_clock -divide_by 2: launched at 4, captured at 8", divided,
     clock_of_commands + "create_generated_clock -name g -source clk -divide_by 2 dv/Q", "setup", "r2/D",
     4 - 0.1 - 0.2},
    {"-divide_by 3: rises at 0 and 12", divided,
     clock_of_commands + "create_generated_clock -name g -source clk -divide_by 3 dv/Q", "setup", "r2/D",
     4 - 0.1 - 0.2},
    {"-divide_by 3: falls at 6, launched at 4", divided_falling,
     clock_of_commands + "create_generated_clock -name g -source clk -divide_by 3 dv/Q", "setup", "r2/D",
     2 - 0.1 - 0.2},
    {"-divide_by 2 -invert: rises at 4 and 12, launched at 0", divided,
     clock_of_commands + "create_generated_clock -name g -source clk -divide_by 2 -invert dv/Q", "setup", "r2/D",
     4 - 0.1 - 0.2},
    {"-multiply_by 2: captured at 2", divided,
     clock_of_commands + "create_generated_clock -name g -source clk -multiply_by 2 dv/Q", "setup", "r2/D",
     2 - 0.1 - 0.2},
    {"-duty_cycle 25 of a period of 2: falls at 0.5", divided_falling,
     clock_of_commands + "create_generated_clock -name g -source clk -multiply_by 2 -duty_cycle 25 dv/Q", "setup",
     "r2/D", 0.5 - 0.1 - 0.2},
    {"-edges {1 3 5} -edge_shift: rises at 0.5", divided,
     clock_of_commands + "create_generated_clock -name g -source clk -edges {1 3 5} -edge_shift {0.5 0.5 0.5} dv/Q",
     "setup", "r2/D", 0.5 - 0.1 - 0.2},
    {"-edges {2 4 6}: rises at 2", divided,
     clock_of_commands + "create_generated_clock -name g -source clk -edges {2 4 6} dv/Q", "setup", "r2/D",
     2 - 0.1 - 0.2},
    {"-combinational, propagated: the buffer is its latency", buffered,
     clock_of_commands +
         "create_generated_clock -name g -source clk -combinational -divide_by 1 b/Y\nset_propagated_clock "
         "[all_clocks]",
     "setup", "r2/D", 4 + 1.0 - 0.1 - 0.2},
    {"propagated from a divider: clock to Q is its latency", divided,
     clock_of_commands +
         "create_generated_clock -name g -source clk -divide_by 2 dv/Q\nset_propagated_clock [all_clocks]",
     "setup", "r2/D", 4 + 0.2 - 0.1 - 0.2},
    {"propagated from an ideal master: its latency, then clock to Q", divided,
     clock_of_commands + "create_generated_clock -name g -source clk -divide_by 2 dv/Q\nset_clock_latency 0.5 "
                         "c\nset_propagated_clock g",
     "setup", "r2/D", 4 + 0.5 + 0.2 - 0.5 - 0.1 - 0.2},
    {"set_propagated_clock", buffered, clock_of_commands + "set_propagated_clock c", "setup", "r2/D",
     4 + 1.0 - 0.1 - 0.2},
    {"set_propagated_clock, hold", buffered, clock_of_commands + "set_propagated_clock c", "hold", "r2/D",
     0.2 - 1.0 - 0.05},
    {"set_clock_latency on a pin wins for what it clocks", pair,
     clock_of_commands + "set_clock_latency 0.3 c\nset_clock_latency 0.7 r2/CK", "setup", "r2/D",
     4 + 0.7 - 0.3 - 0.1 - 0.2},
    {"set_clock_latency on a buffer's output, for all behind it", buffered,
     clock_of_commands + "set_clock_latency 0.7 b/Y", "setup", "r2/D", 4 + 0.7 - 0.1 - 0.2},
    {"set_clock_latency -min -max: late launch, early capture, no credit for an ideal network", pair,
     clock_of_commands + "set_clock_latency -max 0.5 c\nset_clock_latency -min 0.2 c", "setup", "r2/D",
     4 + 0.2 - 0.5 - 0.1 - 0.2},
    {"set_clock_latency -source -early -late is shared", pair,
     clock_of_commands + "set_clock_latency -source -late 0.5 c\nset_clock_latency -source -early 0.2 c", "setup",
     "r2/D", 4 - 0.1 - 0.2},
    {"set_clock_uncertainty", pair, clock_of_commands + "set_clock_uncertainty -setup 0.4 c", "setup", "r2/D",
     4 - 0.4 - 0.1 - 0.2},
    {"set_clock_uncertainty on a clock's port", pair, clock_of_commands + "set_clock_uncertainty 0.4 [get_ports clk]",
     "hold", "r2/D", 0.2 - 0.05 - 0.4},
    {"set_clock_uncertainty between edges", to_falling,
     clock_of_commands + "set_clock_uncertainty 0.25 -rise_from c -fall_to c", "setup", "r2/D", 2 - 0.25 - 0.1 - 0.2},
    {"and not between others", to_falling, clock_of_commands + "set_clock_uncertainty 0.25 -rise_from c -rise_to c",
     "setup", "r2/D", 2 - 0.1 - 0.2},
    {"set_input_delay", pair, clock_of_commands + "set_input_delay -clock c 1 d", "setup", "r1/D", 4 - 1 - 0.1},
    {"set_input_delay -clock_fall: launched at 2", pair, clock_of_commands + "set_input_delay -clock c -clock_fall 1 d",
     "setup", "r1/D", 4 - 2 - 1 - 0.1},
    {"-add_delay keeps both: the later for setup", pair,
     clock_of_commands + "set_input_delay -clock c 1 d\nset_input_delay -clock c -add_delay 1.5 d", "setup", "r1/D",
     4 - 1.5 - 0.1},
    {"the earlier for hold", pair,
     clock_of_commands + "set_input_delay -clock c 1 d\nset_input_delay -clock c -add_delay 1.5 d", "hold", "r1/D",
     1 - 0.05},
    {"without it the newer replaces", pair,
     clock_of_commands + "set_input_delay -clock c 1 d\nset_input_delay -clock c 1.5 d", "hold", "r1/D", 1.5 - 0.05},
    {"source latency counts at a port", pair,
     clock_of_commands + "set_clock_latency -source 0.5 c\nset_input_delay -clock c 1 d", "setup", "r1/D",
     4 + 0.5 - 0.5 - 1 - 0.1},
    {"unless it is in the delay", pair,
     clock_of_commands + "set_clock_latency -source 0.5 c\nset_input_delay -clock c -source_latency_included 1 d",
     "setup", "r1/D", 4 + 0.5 - 1 - 0.1},
    {"-network_latency_included", pair,
     clock_of_commands + "set_clock_latency 0.6 c\nset_input_delay -clock c -network_latency_included 1 d", "setup",
     "r1/D", 4 + 0.6 - 1 - 0.1},
    {"set_output_delay", pair, clock_of_commands + "set_output_delay -clock c 1 y", "setup", "y", 4 - 1 - 0.2},
    {"set_output_delay -min", pair, clock_of_commands + "set_output_delay -clock c -min -0.3 y", "hold", "y",
     0.2 - 0.3},
    {"set_false_path -setup leaves hold", pair, clock_of_commands + "set_false_path -setup -to r2/D", "hold", "r2/D",
     0.2 - 0.05},
    {"set_clock_groups", two_clocks_of_commands,
     clock_of_commands + slow + "set_clock_groups -asynchronous -group c -group s", "setup", "r2/D", 1e9},
    {"fast to slow: 4 to 8", two_clocks_of_commands, clock_of_commands + slow, "setup", "r2/D", 4 - 0.1 - 0.2},
    {"set_multicycle_path 2 moves the capture by 8", two_clocks_of_commands,
     clock_of_commands + slow + "set_multicycle_path -setup 2 -to r2/D", "setup", "r2/D", 12 - 0.1 - 0.2},
    {"-start moves the launch by 4", two_clocks_of_commands,
     clock_of_commands + slow + "set_multicycle_path -setup -start 2 -to r2/D", "setup", "r2/D", 8 - 0.1 - 0.2},
    {"its hold pair follows: launched at 8, kept from 16", two_clocks_of_commands,
     clock_of_commands + slow + "set_multicycle_path -setup 2 -to r2/D", "hold", "r2/D", 0.2 - 8 - 0.05},
    {"-hold 1 takes 4 back, the launch period", two_clocks_of_commands,
     clock_of_commands + slow + "set_multicycle_path -setup 2 -to r2/D\nset_multicycle_path -hold 1 -to r2/D", "hold",
     "r2/D", 0.2 - 4 - 0.05},
    {"-hold 1 -end takes 8 back", two_clocks_of_commands,
     clock_of_commands + slow + "set_multicycle_path -setup 2 -to r2/D\nset_multicycle_path -hold -end 1 -to r2/D",
     "hold", "r2/D", 0.2 - 0.05},
    {"neither -setup nor -hold: hold 0, whatever was said before", two_clocks_of_commands,
     clock_of_commands + slow + "set_multicycle_path -hold 1 -to r2/D\nset_multicycle_path 2 -to r2/D", "hold", "r2/D",
     0.2 - 8 - 0.05},
    {"set_max_delay", pair, clock_of_commands + "set_max_delay 1 -from r1/CK -to r2/D", "setup", "r2/D", 1 - 0.2 - 0.1},
    {"set_max_delay with uncertainty", pair,
     clock_of_commands + "set_clock_uncertainty 0.3 c\nset_max_delay 1 -from r1/CK -to r2/D", "setup", "r2/D",
     1 - 0.2 - 0.1 - 0.3},
    {"set_min_delay", pair, clock_of_commands + "set_min_delay 0.3 -from r1/CK -to r2/D", "hold", "r2/D",
     0.2 - 0.3 - 0.05},
    {"a clock at the end only", pair, clock_of_commands + "set_max_delay 3 -from d", "setup", "r1/D", 3 - 0.1},
    {"no clock at all, the falling edge is the later", wires_of_commands, "set_max_delay 3 -from d -to y", "setup", "y",
     3 - 2.0},
    {"set_min_delay from port to port, the rising edge is the earlier", wires_of_commands,
     "set_min_delay 0.4 -from d -to y", "hold", "y", 1.0 - 0.4},
    {"set_max_delay to a register that no clock reaches: its setup does not count", two_clocks_of_commands,
     clock_of_commands + "set_max_delay 1 -to r2/D", "setup", "r2/D", 1 - 0.2},
    {"set_case_analysis",
     "module m(input clk, s, d, output y); wire a, b; R r1(.D(d),.CK(clk),.Q(a)); XOR x(.A(a),.B(s),.Y(b)); R "
     "r2(.D(b),.CK(clk),.Q(y)); endmodule",
     clock_of_commands + "set_case_analysis 0 s", "setup", "r2/D", 4 - 0.1 - 0.2 - 0.6},
    {"set_disable_timing", pair, clock_of_commands + "set_disable_timing r1/Q", "setup", "r2/D", 1e9},
    {"set_timing_derate -late", pair, clock_of_commands + "set_timing_derate -late 1.5", "setup", "r2/D",
     4 - 0.1 - 0.3},
    {"set_timing_derate -cell_check", pair, clock_of_commands + "set_timing_derate -late -cell_check 2", "setup",
     "r2/D", 4 - 0.2 - 0.2},
    {"set_data_check", pair,
     clock_of_commands + "set_input_delay -clock c 1 d\nset_data_check 0.3 -from r1/D -to r2/D -setup", "setup", "r2/D",
     1 - 0.3 - 0.2},
    {"set_min_pulse_width", pair, clock_of_commands + "set_min_pulse_width 1.5 c", "pulse_width", "r2/CK", 2 - 1.5},
    {"set_clock_sense -stop_propagation", buffered, clock_of_commands + "set_clock_sense -stop_propagation b/Y",
     "setup", "r2/D", 1e9},
    {"set_sense -type clock -negative takes nothing that arrives positive", buffered,
     clock_of_commands + "set_sense -type clock -negative b/Y", "setup", "r2/D", 1e9},
    {"set_units", pair, "set_units -time ps\ncreate_clock -name c -period 4000 clk", "setup", "r2/D", 4 - 0.1 - 0.2},
    {"group_path changes no figure", pair, clock_of_commands + "group_path -name g -to r2/D", "setup", "r2/D",
     4 - 0.1 - 0.2},
    {"current_design and set_hierarchy_separator neither", pair,
     "current_design m\nset_hierarchy_separator /\n" + clock_of_commands, "setup", "r2/D", 4 - 0.1 - 0.2},
    {"get_lib_cells in set_disable_timing", buffered,
     clock_of_commands + "set_propagated_clock c\nset_disable_timing [get_lib_cells plain/BU*]", "setup", "r2/D", 1e9},
    {"get_lib_pins", buffered, clock_of_commands + "set_disable_timing [get_lib_pins BUF/A]", "setup", "r2/D", 1e9},
    {"all_registers -data_pins", pair, clock_of_commands + "set_max_delay 1 -to [all_registers -data_pins]", "setup",
     "r2/D", 1 - 0.2 - 0.1},
    {"all_registers -clock_pins", pair, clock_of_commands + "set_max_delay 1 -from [all_registers -clock_pins]",
     "setup", "r2/D", 1 - 0.2 - 0.1},
};

TEST(Commands, GiveTheSlackOfThePencil) {
    for (const auto& r : rows_of_commands)
        EXPECT_NEAR(test::slack(test::Circuit(r.verilog, r.sdc).time(), r.check, r.endpoint), r.slack, 1e-9)
            << r.what << "\n"
            << r.verilog << "\n"
            << r.sdc;
}

/// CK to Q takes 0.1 and the transition at CK; setup 0.1 and half the transition of the data.
constexpr const char* sloped_register =
    R"lib(library (s) { lu_table_template (slew) { variable_1 : input_net_transition; index_1 ("0, 1"); }
        lu_table_template (data) { variable_1 : constrained_pin_transition; index_1 ("0, 1"); }
 cell (R) { ff (S, SN) { clocked_on : "CK"; next_state : "D"; } pin (CK) { direction : input; clock : true; }
  pin (D) { direction : input; timing () { related_pin : "CK"; timing_type : setup_rising; rise_constraint (data) {
      values ("0.1, 0.6"); } fall_constraint (data) { values ("0.1, 0.6"); } } }
  pin (Q) { direction : output; function : "S"; timing () { related_pin : "CK"; timing_type : rising_edge;
      cell_rise (slew) { values ("0.1, 1.1"); } cell_fall (slew) { values ("0.1, 1.1"); } } } } })lib";

TEST(Commands, TransitionsOfClocksAndPortsByHand) {
    const auto library = read_liberty(sloped_register, "s.lib").take();
    const SourceText source{
        "t.v",
        "module m(input clk, d, output y); wire a; R r1(.D(d),.CK(clk),.Q(a)); R r2(.D(a),.CK(clk),.Q(y)); endmodule"};
    const auto netlist = read_netlist({&source, 1}, "m", library).take();
    const NetlistIndex index(netlist);
    const auto slack = [&](const std::string& sdc, const char* endpoint) {
        const auto k = read_sdc({{"t", "", sdc}}, netlist, index, library);
        return test::slack(analyse_timing({netlist, library, k, nullptr}, {}), "setup", endpoint);
    };
    EXPECT_NEAR(slack(clock_of_commands, "r2/D"), 4 - 0.1 - 0.1, 1e-9);
    EXPECT_NEAR(slack(clock_of_commands + "set_clock_transition 0.3 c", "r2/D"), 4 - 0.1 - 0.4, 1e-9);
    EXPECT_NEAR(slack(clock_of_commands + "set_clock_transition -fall 0.3 c", "r2/D"), 4 - 0.1 - 0.1, 1e-9);
    EXPECT_NEAR(slack(clock_of_commands + "set_clock_transition -min 0.3 c", "r2/D"), 4 - 0.1 - 0.1, 1e-9);
    EXPECT_NEAR(slack(clock_of_commands + "set_input_delay -clock c 1 d\nset_input_transition 0.4 d", "r1/D"),
                4 - 1 - 0.3, 1e-9);
}

TEST(Latch, PassesAndBorrowsByTheFormula) {
    // docs/timing.md leaves the formula to us; it stands in core/timing/times.hpp. Open while clk is high, 0 to 2 of 4.
    // Behind the latch: later of opening (0) + enable to output, and arrival - opening edge + data to output.
    const auto lib =
        read_liberty(
            R"lib(library (l) { cell (L) { latch (S, SN) { enable : "G"; data_in : "D"; } pin (G) { direction : input;
                clock : true; }
      pin (D) { direction : input; timing () { related_pin : "G"; timing_type : setup_falling;
          rise_constraint (scalar) { values ("0.1"); } fall_constraint (scalar) { values ("0.1"); } } }
      pin (Q) { direction : output; function : "S"; timing () { related_pin : "G"; timing_type : rising_edge;
          cell_rise (scalar) { values ("0.3"); } cell_fall (scalar) { values ("0.3"); } }
        timing () { related_pin : "D"; timing_sense : positive_unate; cell_rise (scalar) { values ("0.2"); }
            cell_fall (scalar) { values ("0.2"); } } } }
      cell (R) { ff (S, SN) { clocked_on : "CK"; next_state : "D"; } pin (CK) { direction : input; clock : true; }
      pin (D) { direction : input; timing () { related_pin : "CK"; timing_type : setup_rising;
          rise_constraint (scalar) { values ("0.1"); } fall_constraint (scalar) { values ("0.1"); } } }
      pin (Q) { direction : output; function : "S"; timing () { related_pin : "CK"; timing_type : rising_edge;
          cell_rise (scalar) { values ("0.2"); } cell_fall (scalar) { values ("0.2"); } } } } })lib",
            "l.lib")
            .take();
    const SourceText source{"t.v",
                            "module m(input clk, d, output y); wire a, b; R r1(.D(d),.CK(clk),.Q(a)); L "
                            "u(.D(a),.G(clk),.Q(b)); R r2(.D(b),.CK(clk),.Q(y)); endmodule"};
    const auto netlist = read_netlist({&source, 1}, "m", lib).take();
    const NetlistIndex index(netlist);
    const auto k = read_sdc({{"t", "", clock_of_commands}}, netlist, index, lib);
    TimingEngine e({netlist, lib, k}, {});
    e.update();
    // Launched at 0, the data are there at 0.2; the latch closes next at 2 and so opened at 0. They pass while it is
    // open: r2 sees 0.2 + 0.2, later than the enable's 0.3, and captures one period after the opening.
    EXPECT_NEAR(*e.slack(CheckKind::setup, "r2/D"), 4 - 0.1 - 0.4, 1e-9);
    // At the latch itself: the closing edge, setup 0.1.
    EXPECT_NEAR(*e.slack(CheckKind::setup, "u/D"), 2 - 0.1 - 0.2, 1e-9);
}

/// D. M. Harris and S. L. Harris, Digital Design and Computer Architecture, 2nd edition, examples 3.10 to 3.12; the
/// numbers are from memory. Registers: clock to Q 30 to 80 ps, setup 50, hold 60; each gate 25 to 40 ps. The longest
/// path has three gates, the shortest one.
class Textbook : public testing::Test {
protected:
    static std::string sdf(bool buffered) {
        std::string s = "(DELAYFILE (SDFVERSION \"3.0\") (DIVIDER /) (TIMESCALE 1ps)\n";
        for (const char* r : {"ra", "rb", "rc", "rd", "rx", "ry"})
            s += std::string("(CELL (CELLTYPE \"R\") (INSTANCE ") + r +
                 ") (DELAY (ABSOLUTE (IOPATH (posedge CK) Q (30::80)))) (TIMINGCHECK (SETUP D (posedge CK) (50)) (HOLD "
                 "D (posedge CK) (60))))\n";
        for (const char* g : {"g1", "g2", "g3", "g4"})
            s += std::string("(CELL (CELLTYPE \"AND\") (INSTANCE ") + g +
                 ") (DELAY (ABSOLUTE (IOPATH A Y (25::40)) (IOPATH B Y (25::40)))))\n";
        if (buffered)
            for (const char* b : {"b1", "b2"})
                s += std::string("(CELL (CELLTYPE \"BUF\") (INSTANCE ") + b +
                     ") (DELAY (ABSOLUTE (IOPATH A Y (25::40)))))\n";
        return s + ")\n";
    }
    /// A to X through g1, g2, g3; C or D to Y through g4 alone. With buffers on the short way, as in example 3.11.
    static std::string verilog(bool buffered) {
        std::string v =
            "module m(input clk, a, b, c, d, output x, y); wire qa, qb, qc, qd, n1, n2, n3, n4, pc, pd;\n"
            "R ra(.D(a),.CK(clk),.Q(qa)); R rb(.D(b),.CK(clk),.Q(qb)); R rc(.D(c),.CK(clk),.Q(qc)); R "
            "rd(.D(d),.CK(clk),.Q(qd));\n"
            "AND g1(.A(qa),.B(qb),.Y(n1)); AND g2(.A(n1),.B(qc),.Y(n2)); AND g3(.A(n2),.B(qd),.Y(n3));\n";
        v += buffered ? "BUF b1(.A(qc),.Y(pc)); BUF b2(.A(qd),.Y(pd));\n" : "assign pc = qc; assign pd = qd;\n";
        return v + "AND g4(.A(pc),.B(pd),.Y(n4)); R rx(.D(n3),.CK(clk),.Q(x)); R ry(.D(n4),.CK(clk),.Q(y)); endmodule";
    }
    static TimingReport time(bool buffered, const std::string& sdc) {
        return test::Circuit(verilog(buffered), "set_units -time ps\n" + sdc, sdf(buffered)).time();
    }
};

TEST_F(Textbook, Example310CycleTimeIs250ps) {
    const auto r = time(false, "create_clock -name c -period 250 clk");
    EXPECT_NEAR(test::slack(r, "setup", "rx/D"), 0, 1e-9);      // 80 + 3 x 40 + 50 = 250 ps: 4 GHz
    EXPECT_NEAR(test::slack(r, "hold", "ry/D"), -0.005, 1e-9);  // 30 + 25 = 55 ps, hold 60: violated by 5
    for (const auto& c : r.clocks) EXPECT_NEAR(*c.fmax_mhz, 4000, 1e-6);
}

TEST_F(Textbook, Example311BuffersMendTheHold) {
    const auto r = time(true, "create_clock -name c -period 250 clk");
    EXPECT_NEAR(test::slack(r, "setup", "rx/D"), 0, 1e-9);     // the long path is as it was
    EXPECT_NEAR(test::slack(r, "hold", "ry/D"), 0.020, 1e-9);  // 30 + 2 x 25 = 80 ps
}

TEST_F(Textbook, Example312SkewOf50ps) {
    const auto r = time(false, "create_clock -name c -period 300 clk\nset_clock_uncertainty 50 c");
    EXPECT_NEAR(test::slack(r, "setup", "rx/D"), 0, 1e-9);      // 80 + 120 + 50 + 50 = 300 ps: 3.33 GHz
    EXPECT_NEAR(test::slack(r, "hold", "ry/D"), -0.055, 1e-9);  // 55 against 60 + 50
}

TEST(Liberty, EmptyTablesAreToldOncePerCell) {
    const auto lib = read_liberty(
                         "library (l) { cell (N) { pin (A) { direction : input; } pin (Y) { direction : output; "
                         "function : \"A\"; timing () { related_pin : \"A\"; } } } }",
                         "l.lib")
                         .take();
    const SourceText source{"t.v",
                            "module m(input a, output y); wire w; N u(.A(a),.Y(w)); N v(.A(w),.Y(y)); endmodule"};
    const auto netlist = read_netlist({&source, 1}, "m", lib).take();
    const NetlistIndex index(netlist);
    const auto k = read_sdc({{"t", "", "set_max_delay 1 -from a -to y"}}, netlist, index, lib);
    const auto r = analyse_timing({netlist, lib, k, nullptr}, {});
    EXPECT_NEAR(test::slack(r, "setup", "y"), 1, 1e-12);
    size_t told = 0;
    for (const auto& m : r.messages) told += m.code == Code::no_delay;
    EXPECT_EQ(told, 1u);
}

TEST(ClearArcs, AreFollowedOnlyWhenAsked) {
    const auto lib =
        read_liberty(
            R"lib(library (l) { cell (C) { ff (S, SN) { clocked_on : "CK"; next_state : "D"; clear : "!RN"; }
                pin (CK) { direction : input; clock : true; } pin (D) { direction : input; } pin (RN) {
                direction : input; }
      pin (Q) { direction : output; function : "S"; timing () { related_pin : "CK"; timing_type : rising_edge;
          cell_rise (scalar) { values ("0.2"); } cell_fall (scalar) { values ("0.2"); } }
       timing () { related_pin : "RN"; timing_type : clear; timing_sense : positive_unate; cell_fall (scalar) {
           values ("0.7"); } } } } })lib",
            "l.lib")
            .take();
    const SourceText source{"t.v", "module m(input clk, d, r, output y); C u(.D(d),.CK(clk),.RN(r),.Q(y)); endmodule"};
    const auto netlist = read_netlist({&source, 1}, "m", lib).take();
    const NetlistIndex index(netlist);
    const auto k =
        read_sdc({{"t", "", clock_of_commands + "set_input_delay -clock c 1 r\nset_output_delay -clock c 0.5 y"}},
                 netlist, index, lib);
    TimingOptions options;
    EXPECT_NEAR(test::slack(analyse_timing({netlist, lib, k, nullptr}, options), "setup", "y"), 4 - 0.5 - 0.2, 1e-12);
    options.clear_arcs = true;
    EXPECT_NEAR(test::slack(analyse_timing({netlist, lib, k, nullptr}, options), "setup", "y"), 4 - 0.5 - 1 - 0.7,
                1e-12);
}

}  // namespace
}  // namespace kp
