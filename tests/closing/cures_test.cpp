// SPDX-License-Identifier: GPL-3.0-or-later
// What would close a path: what is said before is what stands there afterwards.
#include "core/closing/cures.hpp"

#include "core/base/memory_disk.hpp"
#include "core/model/timing_words.hpp"
#include "core/closing/fix_many.hpp"
#include "core/session/session.hpp"

#include <gtest/gtest.h>

namespace kp {
namespace {

struct CuresOpened {
    MemoryDisk disk;
    std::unique_ptr<Session> session;
    CuresOpened(const std::string& demo, const std::string& project) {
        for (const auto* ending : {".kpeg", ".v", ".sdf", ".sdc"})
            for (const auto& path : real_disk().list(KP_SOURCE "/demo/" + demo, ending))
                disk.files["p/" + file_name_of(path)] = real_disk().read(path).take();
        for (const auto* folder : {"parts", "boards", "standards", "cells", "modules"})
            for (const auto* ending : {".json", ".lib"})
                for (const auto& path : real_disk().list(std::string(KP_SOURCE "/data/") + folder, ending))
                    disk.files[std::string("data/") + folder + "/" + file_name_of(path)] =
                        real_disk().read(path).take();
        auto opened = Session::open(disk, "p/" + project, "data");
        if (!opened) throw std::runtime_error(opened.first().sentence());
        session = opened.take();
        session->analyse_now();
    }
    [[nodiscard]] int failing() const { return verdict_of(session->analysis().timing()).failing; }
};

/// One failing path of each check and clock pair.
std::vector<TimingPath> failing_paths(const TimingReport& report) {
    std::vector<TimingPath> out;
    std::set<std::string> seen;
    for (const auto& p : report.paths)
        if (p.slack < 0 && seen.insert(p.check + p.launch_clock + p.capture_clock).second) out.push_back(p);
    return out;
}

std::optional<double> slack_of(const TimingReport& report, const std::string& check, const std::string& endpoint) {
    std::optional<double> out;
    for (const auto& e : report.endpoints)
        if (e.check == check && e.endpoint == endpoint && (!out || e.slack < *out)) out = e.slack;
    return out;
}

TEST(Cures, TakingOneGivesExactlyTheGainThatWasShown) {
    CuresOpened o("profiler", "profiler.kpeg");
    auto& s = *o.session;
    const auto paths = failing_paths(s.analysis().timing());
    ASSERT_GE(paths.size(), 3u);
    int tried = 0;
    std::set<CureKind> kinds;
    for (const auto& path : paths) {
        const auto now = s.snapshot();
        for (const auto& cure : cures_for(*now, path)) {
            const auto effect = effect_of(*now, cure, path);
            ASSERT_TRUE(effect.ok()) << cure.text << ": " << effect.first().sentence();
            ASSERT_TRUE(s.apply(cure.edit).ok()) << cure.text;
            s.analyse_now();
            const auto& then = s.analysis().timing();
            EXPECT_EQ(then.setup.wns, effect.value().setup.wns) << cure.text;
            EXPECT_EQ(then.hold.wns, effect.value().hold.wns) << cure.text;
            EXPECT_EQ(then.setup.tns, effect.value().setup.tns) << cure.text;
            EXPECT_EQ(verdict_of(then).failing, effect.value().failing) << cure.text;
            EXPECT_EQ(slack_of(then, path.check, path.endpoint), effect.value().slack) << cure.text;
            ASSERT_TRUE(s.undo().ok());
            s.analyse_now();
            ++tried;
            kinds.insert(cure.kind);
        }
    }
    EXPECT_GE(tried, 12);
    EXPECT_GE(kinds.size(), 4u);
}

TEST(Cures, OneThatIsForThePathClosesIt) {
    CuresOpened o("profiler", "profiler.kpeg");
    const auto now = o.session->snapshot();
    int closed = 0;
    for (const auto& path : failing_paths(o.session->analysis().timing()))
        for (const auto& cure : cures_for(*now, path)) {
            // These may help in part; and a path that starts where a clock is made has others beside it.
            if (cure.kind == CureKind::clock_network || cure.kind == CureKind::pad_delay) continue;
            if (path.startpoint.starts_with("pll/")) continue;
            const auto effect = effect_of(*now, cure, path);
            ASSERT_TRUE(effect.ok());
            // Other paths to the same endpoint may fail as well; of the path's own families none is worse than before.
            if (!effect.value().slack || *effect.value().slack >= 0) ++closed;
            if (effect.value().slack) EXPECT_GT(*effect.value().slack, path.slack) << cure.text;
        }
    EXPECT_GE(closed, 8);
}

TEST(Cures, APathThatIsMetHasNone) {
    CuresOpened o("profiler", "profiler-closed.kpeg");
    const auto now = o.session->snapshot();
    for (size_t i = 0; i < 20; ++i) EXPECT_TRUE(cures_for(*now, o.session->analysis().timing().paths[i]).empty());
    const auto few = closing_changes(*now);
    EXPECT_TRUE(few.edit.empty());
    EXPECT_EQ(few.before, 0);
}

TEST(Cures, FewChangesCloseWhatIsPlantedAndBringNothing) {
    CuresOpened o("profiler", "profiler.kpeg");
    auto& s = *o.session;
    const int before = o.failing();
    ASSERT_GT(before, 100);
    const auto few = closing_changes(*s.snapshot());
    EXPECT_EQ(few.before, before);
    ASSERT_FALSE(few.steps.empty());
    int left = before;
    for (const auto& step : few.steps) {
        EXPECT_LT(step.failing, left) << step.cure.text;
        left = step.failing;
        EXPECT_NE(step.cure.kind, CureKind::not_timed);
        std::cout << left << " after: " << step.cure.text << "\n";
    }
    for (const auto& l : few.left) std::cout << "left: " << l << "\n";
    const auto stops = count(s.findings()).stops;
    ASSERT_TRUE(s.apply(few.edit).ok());
    s.analyse_now();
    EXPECT_EQ(o.failing(), few.after);
    EXPECT_LE(count(s.findings()).stops, stops);
    ASSERT_TRUE(s.undo().ok());
    s.analyse_now();
    EXPECT_EQ(o.failing(), before);
}

TEST(Cures, StopsWhenAsked) {
    CuresOpened o("profiler", "profiler.kpeg");
    std::stop_source stop;
    stop.request_stop();
    const auto few = closing_changes(*o.session->snapshot(), 20, stop.get_token());
    EXPECT_TRUE(few.edit.empty());
    EXPECT_EQ(few.after, few.before);
}

}  // namespace
}  // namespace kp
