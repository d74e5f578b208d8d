// SPDX-License-Identifier: GPL-3.0-or-later
// What each command about clocks, arcs and checks becomes, value by value.
#include "core/format/sdc/generated.hpp"
#include "tests/timing/circuit.hpp"

#include <numeric>

namespace kp {
namespace {

constexpr const char* small =
    "module m(input clk, input clk2, input d, output q); wire k, w, x; BUF b(.A(clk),.Y(k)); R r1(.D(d),.CK(k),.Q(w)); "
    "AND g(.A(w),.B(d),.Y(x)); R r2(.D(x),.CK(k),.Q(q)); endmodule";
const std::string clocks = "create_clock -name c -period 8 -waveform {1 4} clk\ncreate_clock -name e -period 3 clk2\n";

struct SdcClockCommandsRead : testing::Test {
    std::unique_ptr<test::Circuit> circuit;
    const Constraints& read(const std::string& text) {
        circuit = std::make_unique<test::Circuit>(small, clocks + text);
        return circuit->constraints;
    }
    [[nodiscard]] std::string pin(const ObjectRef& o) const { return circuit->netlist.pin_name(o.id); }
};

TEST_F(SdcClockCommandsRead, PropagatedClocksByClockAndByPort) {
    const auto& k = read("set_propagated_clock [get_clocks c]\nset_propagated_clock [get_ports clk2]\n");
    ASSERT_EQ(k.propagated.size(), 2u);
    EXPECT_EQ(k.propagated[0], (ObjectRef{ObjectKind::clock, 0}));
    EXPECT_EQ(k.propagated[1].kind, ObjectKind::port);
}

TEST_F(SdcClockCommandsRead, CaseValuesTheNewerReplacesTheOlder) {
    const auto& k =
        read("set_case_analysis 0 [get_ports d]\nset_case_analysis rising [get_pins g/A]\nset_case_analysis one d\n");
    ASSERT_EQ(k.cases.size(), 2u);
    EXPECT_EQ(k.cases[0].value, CaseValue::rising);
    EXPECT_EQ(pin(k.cases[0].object), "g/A");
    EXPECT_EQ(k.cases[1].value, CaseValue::one);
}

TEST_F(SdcClockCommandsRead, DisabledArcsOfInstancesAndTypes) {
    const auto& k = read(
        "set_disable_timing -from A -to Y [get_cells g]\nset_disable_timing AND\nset_disable_timing "
        "plain/AND/B\nset_disable_timing [list g r1/D]\n");
    ASSERT_EQ(k.disabled.size(), 4u);
    EXPECT_EQ(k.disabled[0].from, "A");
    EXPECT_EQ(k.disabled[0].to, "Y");
    EXPECT_EQ(k.disabled[1].cell_types, std::vector<std::string>{"AND"});
    EXPECT_EQ(k.disabled[2].type_pins, std::vector<std::string>{"AND/B"});
    EXPECT_EQ(k.disabled[3].objects.size(), 2u);
}

TEST_F(SdcClockCommandsRead, DeratesSayWhatTheyAreFor) {
    const auto& k = read(
        "set_timing_derate 1.1\nset_timing_derate -early -cell_delay -clock 0.9 [get_cells b]\nset_timing_derate -late "
        "-net_delay -data 1.2\nset_timing_derate -cell_check 1.05\n");
    ASSERT_EQ(k.derates.size(), 4u);
    const auto& all = k.derates[0];
    EXPECT_TRUE(all.early && all.late && all.cell && all.net && !all.check && all.clock && all.data);
    const auto& one = k.derates[1];
    EXPECT_TRUE(one.early && !one.late && one.cell && !one.net && one.clock && !one.data);
    EXPECT_EQ(one.objects.size(), 1u);
    EXPECT_TRUE(!k.derates[2].cell && k.derates[2].net && !k.derates[2].clock);
    EXPECT_TRUE(k.derates[3].check && !k.derates[3].cell && !k.derates[3].net);
}

TEST_F(SdcClockCommandsRead, PulsesChecksAndSenses) {
    const auto& k = read(
        "set_min_pulse_width 1.5\nset_min_pulse_width -low 2 [get_clocks e]\nset_data_check -rise_from [get_pins g/B] "
        "-to [get_pins g/A] -setup 0.3 -clock c\nset_clock_sense -negative -clock c [get_pins b/Y]\nset_sense -type "
        "clock -stop_propagation [get_pins b/Y]\n");
    ASSERT_EQ(k.min_pulses.size(), 2u);
    EXPECT_TRUE(k.min_pulses[0].high && k.min_pulses[0].low && k.min_pulses[0].objects.empty());
    EXPECT_TRUE(!k.min_pulses[1].high && k.min_pulses[1].low);
    ASSERT_EQ(k.data_checks.size(), 1u);
    const auto& check = k.data_checks[0];
    EXPECT_TRUE(check.from.rise && !check.from.fall && check.to.rise && check.to.fall && check.setup && !check.hold);
    EXPECT_EQ(check.clock, 0u);
    ASSERT_EQ(k.senses.size(), 2u);
    EXPECT_EQ(k.senses[0].sense, ClockSense::negative);
    EXPECT_EQ(k.senses[0].clocks, std::vector<std::uint32_t>{0});
    EXPECT_EQ(k.senses[1].sense, ClockSense::stop);
}

TEST_F(SdcClockCommandsRead, UnitsHoldForAllTimes) {
    const auto& k = read(
        "set_units -time ps\nset_min_pulse_width 1500\nset_data_check -from [get_pins g/B] -to [get_pins g/A] "
        "300\nset_driving_cell -lib_cell BUF -input_transition_rise 40 d\n");
    EXPECT_DOUBLE_EQ(k.min_pulses[0].value, 1.5);
    EXPECT_DOUBLE_EQ(k.data_checks[0].value, 0.3);
    EXPECT_DOUBLE_EQ(k.driving_cells[0].slew[0], 0.04);
}

TEST_F(SdcClockCommandsRead, GeneratedClocksKnowWhichEdgeMakesThem) {
    const auto made_by = [&](const std::string& form) {
        const auto& g =
            read("create_generated_clock -name g -source [get_ports clk] " + form + " [get_pins r1/Q]\n").clocks.back();
        return std::pair{g.made_by[0], g.made_by[1]};
    };
    EXPECT_EQ(made_by("-divide_by 1"), (std::pair{0, 1}));
    EXPECT_EQ(made_by("-divide_by 4"), (std::pair{0, 0}));
    EXPECT_EQ(made_by("-divide_by 1 -invert"), (std::pair{1, 0}));
    EXPECT_EQ(made_by("-edges {1 2 5}"), (std::pair{0, 1}));
    EXPECT_EQ(made_by("-edges {2 5 6}"), (std::pair{1, 0}));
    EXPECT_EQ(made_by("-multiply_by 2"), (std::pair{0, 1}));
    EXPECT_TRUE(
        read("create_generated_clock -name g -source [get_ports clk] -combinational -divide_by 1 [get_pins b/Y]\n")
            .clocks.back()
            .combinational);
}

/// All ratios to 64/64 by hand arithmetic: the master rises at 1 ns and falls at 4 ns of 8. A division and a
/// multiplication together make periods of 8 D / M; the duty cycle of the master, 3 of 8, is kept but where the ratio
/// is one over a power of two, which is counted from rising edges (docs/timing.md, section 2).
TEST(GeneratedClocks, EachRatioHasItsPeriodAndEdges) {
    ClockDefinition master;
    master.period = 8;
    master.waveform = {1, 4};
    for (int d = 1; d <= 64; ++d)
        for (int m = 1; m <= 64; ++m) {
            sdc::GeneratedForm form;
            form.divide = {static_cast<double>(d)};
            form.multiply = {static_cast<double>(m)};
            ClockDefinition made;
            ASSERT_EQ(sdc::derive_clock(master, form, made), "");
            const int common = std::gcd(d, m), over = d / common, times = m / common;
            const double period = 8.0 * d / m;
            EXPECT_NEAR(made.period, period, 1e-12 * period) << m << "/" << d;
            const bool counted = times == 1 && over > 1 && (over & (over - 1)) == 0;
            const double rise = counted ? 1 : 1.0 * d / m, fall = counted ? 1 + period / 2 : 4.0 * d / m;
            EXPECT_NEAR(made.waveform[0], rise, 1e-12 * period) << m << "/" << d;
            EXPECT_NEAR(made.waveform[1], fall, 1e-12 * period) << m << "/" << d;
            form.duty = {25};
            form.invert = true;
            ASSERT_EQ(sdc::derive_clock(master, form, made), "");
            EXPECT_NEAR(made.period, period, 1e-12 * period);
            // High for a quarter from `rise` on, and then turned over.
            EXPECT_NEAR(made.waveform[0], rise + period / 4, 1e-12 * period) << m << "/" << d;
            EXPECT_NEAR(made.waveform[1], rise + period, 1e-12 * period) << m << "/" << d;
        }
}

}  // namespace
}  // namespace kp
