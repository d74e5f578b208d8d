// SPDX-License-Identifier: GPL-3.0-or-later
// What each kind of edit costs, and that results never mix inputs of two moments. The table of docs/architecture.md
// says the same.
#include "core/planning/place.hpp"
#include "core/closing/fix_many.hpp"
#include "core/closing/preview.hpp"
#include "core/session/session.hpp"
#include "core/session/timekeeper.hpp"
#include "core/session/verdict.hpp"
#include "tests/session/wait_for.hpp"

#include <gtest/gtest.h>

#include <atomic>
#include <filesystem>
#include <unistd.h>

namespace kp {
namespace {

/// A copy of a demo that the test may write to.
struct DeriverOpened {
    explicit DeriverOpened(const std::string& demo = "vane") {
        folder = std::filesystem::temp_directory_path() / ("kp_deriver_" + std::to_string(::getpid()) + "_" + demo);
        std::filesystem::remove_all(folder);
        std::filesystem::copy(KP_SOURCE "/demo/" + demo, folder);
        session = Session::open(real_disk(), (folder / (demo + ".kpeg")).string(), KP_SOURCE "/data").take();
        session->analyse_now();
    }
    ~DeriverOpened() {
        session.reset();
        std::filesystem::remove_all(folder);
    }
    /// What deriving did since the last time somebody asked.
    Deriver::Work work() {
        const auto now = session->deriver().work();
        const Deriver::Work out{now.interpreted - seen.interpreted, now.facts - seen.facts, now.reports - seen.reports,
                                now.rules - seen.rules, now.rules_followed - seen.rules_followed};
        seen = now;
        return out;
    }
    Deriver::Work after(const Edit& edit) {
        (void)work();
        EXPECT_TRUE(session->apply(edit).ok()) << edit.title;
        session->analyse_now();
        return work();
    }
    [[nodiscard]] Edit typed(const std::string& line) const {
        const auto& file = session->project().constraints.front();
        return {"type", {TextChange{file.path, file.text.size(), "", line}}};
    }
    /// The findings as if everything were worked out from the start.
    [[nodiscard]] std::vector<Finding> anew() const {
        const auto a = analyse(session->world(), session->project(), session->document().folder(), window_options());
        return find(session->world(), session->project(), *a, false);
    }
    std::filesystem::path folder;
    std::unique_ptr<Session> session;
    Deriver::Work seen;
};

void same_findings(const std::vector<Finding>& a, const std::vector<Finding>& b) {
    ASSERT_EQ(a.size(), b.size());
    for (size_t i = 0; i < a.size(); ++i) {
        EXPECT_EQ(a[i].identity(), b[i].identity());
        EXPECT_EQ(a[i].text, b[i].text);
    }
}

const std::string first_port(const Session& s) {
    return s.world().netlist.ports.front().name;
}

TEST(Deriver, AWaiverCostsNeitherInterpreterNorTiming) {
    DeriverOpened o;
    const auto did = o.after({"waive", {WaiverChange{{"L11", {first_port(*o.session)}, "so be it", "me", ""}, true}}});
    EXPECT_EQ(did, (Deriver::Work{0, 0, 0, 0, 1}));
}

TEST(Deriver, ANoteCostsNothingButItself) {
    DeriverOpened o;
    PortAttributes after = o.session->project().attributes.at("tone");
    after.note = "ask about this one";
    const auto did = o.after({"note", {AttributeChange{"tone", o.session->project().attributes.at("tone"), after}}});
    EXPECT_EQ(did, (Deriver::Work{0, 0, 0, 0, 1}));
}

TEST(Deriver, APegCostsTheRulesItTouches) {
    DeriverOpened o;
    EXPECT_EQ(o.after(unpeg_edit(o.session->project(), "tone")), (Deriver::Work{0, 0, 0, 0, 1}));
    EXPECT_FALSE(o.session->stale());
    same_findings(o.session->findings(), o.anew());
}

TEST(Deriver, ASettingCostsTheRulesOfThePlan) {
    DeriverOpened o;
    EXPECT_EQ(o.after({"unused", {set_field(o.session->project(), "unused_pins", "pull up")}}),
              (Deriver::Work{0, 0, 0, 0, 1}));
    same_findings(o.session->findings(), o.anew());
}

TEST(Deriver, APadDelayIsTimedAgainAndNothingIsRead) {
    DeriverOpened o("profiler");
    const auto& p = o.session->project();
    const auto& w = o.session->world();
    std::string port;
    for (const auto& [name, peg] : p.pegs)
        if (const auto* pin = w.part.pin(peg.pin))
            if (const auto* bank = w.part.bank(pin->bank); bank && bank->delay_steps > 2 && port.empty()) port = name;
    ASSERT_FALSE(port.empty());
    const auto at = p.attributes.find(port);
    const auto before = at == p.attributes.end() ? PortAttributes{} : at->second;
    auto after = before;
    after.pad_delay = "2";
    EXPECT_EQ(o.after({"delay", {AttributeChange{port, before, after}}}), (Deriver::Work{0, 0, 1, 1, 1}));
}

TEST(Deriver, TextIsReadTimedAndLookedAtAgain) {
    DeriverOpened o;
    EXPECT_EQ(o.after(o.typed("\nset_clock_uncertainty 0.1 [all_clocks]\n")), (Deriver::Work{1, 1, 1, 1, 1}));
    same_findings(o.session->findings(), o.anew());
}

TEST(Deriver, TextThatIsTakenBackBeforeItWasReadCostsNothing) {
    DeriverOpened o;
    (void)o.work();
    ASSERT_TRUE(o.session->apply(o.typed("\nset_clock_uncertainty 0.1 [all_clocks]\n")).ok());
    EXPECT_TRUE(o.session->stale());
    ASSERT_TRUE(o.session->undo().ok());
    EXPECT_FALSE(o.session->stale());
    o.session->analyse_now();
    EXPECT_EQ(o.work(), (Deriver::Work{0, 0, 0, 0, 2}));
}

TEST(Deriver, AnotherWorldIsWorkedOutWhole) {
    DeriverOpened o;
    EXPECT_EQ(o.after({"no delays", {set_field(o.session->project(), "delays", "")}}), (Deriver::Work{1, 1, 1, 1, 0}));
    same_findings(o.session->findings(), o.anew());
}

TEST(Deriver, OnlyANewTextMakesAResultOld) {
    DeriverOpened o;
    auto& s = *o.session;
    ASSERT_TRUE(s.apply(o.typed("\nset_clock_uncertainty 0.1 [all_clocks]\n")).ok());
    std::atomic<int> ready = 0;
    s.start_analysis([&] { ++ready; });
    ASSERT_TRUE(s.apply(o.typed("\nset_clock_uncertainty 0.2 [all_clocks]\n")).ok());
    (void)wait_for([&] { return ready > 0; }, std::chrono::seconds(5));
    EXPECT_FALSE(s.take_analysis());  // of the first text
    s.start_analysis([&] { ready = 100; });
    ASSERT_TRUE(wait_for([&] { return ready >= 100; }));
    EXPECT_TRUE(s.take_analysis());
    EXPECT_FALSE(s.stale());
    same_findings(s.findings(), o.anew());
}

TEST(Deriver, PegsThatMoveWhileAJobRunsAreInItsFindings) {
    DeriverOpened o;
    auto& s = *o.session;
    ASSERT_TRUE(s.apply(o.typed("\nset_clock_uncertainty 0.1 [all_clocks]\n")).ok());
    std::atomic<bool> ready = false;
    s.start_analysis([&] { ready = true; });
    ASSERT_TRUE(s.apply(unpeg_edit(s.project(), "tone")).ok());
    s.start_analysis({});  // the right one is under way
    ASSERT_TRUE(wait_for([&] { return ready.load(); }));
    EXPECT_TRUE(s.take_analysis());
    same_findings(s.findings(), o.anew());
}

TEST(Deriver, AJobEndsSoonWhenItIsToldTo) {
    DeriverOpened o("profiler");
    auto& s = *o.session;
    ASSERT_TRUE(s.apply(o.typed("\nwhile {1} {}\n")).ok());
    s.start_analysis({});
    s.cancel_analysis();
    EXPECT_FALSE(s.deriver().running());
    const auto from = std::chrono::steady_clock::now();
    o.session.reset();  // waits for it
    EXPECT_LT(std::chrono::steady_clock::now() - from, std::chrono::seconds(1));
}

TEST(Snapshot, StaysAsItWas) {
    DeriverOpened o;
    auto& s = *o.session;
    const auto before = s.snapshot();
    const auto pegs = before->project->pegs;
    ASSERT_TRUE(s.apply(unpeg_edit(s.project(), "tone")).ok());
    ASSERT_TRUE(s.apply(o.typed("\nset_clock_uncertainty 0.3 [all_clocks]\n")).ok());
    s.analyse_now();
    EXPECT_EQ(before->project->pegs, pegs);
    EXPECT_LT(before->revision, s.revision());
    EXPECT_NE(before->analysis.report, s.snapshot()->analysis.report);
}

// A second drag that begins before the first one's analysis has ended looked into an analysis that was freed.
TEST(Snapshot, ATrialOwnsWhatItLooksAt) {
    DeriverOpened o;
    auto& s = *o.session;
    Trial trial(s.snapshot());
    const auto says = trial.trouble("tone", "46");
    ASSERT_FALSE(says.empty());
    ASSERT_TRUE(s.apply(o.typed("\nset_clock_uncertainty 0.3 [all_clocks]\n")).ok());
    s.analyse_now();
    ASSERT_TRUE(s.apply({"no delays", {set_field(s.project(), "delays", "")}}).ok());
    s.analyse_now();
    EXPECT_EQ(trial.trouble("tone", "46"), says);
    EXPECT_TRUE(trial.old(s.revision()));
}

TEST(Preview, OfTextSaysWhatTheEditBrings) {
    DeriverOpened o;
    auto& s = *o.session;
    const auto edit = o.typed("\nset_clock_uncertainty 3 [all_clocks]\n");
    const auto then = preview(*s.snapshot(), edit);
    ASSERT_TRUE(then.ok());
    ASSERT_TRUE(s.apply(edit).ok());
    s.analyse_now();
    same_findings(*then.value().findings, s.findings());
    EXPECT_EQ(then.value().analysis.timing().setup.wns, s.analysis().timing().setup.wns);
    EXPECT_EQ(then.value().analysis.timing().paths.size(), s.analysis().timing().paths.size());
}

TEST(Preview, OfAPegIsWhatTheRulesSayAfterIt) {
    DeriverOpened o;
    auto& s = *o.session;
    const auto edit = peg_edit(s.project(), s.world().board, "tone", "46", "by hand");
    const auto before = s.findings();
    const auto then = s.findings_after(edit);
    same_findings(s.findings(), before);
    ASSERT_TRUE(s.apply(edit).ok());
    same_findings(then, s.findings());
}

TEST(Prepare, AnEditOfInputsIsReadBesideAndTakenOnlyIfNothingElseHappened) {
    DeriverOpened o;
    auto& s = *o.session;
    const Edit edit{"no delays", {set_field(s.project(), "delays", "")}};
    auto made = prepare(*s.snapshot(), edit);
    ASSERT_TRUE(made.ok());
    ASSERT_TRUE(s.apply(unpeg_edit(s.project(), "tone")).ok());
    EXPECT_EQ(s.apply(edit, std::move(*made.value())).first().code, Code::old);
    EXPECT_FALSE(s.project().delays.empty());
    made = prepare(*s.snapshot(), edit);
    ASSERT_TRUE(made.ok());
    EXPECT_TRUE(s.apply(edit, std::move(*made.value())).ok());
    EXPECT_TRUE(s.project().delays.empty());
    s.analyse_now();
    same_findings(s.findings(), o.anew());
}

}  // namespace
}  // namespace kp
