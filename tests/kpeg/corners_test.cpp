// SPDX-License-Identifier: GPL-3.0-or-later
// Corners of a project are those of the command line, to the digit.
#include "core/format/json/json_text.hpp"
#include "tests/kpeg/runner.hpp"

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

namespace {

using namespace kpeg_test;
using Json = nlohmann::json;

Json without_seconds(const std::string& text) {
    auto j = Json::parse(text);
    for (const char* key : {"seconds", "peak_rss_mb", "project"}) j.erase(key);
    return j;
}

TEST(KpegCorners, OfAProjectAreThoseOfTheCommandLine) {
    const Demo d("corners");
    const auto by_command = run("time " + (d / "vane.kpeg") +
                                " --corner slow,late-factor=1.1 --corner quick,late=min,early-factor=0.9 --json -");
    ASSERT_LE(by_command.status, 1) << by_command.err;
    auto project = Json::parse(slurp(d / "vane.kpeg"));
    project["corners"] = {"slow,late-factor=1.1", "quick,late=min,early-factor=0.9"};
    std::ofstream(d / "vane.kpeg") << project.dump(1);
    const auto by_project = run("time " + (d / "vane.kpeg") + " --json -");
    ASSERT_EQ(by_project.status, by_command.status) << by_project.err;
    const auto a = without_seconds(by_command.out), b = without_seconds(by_project.out);
    EXPECT_EQ(a["summary"], b["summary"]);
    EXPECT_EQ(a["corners"], b["corners"]);
    EXPECT_EQ(a["paths"], b["paths"]);
    EXPECT_EQ(b["corners"].size(), 2u);
    // A line of SDC is tried in all of them.
    const auto what_if =
        run("time " + (d / "vane.kpeg") + " --what-if 'set_clock_uncertainty 1 [all_clocks]' --json -");
    ASSERT_LE(what_if.status, 1) << what_if.err;
    EXPECT_LT(Json::parse(what_if.out)["what_if"]["setup"]["wns"].get<double>(),
              b["summary"]["setup"]["wns"].get<double>());
}

TEST(KpegCorners, AMistakeIsOneSentence) {
    const Demo d("corners_wrong");
    auto project = Json::parse(slurp(d / "vane.kpeg"));
    for (const char* wrong : {"slow,pace=2", "sdf=a.sdf", "slow,sdf=nowhere.sdf"}) {
        project["corners"] = {wrong};
        std::ofstream(d / "vane.kpeg") << project.dump(1);
        const auto a = run("time " + (d / "vane.kpeg") + " --json -");
        EXPECT_EQ(a.status, 2) << wrong;
        EXPECT_FALSE(a.err.empty());
        EXPECT_EQ(std::count(a.err.begin(), a.err.end(), '\n'), 1) << a.err;
    }
}

TEST(KpegCorners, SetWritesThem) {
    const Demo d("corners_set");
    ASSERT_EQ(run("set " + (d / "vane.kpeg") + " 'corners=slow,late-factor=1.2;fast,late=min'").status, 0);
    const auto project = Json::parse(slurp(d / "vane.kpeg"));
    EXPECT_EQ(project["corners"], Json::array({"slow,late-factor=1.2", "fast,late=min"}));
    EXPECT_EQ(run("set " + (d / "vane.kpeg") + " corners=fast,pace=3").status, 2);
    EXPECT_EQ(run("set " + (d / "vane.kpeg") + " interfaces=a").status, 2);
}

}  // namespace
