// SPDX-License-Identifier: GPL-3.0-or-later
// Geometry as values: no window.
#include "app/paint/footprint_map.hpp"
#include "app/paint/time_axis.hpp"
#include "app/slack/charts.hpp"
#include "core/base/disk.hpp"
#include "core/format/json/world_json.hpp"

#include <gtest/gtest.h>
#include <numeric>

namespace kp::app {
namespace {

Part part(const char* file) {
    return read_part(real_disk().read(std::string(KP_SOURCE "/data/parts/") + file).value(), file).take();
}

TEST(FootprintMap, EveryPinIsFoundWhereItIsDrawn) {
    for (const char* file : {"skr11-q144.part.json", "skr23-b256.part.json"})
        for (const bool below : {false, true}) {
            const auto p = part(file);
            const FootprintMap m(p, {10, 10, 700, 650}, FootprintLook{below, 0, 1, {}});
            ASSERT_EQ(m.pins.size(), p.pins.size());
            for (size_t i = 0; i < m.pins.size(); ++i) {
                EXPECT_EQ(m.at(m.pins[i].center()), static_cast<int>(i)) << file;
                for (size_t k = 0; k < i; ++k)
                    EXPECT_FALSE(m.pins[i].intersects(m.pins[k])) << file << " " << i << " " << k;
            }
            EXPECT_EQ(m.at({-50, -50}), -1);
        }
}

TEST(FootprintMap, AQuadFlatCountsAgainstTheClockFromTheUpperLeft) {
    // Pin order of quad flat packages seen from above: common practice, no source.
    const auto p = part("skr11-q144.part.json");
    const FootprintMap m(p, {0, 0, 600, 600});
    const auto at = [&](const char* pin) { return m.pins[p.by_name.at(pin)].center(); };
    EXPECT_LT(at("1").y(), at("36").y());
    EXPECT_LT(at("37").x(), at("72").x());
    EXPECT_GT(at("73").y(), at("108").y());
    EXPECT_GT(at("109").x(), at("144").x());
    EXPECT_LT(at("1").x(), at("73").x());
    EXPECT_GT(at("37").y(), at("109").y());
}

TEST(TimeAxis, GoesThereAndBack) {
    for (const double span : {1e-3, 1.0, 1e6}) {
        const TimeAxis axis{-span, span, 30, 900};
        for (const double x : {30.0, 465.0, 900.0}) EXPECT_NEAR(axis.x(axis.ns(x)), x, 1e-6);
        const auto ticks = axis.ticks(60);
        ASSERT_GE(ticks.size(), 3u);
        for (size_t i = 1; i < ticks.size(); ++i) EXPECT_GE(axis.x(ticks[i]) - axis.x(ticks[i - 1]), 60 - 1e-6);
    }
}

TEST(Histogram, CountsEverySlackOnceAndHasABorderAtZero) {
    const std::vector<double> slacks{-0.412, -0.1, 0, 0.2, 3.7, 3.7001};
    const Histogram h(slacks, 20);
    EXPECT_EQ(std::accumulate(h.counts.begin(), h.counts.end(), 0), 6);
    const double zero = -h.low / h.width;
    EXPECT_NEAR(zero, std::round(zero), 1e-9);
    int missed = 0;
    for (size_t i = 0; i < static_cast<size_t>(std::llround(zero)); ++i) missed += h.counts[i];
    EXPECT_EQ(missed, 2);
}

}  // namespace
}  // namespace kp::app
