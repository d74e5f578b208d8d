// SPDX-License-Identifier: GPL-3.0-or-later
// A path that is asked for alone is the one of the report, and its parts add up to what is required.
#include "core/session/analysis.hpp"
#include "core/format/json/project_json.hpp"
#include "core/session/timekeeper.hpp"

#include <gtest/gtest.h>

#include <cmath>

namespace kp {
namespace {

struct DetailTimed {
    std::shared_ptr<const World> world;
    Timekeeper keeper;
    std::shared_ptr<const Analysis> analysis;
    explicit DetailTimed(const std::string& file, bool propagated = false) {
        const std::string path = std::string(KP_SOURCE "/demo/") + file;
        auto project = read_project(real_disk().read(path).value(), path).take().project;
        for (auto& sdc : project.constraints) sdc.text = real_disk().read(join_path(folder_of(path), sdc.path)).take();
        world = load_world(real_disk(), project, folder_of(path), KP_SOURCE "/data").take();
        TimingOptions options;
        options.propagated = propagated;
        options.paths = 3000;
        analysis = analyse(world, project, "", options, keeper);
    }
};

class PathDetailOf : public testing::TestWithParam<std::pair<const char*, bool>> {};

TEST_P(PathDetailOf, EachEndpointIsTheReportsPath) {
    DetailTimed t(GetParam().first, GetParam().second);
    const auto& report = t.analysis->timing();
    ASSERT_FALSE(report.paths.empty());
    size_t looked = 0;
    ASSERT_TRUE(t.keeper.ask([&](const TimingEngine& engine) {
        for (size_t i = 0; i < report.paths.size(); i += 1 + report.paths.size() / 60) {
            const auto& path = report.paths[i];
            const auto found = engine.paths_to(path.check, path.endpoint, 4);
            ASSERT_FALSE(found.empty()) << path.endpoint;
            const auto& d = found[0];
            EXPECT_EQ(d.path.slack, path.slack) << path.endpoint;
            EXPECT_EQ(d.path.points.size(), path.points.size());
            EXPECT_EQ(d.loads.size(), path.points.size());
            for (size_t k = 1; k < found.size(); ++k) EXPECT_GE(found[k].path.slack, found[k - 1].path.slack - 1e-9);
            // What is required: the capturing edge with its clock, less check and uncertainty, and the credit.
            const bool late = path.check == "setup" || path.check == "recovery";
            const double sign = late ? -1 : 1;
            if (path.exception.empty() && !path.capture_clock.empty())
                EXPECT_NEAR(path.required,
                            path.capture_edge + d.capture_latency + sign * (path.check_time + path.uncertainty) -
                                sign * path.credit,
                            1e-6)
                    << path.check << " " << path.endpoint;
            if (!d.launch_way.empty()) EXPECT_NEAR(d.launch_way.back().arrival, d.launch_latency, 1e-6);
            if (!d.capture_way.empty()) EXPECT_NEAR(d.capture_way.back().arrival, d.capture_latency, 1e-6);
            ++looked;
        }
    }));
    EXPECT_GT(looked, 10u);
}

INSTANTIATE_TEST_SUITE_P(Demos, PathDetailOf,
                         testing::Values(std::pair{"vane/vane-closed.kpeg", false},
                                         std::pair{"profiler/profiler-closed.kpeg", false},
                                         std::pair{"profiler/profiler-closed.kpeg", true}));

TEST(PathDetailFree, TakesAsLongAsTheReportSays) {
    DetailTimed t("profiler/profiler.kpeg");
    const auto& report = t.analysis->timing();
    ASSERT_FALSE(report.unconstrained.empty());
    ASSERT_TRUE(t.keeper.ask([&](const TimingEngine& engine) {
        for (const auto& u : report.unconstrained) {
            const auto d = engine.free_path(u.startpoint, u.endpoint);
            ASSERT_TRUE(d.has_value()) << u.startpoint << " to " << u.endpoint;
            EXPECT_NEAR(d->path.arrival, u.max_delay, 1e-9);
            double sum = 0;
            for (const auto& p : d->path.points) sum += p.delay;
            EXPECT_NEAR(sum, u.max_delay, 1e-9);
            EXPECT_EQ(d->path.points.front().pin, u.startpoint);
            EXPECT_EQ(d->path.points.back().pin, u.endpoint);
        }
        EXPECT_FALSE(engine.free_path("nobody", "nowhere").has_value());
        EXPECT_TRUE(engine.paths_to("setup", "nowhere", 3).empty());
        EXPECT_FALSE(engine.clock_path("nobody", "nowhere").has_value());
    }));
}

}  // namespace
}  // namespace kp
