// SPDX-License-Identifier: GPL-3.0-or-later
// The verdict of a build on values: what hides what, and what counts as not looked at.
#include "core/build_flow/verdict.hpp"

#include <gtest/gtest.h>

namespace kp::build_flow {
namespace {

TimingReport timed(int endpoints, int constrained) {
    TimingReport r;
    r.coverage.endpoints = endpoints;
    r.coverage.constrained = constrained;
    r.setup.endpoints = constrained;
    return r;
}

TEST(BuildVerdict, EveryKindOfCheckCounts) {
    for (auto kind : {&TimingReport::setup, &TimingReport::hold, &TimingReport::recovery, &TimingReport::removal,
                      &TimingReport::pulse_width, &TimingReport::period}) {
        auto r = timed(4, 4);
        EXPECT_EQ(verdict_of({}, r), BuildVerdict::met);
        (r.*kind).failing = 1;
        (r.*kind).endpoints = 4;
        (r.*kind).wns = -0.1;
        EXPECT_EQ(verdict_of({}, r), BuildVerdict::missed);
    }
}

TEST(BuildVerdict, WhatIsWorseHidesWhatIsBetter) {
    auto r = timed(4, 3);
    EXPECT_EQ(verdict_of({}, r), BuildVerdict::not_constrained);
    r.hold.failing = 2;
    r.hold.endpoints = 3;
    r.hold.wns = -1;
    EXPECT_EQ(verdict_of({}, r), BuildVerdict::missed);
    ConstraintUse use;
    use.without_effect.push_back({"a.sdc", 3, "nothing"});
    EXPECT_EQ(verdict_of(use, r), BuildVerdict::missed) << "what has no effect is told, and decides nothing";
    use.refused.push_back({"a.sdc", 7, "no such port"});
    EXPECT_EQ(verdict_of(use, r), BuildVerdict::constraints_refused);
}

TEST(BuildVerdict, LinesAreSortedByWhatBecameOfThem) {
    Constraints k;
    k.messages = {{Severity::stop, Code::no_match, "no port x", "a.sdc", 2},
                  {Severity::caution, Code::not_portable, "'other' is not portable", "a.sdc", 3},
                  {Severity::caution, Code::clock_twice, "twice", "a.sdc", 4}};
    TimingReport r;
    r.messages = {{Severity::note, Code::unused_exception, "no path", "b.sdc", 9}};
    const auto use = use_of(k, r);
    ASSERT_EQ(use.refused.size(), 1U);
    EXPECT_EQ(use.refused[0].line, 2);
    ASSERT_EQ(use.without_effect.size(), 2U);
    EXPECT_EQ(use.without_effect[1].file, "b.sdc");
}

}  // namespace
}  // namespace kp::build_flow
