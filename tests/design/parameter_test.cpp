// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/model/parameter.hpp"

#include <gtest/gtest.h>

namespace kp {
namespace {

TEST(Parameter, NumbersOfEachBase) {
    // IEEE 1364-2005, 3.5.1: size, base, digits; underscores may stand between them.
    EXPECT_EQ(number_of("16'h7f80"), 0x7f80u);
    EXPECT_EQ(number_of("4'b0110"), 6u);
    EXPECT_EQ(number_of("8'O17"), 15u);
    EXPECT_EQ(number_of("8'd3"), 3u);
    EXPECT_EQ(number_of("32'hDEAD_beef"), 0xdeadbeefu);
    EXPECT_EQ(number_of("60"), 60u);
}

TEST(Parameter, WhatIsNoNumberIsNone) {
    for (const char* text : {"", "'h", "4'", "4'x1", "4'b2", "8'hgg", "8'd-1", "sixteen", "4'o8"})
        EXPECT_FALSE(number_of(text)) << text;
}

TEST(Parameter, IsFoundOnItsInstanceOnly) {
    Netlist n;
    n.cells.resize(3);
    n.cells[0].parameter = 0;
    n.cells[2].parameter = 2;
    n.parameters = {{0, "A", "1"}, {0, "B", "2"}, {2, "A", "3"}};
    EXPECT_EQ(*parameter_of(n, 0, "B"), "2");
    EXPECT_EQ(*parameter_of(n, 2, "A"), "3");
    EXPECT_EQ(parameter_of(n, 2, "B"), nullptr);
    EXPECT_EQ(parameter_of(n, 1, "A"), nullptr);
}

}  // namespace
}  // namespace kp
