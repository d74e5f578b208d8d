// SPDX-License-Identifier: GPL-3.0-or-later
// Propagated clocks, generated ones, credit, pulses, case analysis, derates, latches and data checks, by hand. Delays
// as in plain_cells, or by SDF where early and late differ. Every expected figure is written as the sum it is.
#include "tests/timing/circuit.hpp"

#include <cmath>

namespace kp {
namespace {

using test::Circuit;
using test::slack;

/// clk - b0 - (b1 - r1/CK, b2 - r2/CK); r1/Q - r2/D. Each BUF 0.8:1.0:1.2 by SDF, register CK to Q 0.2.
constexpr const char* tree =
    "module m(input clk, input d, output q); wire k0, k1, k2, w; BUF b0(.A(clk),.Y(k0)); BUF b1(.A(k0),.Y(k1)); BUF "
    "b2(.A(k0),.Y(k2)); R r1(.D(d),.CK(k1),.Q(w)); R r2(.D(w),.CK(k2),.Q(q)); endmodule";
constexpr const char* spread_sdf = R"((DELAYFILE (SDFVERSION "3.0") (DIVIDER /) (TIMESCALE 1ns)
 (CELL (CELLTYPE "BUF") (INSTANCE *) (DELAY (ABSOLUTE (IOPATH A Y (0.8:1.0:1.2) (0.8:1.0:1.2)))))))";

TEST(Propagated, LatencyIsTheWayAndTheSharedStretchIsGivenBack) {
    const Circuit c(tree, "create_clock -name c -period 5 clk\nset_propagated_clock [get_clocks c]\n", spread_sdf);
    const auto r = c.time();
    // Setup: 5 + (0.8 + 0.8) - 0.1 - (1.2 + 1.2 + 0.2) + 0.4 credit for b0.
    EXPECT_NEAR(slack(r, "setup", "r2/D"), 5 + 1.6 - 0.1 - 2.6 + 0.4, 1e-9);
    // Hold: early launch 1.6 + 0.2, late capture 2.4 + 0.05, credit 0.4.
    EXPECT_NEAR(slack(r, "hold", "r2/D"), 1.6 + 0.2 - 2.4 - 0.05 + 0.4, 1e-9);
    TimingOptions no;
    no.common_path_credit = false;
    EXPECT_NEAR(slack(c.time(no), "setup", "r2/D"), 5 + 1.6 - 0.1 - 2.6, 1e-9);
    for (const auto& path : r.paths) {
        if (path.endpoint != "r2/D") continue;
        EXPECT_NEAR(path.slack, path.check == "setup" ? path.required - path.arrival : path.arrival - path.required,
                    1e-9);
        EXPECT_NEAR(path.credit, 0.4, 1e-9);
    }
}

TEST(Propagated, TheSwitchForAllClocksDoesTheSame) {
    const Circuit c(tree, "create_clock -name c -period 5 clk\n", spread_sdf);
    TimingOptions all;
    all.propagated = true;
    EXPECT_NEAR(slack(c.time(all), "setup", "r2/D"), 5 + 1.6 - 0.1 - 2.6 + 0.4, 1e-9);
    EXPECT_NEAR(slack(c.time(), "setup", "r2/D"), 5 - 0.1 - 0.2, 1e-9);
}

TEST(Propagated, TheStartWithLessCreditMayBeTheWorst) {
    // Two ways to r3: from r1, which shares b0 and b1 with it, and from r2, which shares only b0 and is a little
    // faster.
    const Circuit c(
        "module m(input clk, input d, output q); wire k0, k1, k2, w1, w2, x, y; BUF b0(.A(clk),.Y(k0)); BUF "
        "b1(.A(k0),.Y(k1)); BUF b2(.A(k0),.Y(k2)); R r1(.D(d),.CK(k1),.Q(w1)); R r2(.D(d),.CK(k2),.Q(w2)); AND "
        "g(.A(w2),.B(w1),.Y(x)); R r3(.D(x),.CK(k1),.Q(q)); endmodule",
        "create_clock -name c -period 5 clk\nset_propagated_clock c\n", spread_sdf);
    const auto r = c.time();
    const double by_r1 = 5 + 1.6 - 0.1 - (2.4 + 0.2 + 0.4) + 0.8, by_r2 = 5 + 1.6 - 0.1 - (2.4 + 0.2 + 0.3) + 0.4;
    EXPECT_LT(by_r2, by_r1);
    EXPECT_NEAR(slack(r, "setup", "r3/D"), by_r2, 1e-9);
}

TEST(Propagated, DifferentEdgesAtTheLastCommonPointGiveTheSmallerDifference) {
    // One register hears the clock turned over: late minus early is 0.4 for a rise of b0 and 0.1 for its fall.
    const Circuit c(
        "module m(input clk, input d, output q); wire k0, k1, w; BUF b0(.A(clk),.Y(k0)); INV i(.A(k0),.Y(k1)); R "
        "r1(.D(d),.CK(k0),.Q(w)); R r2(.D(w),.CK(k1),.Q(q)); endmodule",
        "create_clock -name c -period 6 clk\nset_propagated_clock c\n",
        "(DELAYFILE (SDFVERSION \"3.0\") (DIVIDER /) (TIMESCALE 1ns) (CELL (CELLTYPE \"BUF\") (INSTANCE b0) (DELAY "
        "(ABSOLUTE (IOPATH A Y (0.8:1.0:1.2) (1.0:1.05:1.1))))))");
    // r2 captures at the fall of the clock, 3: early fall of b0 1.0, INV rise 0.5.
    EXPECT_NEAR(slack(c.time(), "setup", "r2/D"), 3 + 1.0 + 0.5 - 0.1 - (1.2 + 0.2) + 0.1, 1e-9);
}

TEST(Generated, ADividerAddsItsWayToThePropagatedLatency) {
    // clk - b0 - div/CK, div/Q - b1 - r2/CK; r1 on k0.
    const Circuit c(
        "module m(input clk, input d, output q); wire k0, n, t, k1, w; BUF b0(.A(clk),.Y(k0)); INV i(.A(t),.Y(n)); R "
        "div(.D(n),.CK(k0),.Q(t)); BUF b1(.A(t),.Y(k1)); R r1(.D(d),.CK(k0),.Q(w)); R r2(.D(w),.CK(k1),.Q(q)); "
        "endmodule",
        "create_clock -name c -period 4 clk\ncreate_generated_clock -name g -source [get_pins div/CK] -divide_by 2 "
        "[get_pins div/Q]\nset_propagated_clock [all_clocks]\n",
        spread_sdf);
    // Capture edge of g at 8 after the launch of c at 4: early 0.8 + 0.2 + 0.8; launch late 1.2; shared b0: 0.4.
    EXPECT_NEAR(slack(c.time(), "setup", "r2/D"), 4 + (0.8 + 0.2 + 0.8) - 0.1 - (1.2 + 0.2) + 0.4, 1e-9);
}

TEST(CaseAnalysis, AFixedPinTakesItsArcsAndTheCheckOfWhatItFixes) {
    const char* mux =
        "module m(input clk, input s, input d, output q); wire w, x, y; R r1(.D(d),.CK(clk),.Q(w)); AND "
        "g(.A(w),.B(s),.Y(x)); XOR h(.A(x),.B(s),.Y(y)); R r2(.D(y),.CK(clk),.Q(q)); endmodule";
    const std::string base = "create_clock -name c -period 5 clk\nset_input_delay -clock c 3 s\n";
    EXPECT_NEAR(slack(Circuit(mux, base).time(), "setup", "r2/D"), 5 - 0.1 - (3 + 0.4 + 0.6), 1e-9);
    const auto one = Circuit(mux, base + "set_case_analysis 1 [get_ports s]\n").time();
    EXPECT_NEAR(slack(one, "setup", "r2/D"), 5 - 0.1 - (0.2 + 0.3 + 0.6), 1e-9);
    const auto zero = Circuit(mux, base + "set_case_analysis 0 [get_ports s]\n").time();
    EXPECT_EQ(slack(zero, "setup", "r2/D"), 1e9);  // its data are constant
}

TEST(CaseAnalysis, ANonUnateArcIsNarrowedToTheSenseLeft) {
    // XOR with one input at 1 inverts. A falling launch register makes rise and fall differ through BUF (1.0 and 2.0).
    const char* x =
        "module m(input clk, input s, input d, output q); wire w, y, z; R r1(.D(d),.CK(clk),.Q(w)); BUF "
        "b(.A(w),.Y(y)); XOR h(.A(y),.B(s),.Y(z)); INV i(.A(z),.Y(q)); endmodule";
    const std::string sdc = "create_clock -name c -period 9 clk\nset_output_delay -clock c 0 -rise q\n";
    // Output rise needs z to fall: with s at 1 that is y rising (1.0), not falling (2.0).
    EXPECT_NEAR(slack(Circuit(x, sdc + "set_case_analysis 1 s\n").time(), "setup", "q"), 9 - (0.2 + 1.0 + 0.6 + 0.5),
                1e-9);
    EXPECT_NEAR(slack(Circuit(x, sdc + "set_case_analysis 0 s\n").time(), "setup", "q"), 9 - (0.2 + 2.0 + 0.6 + 0.5),
                1e-9);
}

TEST(DisableTiming, ArcsOfPinsCellsAndTypes) {
    const char* two =
        "module m(input clk, input d, output q); wire w, x; R r1(.D(d),.CK(clk),.Q(w)); AND g(.A(w),.B(w),.Y(x)); R "
        "r2(.D(x),.CK(clk),.Q(q)); endmodule";
    const std::string c = "create_clock -name c -period 5 clk\n";
    EXPECT_NEAR(slack(Circuit(two, c).time(), "setup", "r2/D"), 5 - 0.1 - 0.6, 1e-9);
    for (const char* line : {"set_disable_timing -from B -to Y [get_cells g]", "set_disable_timing [get_pins g/B]",
                             "set_disable_timing plain/AND/B", "set_disable_timing -from B -to Y AND"})
        EXPECT_NEAR(slack(Circuit(two, c + line + "\n").time(), "setup", "r2/D"), 5 - 0.1 - 0.5, 1e-9) << line;
    EXPECT_EQ(slack(Circuit(two, c + "set_disable_timing [get_cells g]\n").time(), "setup", "r2/D"), 1e9);
}

TEST(Derate, CellsNetsClocksAndChecks) {
    const std::string c = "create_clock -name c -period 5 clk\nset_propagated_clock c\n";
    const double plain = 5 + 1.6 - 0.1 - 2.6 + 0.4;
    EXPECT_NEAR(slack(Circuit(tree, c, spread_sdf).time(), "setup", "r2/D"), plain, 1e-9);
    // Late clock delays times 1.1: launch 2.4 -> 2.64; credit grows with b0: 1.32 - 0.8. CK to Q is data.
    EXPECT_NEAR(slack(Circuit(tree, c + "set_timing_derate -late -clock 1.1\n", spread_sdf).time(), "setup", "r2/D"),
                5 + 1.6 - 0.1 - (2.64 + 0.2) + 0.52, 1e-9);
    EXPECT_NEAR(slack(Circuit(tree, c + "set_timing_derate -late -data 2\n", spread_sdf).time(), "setup", "r2/D"),
                plain - 0.2, 1e-9);
    EXPECT_NEAR(slack(Circuit(tree, c + "set_timing_derate -late -cell_check 3\n", spread_sdf).time(), "setup", "r2/D"),
                plain - 0.2, 1e-9);
}

TEST(Pulses, WidthAndPeriod) {
    const char* sdf = R"((DELAYFILE (SDFVERSION "3.0") (DIVIDER /) (TIMESCALE 1ns)
 (CELL (CELLTYPE "BUF") (INSTANCE *) (DELAY (ABSOLUTE (IOPATH A Y (0.8:1.0:1.2) (0.9:1.0:1.3)))))
 (CELL (CELLTYPE "R") (INSTANCE r2) (TIMINGCHECK (WIDTH (posedge CK) (1.0)) (PERIOD CK (4.5))))))";
    const auto r =
        Circuit(tree, "create_clock -name c -period 5 -waveform {0 2} clk\nset_propagated_clock c\n", sdf).time();
    // High pulse: 2 + early fall 1.8 - late rise 2.4 + the smaller of 0.8 (fall) and 0.8 (rise) - 1.
    EXPECT_NEAR(slack(r, "pulse_width", "r2/CK"), 2 + 1.8 - 2.4 + 0.8 - 1, 1e-9);
    EXPECT_NEAR(slack(r, "period", "r2/CK"), 0.5, 1e-9);
    EXPECT_EQ(r.pulse_width.endpoints, 1);
    EXPECT_NEAR(*r.period.wns, 0.5, 1e-9);
    const auto asked =
        Circuit(tree, "create_clock -name c -period 5 -waveform {0 2} clk\nset_min_pulse_width -low 3.5 c\n").time();
    EXPECT_NEAR(*asked.pulse_width.wns, 3 - 3.5, 1e-9);
    EXPECT_EQ(asked.pulse_width.failing, 2);
}

TEST(ClockSense, StopsAndChooses) {
    const char* gate =
        "module m(input clk, input d, output q); wire k, w; XOR x(.A(clk),.B(d),.Y(k)); R r1(.D(d),.CK(k),.Q(w)); R "
        "r2(.D(w),.CK(clk),.Q(q)); endmodule";
    const std::string c = "create_clock -name c -period 5 -waveform {0 2} clk\n";
    const auto both = Circuit(gate, c).time(),
               positive = Circuit(gate, c + "set_clock_sense -positive [get_pins x/Y]\n").time(),
               stop = Circuit(gate, c + "set_sense -type clock -stop_propagation [get_pins x/Y]\n").time();
    EXPECT_NEAR(slack(both, "setup", "r2/D"), 5 - 2 - 0.2 - 0.1, 1e-9);  // launched by the fall at 2
    EXPECT_NEAR(slack(positive, "setup", "r2/D"), 5 - 0.2 - 0.1, 1e-9);
    EXPECT_EQ(slack(stop, "setup", "r2/D"), 1e9);
}

TEST(DataCheck, OnePinAgainstAnother) {
    const char* two =
        "module m(input clk, input d, output q, output p); wire a, b, x; R r1(.D(d),.CK(clk),.Q(a)); R "
        "r2(.D(d),.CK(clk),.Q(b)); INV i(.A(a),.Y(q)); BUF u(.A(b),.Y(x)); INV j(.A(x),.Y(p)); endmodule";
    const auto r = Circuit(two,
                           "create_clock -name c -period 5 clk\nset_data_check -from [get_pins j/A] -to [get_pins i/A] "
                           "-setup 0.3\nset_data_check -from [get_pins j/A] -to [get_pins i/A] -hold 0.1\n")
                       .time();
    // j/A at 0.2 + 1.0 or 2.0; i/A at 0.2.
    EXPECT_NEAR(slack(r, "setup", "i/A"), 1.2 - 0.3 - 0.2, 1e-9);
    EXPECT_NEAR(slack(r, "hold", "i/A"), 0.2 - (2.2 + 0.1), 1e-9);
}

/// A latch that is open while G is high: G to Q 0.3, D to Q 0.4, setup 0.1 and hold 0.05 to the fall of G.
constexpr const char* latch_cells = R"(library (latches) {
 cell (L) { latch (S, SN) { enable : "G"; data_in : "D"; }
   pin (D) { direction : input; timing () { related_pin : "G"; timing_type : setup_falling; rise_constraint (scalar) {
       values ("0.1"); } fall_constraint (scalar) { values ("0.1"); } }
     timing () { related_pin : "G"; timing_type : hold_falling; rise_constraint (scalar) { values ("0.05"); }
         fall_constraint (scalar) { values ("0.05"); } } }
   pin (G) { direction : input; clock : true; min_pulse_width_high : 0.8; }
   pin (Q) { direction : output; function : "S"; timing () { related_pin : "G"; timing_type : rising_edge;
       cell_rise (scalar) { values ("0.3"); } cell_fall (scalar) { values ("0.3"); } }
     timing () { related_pin : "D"; timing_sense : positive_unate; cell_rise (scalar) { values ("0.4"); }
         cell_fall (scalar) { values ("0.4"); } } } }
 cell (DRV) { pin (A) { direction : input; } pin (Y) { direction : output; function : "A"; timing () {
     related_pin : "A"; timing_sense : positive_unate;
   cell_rise (scalar) { values ("1.0"); } cell_fall (scalar) { values ("1.0"); } rise_transition (scalar) {
       values ("0.25"); } fall_transition (scalar) { values ("0.35"); } } } }
 lu_table_template (slope) { variable_1 : input_net_transition; index_1 ("0, 1"); }
 cell (SLOPED) { pin (A) { direction : input; } pin (Y) { direction : output; function : "A"; timing () {
     related_pin : "A"; timing_sense : positive_unate; cell_rise (slope) { values ("1, 3"); } cell_fall (slope) {
     values ("1, 3"); } } } }
})";

TimingReport time_with_latches(const std::string& verilog, const std::string& sdc) {
    auto library = read_liberty(test::plain_cells, "plain.lib").take();
    library.merge(read_liberty(latch_cells, "latches.lib").take());
    const SourceText source{"t.v", verilog};
    const auto netlist = read_netlist({&source, 1}, "", library).take();
    const NetlistIndex index(netlist);
    const auto k = read_sdc({{"t.sdc", "", sdc}}, netlist, index, library);
    for (const auto& m : k.messages) EXPECT_NE(m.severity, Severity::stop) << m.sentence();
    return analyse_timing({netlist, library, k, nullptr}, {});
}

TEST(Latch, WhatComesBeforeItOpensWaits) {
    // Launched at the rise of c, 0; the latch opens at the rise of its own clock, half a period later, and closes
    // at 10.
    const char* v =
        "module m(input c, input e, input d, output q); wire w, x; R r1(.D(d),.CK(c),.Q(w)); L l(.D(w),.G(e),.Q(x)); R "
        "r2(.D(x),.CK(c),.Q(q)); endmodule";
    const auto r =
        time_with_latches(v, "create_clock -name c -period 10 c\ncreate_clock -name e -period 10 -waveform {5 9} e\n");
    EXPECT_NEAR(slack(r, "setup", "l/D"), 9 - 0.1 - 0.2, 1e-9);
    EXPECT_NEAR(slack(r, "setup", "r2/D"), 10 - 0.1 - (5 + 0.3), 1e-9);
    EXPECT_NEAR(slack(r, "pulse_width", "l/G"), 4 - 0.8, 1e-9);
}

TEST(Latch, WhatComesWhileItIsOpenBorrows) {
    // Three buffers make the data come at 0.2 + 3 * 2.0 = 6.2, 1.2 after the opening: out at 6.6 instead of 5.3.
    const char* v =
        "module m(input c, input e, input d, output q); wire w, x, a, b, y; R r1(.D(d),.CK(c),.Q(w)); BUF "
        "b1(.A(w),.Y(a)); BUF b2(.A(a),.Y(b)); BUF b3(.A(b),.Y(y)); L l(.D(y),.G(e),.Q(x)); R r2(.D(x),.CK(c),.Q(q)); "
        "endmodule";
    const auto r =
        time_with_latches(v, "create_clock -name c -period 10 c\ncreate_clock -name e -period 10 -waveform {5 9} e\n");
    EXPECT_NEAR(slack(r, "setup", "l/D"), 9 - 0.1 - 6.2, 1e-9);
    EXPECT_NEAR(slack(r, "setup", "r2/D"), 10 - 0.1 - (6.2 + 0.4), 1e-9);
    // The earliest way on is still the opening itself.
    EXPECT_NEAR(slack(r, "hold", "r2/D"), 5.3 - 0.05, 1e-9);
}

TEST(Latch, BorrowingEndsAtTheClosingEdge) {
    const char* v =
        "module m(input c, input e, input d, output q); wire x; L l(.D(d),.G(e),.Q(x)); R r2(.D(x),.CK(c),.Q(q)); "
        "endmodule";
    const auto r = time_with_latches(v,
                                     "create_clock -name c -period 10 c\ncreate_clock -name e -period 10 -waveform {5 "
                                     "9} e\nset_input_delay -clock c 9.5 d\n");
    EXPECT_NEAR(slack(r, "setup", "l/D"), 9 - 0.1 - 9.5, 1e-9);
    EXPECT_NEAR(slack(r, "setup", "r2/D"), 10 - 0.1 - (9 + 0.4), 1e-9);
}

TEST(DrivingCell, GivesTheTransitionAndNoDelay) {
    const char* v =
        "module m(input clk, input d, output q); wire x; SLOPED s(.A(d),.Y(x)); R r(.D(x),.CK(clk),.Q(q)); endmodule";
    const std::string base = "create_clock -name c -period 10 clk\nset_input_delay -clock c 0 d\n";
    EXPECT_NEAR(slack(time_with_latches(v, base), "setup", "r/D"), 10 - 0.1 - 1, 1e-9);
    // 1 + 2 * 0.35 for the slower of the two edges.
    EXPECT_NEAR(slack(time_with_latches(v, base + "set_driving_cell -lib_cell DRV -pin Y d\n"), "setup", "r/D"),
                10 - 0.1 - 1.7, 1e-9);
}

TEST(Sdc, ObjectsOfAWrongKindAreRefusedAndHarmNothing) {
    const char* v =
        "module m(input clk, input d, output q); wire w; R r1(.D(d),.CK(clk),.Q(w)); R r2(.D(w),.CK(clk),.Q(q)); "
        "endmodule";
    const auto library = read_liberty(test::plain_cells, "plain.lib").take();
    const SourceText source{"t.v", v};
    const auto netlist = read_netlist({&source, 1}, "", library).take();
    const NetlistIndex index(netlist);
    for (const char* line :
         {"set_case_analysis 1 [get_nets w]", "set_case_analysis 1 [get_cells r1]", "set_case_analysis maybe d",
          "set_propagated_clock [get_cells r1]", "set_data_check -from [get_nets w] -to [get_pins r1/D] 0.1",
          "set_data_check -from [get_pins r1/D] 0.1", "set_clock_sense -positive [get_cells r1]", "set_driving_cell d",
          "set_driving_cell -lib_cell NOBODY d", "set_driving_cell -lib_cell BUF [get_pins r1/D]",
          "set_min_pulse_width x", "set_timing_derate much", "set_disable_timing nobody",
          "set_disable_timing [get_nets w]"}) {
        const auto k = read_sdc({{"t.sdc", "", std::string("create_clock -name c -period 5 clk\n") + line + "\n"}},
                                netlist, index, library);
        ASSERT_EQ(k.messages.size(), 1u) << line;
        EXPECT_EQ(k.messages[0].severity, Severity::stop) << line;
        EXPECT_EQ(k.messages[0].line, 2) << line;
        EXPECT_NEAR(slack(analyse_timing({netlist, library, k, nullptr}, {}), "setup", "r2/D"), 5 - 0.1 - 0.2, 1e-9)
            << line;
    }
}

}  // namespace
}  // namespace kp
