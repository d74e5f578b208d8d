// SPDX-License-Identifier: GPL-3.0-or-later
// The engine a session keeps: edits are followed, and what it says is what a run from the start says.
#include "core/session/timekeeper.hpp"

#include "core/session/analysis.hpp"
#include "core/format/json/project_json.hpp"
#include "core/format/sdc/read.hpp"
#include "core/closing/what_if.hpp"

#include <gtest/gtest.h>

namespace kp {
namespace {

struct TimekeeperOpened {
    std::shared_ptr<const World> world;
    Project project;

    explicit TimekeeperOpened(const std::string& file) {
        const std::string path = std::string(KP_SOURCE "/demo/") + file;
        auto text = real_disk().read(path);
        auto read = read_project(text.value(), path);
        EXPECT_TRUE(read.ok());
        project = read.value().project;
        for (auto& sdc : project.constraints) sdc.text = real_disk().read(join_path(folder_of(path), sdc.path)).take();
        world = load_world(real_disk(), project, folder_of(path), KP_SOURCE "/data").take();
    }
    [[nodiscard]] std::shared_ptr<const Analysis> fresh() const { return analyse(*world, project, "", {}); }
};

void same(const TimingReport& a, const TimingReport& b) {
    ASSERT_EQ(a.endpoints.size(), b.endpoints.size());
    for (size_t i = 0; i < a.endpoints.size(); ++i)
        ASSERT_EQ(a.endpoints[i].slack, b.endpoints[i].slack) << a.endpoints[i].endpoint;
    EXPECT_EQ(a.setup.tns, b.setup.tns);
    EXPECT_EQ(a.coverage.untimed.size(), b.coverage.untimed.size());
    EXPECT_EQ(a.messages.size(), b.messages.size());
    EXPECT_EQ(a.paths.size(), b.paths.size());
}

TEST(Timekeeper, FollowsAnEditOfTheTextWithTheSameBits) {
    TimekeeperOpened o("profiler/profiler-closed.kpeg");
    Timekeeper keeper;
    const auto now = [&] { return analyse(o.world, o.project, "", {}, keeper); };
    same(now()->timing(), o.fresh()->timing());
    EXPECT_TRUE(keeper.work().structure);
    // Another value of one output delay: only what it limits is looked at.
    auto& text = o.project.constraints.back().text;
    const auto at = text.find("set_output_delay");
    ASSERT_NE(at, std::string::npos);
    text.insert(at, "# a remark moves all lines\n");
    same(now()->timing(), o.fresh()->timing());
    EXPECT_FALSE(keeper.work().structure || keeper.work().ends);
    text += "\nset_clock_uncertainty 0.05 [all_clocks]\n";
    same(now()->timing(), o.fresh()->timing());
    EXPECT_TRUE(keeper.work().ends);
    EXPECT_FALSE(keeper.work().structure);
}

TEST(Timekeeper, ADelayLineInAPadMovesItsInputAndComesBack) {
    TimekeeperOpened o("profiler/profiler-closed.kpeg");
    const auto first = o.fresh();
    const auto& before = first->timing();
    std::string port;
    for (const auto& d : first->constraints().io_delays)
        if (d.input && port.empty() && o.project.pegs.contains(o.world->netlist.ports[d.port].name))
            port = o.world->netlist.ports[d.port].name;
    ASSERT_FALSE(port.empty());
    const auto* bank = o.world->part.bank(o.world->part.pin(o.project.pegs.at(port).pin)->bank);
    ASSERT_GT(bank->delay_step_ns, 0);
    Timekeeper keeper;
    const auto now = [&] { return analyse(o.world, o.project, "", {}, keeper)->timing(); };
    same(now(), before);
    o.project.attributes[port].pad_delay = "5";
    EXPECT_DOUBLE_EQ(pad_delays(*o.world, o.project).at(port), 5 * bank->delay_step_ns);
    const auto moved = now();
    EXPECT_FALSE(keeper.work().structure || keeper.work().ends);
    EXPECT_LT(keeper.work().recomputed, keeper.work().slots / 10);
    same(moved, o.fresh()->timing());
    size_t other = 0;
    for (const auto& e : before.endpoints)
        for (const auto& m : moved.endpoints)
            if (m.check == e.check && m.endpoint == e.endpoint) other += m.slack != e.slack;
    EXPECT_GT(other, 0u);
    // Unpegged, the pad has no delay line; then as it was.
    const auto peg = o.project.pegs.at(port);
    o.project.pegs.erase(port);
    EXPECT_TRUE(pad_delays(*o.world, o.project).empty());
    same(now(), before);
    o.project.pegs[port] = peg;
    o.project.attributes[port].pad_delay = "77";  // more steps than there are
    EXPECT_TRUE(pad_delays(*o.world, o.project).empty());
}

TEST(Timekeeper, AnswersWhatIfAndPutsBack) {
    TimekeeperOpened o("vane/vane.kpeg");
    Timekeeper keeper;
    Constraints k;
    EXPECT_FALSE(keeper.what_if(k, [](const TimingEngine&) { FAIL(); }));
    const auto a = analyse(o.world, o.project, "", {}, keeper);
    k = a->constraints();
    for (auto& c : k.clocks) {
        c.period *= 0.5;
        c.waveform[1] *= 0.5;
    }
    double quick = 0;
    ASSERT_TRUE(keeper.what_if(k, [&](const TimingEngine& e) { quick = *e.summary(CheckKind::setup).wns; }));
    EXPECT_LT(quick, *a->timing().setup.wns);
    same(analyse(o.world, o.project, "", {}, keeper)->timing(), a->timing());
}

TEST(WhatIf, TriesALineAndSaysWhatItGives) {
    TimekeeperOpened o("vane/vane.kpeg");
    const auto kept = std::make_shared<Timekeeper>();
    auto& keeper = *kept;
    Snapshot now;
    now.grounds = std::make_shared<const Grounds>(
        Grounds{&real_disk(), "", "", "", Reach(real_disk(), "", {}), TimingOptions{}, {}, kept});
    now.project = std::make_shared<const Project>(o.project);
    now.world = o.world;
    const auto ask = [&](const std::string& line) { return what_if_line(now, line); };
    EXPECT_FALSE(ask("set_clock_uncertainty 1 [all_clocks]").ok());  // nothing analysed yet
    const auto a = analyse(o.world, o.project, "", {}, keeper);
    const auto then = ask("set_clock_uncertainty 2.5 [all_clocks]");
    ASSERT_TRUE(then.ok()) << then.first().sentence();
    auto edited = o.project;
    edited.constraints.back().text += "\nset_clock_uncertainty 2.5 [all_clocks]\n";
    const auto real = analyse(*o.world, edited, "", {})->timing();
    EXPECT_EQ(*then.value().setup.wns, *real.setup.wns);
    EXPECT_EQ(*then.value().hold.wns, *real.hold.wns);
    EXPECT_EQ(then.value().hold.failing, real.hold.failing);
    EXPECT_EQ(ask("set_false_path -to nowhere/D").first().file, "what if");
    EXPECT_FALSE(ask("set_multicycle_path many -to [all_registers]").ok());
    same(analyse(o.world, o.project, "", {}, keeper)->timing(), a->timing());
}

TEST(Timekeeper, ACancelledReportIsMadeUpFor) {
    TimekeeperOpened o("vane/vane.kpeg");
    Timekeeper keeper;
    const auto a = analyse(o.world, o.project, "", {}, keeper);
    std::stop_source stop;
    stop.request_stop();
    auto k = a->constraints();
    k.clocks[0].period *= 2;
    (void)keeper.report(o.world, k, {}, {}, stop.get_token());
    same(keeper.report(o.world, a->constraints(), {}, {}), a->timing());
}

}  // namespace
}  // namespace kp
