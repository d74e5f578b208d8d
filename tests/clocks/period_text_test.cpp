// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/clocks/period_text.hpp"

#include <gtest/gtest.h>

namespace kp::clocks {
namespace {

TEST(PeriodText, TimesFrequenciesAndFractions) {
    EXPECT_DOUBLE_EQ(*period_of("41.667"), 41.667);
    EXPECT_DOUBLE_EQ(*period_of(" 41.667 ns "), 41.667);
    EXPECT_DOUBLE_EQ(*period_of("24 MHz"), 1000.0 / 24);
    EXPECT_DOUBLE_EQ(*period_of("24MHz"), 1000.0 / 24);
    EXPECT_DOUBLE_EQ(*period_of("125/3"), 125.0 / 3);
    EXPECT_DOUBLE_EQ(*period_of("1000/24"), 1000.0 / 24);
    EXPECT_DOUBLE_EQ(*period_of("2.5 us"), 2500);
    EXPECT_DOUBLE_EQ(*period_of("500 ps"), 0.5);
    EXPECT_DOUBLE_EQ(*period_of("32.768 kHz"), 1e6 / 32.768);
    for (const char* none : {"", "abc", "0", "-5", "24 Volt", "1/0", "1/", "/3", "MHz", "1e999 ns"})
        EXPECT_FALSE(period_of(none)) << none;
    EXPECT_EQ(both_numbers(1000.0 / 24), "41.666667 ns, 24 MHz");
}

}  // namespace
}  // namespace kp::clocks
