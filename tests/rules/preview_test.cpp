// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rules/preview.hpp"

#include <gtest/gtest.h>

namespace kp {
namespace {

Finding make(const char* rule, const char* object, bool waived = false) {
    Finding f;
    f.rule = rule;
    f.objects = {{Subject::port, object}};
    if (waived) f.waived = Waiver{rule, {object}, "later", "me", "2026-11-23"};
    return f;
}

TEST(Preview, TellsWhatGoesAndComesByRuleAndObjects) {
    const auto c =
        compare_findings({make("L02", "a"), make("E03", "b"), make("E03", "c")}, {make("E03", "c"), make("L08", "a")});
    EXPECT_EQ(codes_of(c.gone), "E03, L02");
    EXPECT_EQ(codes_of(c.come), "L08");
}

TEST(Preview, EqualOnesAreCounted) {
    const auto c = compare_findings({make("D03", "x"), make("D03", "x"), make("D03", "x")}, {make("D03", "x")});
    EXPECT_EQ(codes_of(c.gone), "D03 (2)");
    EXPECT_TRUE(c.come.empty());
    EXPECT_EQ(codes_of(compare_findings({make("D03", "x")}, {make("D03", "x"), make("D03", "x")}).come), "D03");
}

TEST(Preview, WhatIsWaivedIsGone) {
    const auto c = compare_findings({make("L11", "a")}, {make("L11", "a", true)});
    EXPECT_EQ(codes_of(c.gone), "L11");
    EXPECT_TRUE(c.come.empty());
    EXPECT_EQ(codes_of({}), "");
}

}  // namespace
}  // namespace kp
