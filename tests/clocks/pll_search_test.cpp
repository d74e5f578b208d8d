// SPDX-License-Identifier: GPL-3.0-or-later
// Settings of PLLs against an exhaustive search that shares no code with it, and against worked rates.
#include "core/clocks/pll_search.hpp"

#include <algorithm>
#include <gtest/gtest.h>
#include <random>
#include <tuple>

namespace kp::clocks {
namespace {

Part part(int outputs = 4) {
    Part p;
    p.name = "T";
    PllLimits l;
    l.name = "P0";
    l.input_mhz[0] = 5, l.input_mhz[1] = 200;
    l.detector_mhz[0] = 5, l.detector_mhz[1] = 100;
    l.vco_mhz[0] = 600, l.vco_mhz[1] = 1600;
    l.output_mhz[0] = 3, l.output_mhz[1] = 400;
    l.divide[1] = 16, l.multiply[1] = 80, l.output_divide[1] = 100;
    l.outputs = outputs;
    p.plls = {l};
    return p;
}

PllWish wish(const char* in, const std::vector<const char*>& want) {
    PllWish w;
    w.in = fraction_of(std::string_view(in)).take();
    for (const auto* f : want) w.want.push_back(fraction_of(std::string_view(f)).take());
    return w;
}

TEST(Fractions, AreReadExactly) {
    EXPECT_EQ(text_of(fraction_of(std::string_view("148.5/1.001")).value()), "13500/91");
    EXPECT_EQ(text_of(fraction_of(std::string_view("74.25")).value()), "297/4");
    EXPECT_EQ(text_of(fraction_of(0.1)), "1/10");
    EXPECT_EQ(text_of(signed_fraction_of("-22.5", "phase").value()), "-45/2");
    for (const char* wrong :
         {"", "0", "-5", "1e3", "25 MHz", "1/0", "1/2/3", ".", "1.2.3", "12345678901234567890", "nan"})
        EXPECT_FALSE(fraction_of(std::string_view(wrong))) << wrong;
}

// 25 MHz to the Ethernet rate: the arithmetic of any data sheet with these ranges, worked by hand: 25 * 40 = 1000,
// 1000 / 8 = 125, detector undivided.
TEST(PllSearch, AWorkedRate) {
    const auto found = search_pll(part(), wish("25", {"125"})).take();
    ASSERT_FALSE(found.solutions.empty());
    const auto& s = found.solutions.front();
    EXPECT_EQ(s.divide, 1);
    EXPECT_EQ(s.multiply, 60) << "the highest VCO that divides by whole numbers: 1500 / 12";
    EXPECT_EQ(s.outputs[0].divide, 12);
    EXPECT_EQ(s.worst_ppm, 0);
    EXPECT_EQ(generated_clocks(s, "pll/IN", {"pll/OUT"}, {"eth"}, 40)[0],
              "create_generated_clock -name eth -source [get_pins pll/IN] -multiply_by 5 [get_pins pll/OUT]");
}

// Video at 59.94 Hz: 148.5 / 1.001 MHz, CTA-861 (from memory). From 27 MHz no setting here is exact: 1.001 = 7 * 11 *
// 13 / 1000, and 11 * 13 would have to divide D * O.
TEST(PllSearch, ARateThatIsNotReachedAndOneThatIsBeyond) {
    auto w = wish("27", {"148.5/1.001"});
    const auto near = search_pll(part(), w).take();
    ASSERT_FALSE(near.solutions.empty());
    EXPECT_GT(near.solutions[0].worst_ppm, 0);
    w.within = near.solutions[0].worst_ppm / 2;
    const auto none = search_pll(part(), w).take();
    EXPECT_TRUE(none.solutions.empty());
    ASSERT_TRUE(none.nearest && none.limit);
    EXPECT_EQ(none.limit->what, "within");
    EXPECT_EQ(none.limit->value, near.solutions[0].worst_ppm);
    // 400 / 7 MHz from 100 wants a VCO of 400 or 800, and D or O of 7: inside. 1700 MHz / 4 is outside the VCO.
    const auto beyond = search_pll(part(), wish("100", {"400/17"})).take();
    ASSERT_TRUE(beyond.solutions.size());
    if (beyond.solutions[0].worst_ppm > 0) {
        ASSERT_TRUE(beyond.beyond_limit);
    }
}

TEST(PllSearch, NamesTheRangeThatLeavesNothing) {
    const auto limit = [](const Part& p, const PllWish& w) {
        const auto a = search_pll(p, w).take();
        EXPECT_TRUE(a.solutions.empty());
        EXPECT_EQ(a.legal, 0);
        EXPECT_FALSE(a.nearest);
        return a.limit ? a.limit->what : std::string();
    };
    EXPECT_EQ(limit(part(), wish("2", {"100"})), "input");
    EXPECT_EQ(limit(part(1), wish("25", {"100", "125"})), "outputs");
    auto p = part();
    p.plls[0].divide[1] = 1;
    EXPECT_EQ(limit(p, wish("150", {"100"})), "detector");
    p = part();
    p.plls[0].multiply[1] = 3;
    EXPECT_EQ(limit(p, wish("25", {"100"})), "vco");
    p = part();
    p.plls[0].output_mhz[1] = 4;
    EXPECT_EQ(limit(p, wish("25", {"100"})), "output");
    auto w = wish("25", {"100"});
    w.pll = "nowhere";
    EXPECT_FALSE(search_pll(part(), w));
    w = wish("25", {"100"});
    w.phase = {0, 1};
    EXPECT_FALSE(search_pll(part(), w));
    EXPECT_FALSE(search_pll({}, wish("25", {"100"})));
}

TEST(PllSearch, PhasesAreWholeEighthsOfTheVco) {
    auto w = wish("25", {"125", "125"});
    w.phase = {0, 90};
    const auto a = search_pll(part(), w).take();
    ASSERT_FALSE(a.solutions.empty());
    const auto& s = a.solutions[0];
    EXPECT_EQ(s.outputs[0].phase_steps, 0);
    EXPECT_EQ(s.outputs[1].divide, 12);
    EXPECT_EQ(s.outputs[1].phase_steps, 24) << "90 / (45 / 12)";
    EXPECT_EQ(s.outputs[1].phase_deg, 90);
    // A quarter of 8 ns is 2 ns; edges of the master at 0, 20 and 40 ns move to 2, 6 and 10.
    EXPECT_EQ(generated_clocks(s, "p/I", {"p/A", "p/B"}, {"a", "b"}, 40)[1],
              "create_generated_clock -name b -source [get_pins p/I] -edges {1 2 3} -edge_shift {2 -14 -30} "
              "[get_pins p/B]");
    w.phase = {0, -10};
    EXPECT_EQ(search_pll(part(), w).value().solutions[0].outputs[1].phase_deg, Fraction(1395, 4))
        << "-10 degrees are 2.67 steps back, so 3: 360 - 11.25";
}

/// All settings of a small PLL by five loops, in plain whole numbers over one denominator.
struct Exhaustive {
    using Key = std::tuple<Fraction, Fraction, Fraction, Fraction>;  // worst, sum, -detector, -VCO
    std::vector<Key> keys;
    Exhaustive(const PllLimits& l, const Fraction& in, const std::vector<Fraction>& want) {
        const auto inside = [](const Fraction& f, const double(&r)[2]) {
            return f >= Fraction(static_cast<long>(r[0])) && f <= Fraction(static_cast<long>(r[1]));
        };
        if (!inside(in, l.input_mhz)) return;
        for (int d = l.divide[0]; d <= l.divide[1]; ++d)
            for (int m = l.multiply[0]; m <= l.multiply[1]; ++m) {
                const Fraction detector = in / d, vco = in * m / d;
                if (!inside(detector, l.detector_mhz) || !inside(vco, l.vco_mhz)) continue;
                std::vector<std::vector<Fraction>> errors(want.size());
                for (size_t k = 0; k < want.size(); ++k)
                    for (int o = l.output_divide[0]; o <= l.output_divide[1]; ++o) {
                        const Fraction made = vco / o;
                        if (!inside(made, l.output_mhz)) continue;
                        const Fraction off = (made - want[k]) / want[k] * 1'000'000;
                        errors[k].push_back(off < 0 ? Fraction(-off) : off);
                    }
                if (want.size() == 1) {
                    for (const auto& a : errors[0]) keys.emplace_back(a, a, Fraction(-detector), Fraction(-vco));
                } else {
                    for (const auto& a : errors[0])
                        for (const auto& b : errors[1])
                            keys.emplace_back(std::max(a, b), Fraction(a + b), Fraction(-detector), Fraction(-vco));
                }
            }
        std::sort(keys.begin(), keys.end());
    }
};

TEST(PllSearch, EqualsAnExhaustiveSearchOnRandomTargets) {
    std::mt19937 random(17);
    const auto number = [&](int low, int high) { return static_cast<int>(random() % (high - low + 1)) + low; };
    for (int round = 0; round < 500; ++round) {
        auto p = part();
        auto& l = p.plls[0];
        l.divide[0] = number(1, 2), l.divide[1] = number(2, 4);
        l.multiply[0] = number(1, 3), l.multiply[1] = number(8, 24);
        l.output_divide[0] = number(1, 3), l.output_divide[1] = number(5, 14);
        l.vco_mhz[0] = number(100, 300), l.vco_mhz[1] = number(301, 900);
        l.output_mhz[0] = number(3, 30), l.output_mhz[1] = number(60, 400);
        PllWish w;
        w.in = Fraction(number(5000, 60000), 1000);
        for (int k = number(1, 2); k > 0; --k) w.want.push_back(Fraction(number(5000, 200000), number(1, 2) * 1000));
        w.best = 12;
        const Exhaustive all(l, w.in, w.want);
        const auto got = search_pll(p, w).take();
        ASSERT_EQ(got.legal, static_cast<long>(all.keys.size())) << round;
        ASSERT_EQ(got.solutions.size(), std::min<size_t>(12, all.keys.size())) << round;
        for (size_t i = 0; i < got.solutions.size(); ++i) {
            const auto& s = got.solutions[i];
            ASSERT_EQ(Exhaustive::Key(s.worst_ppm, s.sum_ppm, Fraction(-s.detector), Fraction(-s.vco)), all.keys[i])
                << round << " " << i;
            EXPECT_EQ(s.detector, w.in / s.divide);
            EXPECT_EQ(s.vco, s.detector * s.multiply);
            for (const auto& o : s.outputs) EXPECT_EQ(o.made, s.vco / o.divide);
        }
        if (got.solutions.empty()) EXPECT_TRUE(got.limit) << round;
    }
}

// What lies beyond the ranges is better than all that lies within, and says which range it leaves.
TEST(PllSearch, WhatIsBeyondIsBetterAndOutside) {
    std::mt19937 random(5);
    int seen = 0;
    for (int round = 0; round < 60; ++round) {
        PllWish w;
        w.in = Fraction(static_cast<int>(random() % 40000) + 5000, 1000);
        w.want = {Fraction(static_cast<int>(random() % 300000) + 3000, 1000)};
        const auto a = search_pll(part(), w).take();
        if (!a.beyond) continue;
        ++seen;
        ASSERT_TRUE(a.beyond_limit);
        EXPECT_TRUE(a.beyond_limit->value < a.beyond_limit->least || a.beyond_limit->value > a.beyond_limit->most);
        if (!a.solutions.empty()) EXPECT_LT(a.beyond->worst_ppm, a.solutions[0].worst_ppm);
        EXPECT_FALSE(sentence(*a.beyond_limit).empty());
    }
    EXPECT_GT(seen, 5);
}

// Sixteen outputs make more settings than a machine word counts; the list is there at once all the same.
TEST(PllSearch, ManyOutputs) {
    auto w = wish(
        "25", {"100", "125", "150", "200", "50", "75", "37.5", "10", "20", "30", "40", "60", "80", "90", "12", "15"});
    w.best = 200;
    const auto a = search_pll(part(16), w).take();
    EXPECT_EQ(a.solutions.size(), 200u);
    EXPECT_GT(a.legal, boost::multiprecision::cpp_int("18446744073709551616"));
    EXPECT_TRUE(std::is_sorted(a.solutions.begin(), a.solutions.end(),
                               [](const auto& x, const auto& y) { return x.worst_ppm < y.worst_ppm; }));
    w.want.emplace_back(5);
    EXPECT_FALSE(search_pll(part(32), w));
}

}  // namespace
}  // namespace kp::clocks
