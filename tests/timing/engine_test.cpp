// SPDX-License-Identifier: GPL-3.0-or-later
// The engine that is kept: after every edit it has the same bits as one that starts anew. Corners, what-if, cancelling.
#include "tests/timing/circuit.hpp"

#include "core/timing/engine.hpp"

#include <cmath>
#include <random>

namespace kp {
namespace {

/// Registers of three clocks behind buffers, gates between them, ports at both ends.
std::string random_design(std::mt19937& random, int registers, int gates) {
    std::string v = "module m(input c0, input c1, input c2, input [3:0] d, output [3:0] y);\n";
    std::vector<std::string> nets;
    for (int i = 0; i < 4; ++i) nets.push_back("d[" + std::to_string(i) + "]");
    for (int c = 0; c < 3; ++c)
        for (int b = 0; b < 2; ++b)
            v += "BUF k" + std::to_string(c) + std::to_string(b) + "(.A(" +
                 (b == 0 ? "c" + std::to_string(c) : "k" + std::to_string(c) + "0n") + "),.Y(k" + std::to_string(c) +
                 std::to_string(b) + "n));\n";
    for (int i = 0; i < registers; ++i) nets.push_back("q" + std::to_string(i));
    for (int i = 0; i < gates; ++i) {
        const bool one = random() % 3 == 0;
        const auto pick = [&] { return nets[random() % nets.size()]; };
        v += std::string(one            ? (random() % 2 ? "INV" : "BUF")
                         : random() % 3 ? "AND"
                                        : "XOR") +
             " g" + std::to_string(i) + "(.A(" + pick() + ")" + (one ? "" : ",.B(" + pick() + ")") + ",.Y(n" +
             std::to_string(i) + "));\n";
        nets.push_back("n" + std::to_string(i));
    }
    for (int i = 0; i < registers; ++i)
        v += std::string(random() % 4 ? "R" : "F") + " r" + std::to_string(i) + "(.D(" +
             nets[nets.size() - 1 - random() % 12] + "),.CK(k" + std::to_string(random() % 3) +
             std::to_string(random() % 2) + "n),.Q(q" + std::to_string(i) + "));\n";
    for (int i = 0; i < 4; ++i)
        v += "assign y[" + std::to_string(i) + "] = " + nets[nets.size() - 1 - random() % nets.size()] + ";\n";
    return v + "endmodule\n";
}

/// A text of constraints that is edited line by line.
struct Text {
    std::vector<std::string> lines{"create_clock -name c0 -period 8 [get_ports c0]",
                                   "create_clock -name c1 -period 10 [get_ports c1]",
                                   "create_clock -name c2 -period 4 -waveform {1 3} [get_ports c2]"};
    [[nodiscard]] std::string all() const {
        std::string out;
        for (const auto& l : lines) out += l + "\n";
        return out;
    }
};

std::string random_line(std::mt19937& random, int registers) {
    const auto n = [&](int most) { return std::to_string(random() % static_cast<unsigned>(most)); };
    const auto value = [&] { return std::to_string(static_cast<double>(random() % 400) / 100); };
    const auto clock = [&] { return "[get_clocks c" + n(3) + "]"; };
    switch (random() % 14) {
        case 0:
            return "set_input_delay -clock c" + n(3) + " " + (random() % 3 ? "" : "-min ") + value() + " {d[" + n(4) +
                   "]}";
        case 1:
            return "set_output_delay -clock c" + n(3) + " " + (random() % 3 ? "" : "-max ") + value() + " {y[" + n(4) +
                   "]}";
        case 2: return "set_false_path -from " + clock() + " -to " + clock();
        case 3: return "set_false_path -through g" + n(10) + "/Y -to r" + n(registers) + "/D";
        case 4: return "set_multicycle_path " + n(4) + " -from r" + n(registers) + "/CK";
        case 5: return "set_max_delay " + value() + " -to r" + n(registers) + "/D";
        case 6: return "set_min_delay " + value() + " -from {d[" + n(4) + "]}";
        case 7: return "set_clock_uncertainty " + value() + " " + clock();
        case 8: return "set_clock_latency " + value() + " " + clock();
        case 9: return "set_clock_latency -source -late " + value() + " " + clock();
        case 10: return "set_case_analysis " + n(2) + " {d[" + n(4) + "]}";
        case 11: return "set_timing_derate -late 1.0" + n(9);
        case 12: return "set_propagated_clock " + clock();
        default: return "set_clock_groups -asynchronous -group " + clock() + " -group " + clock();
    }
}

class Kept : public testing::Test {
protected:
    static Constraints constraints(const Text& text, const test::Circuit& c) {
        return read_sdc({{"t.sdc", "", text.all()}}, c.netlist, *c.index, c.library);
    }

    /// What the kept engine says against one that starts anew with the same delays.
    static void same(TimingEngine& kept, const test::Circuit& c, const Constraints& k,
                     const std::vector<std::array<double, 8>>& delays, const std::string& where) {
        TimingEngine fresh({c.netlist, c.library, k}, {});
        for (std::uint32_t a = 0; a < delays.size(); ++a)
            for (unsigned bit = 0; bit < 8; ++bit)
                if (!std::isnan(delays[a][bit])) fresh.set_delay(a, bit & 4, bit & 2, bit & 1, delays[a][bit]);
        fresh.update();
        fresh.require();
        ASSERT_EQ(kept.fingerprint(), fresh.fingerprint()) << where;
        const auto a = kept.report(), b = fresh.report();
        ASSERT_EQ(a.endpoints.size(), b.endpoints.size()) << where;
        for (size_t i = 0; i < a.endpoints.size(); ++i) {
            ASSERT_EQ(a.endpoints[i].endpoint, b.endpoints[i].endpoint) << where;
            ASSERT_EQ(a.endpoints[i].slack, b.endpoints[i].slack) << where << " " << a.endpoints[i].endpoint;
        }
        ASSERT_EQ(a.coverage.untimed.size(), b.coverage.untimed.size()) << where;
        ASSERT_EQ(a.messages.size(), b.messages.size()) << where;
        ASSERT_EQ(a.setup.tns, b.setup.tns) << where;
    }
};

TEST_F(Kept, HasTheBitsOfAFreshRunAfterEveryEdit) {
    std::mt19937 random(2026);
    size_t small = 0, edits = 0;
    for (int round = 0; round < 12; ++round) {
        const int registers = 10;
        const test::Circuit c(random_design(random, registers, 30), "create_clock -name c0 -period 8 c0");
        Text text;
        TimingEngine kept({c.netlist, c.library, constraints(text, c)}, {});
        kept.update();
        kept.require();
        std::vector<std::array<double, 8>> delays(kept.arcs());
        for (auto& d : delays) d.fill(std::nan(""));
        for (int edit = 0; edit < 60; ++edit) {
            std::string what;
            if (random() % 2) {
                const auto arc = static_cast<std::uint32_t>(random() % kept.arcs());
                const unsigned bit = random() % 8;
                const double ns = static_cast<double>(random() % 3000) / 1000;
                if (std::isnan(kept.delay(arc, bit & 4, bit & 2, bit & 1))) continue;
                delays[arc][bit] = ns;
                kept.set_delay(arc, bit & 4, bit & 2, bit & 1, ns);
                what = "delay of arc " + std::to_string(arc);
            } else {
                if (text.lines.size() > 3 && random() % 3 == 0)
                    text.lines.erase(text.lines.begin() + 3 + static_cast<long>(random() % (text.lines.size() - 3)));
                else
                    text.lines.push_back(random_line(random, registers));
                if (random() % 8 == 0)
                    text.lines[0] =
                        "create_clock -name c0 -period " + std::to_string(4 + random() % 8) + " [get_ports c0]";
                what = text.all();
                kept.set_constraints(constraints(text, c));
            }
            ASSERT_TRUE(kept.update());
            small += !kept.work().structure && !kept.work().ends;
            ++edits;
            same(kept, c, constraints(text, c), delays,
                 "round " + std::to_string(round) + " edit " + std::to_string(edit) + "\n" + what);
            if (HasFatalFailure()) return;
        }
    }
    EXPECT_GT(small, edits / 4);  // delays and I/O values are followed, not started anew
}

TEST_F(Kept, AnIoDelayIsFollowedOverItsConeOnly) {
    std::mt19937 random(5);
    const test::Circuit c(
        random_design(random, 40, 400),
        "create_clock -name c0 -period 8 [get_ports c0]\ncreate_clock -name c1 -period 8 [get_ports c1]\ncreate_clock "
        "-name c2 -period 8 [get_ports c2]\nset_input_delay -clock c0 1 {d[0]}\nset_output_delay -clock c0 1 {y[0]}");
    TimingEngine engine({c.netlist, c.library, c.constraints}, {});
    engine.update();
    auto k = c.constraints;
    for (auto& d : k.io_delays)
        if (!d.input) d.value = 2.5;
    engine.set_constraints(k);
    engine.update();
    EXPECT_FALSE(engine.work().structure || engine.work().ends);
    EXPECT_EQ(engine.work().recomputed, 0u);  // nothing arrives differently at an output whose outside got slower
    EXPECT_GE(engine.work().endpoints, 1u);
    k.files.push_back("another place");
    engine.set_constraints(k);
    engine.update();
    EXPECT_EQ(engine.work().endpoints, 0u);
}

TEST_F(Kept, WhatIfPutsEverythingBack) {
    std::mt19937 random(9);
    const test::Circuit c(random_design(random, 10, 30),
                          "create_clock -name c0 -period 8 [get_ports c0]\ncreate_clock -name c1 -period 8 [get_ports "
                          "c1]\ncreate_clock -name c2 -period 8 [get_ports c2]");
    TimingEngine engine({c.netlist, c.library, c.constraints}, {});
    engine.update();
    engine.require();
    const auto before = engine.fingerprint();
    const double wns = *engine.summary(CheckKind::setup).wns;
    for (const char* other :
         {"create_clock -name c0 -period 2 [get_ports c0]\ncreate_clock -name c1 -period 2 [get_ports "
          "c1]\ncreate_clock -name c2 -period 2 [get_ports c2]",
          "create_clock -name c0 -period 8 [get_ports c0]\ncreate_clock -name c1 -period 8 [get_ports "
          "c1]\ncreate_clock -name c2 -period 8 [get_ports c2]\nset_max_delay 0.1 -from [get_clocks c0] -to "
          "[get_clocks c0]\nset_max_delay 0.1 -from [get_clocks c1]\nset_max_delay 0.1 -from [get_clocks c2]"}) {
        const auto k = read_sdc({{"t.sdc", "", other}}, c.netlist, *c.index, c.library);
        double answer = 0;
        ASSERT_TRUE(engine.what_if(k, [&](const TimingEngine& e) { answer = *e.summary(CheckKind::setup).wns; }));
        EXPECT_LT(answer, wns);
        TimingEngine fresh({c.netlist, c.library, k}, {});
        fresh.update();
        EXPECT_EQ(answer, *fresh.summary(CheckKind::setup).wns);
        EXPECT_EQ(engine.fingerprint(), before);
    }
}

TEST_F(Kept, SlackAtAPinIsThatOfTheWorstPathThroughIt) {
    const test::Circuit c(
        "module m(input clk, input a, output y); wire q, n, m, o; R r1(.D(a),.CK(clk),.Q(q)); INV g1(.A(q),.Y(n)); BUF "
        "g2(.A(n),.Y(m)); R r2(.D(m),.CK(clk),.Q(o)); R r3(.D(n),.CK(clk),.Q(y)); endmodule",
        "create_clock -name c -period 5 clk");
    TimingEngine e({c.netlist, c.library, c.constraints}, {});
    e.update();
    // To r2/D: rise 0.2 + 0.5 + 1.0, fall 0.2 + 0.7 + 2.0; setup 0.1: slack 5 - 0.1 - 2.9 = 2.0. To r3/D: 5 - 0.1 - 0.9
    // = 4.0.
    EXPECT_NEAR(*e.slack(CheckKind::setup, "r2/D"), 2.0, 1e-12);
    EXPECT_NEAR(*e.slack(CheckKind::setup, "r3/D"), 4.0, 1e-12);
    EXPECT_NEAR(*e.pin_slack("g1/A", true), 2.0, 1e-12);
    EXPECT_NEAR(*e.pin_slack("r3/D", true), 4.0, 1e-12);
    EXPECT_NEAR(*e.arrival("g2/A", true, false), 0.9, 1e-12);
    EXPECT_NEAR(*e.pin_slack("g1/Y", false), 0.7 - 0.05, 1e-12);  // hold at r3: earliest 0.2 + 0.5, hold 0.05
    EXPECT_FALSE(e.slack(CheckKind::setup, "nowhere").has_value());
    const auto arc = e.arc("g2/A", "g2/Y");
    ASSERT_TRUE(arc.has_value());
    e.set_delay(*arc, true, false, false, 3.5);
    e.update();
    EXPECT_NEAR(*e.slack(CheckKind::setup, "r2/D"), 0.5, 1e-12);
    EXPECT_NEAR(*e.pin_slack("g1/A", true), 0.5, 1e-12);
}

TEST_F(Kept, CornersAreTimedSideBySideAndTheWorstIsNamed) {
    const test::Circuit c(
        "module m(input clk, input a, output y); wire q, n; R r1(.D(a),.CK(clk),.Q(q)); BUF g(.A(q),.Y(n)); R "
        "r2(.D(n),.CK(clk),.Q(y)); endmodule",
        "create_clock -name c -period 5 clk",
        "(DELAYFILE (TIMESCALE 1ns) (CELL (CELLTYPE \"BUF\") (INSTANCE g) (DELAY (ABSOLUTE (IOPATH A Y (0.1:1:3))))))");
    TimingOptions options;
    options.paths = 10;
    const auto corner = [&](const char* name, int member) {
        return TimingCorner{name, nullptr, &c.delays, {}, "", member, member};
    };
    TimingEngine e({c.netlist, c.library, c.constraints}, options, {corner("quick", 0), corner("slow", 2)});
    e.update();
    const auto r = e.report();
    // Setup is worst in slow: 5 - 0.1 - (0.2 + 3); hold in quick: 0.2 + 0.1 - 0.05.
    EXPECT_NEAR(test::slack(r, "setup", "r2/D"), 1.7, 1e-12);
    EXPECT_NEAR(test::slack(r, "hold", "r2/D"), 0.25, 1e-12);
    for (const auto& p : r.paths) {
        if (p.endpoint == "r2/D") EXPECT_EQ(p.corner, p.check == "setup" ? "slow" : "quick");
    }
    EXPECT_EQ(r.setup.endpoints, 1);
    // A library with other arcs is not a corner of this design.
    auto other = c.library;
    for (auto& cell : other.cells)
        if (cell.name == "BUF") cell.arcs.clear();
    const TimingEngine refused({c.netlist, c.library, c.constraints}, options,
                               {corner("quick", 0), TimingCorner{"other", &other, nullptr, {}, "", 0, 2}});
    ASSERT_TRUE(refused.refused().has_value());
    EXPECT_NE(refused.refused()->text.find("corner other"), std::string::npos);
}

TEST_F(Kept, ACancelledUpdateIsMadeUpFor) {
    std::mt19937 random(31);
    const test::Circuit c(random_design(random, 10, 30), "create_clock -name c0 -period 8 c0");
    TimingEngine a({c.netlist, c.library, c.constraints}, {}), b({c.netlist, c.library, c.constraints}, {});
    std::stop_source stop;
    stop.request_stop();
    EXPECT_FALSE(a.update(stop.get_token()));
    EXPECT_TRUE(a.update());
    b.update();
    EXPECT_EQ(a.fingerprint(), b.fingerprint());
}

}  // namespace
}  // namespace kp
