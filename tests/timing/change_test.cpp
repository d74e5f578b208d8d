// SPDX-License-Identifier: GPL-3.0-or-later
// How far an edit of the text reaches, line by line; and that the engine does no more than that.
#include "tests/timing/circuit.hpp"

#include "core/timing/change.hpp"
#include "core/timing/engine.hpp"

namespace kp {
namespace {

using timing::ConstraintChange;

const std::string circuit =
    "module m(input clk, k2, d, s, output y); wire a, b; R r1(.D(d),.CK(clk),.Q(a)); AND g(.A(a),.B(s),.Y(b)); R "
    "r2(.D(b),.CK(clk),.Q(y)); endmodule";
const std::string base =
    "create_clock -name c -period 8 clk\nset_input_delay -clock c 1 d\nset_output_delay -clock c 1 y\n";

struct ChangeRow {
    const char* line;
    ConstraintChange::Reach reach;
    bool delays;
};

const ChangeRow rows[] = {
    {"# only a remark", ConstraintChange::nothing, false},
    {"group_path -name g -to r2/D", ConstraintChange::nothing, false},
    {"set_input_delay -clock c 1.5 d", ConstraintChange::io_values, false},
    {"set_output_delay -clock c 0.25 y", ConstraintChange::io_values, false},
    {"set_clock_latency 0.5 c", ConstraintChange::ends, false},
    {"set_clock_uncertainty 0.5 c", ConstraintChange::ends, false},
    {"set_false_path -to r2/D", ConstraintChange::ends, false},
    {"set_false_path -from c -to c", ConstraintChange::ends, false},
    {"set_multicycle_path 2 -to c", ConstraintChange::ends, false},
    {"set_min_pulse_width 1 c", ConstraintChange::ends, false},
    {"set_data_check 0.1 -from r1/D -to r2/D", ConstraintChange::ends, false},
    {"set_clock_transition 0.1 c", ConstraintChange::ends, true},
    {"set_load 0.01 y", ConstraintChange::ends, true},
    {"set_input_transition 0.1 d", ConstraintChange::ends, true},
    {"set_timing_derate -late 1.1", ConstraintChange::ends, true},
    {"set_propagated_clock c", ConstraintChange::ends, true},
    {"set_false_path -from r1/CK", ConstraintChange::structure, true},
    {"set_false_path -through g/Y", ConstraintChange::structure, true},
    {"set_case_analysis 1 s", ConstraintChange::structure, true},
    {"set_disable_timing g", ConstraintChange::structure, true},
    {"set_clock_sense -stop_propagation r1/CK", ConstraintChange::structure, true},
    {"create_clock -name e -period 4 k2", ConstraintChange::structure, true},
    {"set_input_delay -clock c -add_delay 2 d", ConstraintChange::structure, true},
};

TEST(ConstraintChange, ReachesAsFarAsItMust) {
    const test::Circuit c(circuit, base);
    for (const auto& r : rows) {
        const auto after = read_sdc({{"t.sdc", "", base + r.line + "\n"}}, c.netlist, *c.index, c.library);
        for (const auto& m : after.messages) EXPECT_NE(m.severity, Severity::stop) << m.sentence();
        for (const bool there : {true, false}) {
            const auto change = there ? timing::compare(c.constraints, after) : timing::compare(after, c.constraints);
            EXPECT_EQ(change.reach, r.reach) << r.line;
            EXPECT_EQ(change.delays, r.delays) << r.line;
            EXPECT_EQ(change.io.empty(), r.reach != ConstraintChange::io_values) << r.line;
        }
    }
}

TEST(ConstraintChange, TheEngineDoesNoMore) {
    const test::Circuit c(circuit, base);
    TimingEngine e({c.netlist, c.library, c.constraints}, {});
    e.update();
    for (const auto& r : rows) {
        e.set_constraints(read_sdc({{"t.sdc", "", base + r.line + "\n"}}, c.netlist, *c.index, c.library));
        e.update();
        EXPECT_EQ(e.work().structure, r.reach == ConstraintChange::structure) << r.line;
        EXPECT_EQ(e.work().ends, r.reach >= ConstraintChange::ends) << r.line;
        if (r.reach == ConstraintChange::nothing) EXPECT_EQ(e.work().recomputed + e.work().endpoints, 0u) << r.line;
        e.set_constraints(c.constraints);
        e.update();
    }
}

TEST(ConstraintChange, AWhatIfThatIsCancelledLeavesNoTrace) {
    const test::Circuit c(circuit, base);
    TimingEngine e({c.netlist, c.library, c.constraints}, {});
    e.update();
    const auto before = e.fingerprint();
    std::stop_source stop;
    stop.request_stop();
    for (const char* line : {"set_case_analysis 1 s", "set_clock_latency 0.5 c", "set_input_delay -clock c 1.5 d"}) {
        const auto other = read_sdc({{"t.sdc", "", base + line + "\n"}}, c.netlist, *c.index, c.library);
        EXPECT_FALSE(e.what_if(
            other, [](const TimingEngine&) { FAIL() << "asked although cancelled"; }, stop.get_token()))
            << line;
        e.update();
        EXPECT_EQ(e.fingerprint(), before) << line;
        EXPECT_EQ(e.constraints().latencies.size(), 0u);
    }
}

}  // namespace
}  // namespace kp
