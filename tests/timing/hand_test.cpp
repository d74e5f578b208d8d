// SPDX-License-Identifier: GPL-3.0-or-later
// Circuits computed by hand; the arithmetic stands beside each.
#include "tests/timing/circuit.hpp"

namespace kp {
namespace {

using test::Circuit;
using test::slack;

constexpr const char* two_registers =
    "module m(input clk, d, output q); wire a, b; R r1(.D(d),.CK(clk),.Q(a)); BUF u(.A(a),.Y(b)); R "
    "r2(.D(b),.CK(clk),.Q(q)); endmodule";

TEST(Hand, SetupAndHoldBetweenTwoRegisters) {
    const auto r = Circuit(two_registers, "create_clock -name c -period 10 [get_ports clk]").time();
    // Late: fall, 0.2 + 2.0 = 2.2. Setup slack = 10 - 0.1 - 2.2 = 7.7.
    EXPECT_NEAR(slack(r, "setup", "r2/D"), 7.7, 1e-9);
    // Early: rise, 0.2 + 1.0 = 1.2. Hold slack = 1.2 - 0.05 = 1.15.
    EXPECT_NEAR(slack(r, "hold", "r2/D"), 1.15, 1e-9);
    // Nothing says when d arrives or q is needed.
    EXPECT_EQ(slack(r, "setup", "r1/D"), 1e9);
    EXPECT_EQ(r.coverage.endpoints, 3);
    EXPECT_EQ(r.coverage.constrained, 1);
    // Two ports without a delay, and the register that only one of them feeds.
    ASSERT_EQ(r.coverage.untimed.size(), 3u);
    EXPECT_EQ(r.coverage.untimed[2].object, "r1/D");
    EXPECT_EQ(r.coverage.untimed[2].why, "paths come from d: no input delay");
    EXPECT_EQ(r.coverage.untimed[2].suggest, "set_input_delay -clock c <ns> [get_ports d]");
    EXPECT_EQ(r.coverage.untimed[0].suggest, "set_input_delay -clock c <ns> [get_ports d]");
    // At the least period 2.3 the slack is 0.
    EXPECT_NEAR(*r.clocks[0].fmax_mhz, 1000 / 2.3, 1e-6);
}

TEST(Hand, UncertaintyLatencyAndTransitionThroughThePath) {
    const auto r =
        Circuit(
            two_registers,
            "create_clock -name c -period 10 clk\nset_clock_uncertainty -setup 0.3 c\nset_clock_uncertainty -hold 0.2 "
            "c\nset_clock_latency 1.5 c\nset_clock_latency -source -late 0.4 c\nset_clock_latency -source -early 0.1 c")
            .time();
    // Latency is the same at both ends; of the source's 0.3 between early and late all is shared and given back.
    EXPECT_NEAR(slack(r, "setup", "r2/D"), 7.7 - 0.3, 1e-9);
    EXPECT_NEAR(slack(r, "hold", "r2/D"), 1.15 - 0.2, 1e-9);
    TimingOptions no_credit;
    no_credit.common_path_credit = false;
    const auto strict = Circuit(two_registers,
                                "create_clock -name c -period 10 clk\nset_clock_latency -source -late 0.4 "
                                "c\nset_clock_latency -source -early 0.1 c")
                            .time(no_credit);
    EXPECT_NEAR(slack(strict, "setup", "r2/D"), 7.7 - 0.3, 1e-9);
    EXPECT_NEAR(slack(strict, "hold", "r2/D"), 1.15 - 0.3, 1e-9);
}

TEST(Hand, ThePathPointsAddUp) {
    const auto r = Circuit(two_registers, "create_clock -name c -period 10 clk").time();
    const TimingPath* path = nullptr;
    for (const auto& p : r.paths)
        if (p.check == "setup" && p.endpoint == "r2/D") path = &p;
    ASSERT_NE(path, nullptr);
    EXPECT_EQ(path->startpoint, "r1/CK");
    ASSERT_EQ(path->points.size(), 6u);
    EXPECT_EQ(path->points[1].kind, PointKind::cell);
    EXPECT_EQ(path->points[2].kind, PointKind::wire);
    double sum = 0;
    for (size_t i = 0; i + 1 < path->points.size(); ++i) sum += path->points[i].delay;
    EXPECT_NEAR(path->arrival, sum, 1e-9);
    EXPECT_NEAR(path->required - path->arrival, path->slack, 1e-9);
    EXPECT_NEAR(path->required, 9.9, 1e-9);
}

TEST(Hand, InputAndOutputDelays) {
    const auto r =
        Circuit(two_registers,
                "create_clock -name c -period 10 clk\nset_input_delay -clock c -max 4 d\nset_input_delay -clock c -min "
                "1 d\nset_output_delay -clock c -max 3 q\nset_output_delay -clock c -min -0.5 q")
            .time();
    EXPECT_NEAR(slack(r, "setup", "r1/D"), 10 - 0.1 - 4, 1e-9);
    EXPECT_NEAR(slack(r, "hold", "r1/D"), 1 - 0.05, 1e-9);
    EXPECT_NEAR(slack(r, "setup", "q"), 10 - 3 - 0.2, 1e-9);
    // Required at 0 - (-0.5) = 0.5 after the edge; q comes at 0.2.
    EXPECT_NEAR(slack(r, "hold", "q"), 0.2 - 0.5, 1e-9);
    EXPECT_EQ(r.hold.failing, 1);
    EXPECT_NEAR(r.hold.tns, -0.3, 1e-9);
    EXPECT_TRUE(r.coverage.untimed.empty());
}

TEST(Hand, OnlyOneSideOfAnOutputDelayIsSaid) {
    const auto r =
        Circuit(two_registers,
                "create_clock -name c -period 10 clk\nset_input_delay -clock c 1 d\nset_output_delay -clock c -max 3 q")
            .time();
    ASSERT_EQ(r.coverage.untimed.size(), 1u);
    EXPECT_EQ(r.coverage.untimed[0].why, "only -max of its output delay is given");
    EXPECT_EQ(r.coverage.untimed[0].suggest, "set_output_delay -clock c -add_delay -min <ns> [get_ports q]");
}

TEST(Hand, AFallingEdgeRegisterHasHalfAPeriod) {
    const auto r = Circuit(
                       "module m(input clk, d, output q); wire a; R r1(.D(d),.CK(clk),.Q(a)); F "
                       "r2(.D(a),.CK(clk),.Q(q)); endmodule",
                       "create_clock -name c -period 10 -waveform {0 4} clk")
                       .time();
    // Rise at 0 to fall at 4: 4 - 0.1 - 0.2.
    EXPECT_NEAR(slack(r, "setup", "r2/D"), 3.7, 1e-9);
    // Hold pairs: (0, 4 - 10) and (0 + 10, 4); both give 6 of room: 0.2 + 6 - 0.05.
    EXPECT_NEAR(slack(r, "hold", "r2/D"), 6.15, 1e-9);
}

TEST(Hand, AnInvertedClockCapturesOnTheOtherEdge) {
    const auto r = Circuit(
                       "module m(input clk, d, output q); wire a, n; INV i(.A(clk),.Y(n)); R r1(.D(d),.CK(clk),.Q(a)); "
                       "R r2(.D(a),.CK(n),.Q(q)); endmodule",
                       "create_clock -name c -period 10 clk")
                       .time();
    EXPECT_NEAR(slack(r, "setup", "r2/D"), 5 - 0.1 - 0.2, 1e-9);
}

TEST(Hand, TwoClocksMeetAtTheTightestPair) {
    const auto r = Circuit(
                       "module m(input k1, k2, d, output q); wire a; R r1(.D(d),.CK(k1),.Q(a)); R "
                       "r2(.D(a),.CK(k2),.Q(q)); endmodule",
                       "create_clock -name a -period 6 k1\ncreate_clock -name b -period 4 k2")
                       .time();
    // Launches at 0, 6, 12 against captures at 4, 8, 12: the tightest gap is 6 to 8, that is 2.
    EXPECT_NEAR(slack(r, "setup", "r2/D"), 2 - 0.1 - 0.2, 1e-9);
    // Hold: (6, 8 - 4) gives 2, (6 + 6, 8) gives 4; the smaller governs: 2 + 0.2 - 0.05.
    EXPECT_NEAR(slack(r, "hold", "r2/D"), 2.15, 1e-9);
}

TEST(Hand, ClocksWithoutACommonPeriodAreTold) {
    const auto r = Circuit(
                       "module m(input k1, k2, d, output q); wire a; R r1(.D(d),.CK(k1),.Q(a)); R "
                       "r2(.D(a),.CK(k2),.Q(q)); endmodule",
                       "create_clock -name a -period 6.0001 k1\ncreate_clock -name b -period 3.9997 k2")
                       .time();
    ASSERT_FALSE(r.messages.empty());
    EXPECT_EQ(r.messages[0].text,
              "Clocks a and b have no common period within 1000 cycles; the tightest pair of 1000 is used.");
}

TEST(Hand, Exceptions) {
    const std::string clock = "create_clock -name c -period 10 clk\n";
    EXPECT_EQ(slack(Circuit(two_registers, clock + "set_false_path -to r2/D").time(), "setup", "r2/D"), 1e9);
    EXPECT_EQ(slack(Circuit(two_registers, clock + "set_false_path -from [get_cells r1]").time(), "setup", "r2/D"),
              1e9);
    EXPECT_EQ(slack(Circuit(two_registers, clock + "set_false_path -through u/Y").time(), "setup", "r2/D"), 1e9);
    // -fall_through leaves the rising transition: 10 - 0.1 - 1.2.
    EXPECT_NEAR(slack(Circuit(two_registers, clock + "set_false_path -fall_through u/Y").time(), "setup", "r2/D"), 8.7,
                1e-9);
    // -setup alone leaves hold.
    const auto half = Circuit(two_registers, clock + "set_false_path -setup -to r2/D").time();
    EXPECT_EQ(slack(half, "setup", "r2/D"), 1e9);
    EXPECT_NEAR(slack(half, "hold", "r2/D"), 1.15, 1e-9);
    EXPECT_EQ(half.coverage.excluded, 0);
    // Two cycles: setup 20 - 0.1 - 2.2, the hold pair follows: 1.2 - 10 - 0.05.
    const auto two = Circuit(two_registers, clock + "set_multicycle_path 2 -setup -to r2/D").time();
    EXPECT_NEAR(slack(two, "setup", "r2/D"), 17.7, 1e-9);
    EXPECT_NEAR(slack(two, "hold", "r2/D"), -8.85, 1e-9);
    const auto both =
        Circuit(two_registers, clock + "set_multicycle_path 2 -setup -to r2/D\nset_multicycle_path 1 -hold -to r2/D")
            .time();
    EXPECT_NEAR(slack(both, "hold", "r2/D"), 1.15, 1e-9);
    // A bound replaces the edges: 3 - 0.1 - 2.2.
    EXPECT_NEAR(slack(Circuit(two_registers, clock + "set_max_delay 3 -to r2/D").time(), "setup", "r2/D"), 0.7, 1e-9);
    // False wins over the bound.
    EXPECT_EQ(
        slack(Circuit(two_registers, clock + "set_max_delay 3 -to r2/D\nset_false_path -from [get_clocks c]").time(),
              "setup", "r2/D"),
        1e9);
}

TEST(Hand, ClockGroupsMakePathsFalse) {
    const char* net =
        "module m(input k1, k2, d, output q); wire a; R r1(.D(d),.CK(k1),.Q(a)); R r2(.D(a),.CK(k2),.Q(q)); endmodule";
    const auto r = Circuit(net,
                           "create_clock -name a -period 6 k1\ncreate_clock -name b -period 4 k2\nset_clock_groups "
                           "-asynchronous -group a -group b")
                       .time();
    EXPECT_EQ(slack(r, "setup", "r2/D"), 1e9);
    EXPECT_EQ(r.coverage.excluded, 1);
}

TEST(Hand, APathWithoutClocksHasADelay) {
    const auto r =
        Circuit("module m(input a, b, output y); wire w; INV i(.A(a),.Y(w)); AND g(.A(w),.B(b),.Y(y)); endmodule", "")
            .time();
    ASSERT_EQ(r.unconstrained.size(), 1u);
    // Longest: inverter falls in 0.7, then A of the gate 0.3. Shortest: B alone, 0.4.
    EXPECT_EQ(r.unconstrained[0].startpoint, "a");
    EXPECT_NEAR(r.unconstrained[0].max_delay, 1.0, 1e-9);
    EXPECT_NEAR(r.unconstrained[0].min_delay, 0.4, 1e-9);
    ASSERT_EQ(r.other_starts.size(), 1u);
    EXPECT_EQ(r.other_starts[0].startpoint, "b");
    EXPECT_EQ(r.other_starts[0].endpoint, "y");
    EXPECT_NEAR(r.other_starts[0].min_delay, 0.4, 1e-9);
    EXPECT_FALSE(r.setup.wns.has_value());
    const auto bound =
        Circuit("module m(input a, b, output y); wire w; INV i(.A(a),.Y(w)); AND g(.A(w),.B(b),.Y(y)); endmodule",
                "set_max_delay 1.5 -from a -to y")
            .time();
    EXPECT_NEAR(slack(bound, "setup", "y"), 0.5, 1e-9);
}

TEST(Hand, SdfReplacesTheLibrary) {
    const std::string sdf =
        "(DELAYFILE (DIVIDER /) (TIMESCALE 1ns) (CELL (CELLTYPE \"BUF\") (INSTANCE u) (DELAY (ABSOLUTE (IOPATH A Y "
        "(0.3:0.4:0.5) (0.4:0.5:0.6)))))\n"
        "(CELL (CELLTYPE \"m\") (INSTANCE ) (DELAY (ABSOLUTE (INTERCONNECT u/Y r2/D (0.1:0.2:0.3)))))\n"
        "(CELL (CELLTYPE \"R\") (INSTANCE r2) (TIMINGCHECK (SETUPHOLD D (posedge CK) (0.21:0.22:0.23) "
        "(0.11:0.12:0.13)))))";
    const Circuit c(two_registers, "create_clock -name c -period 10 clk", sdf);
    const auto r = c.time();
    // Late members: 0.2 + 0.6 + 0.3, setup takes the late member 0.23. Early: 0.2 + 0.3 + 0.1, hold the early one 0.11.
    EXPECT_NEAR(slack(r, "setup", "r2/D"), 10 - 0.23 - 1.1, 1e-9);
    EXPECT_NEAR(slack(r, "hold", "r2/D"), 0.6 - 0.11, 1e-9);
    TimingOptions typical;
    typical.early_member = typical.late_member = 1;
    EXPECT_NEAR(slack(c.time(typical), "setup", "r2/D"), 10 - 0.22 - (0.2 + 0.5 + 0.2), 1e-9);
}

TEST(Hand, ALoopIsCutAndSpeltOut) {
    const auto r =
        Circuit("module m(input a, output y); wire w; AND g(.A(a),.B(w),.Y(y)); BUF b(.A(y),.Y(w)); endmodule", "")
            .time();
    ASSERT_FALSE(r.messages.empty());
    EXPECT_EQ(r.messages[0].text, "A combinational loop is cut at its last step: g/Y > b/A > b/Y > g/B > g/Y.");
}

TEST(Hand, ARegisterWithoutAClockIsTold) {
    const auto r = Circuit(two_registers, "").time();
    bool told = false;
    for (const auto& u : r.coverage.untimed)
        told |= u.object == "r1/CK" && u.why.starts_with("no clock reaches this register");
    EXPECT_TRUE(told);
}

}  // namespace
}  // namespace kp
