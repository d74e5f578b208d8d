// SPDX-License-Identifier: GPL-3.0-or-later
// handoff, compare and log as a script sees them.
#include "core/base/checksum.hpp"
#include "tests/kpeg/runner.hpp"

#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

namespace {

using namespace kpeg_test;
namespace fs = std::filesystem;

/// The large demo in a folder of its own.
struct HandoffProfiler {
    fs::path folder = fs::path(testing::TempDir()) / ("handoff_" + std::to_string(getpid()));
    HandoffProfiler() {
        fs::remove_all(folder);
        fs::copy(KP_SOURCE "/demo/profiler", folder);
        // Whoever worked on the demo here may have left a log; a clone has none.
        for (const auto& entry : fs::directory_iterator(folder))
            if (entry.path().extension() == ".log") fs::remove(entry.path());
    }
    /// Run 1 of the log: the project as it ships.
    void log_a_run() const { EXPECT_LE(run("fix " + (*this / "profiler.kpeg") + " P03 --json -").status, 1); }
    ~HandoffProfiler() {
        std::error_code ignored;
        fs::remove_all(folder, ignored);
    }
    [[nodiscard]] std::string operator/(const std::string& file) const { return (folder / file).string(); }
};

TEST(KpegHandoff, IsTheSameToTheByteAndNamesEveryFile) {
    const HandoffProfiler p;
    std::ofstream(p / "mine.pins.mustache") << "{{#ports}}{{port}} at {{pin}}\n{{/ports}}";
    const auto a = run("handoff " + (p / "profiler-closed.kpeg") + " --out " + (p / "one") + " --json -");
    ASSERT_EQ(a.status, 0) << a.err;
    ASSERT_EQ(run("handoff " + (p / "profiler-closed.kpeg") + " --out " + (p / "two") + " --json -").status, 0);
    const auto manifest = nlohmann::json::parse(slurp(p / "one/manifest.json"));
    std::map<std::string, std::string> sums;
    for (const auto& f : manifest["files"]) sums[f["name"]] = f["sha256"];
    size_t files = 0;
    for (const auto& entry : fs::directory_iterator(p / "one")) {
        const auto name = entry.path().filename().string();
        EXPECT_EQ(slurp(entry.path().string()), slurp(p / ("two/" + name))) << name;
        if (name == "manifest.json") continue;
        ++files;
        EXPECT_EQ(kp::sha256(slurp(entry.path().string())), sums[name]) << name;
    }
    EXPECT_EQ(files, sums.size());
    for (const char* name : {"profiler.v", "adapter.v", "adapter.sdc", "adapter-pins.csv", "findings.sarif",
                             "waivers.json", "checklist.md", "report.html", "pins.csv", "mine.pins"})
        EXPECT_TRUE(sums.contains(name)) << name;
    EXPECT_EQ(manifest["design_in_order"], nlohmann::json::array({"profiler.v"}));
    EXPECT_EQ(manifest["top"], "profiler");
    // Written again over itself it is as it was; over somebody else's file it is refused.
    EXPECT_EQ(run("handoff " + (p / "profiler-closed.kpeg") + " --out " + (p / "one") + " --json -").status, 0);
    std::ofstream(p / "one/pins.csv", std::ios::app) << "mine";
    EXPECT_EQ(run("handoff " + (p / "profiler-closed.kpeg") + " --out " + (p / "one") + " --json -").status, 2);
}

TEST(KpegHandoff, IsHeldByStopsUnlessSomebodySaysWhy) {
    const HandoffProfiler p;
    const auto held = run("handoff " + (p / "profiler.kpeg") + " --out " + (p / "out") + " --json -");
    EXPECT_EQ(held.status, 1);
    const auto j = nlohmann::json::parse(held.out);
    EXPECT_FALSE(j["written"].get<bool>());
    EXPECT_GT(j["refused"].size(), 3u);
    EXPECT_FALSE(fs::exists(p / "out"));
    const auto a =
        run("handoff " + (p / "profiler.kpeg") + " --out " + (p / "out") + " --open-stops 'for review' --json -");
    EXPECT_EQ(a.status, 0) << a.err;
    EXPECT_EQ(nlohmann::json::parse(slurp(p / "out/manifest.json"))["despite_open_stops"], "for review");
}

TEST(KpegCompare, ProjectsRunsAndTimingResults) {
    const HandoffProfiler p;
    p.log_a_run();
    const auto same = run("compare " + (p / "profiler.kpeg") + " " + (p / "profiler.kpeg") + " --json -");
    EXPECT_EQ(same.status, 0) << same.out;
    const auto d = run("compare " + (p / "profiler.kpeg") + " " + (p / "profiler-closed.kpeg") + " --json -");
    ASSERT_EQ(d.status, 1) << d.err;
    const auto j = nlohmann::json::parse(d.out);
    bool tone = false, clock = false;
    for (const auto& row : j["pins"]) tone |= row["port"] == "tone" && row["a"].is_null();
    for (const auto& row : j["constraints"])
        clock |= row["command"] == "create_clock" &&
                 row["a"] == "create_clock -name osc_25 -period 50 [get_ports osc_25]" &&
                 row["b"] == "create_clock -name osc_25 -period 40 [get_ports osc_25]";
    EXPECT_TRUE(tone);
    EXPECT_TRUE(clock);
    EXPECT_GT(j["slack"].size(), 100u);
    EXPECT_FALSE(j["messages"]["gone"].empty());
    // Layout and comments are not a difference.
    auto text = slurp(p / "profiler-clocks.sdc");
    fs::copy(KP_SOURCE "/demo/profiler", p / "other");
    std::ofstream(p / "other/profiler-clocks.sdc") << "# another remark\n\n"
                                                   << text.replace(text.find(" -period"), 8, " \\\n   -period");
    const auto layout = run("compare " + (p / "profiler.kpeg") + " " + (p / "other/profiler.kpeg") + " --json -");
    ASSERT_LE(layout.status, 1) << layout.err;
    EXPECT_TRUE(nlohmann::json::parse(layout.out)["constraints"].empty()) << layout.out;
    // A run of the log against the project, and a result of time against itself.
    EXPECT_EQ(run("compare '" + (p / "profiler.kpeg") + "#1' " + (p / "profiler.kpeg") + " --json -").status, 0);
    EXPECT_EQ(run("compare '" + (p / "profiler.kpeg") + "#77' " + (p / "profiler.kpeg") + " --json -").status, 2);
    EXPECT_LE(run("time " + (p / "profiler.kpeg") + " --all-endpoints --json " + (p / "t.json")).status, 1);
    EXPECT_EQ(run("compare " + (p / "t.json") + " " + (p / "t.json") + " --json -").status, 0);
    EXPECT_EQ(run("compare " + (p / "t.json") + " " + (p / "profiler.v") + " --json -").status, 2);
}

TEST(KpegLog, ListsRunsAndRestoresOne) {
    const HandoffProfiler p;
    EXPECT_TRUE(nlohmann::json::parse(run("log " + (p / "profiler.kpeg") + " --json -").out)["runs"].empty());
    p.log_a_run();
    ASSERT_EQ(run("set " + (p / "profiler.kpeg") + " lamp[0].drive=4 --json -").status, 0);
    const auto list = run("log " + (p / "profiler.kpeg") + " --json -");
    ASSERT_EQ(list.status, 0) << list.err;
    ASSERT_GE(nlohmann::json::parse(list.out)["runs"].size(), 1u);
    const auto back = run("log " + (p / "profiler.kpeg") + " --restore 1 --json -");
    ASSERT_EQ(back.status, 0) << back.err;
    EXPECT_EQ(nlohmann::json::parse(back.out)["restored"], 1);
    EXPECT_EQ(run("compare '" + (p / "profiler.kpeg") + "#1' " + (p / "profiler.kpeg") + " --json -").status, 0);
    EXPECT_EQ(run("log " + (p / "profiler.kpeg") + " --restore 9 --json -").status, 2);
}

}  // namespace
