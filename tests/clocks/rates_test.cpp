// SPDX-License-Identifier: GPL-3.0-or-later
// Counters against hand arithmetic, and the published display timings against their own totals.
#include "core/clocks/rates.hpp"

#include <cmath>
#include <cstdio>
#include <gtest/gtest.h>

namespace kp::clocks {
namespace {

TEST(Rates, DividersByHand) {
    // 25 MHz to 1 Hz: 25,000,000 cycles, so it counts to 24,999,999, which takes 25 bits (2^24 = 16,777,216).
    const auto second = divider(25, 1);
    EXPECT_EQ(second.terminal, 24'999'999u);
    EXPECT_EQ(second.width, 25);
    EXPECT_EQ(second.error_ppm, 0);
    EXPECT_EQ(second.shortened_terminal, 249'999);
    // 20 MHz to 440 Hz: 45,454.5…, so 45,455 cycles: 439.9956 Hz, 10 ppm too slow.
    const auto tone = divider(20, 440);
    EXPECT_EQ(tone.terminal, 45'454u);
    EXPECT_NEAR(tone.hz, 439.9956, 1e-4);
    EXPECT_NEAR(tone.error_ppm, -10.0, 0.1);
    EXPECT_EQ(divider(1, 5e6).terminal, 0u) << "nothing is faster than the clock";
    // 10 ms at 20 MHz: 200,000 cycles, 18 bits.
    EXPECT_EQ(divider(20, 1000 / 10.0).terminal, 199'999u);
    EXPECT_EQ(divider(20, 1000 / 10.0).width, 18);
}

TEST(Rates, ABitOfACounterTurnsTwiceForABlink) {
    // 20 MHz, bit 23: 2^23 = 8,388,608 cycles a turn: 2.384 turns, 1.192 blinks a second.
    EXPECT_NEAR(counter_bit(20, 23).toggles_hz, 2.384186, 1e-6);
    EXPECT_NEAR(counter_bit(20, 23).cycles_hz, 1.192093, 1e-6);
    EXPECT_EQ(blink_bit(20, 1), 23);
    EXPECT_EQ(blink_bit(20, 0.6), 24);
}

TEST(Rates, SerialRatesAndTheFrame) {
    // 20 MHz, 16 samples a bit, 115,200: 10.85 is rounded to 11: 113,636, 1.36 % slow; 9.5 bits later 0.129 bits, and
    // up to one sample of 1/16 at the start.
    const auto b = baud(20, 115200, 16);
    EXPECT_EQ(b.divide, 11u);
    EXPECT_NEAR(b.error_percent, -1.357, 1e-3);
    EXPECT_NEAR(b.frame_error_bits, 0.1289 + 0.0625, 1e-3);
    EXPECT_TRUE(b.usable());
    EXPECT_FALSE(baud(1, 115200, 16).usable());
    EXPECT_EQ(baud(18.432, 115200, 16).error_percent, 0) << "160 * 115,200: why such crystals are made";
}

// Each published pixel clock is its totals times its frame rate, within the half percent that VESA and CTA round or
// tolerate.
TEST(Rates, DisplayTimingsAgreeWithTheirTotals) {
    int checked = 0;
    for (const auto& r : published_rates()) {
        int h = 0, v = 0, ht = 0, vt = 0;
        double frames = 0;
        if (std::sscanf(r.what, "%d x %d at %lf Hz (%d x %d)", &h, &v, &frames, &ht, &vt) != 5) continue;
        ++checked;
        EXPECT_NEAR(ht * vt * frames * 1e-6, r.mhz, 0.005 * r.mhz) << r.what;
        EXPECT_GT(ht, h);
        EXPECT_GT(vt, v);
    }
    EXPECT_EQ(checked, 17);
}

TEST(Rates, WhatAnOscillatorGivesWithoutAPll) {
    const auto near = near_rates(50, 8000);
    ASSERT_FALSE(near.empty());
    EXPECT_EQ(near[0].error_ppm, 0);
    bool display = false;
    for (const auto& n : near)
        if (n.rate->mhz == 25.175) {
            display = true;
            EXPECT_EQ(n.divide, 2);
            EXPECT_NEAR(n.error_ppm, (25.0 / 25.175 - 1) * 1e6, 1e-6);
        }
    EXPECT_TRUE(display) << "25 MHz is 0.7 % from the display's 25.175";
    for (size_t i = 1; i < near.size(); ++i) EXPECT_LE(std::fabs(near[i - 1].error_ppm), std::fabs(near[i].error_ppm));
}

}  // namespace
}  // namespace kp::clocks
