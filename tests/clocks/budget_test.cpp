// SPDX-License-Identifier: GPL-3.0-or-later
// Six arrangements on one board, each worked out by hand in its comment. Traces run in a stripline of 7 ps/mm
// (sqrt(er) / c with er = (0.007 * 299.792458)^2), so that 100 mm are 0.7 ns.
#include "core/clocks/budget.hpp"

#include <gtest/gtest.h>

namespace kp::clocks {
namespace {

struct BudgetBench {
    Part part;
    Board board;
    StandardTable standards;
    std::vector<Port> ports;
    Project project;
    std::vector<PortFacts> facts;
    Constraints constraints;
    std::vector<PortClocks> clocks;

    BudgetBench() {
        board.stack = {"stripline", 0.007 * 299.792458 * 0.007 * 299.792458, 0.4, 0.14, 0.018};
        BoardPart fpga;
        fpga.ref = "U1";
        board.parts.push_back(fpga);
        board.fpga = "U1";
    }
    Terminal& terminal(const std::string& ref, const std::string& kind, const std::string& name,
                       TerminalDirection direction, double mm) {
        auto at = std::find_if(board.parts.begin(), board.parts.end(), [&](const auto& p) { return p.ref == ref; });
        if (at == board.parts.end()) {
            BoardPart p;
            p.ref = ref;
            p.kind = kind;
            at = board.parts.insert(board.parts.end(), p);
        }
        Terminal t;
        t.name = name;
        t.direction = direction;
        at->terminals.push_back(t);
        Pin pin;
        pin.name = "P" + std::to_string(part.pins.size());
        part.by_name[pin.name] = part.pins.size();
        part.pins.push_back(pin);
        BoardNet net;
        net.pin = pin.name;
        net.terminal = ref + "." + name;
        net.trace_mm = mm;
        board.nets.push_back(net);
        return at->terminals.back();
    }
    /// A port on the pin that was wired last.
    void port(const std::string& name, Direction direction, PortClocks who = {}) {
        Port p;
        p.name = name;
        p.bus = name.substr(0, name.find('['));
        p.direction = direction;
        ports.push_back(p);
        project.pegs[name] = {part.pins.back().name, PegState::pegged, "by hand"};
        PortFacts f;
        f.read = true;
        facts.push_back(f);
        clocks.push_back(std::move(who));
    }
    std::uint32_t clock(const std::string& name, double period, std::optional<std::uint32_t> at_port = {}) {
        ClockDefinition c;
        c.name = name;
        c.period = period;
        c.waveform = {0, period / 2};
        if (at_port) c.sources = {{ObjectKind::port, *at_port}};
        constraints.clocks.push_back(c);
        return static_cast<std::uint32_t>(constraints.clocks.size() - 1);
    }
    std::vector<Budget> all() {
        board.index();
        const Plan plan(part, board, standards, ports, project, facts);
        return budgets({plan, constraints, clocks, {}});
    }
    Budget named(const std::string& name) {
        for (auto& b : all())
            if (b.name == name) return b;
        ADD_FAILURE() << "no budget " << name;
        return {};
    }
};

void adds_up(const Budget& b) {
    double max = 0, min = 0;
    for (const auto& t : b.terms) {
        max += t.max;
        min += t.min;
        EXPECT_FALSE(t.from.empty()) << t.what;
    }
    EXPECT_NEAR(b.max, max, 1e-9);
    EXPECT_NEAR(b.min, min, 1e-9);
}

// 1. The partner has the board's clock. Clock to output 2 to 6 ns, data trace 100 mm (0.7 ns), the partner's clock
// arrives up to 0.3 ns later or 0.1 ns earlier than ours: max = 6 + 0.7 + 0.3 = 7.0; min = 2 + 0.7 - 0.1 = 2.6.
TEST(Budget, SystemSynchronousInput) {
    BudgetBench b;
    b.clock("osc", 20);
    auto& t = b.terminal("U5", "converter", "d", TerminalDirection::drives, 100);
    t.out_min_ns = 2;
    t.out_max_ns = 6;
    b.port("d", Direction::in, {{{0, true, false}}, {}});
    b.project.budgets = {{"U5 in.clock skew", "0.3 -0.1"}};
    const auto g = b.named("U5 in");
    EXPECT_EQ(g.arrangement, Arrangement::system_synchronous);
    EXPECT_EQ(g.clock, "osc");
    EXPECT_DOUBLE_EQ(g.max, 7.0);
    EXPECT_DOUBLE_EQ(g.min, 2.6);
    adds_up(g);
    EXPECT_EQ(g.sdc, (std::vector<std::string>{
                         "set_input_delay -clock osc -network_latency_included -max 7 [get_ports d]",
                         "set_input_delay -clock osc -network_latency_included -min 2.6 [get_ports d]"}));
}

// 2. And the other way: setup 3, hold 0.5, trace 200 mm (1.4 ns): max = 3 + 1.4 = 4.4; min = -0.5 + 1.4 = 0.9.
TEST(Budget, SystemSynchronousOutput) {
    BudgetBench b;
    b.clock("osc", 20);
    auto& t = b.terminal("U5", "converter", "q", TerminalDirection::reads, 200);
    t.setup_ns = 3;
    t.hold_ns = 0.5;
    b.port("q", Direction::out, {{}, {{0, true, false}}});
    const auto g = b.named("U5 out");
    EXPECT_DOUBLE_EQ(g.max, 4.4);
    EXPECT_DOUBLE_EQ(g.min, 0.9);
    adds_up(g);
}

// 3. RGMII 2.0, section 3.3 (from memory): with internal delay the receiver's data change 1.2 ns at the earliest and,
// at 4 ns a half period, 2.8 ns at the latest after an edge (TsetupT, TholdT 1.2 ns). Both edges. Traces 110 and 120 mm
// of data, 100 mm of clock: max = 2.8 + 0.84 - 0.7 = 2.94; min = 1.2 + 0.77 - 0.7 = 1.27.
TEST(Budget, SourceSynchronousDoubleRateInput) {
    BudgetBench b;
    b.terminal("U2", "ethernet", "rxc", TerminalDirection::drives, 100).clock_mhz = 125;
    b.port("rxc", Direction::in);
    b.clock("rx", 8, 0u);
    for (const auto& [name, mm] : {std::pair{"rxd0", 110.0}, std::pair{"rxd1", 120.0}}) {
        auto& t = b.terminal("U2", "ethernet", name, TerminalDirection::drives, mm);
        t.clock = "rxc";
        t.out_min_ns = 1.2;
        t.out_max_ns = 2.8;
        b.port(name, Direction::in, {{{0, true, true}}, {}});
    }
    const auto g = b.named("U2.rxc in");
    EXPECT_EQ(g.arrangement, Arrangement::source_synchronous);
    EXPECT_TRUE(g.rise && g.fall);
    EXPECT_DOUBLE_EQ(g.max, 2.94);
    EXPECT_DOUBLE_EQ(g.min, 1.27);
    adds_up(g);
    ASSERT_EQ(g.sdc.size(), 4u);
    EXPECT_EQ(g.sdc[2],
              "set_input_delay -clock rx -clock_fall -network_latency_included -add_delay -max 2.94 "
              "[get_ports {rxd0 rxd1}]");
}

// 4. RGMII 2.0 the other way (from memory): the receiver wants TsetupR = TholdR = 1.0 ns at its own clock, which it
// delays by 2 ns. Data 100 mm, clock 90 mm: max = 1 + 0.7 - 0.63 = 1.07; min = -1 + 0.7 - 0.63 = -0.93. The clock that
// leaves is made from the one that launches it, 2 ns later.
TEST(Budget, ForwardedDoubleRateOutput) {
    BudgetBench b;
    b.terminal("Y1", "oscillator", "osc", TerminalDirection::drives, 10);
    b.port("osc", Direction::in);
    b.clock("eth", 8, 0u);
    b.terminal("U2", "ethernet", "txc", TerminalDirection::reads, 90).clock_delay_ns = 2;
    b.port("txc", Direction::out, {{}, {{0, true, true}}});
    auto& t = b.terminal("U2", "ethernet", "txd", TerminalDirection::reads, 100);
    t.clock = "txc";
    t.setup_ns = t.hold_ns = 1;
    b.port("txd", Direction::out, {{}, {{0, true, true}}});
    const auto g = b.named("U2.txc out");
    EXPECT_EQ(g.arrangement, Arrangement::forwarded);
    EXPECT_DOUBLE_EQ(g.max, 1.07);
    EXPECT_DOUBLE_EQ(g.min, -0.93);
    adds_up(g);
    ASSERT_EQ(g.sdc.size(), 6u);
    EXPECT_EQ(g.sdc[0],
              "create_generated_clock -name txc -source [get_ports osc] -edges {1 2 3} -edge_shift {2 2 2} "
              "[get_ports txc]");
    EXPECT_EQ(g.sdc[1], "set_propagated_clock [get_clocks txc]");
    EXPECT_EQ(g.sdc[5], "set_output_delay -clock txc -clock_fall -add_delay -min -0.93 [get_ports txd]");
    // The clock itself is what others are measured by.
    const auto clock = b.named("U2 out");
    EXPECT_EQ(clock.ports, std::vector<std::string>{"txc"});
    EXPECT_EQ(clock.arrangement, Arrangement::asynchronous);
}

// 5. SPI: the clock goes out (150 mm, 1.05 ns), the partner answers 3 to 9 ns after it, and the answer comes back
// (200 mm, 1.4 ns): max = 9 + 1.4 + 1.05 = 11.45; min = 3 + 1.4 + 1.05 = 5.45. The clock is a register that turns.
TEST(Budget, ForwardedInputOfASerialBus) {
    BudgetBench b;
    b.terminal("Y1", "oscillator", "osc", TerminalDirection::drives, 10);
    b.port("osc", Direction::in);
    b.clock("sys", 10, 0u);
    b.terminal("U5", "converter", "sck", TerminalDirection::reads, 150);
    b.port("sck", Direction::out, {{}, {{0, true, false}}});
    auto& t = b.terminal("U5", "converter", "miso", TerminalDirection::drives, 200);
    t.clock = "sck";
    t.out_min_ns = 3;
    t.out_max_ns = 9;
    b.port("miso", Direction::in, {{{0, true, false}}, {}});
    const auto g = b.named("U5.sck in");
    EXPECT_EQ(g.arrangement, Arrangement::forwarded);
    EXPECT_DOUBLE_EQ(g.max, 11.45);
    EXPECT_DOUBLE_EQ(g.min, 5.45);
    adds_up(g);
    EXPECT_EQ(g.clock, "sck");
    EXPECT_NE(g.sdc[0].find("-divide_by 2"), std::string::npos);
}

// The partner's clock terminal hangs on the pin where the board's clock comes in: both have the same clock, and nothing
// is sent.
TEST(Budget, AClockThatBothTakeFromTheBoardIsSystemSynchronous) {
    BudgetBench b;
    b.terminal("U5", "converter", "clk", TerminalDirection::reads, 50);
    b.port("osc", Direction::in);
    b.clock("osc", 20, 0u);
    auto& t = b.terminal("U5", "converter", "d", TerminalDirection::drives, 100);
    t.clock = "clk";
    t.out_min_ns = 2;
    t.out_max_ns = 6;
    b.port("d", Direction::in, {{{0, true, false}}, {}});
    const auto g = b.named("U5.clk in");
    EXPECT_EQ(g.arrangement, Arrangement::system_synchronous);
    EXPECT_DOUBLE_EQ(g.max, 7.05) << "6 + 0.7, and 50 mm of clock between both, either way";
    EXPECT_DOUBLE_EQ(g.min, 2.35);
    adds_up(g);
}

// 6. A lamp: no promise, and the reason.
TEST(Budget, WhatAHandOrAnEyeHasIsExcluded) {
    BudgetBench b;
    b.clock("sys", 10);
    b.terminal("D1", "lamp", "l0", TerminalDirection::reads, 20);
    b.port("l[0]", Direction::out, {{}, {{0, true, false}}});
    b.terminal("D1", "lamp", "l1", TerminalDirection::reads, 20);
    b.port("l[1]", Direction::out, {{}, {{0, true, false}}});
    auto g = b.named("D1 out");
    EXPECT_EQ(g.arrangement, Arrangement::asynchronous);
    EXPECT_EQ(g.why, "a lamp keeps no clock");
    EXPECT_EQ(g.sdc, std::vector<std::string>{"set_false_path -to [get_ports {l[0] l[1]}]"});
    EXPECT_FALSE(g.agrees());
    PathException e;
    e.to = PathException::Point{{{ObjectKind::port, 0}, {ObjectKind::port, 1}}, true, true};
    b.constraints.exceptions = {e};
    EXPECT_TRUE(b.named("D1 out").agrees());
    // The user knows better: a term makes it a promise.
    b.project.budgets = {{"D1 out.partner", "5 -1"}};
    g = b.named("D1 out");
    EXPECT_EQ(g.arrangement, Arrangement::system_synchronous);
    EXPECT_DOUBLE_EQ(g.max, 5.14);
    EXPECT_DOUBLE_EQ(g.min, -0.86);
    adds_up(g);
}

// Two groups of one part that only their reasons tell apart: a term of the second is the second's alone.
TEST(Budget, ATermBelongsToTheGroupUnderWhoseNameItStands) {
    BudgetBench b;
    b.clock("sys", 10);
    b.terminal("U9", "converter", "x", TerminalDirection::reads, 20);
    b.port("strange", Direction::out, {{}, {{0, true, false}}});
    b.terminal("U9", "converter", "rst", TerminalDirection::reads, 20);
    b.port("adc_reset", Direction::out, {{}, {{0, true, false}}});
    ASSERT_EQ(b.named("U9 out").ports, std::vector<std::string>{"strange"});
    ASSERT_EQ(b.named("U9 out 2").ports, std::vector<std::string>{"adc_reset"});
    b.project.budgets = {{"U9 out 2.partner", "3"}};
    EXPECT_EQ(b.named("U9 out").arrangement, Arrangement::asynchronous);
    EXPECT_EQ(b.named("U9 out 2").arrangement, Arrangement::system_synchronous);
    EXPECT_DOUBLE_EQ(b.named("U9 out 2").max, 3.14);
}

TEST(Budget, WhatIsInForceIsComparedAndTermsAreTheUsers) {
    BudgetBench b;
    b.clock("osc", 20);
    auto& t = b.terminal("U5", "converter", "d", TerminalDirection::drives, 100);
    t.out_min_ns = 2;
    t.out_max_ns = 6;
    b.port("d", Direction::in, {{{0, true, false}}, {}});
    EXPECT_FALSE(b.named("U5 in").in_force);
    IoDelay max, min;
    max.clock = min.clock = 0;
    max.early = min.late = false;
    max.value = 6.7;
    min.value = 2.7;
    b.constraints.io_delays = {max, min};
    EXPECT_TRUE(b.named("U5 in").agrees());
    b.constraints.io_delays[0].value = 6.6;
    EXPECT_FALSE(b.named("U5 in").agrees());
    b.project.budgets = {{"U5 in.data trace", "1"}, {"U5 in.linked", "yes"}};
    const auto g = b.named("U5 in");
    EXPECT_TRUE(g.linked);
    EXPECT_DOUBLE_EQ(g.max, 7);
    EXPECT_NE(g.terms[1].from.find("said by the user, instead of 0.7 and 0.7"), std::string::npos);
    adds_up(g);
}

TEST(Budget, TermsAreOneOrTwoNumbers) {
    Project p;
    EXPECT_EQ(with_term(p, "U5 in", "allowance", " 0.3  -0.1 ")->at("U5 in.allowance"), "0.3 -0.1");
    EXPECT_EQ(with_term(p, "U5 in", "allowance", "0.3")->at("U5 in.allowance"), "0.3");
    for (const char* wrong : {"x", "1 2 3", "1,5", "nan", "inf", "1e99"})
        EXPECT_FALSE(with_term(p, "U5 in", "allowance", wrong)) << wrong;
    p.budgets = {{"U5 in.allowance", "1"}};
    EXPECT_TRUE(with_term(p, "U5 in", "allowance", "")->empty());
    EXPECT_TRUE(with_term(p, "U5 in", "linked", "yes"));
    EXPECT_FALSE(with_term(p, "U5 in", "linked", "maybe"));
}

}  // namespace
}  // namespace kp::clocks
