// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/memory_disk.hpp"
#include "core/session/run_log.hpp"

#include <gtest/gtest.h>

namespace kp {
namespace {

RunPlan plan(int n, int ports = 3) {
    RunPlan out{"PART", {}, {}, {{"a.sdc", "# caf\xE9\n# run " + std::to_string(n) + "\n"}}};
    for (int i = 0; i < ports; ++i) {
        const std::string port = "p[" + std::to_string(i) + "]";
        out.pegs[port] = {std::to_string(i == n % ports ? n : i), n % 2 ? PegState::loose : PegState::pegged,
                          "by hand"};
        PortAttributes a;
        int k = 0;
        for (const auto& f : attribute_fields()) f.set(a, "v" + std::to_string(++k + (i == 0 ? n : 0)));
        out.attributes[port] = a;
    }
    return out;
}

Run run(int n) {
    Run r;
    r.title = "edit " + std::to_string(n);
    r.setup_wns = n;
    return r;
}

TEST(Log, EveryRunComesBackWholeAfterReopening) {
    MemoryDisk disk;
    RunLog log(disk, "l");
    for (int n = 1; n <= 200; ++n) ASSERT_TRUE(log.add(run(n), plan(n)).ok());
    RunLog again(disk, "l");
    ASSERT_EQ(again.runs().size(), 200u);
    for (int n = 1; n <= 200; ++n) {
        const auto entry = again.entry(n);
        ASSERT_TRUE(entry.ok()) << entry.first().text;
        EXPECT_EQ(entry.value().plan, plan(n));
        EXPECT_EQ(entry.value().run.title, "edit " + std::to_string(n));
    }
    EXPECT_FALSE(again.entry(201).ok());
    // The same run once more is none.
    ASSERT_TRUE(again.add(run(200), plan(200)).ok());
    EXPECT_EQ(again.runs().size(), 200u);
}

TEST(Log, ANoteStaysWithItsRun) {
    MemoryDisk disk;
    {
        RunLog log(disk, "l");
        for (int n = 1; n <= 5; ++n) ASSERT_TRUE(log.add(run(n), plan(n)).ok());
        ASSERT_TRUE(log.annotate(2, "tried on the bench").ok());
        ASSERT_TRUE(log.annotate(2, "tried on the bench, good").ok());
        EXPECT_FALSE(log.annotate(77, "nobody").ok());
        ASSERT_TRUE(log.add(run(6), plan(6)).ok());
    }
    RunLog again(disk, "l");
    ASSERT_EQ(again.runs().size(), 6u);
    EXPECT_EQ(again.runs()[1].note, "tried on the bench, good");
    EXPECT_EQ(again.runs()[2].note, "");
    EXPECT_EQ(again.entry(6).value().plan, plan(6));
}

TEST(Log, ARestoreLosesNoFieldAndOlderRunsTouchNone) {
    Project p;
    p.name = "p";
    p.part = "PART";
    p.mode = "serial";
    p.corners = {"slow", "fast"};
    p.budgets = {{"a", "b"}};
    p.waivers.push_back({"L11", {"x"}, "why", "who", "2026-11-28"});
    p.constraints.push_back({"a.sdc", "create_clock\n"});
    MemoryDisk disk;
    RunLog log(disk, "l");
    ASSERT_TRUE(log.add(run(1), plan_of(p)).ok());
    Project later = p;
    later.mode = "jtag";
    later.corners.clear();
    later.part_notes = {{"D1", "red"}};
    later.waivers.clear();
    ASSERT_TRUE(log.add(run(2), plan_of(later)).ok());
    RunLog again(disk, "l");
    ASSERT_TRUE(apply(later, restore_edit(later, again.entry(1).value())).ok());
    EXPECT_TRUE(difference_edit(p, later, "").empty());
    // A run that knows no fields leaves them as they are.
    auto old = plan(1);
    EXPECT_TRUE(old.fields.empty());
    Project now = p;
    ASSERT_TRUE(apply(now, restore_edit(now, LogEntry{run(1), old})).ok());
    EXPECT_EQ(now.mode, "serial");
    EXPECT_EQ(now.waivers.size(), 1u);
    // Differences of fields and inputs are told.
    auto a = LogEntry{run(1), plan_of(p)}, b = LogEntry{run(2), plan_of(later)};
    b.plan.fields["mode"] = "jtag";
    a.run.inputs = {{"n.v", "aaaa"}};
    b.run.inputs = {{"n.v", "bbbb"}};
    const auto list = compare(a, b);
    const auto told = [&](const std::string& what) {
        return std::any_of(list.begin(), list.end(), [&](const Difference& d) { return d.what == what; });
    };
    EXPECT_TRUE(told("mode"));
    EXPECT_TRUE(told("input n.v"));
}

TEST(Log, GrowsByWhatIsDifferent) {
    MemoryDisk disk;
    RunLog log(disk, "l");
    ASSERT_TRUE(log.add(run(1), plan(1, 1500)).ok());
    const auto whole = disk.files["l"].size();
    for (int n = 2; n <= 65; ++n) {
        auto next = plan(1, 1500);
        next.pegs["p[7]"].pin = std::to_string(n);
        ASSERT_TRUE(log.add(run(n), next).ok());
    }
    // 64 runs that differ in one peg cost about one whole plan more.
    EXPECT_LT(disk.files["l"].size(), whole * 5 / 2);
}

TEST(Log, ATornOrDamagedLineCostsItsOwnRunAndThoseThatStandOnIt) {
    MemoryDisk disk;
    {
        RunLog log(disk, "l");
        for (int n = 1; n <= 5; ++n) ASSERT_TRUE(log.add(run(n), plan(n)).ok());
    }
    const auto whole = disk.files["l"];
    for (size_t n = 0; n <= whole.size(); n += 3) {
        disk.files["l"] = whole.substr(0, n);
        RunLog log(disk, "l");
        ASSERT_LE(log.runs().size(), 5u);
        const auto before = log.runs().size();
        ASSERT_TRUE(log.add(run(77), plan(77)).ok());
        RunLog again(disk, "l");
        ASSERT_EQ(again.runs().size(), before + 1) << "cut at " << n;
        for (const auto& r : again.runs()) {
            const auto entry = again.entry(r.number);
            ASSERT_TRUE(entry.ok()) << "cut at " << n << ": " << entry.first().text;
            EXPECT_EQ(entry.value().plan, plan(static_cast<int>(*r.setup_wns)));
        }
    }
}

TEST(Log, DamageAnywhereIsNeverACrashNorAnotherPlan) {
    MemoryDisk disk;
    {
        RunLog log(disk, "l");
        for (int n = 1; n <= 4; ++n) ASSERT_TRUE(log.add(run(n), plan(n)).ok());
    }
    const auto whole = disk.files["l"];
    for (size_t n = 0; n < whole.size(); ++n)
        for (const char byte : {'"', '9', '\n', '\0'}) {
            disk.files["l"] = whole;
            disk.files["l"][n] = byte;
            RunLog log(disk, "l");
            for (const auto& r : std::vector<kp::Run>(log.runs())) (void)log.entry(r.number);
            ASSERT_TRUE(log.add(run(9), plan(9)).ok());
            EXPECT_EQ(log.entry(log.runs().back().number).value().plan, plan(9));
        }
}

TEST(Log, AFailedAppendIsSaidAndTheNextRunStandsAlone) {
    for (int n = 1; n < 6; ++n) {
        MemoryDisk disk;
        RunLog log(disk, "l");
        for (int k = 1; k <= 3; ++k) ASSERT_TRUE(log.add(run(k), plan(k)).ok());
        disk.calls = 0;
        disk.fail_at = n;
        const bool failed = !log.add(run(4), plan(4)).ok();
        disk.fail_at = 0;
        ASSERT_TRUE(log.add(run(5), plan(5)).ok());
        EXPECT_EQ(log.runs().size(), 5u);
        EXPECT_EQ(log.entry(4).ok(), !failed);
        RunLog again(disk, "l");
        for (const int k : {1, 2, 3}) EXPECT_EQ(again.entry(k).value().plan, plan(k));
        EXPECT_EQ(again.entry(again.runs().back().number).value().plan, plan(5));
    }
}

// What version 1 wrote: one line a run, six fields of the attributes.
TEST(Log, ReadsTheOldFormAndGoesOnInTheNew) {
    MemoryDisk disk;
    disk.files["l"] =
        "{\"number\":7,\"time\":\"t\",\"title\":\"old\",\"setup_wns\":1.5,\"hold_wns\":null,\"setup_tns\":0.0,\"setup_"
        "failing\":0,\"endpoints\":2,\"constrained\":1,\"stops\":0,\"cautions\":0,\"notes\":0,\"waived\":0,\"part\":"
        "\"P\",\"pegs\":{\"a\":[\"12\",false,\"by "
        "hand\"]},\"attributes\":{\"a\":[\"LVTTL\",\"8\",\"\",\"\",\"\",\"chosen\"]},\"texts\":{\"a.sdc\":\"# x\"}}\n";
    RunLog log(disk, "l");
    ASSERT_EQ(log.runs().size(), 1u);
    EXPECT_EQ(log.entry(7).value().plan.attributes.at("a").drive, "8");
    ASSERT_TRUE(log.add(run(8), plan(8)).ok());
    RunLog again(disk, "l");
    ASSERT_EQ(again.runs().size(), 2u);
    EXPECT_EQ(again.entry(7).value().plan.pegs.at("a").pin, "12");
    EXPECT_EQ(again.entry(8).value().plan, plan(8));
    EXPECT_EQ(disk.files["l"].find("\"pegs\":{"), std::string::npos);
}

TEST(Log, IsCappedAndKeepsTheLastRuns) {
    MemoryDisk disk;
    RunLog log(disk, "l");
    const int many = static_cast<int>(RunLog::most_runs) + 1200;
    for (int n = 1; n <= many; ++n) {
        auto p = plan(1, 1);
        p.texts["a.sdc"] = std::to_string(n);
        ASSERT_TRUE(log.add(run(n), p).ok());
    }
    EXPECT_LE(log.runs().size(), RunLog::most_runs + RunLog::most_runs / 10);
    RunLog again(disk, "l");
    EXPECT_EQ(again.runs().back().number, many);
    EXPECT_EQ(again.entry(again.runs().front().number).value().plan.texts.at("a.sdc"),
              std::to_string(again.runs().front().number));
    EXPECT_EQ(again.entry(many).value().plan.texts.at("a.sdc"), std::to_string(many));
}

}  // namespace
}  // namespace kp
