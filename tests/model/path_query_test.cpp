// SPDX-License-Identifier: GPL-3.0-or-later
// The filter line of Slack, and why a path fails.
#include "core/model/path_cause.hpp"
#include "core/model/path_query.hpp"

#include <gtest/gtest.h>

namespace kp {
namespace {

TimingPath path(const char* check, double slack, double launch, double capture, std::vector<PathPoint> points) {
    TimingPath p;
    p.check = check;
    p.startpoint = "a_reg/CK";
    p.endpoint = "sum_reg[3]/D";
    p.slack = slack;
    p.launch_clock = p.capture_clock = "sys";
    p.launch_edge = launch;
    p.capture_edge = capture;
    p.points = std::move(points);
    p.arrival = launch;
    for (const auto& x : p.points) p.arrival += x.delay;
    const bool hold = p.check == "hold";
    p.required = hold ? p.arrival - slack : p.arrival + slack;
    if (!hold) p.check_time = capture - p.required;  // the clock comes to both ends at once
    return p;
}
PathPoint point(PointKind kind, double delay, const char* cell = "") {
    return {"p", true, kind, delay, 0, cell, std::string_view(cell).starts_with("SK_PAD")};
}
const std::vector<ClockReport> clocks_of_path_query{{"sys", 10, {0, 5}, false, {}, {}, 0},
                                                    {"eth", 8, {0, 4}, false, {}, {}, 0}};

TEST(PathCause, EachHasItsThreshold) {
    const auto why = [](const TimingPath& p) { return why_failing(p, clocks_of_path_query).cause; };
    EXPECT_EQ(why(path("setup", 0.1, 0, 10, {})), PathCause::met);
    // Seven cells of 1 ns and 4 ns of wire: more than six cells.
    std::vector<PathPoint> many(7, point(PointKind::cell, 1, "LOOK"));
    many.push_back(point(PointKind::wire, 4));
    EXPECT_EQ(why(path("setup", -1, 0, 10, many)), PathCause::levels);
    EXPECT_EQ(levels_of(path("setup", -1, 0, 10, many)), 7);
    // 7 of 10 ns are wire.
    EXPECT_EQ(why(path("setup", -1, 0, 10, {point(PointKind::cell, 3, "LOOK"), point(PointKind::wire, 7)})),
              PathCause::wires);
    EXPECT_EQ(why(path("setup", -1, 0, 10, {point(PointKind::cell, 6, "SK_PAD_OUTPUT"), point(PointKind::wire, 4)})),
              PathCause::pad);
    // An input delay of 7 of 10 ns.
    EXPECT_EQ(why(path("setup", -1, 0, 10, {point(PointKind::input_delay, 7), point(PointKind::cell, 4, "LOOK")})),
              PathCause::board);
    auto crossing = path("setup", -1, 0, 2, {point(PointKind::cell, 3, "LOOK")});
    crossing.launch_clock = "eth";
    EXPECT_EQ(why(crossing), PathCause::clocks) << "2 ns between edges of 8 and 10 ns";
    auto tight = path("setup", -1, 0, 0.1, {point(PointKind::cell, 1, "LOOK")});
    tight.check_time = 0.1;
    EXPECT_EQ(why(tight), PathCause::constraint);
    EXPECT_EQ(why(path("setup", -0.1, 0, 10, {point(PointKind::cell, 5, "LOOK"), point(PointKind::wire, 5)})),
              PathCause::little);
    // Hold: the capturing clock comes 2 ns late, data take 0.5 ns.
    auto hold = path("hold", -1.5, 0, 0, {point(PointKind::launch, 0), point(PointKind::cell, 0.5, "LOOK")});
    EXPECT_EQ(why(hold), PathCause::hold_by_skew);
    // Setup: the clock leaves 3 ns late and arrives at once.
    auto skew = path("setup", -1, 0, 10,
                     {point(PointKind::launch, 3), point(PointKind::cell, 4, "LOOK"), point(PointKind::wire, 4)});
    skew.required = 10;
    skew.check_time = 0;
    EXPECT_EQ(why(skew), PathCause::skew);
    for (const auto& p : {crossing, tight, hold, skew}) EXPECT_FALSE(why_failing(p, clocks_of_path_query).text.empty());
}

TEST(PathCause, WhatFailingPathsHaveInCommonIsCounted) {
    TimingReport r;
    r.clocks = clocks_of_path_query;
    EXPECT_EQ(common_causes(r), "");
    for (int i = 0; i < 3; ++i)
        r.paths.push_back(path("setup", -1, 0, 10, std::vector<PathPoint>(8, point(PointKind::cell, 1, "LOOK"))));
    r.paths.push_back(path("setup", -1, 0, 10, {point(PointKind::cell, 3, "LOOK"), point(PointKind::wire, 7)}));
    r.paths.push_back(path("setup", 1, 0, 10, {}));
    EXPECT_EQ(common_causes(r), "levels (sys) 3, wires (sys) 1");
    EXPECT_EQ(common_causes(r, 1), "levels (sys) 3, others 1");
}

TEST(PathQuery, TermsAllHaveToHold) {
    EndpointSlack e{"setup", "sum_reg[3]/D", true, -0.4, "sys", "eth", ""};
    auto p = path("setup", -0.4, 0, 10, std::vector<PathPoint>(8, point(PointKind::cell, 1, "LOOK")));
    p.points[2].pin = "u_mid/Y";
    const auto fits = [&](const char* text) {
        const auto q = PathQuery::parse(text);
        EXPECT_TRUE(q) << text;
        return q && q.value().fits(e, &p, clocks_of_path_query);
    };
    for (const char* yes : {"", "sum", "SUM_REG", "from:a_reg", "to:sum*", "through:mid", "clock:eth", "slack<0",
                            "levels>7", "levels<9", "cause:levels", "from:a to:sum slack<-0.3 clock:sys", "  sum  "})
        EXPECT_TRUE(fits(yes)) << yes;
    for (const char* no : {"nowhere", "from:sum", "to:sum", "to:sum_reg", "through:z", "clock:mem", "slack<-1",
                           "levels>8", "cause:wires", "from:a to:b", "to:su?"}) {
        if (std::string_view(no) == "to:sum" || std::string_view(no) == "to:sum_reg") continue;
        EXPECT_FALSE(fits(no)) << no;
    }
    EXPECT_FALSE(PathQuery::parse("slack<x"));
    EXPECT_FALSE(PathQuery::parse("from:"));
    EXPECT_FALSE(PathQuery::parse("levels>"));
    EXPECT_FALSE(PathQuery::parse("slack<1").value().needs_path());
    EXPECT_TRUE(PathQuery::parse("from:a").value().needs_path());
    EXPECT_FALSE(PathQuery::parse("from:a").value().fits(e, nullptr, clocks_of_path_query))
        << "without a path it cannot be said";
    EXPECT_TRUE(PathQuery::parse("from:x to:y").value().fits(UnconstrainedPath{"xx", "yy", 1, 1}));
    EXPECT_FALSE(PathQuery::parse("slack<1").value().fits(UnconstrainedPath{"xx", "yy", 1, 1}));
}

}  // namespace
}  // namespace kp
