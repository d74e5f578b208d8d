// SPDX-License-Identifier: GPL-3.0-or-later
// The promises of docs/saving-and-recovery.md one by one; tests/campaign tries them at random.
#include "core/format/json/json_text.hpp"
#include "core/base/memory_disk.hpp"
#include "core/session/document.hpp"
#include "tests/campaign/model.hpp"

#include <gtest/gtest.h>

namespace kp {
namespace {

using campaign::state_of;

MemoryDisk small_disk(const std::string& folder = "x") {
    MemoryDisk disk;
    for (const auto& [name, text] : campaign::small_project()) disk.files[folder + "/" + name] = text;
    return disk;
}

OpenOptions options(OpenTo purpose = OpenTo::work) {
    OpenOptions o;
    o.purpose = purpose;
    o.user = "/user";
    return o;
}

std::unique_ptr<Document> open(MemoryDisk& disk, OpenTo purpose = OpenTo::work, const std::string& path = "x/p.kpeg") {
    auto d = Document::open(disk, path, options(purpose));
    EXPECT_TRUE(d.ok()) << (d ? "" : d.first().sentence());
    return d ? d.take() : nullptr;
}

/// As after a crash: nobody holds anything.
std::unique_ptr<Document> reopen(MemoryDisk& disk, std::unique_ptr<Document>& d) {
    d.reset();
    disk.holders.clear();
    return open(disk);
}

Edit peg(const Project& p, const std::string& port, const std::string& pin) {
    const auto at = p.pegs.find(port);
    return {"peg " + port,
            {PegChange{port, at == p.pegs.end() ? std::nullopt : std::optional<Peg>(at->second),
                       Peg{pin, PegState::pegged, "by hand"}}}};
}

Edit type(const std::string& file, size_t at, const std::string& text) {
    return {"type in " + file, {TextChange{file, at, "", text}}};
}

TEST(Document, WhoOnlyLooksWritesNothing) {
    auto disk = small_disk();
    {
        auto d = open(disk);
        ASSERT_TRUE(d->apply(peg(d->project(), "a", "1")).ok());
    }
    disk.files["x/p.kpeg.journal"] += "torn";
    const auto files = disk.files;
    auto d = open(disk, OpenTo::look);
    EXPECT_TRUE(d->project().pegs.contains("a"));
    EXPECT_EQ(d->apply(peg(d->project(), "a", "2")).first().code, Code::looking);
    EXPECT_EQ(d->save().first().code, Code::looking);
    EXPECT_FALSE(d->take_offer().ok());
    EXPECT_EQ(disk.files, files);
}

TEST(Document, TheSecondOneLooksAndMayTakeOver) {
    auto disk = small_disk();
    auto first = open(disk);
    ASSERT_TRUE(first->apply(peg(first->project(), "a", "1")).ok());
    auto second = open(disk);
    EXPECT_TRUE(second->looking());
    EXPECT_NE(second->owner().find("the kpeg of "), std::string::npos) << second->owner();
    auto taking = options();
    taking.take_over = true;
    auto third = Document::open(disk, "x/p.kpeg", taking).take();
    EXPECT_EQ(state_of(third->project()), state_of(first->project()));
    EXPECT_TRUE(first->taken_over());
    EXPECT_EQ(first->apply(peg(first->project(), "b", "2")).first().code, Code::taken_over);
    EXPECT_EQ(first->save().first().code, Code::taken_over);
    EXPECT_TRUE(third->save().ok());
}

TEST(Document, AFileChangedByAnotherIsNotWrittenOver) {
    auto disk = small_disk();
    auto d = open(disk);
    ASSERT_TRUE(d->apply(type("b.sdc", 0, "# mine\n")).ok());
    const auto theirs = disk.files["x/b.sdc"] += "# theirs\n";
    EXPECT_EQ(d->save().first().code, Code::changed);
    EXPECT_EQ(disk.files["x/b.sdc"], theirs);
    const auto c = d->conflicts();
    ASSERT_EQ(c.size(), 1u);
    EXPECT_EQ(c[0].base, "set_false_path -from a\n");
    EXPECT_EQ(c[0].mine, "# mine\nset_false_path -from a\n");
    EXPECT_EQ(c[0].theirs, theirs);
    ASSERT_TRUE(d->resolve(c[0], "# mine\n" + theirs).ok());
    ASSERT_TRUE(d->save().ok());
    EXPECT_EQ(disk.files["x/b.sdc"], "# mine\n" + theirs);
    EXPECT_EQ(disk.files["x/b.sdc.bak"], theirs);
    // The decision was an edit like any other.
    ASSERT_TRUE(d->undo().ok());
    EXPECT_EQ(d->project().constraints[1].text, "# mine\nset_false_path -from a\n");
}

TEST(Document, TheProjectFileChangedByAnotherIsMergedToo) {
    auto disk = small_disk();
    auto d = open(disk);
    ASSERT_TRUE(d->apply(peg(d->project(), "a", "1")).ok());
    auto other = small_disk();
    {
        auto o = open(other);
        ASSERT_TRUE(o->apply(peg(o->project(), "z", "26")).ok());
        ASSERT_TRUE(o->save().ok());
    }
    disk.files["x/p.kpeg"] = other.files["x/p.kpeg"];
    EXPECT_EQ(d->save().first().code, Code::changed);
    const auto c = d->conflicts();
    ASSERT_EQ(c.size(), 1u);
    EXPECT_EQ(c[0].name, "");
    EXPECT_FALSE(d->resolve(c[0], "no project").ok());
    ASSERT_TRUE(d->resolve(c[0], c[0].theirs).ok());
    EXPECT_TRUE(d->project().pegs.contains("z"));
    EXPECT_FALSE(d->project().pegs.contains("a"));
    ASSERT_TRUE(d->undo().ok());
    ASSERT_TRUE(d->save().ok());
    EXPECT_TRUE(reopen(disk, d)->project().pegs.contains("a"));
}

TEST(Document, WhatAnotherChangedAndThisOneDidNotIsLeftAlone) {
    auto disk = small_disk();
    auto d = open(disk);
    ASSERT_TRUE(d->apply(peg(d->project(), "a", "1")).ok());
    const auto theirs = disk.files["x/b.sdc"] = "# theirs\n";
    ASSERT_TRUE(d->save().ok());
    EXPECT_EQ(disk.files["x/b.sdc"], theirs);
    EXPECT_EQ(d->changed_on_disk(), std::vector<std::string>{"b.sdc"});
}

TEST(Document, AProjectFileWrittenByHandStaysUntilThePlanChanges) {
    auto disk = small_disk();
    auto& project = disk.files["x/p.kpeg"];
    project = "\xEF\xBB\xBF" + Json::parse(project).dump() + "\r\n";
    const auto by_hand = project;
    auto d = open(disk);
    ASSERT_TRUE(d->apply(type("a.sdc", 0, "# x\n")).ok());
    ASSERT_TRUE(d->save().ok());
    EXPECT_EQ(disk.files["x/p.kpeg"], by_hand);
    ASSERT_TRUE(d->apply(peg(d->project(), "a", "1")).ok());
    ASSERT_TRUE(d->save().ok());
    EXPECT_NE(disk.files["x/p.kpeg"], by_hand);
    EXPECT_EQ(disk.files["x/p.kpeg.bak"], by_hand);
}

TEST(Document, AFailedSaveThenEditsThenACrashLosesNothing) {
    for (int n = 1; n < 40; ++n) {
        auto disk = small_disk();
        auto d = open(disk);
        ASSERT_TRUE(d->apply(type("a.sdc", 0, "# one\n")).ok());
        disk.calls = 0;
        disk.full_from = n;
        const bool saved = d->save().ok();
        disk.full_from = 0;
        ASSERT_TRUE(d->apply(peg(d->project(), "a", "1")).ok());
        ASSERT_TRUE(d->apply(type("b.sdc", 0, "# two\n")).ok());
        EXPECT_FALSE(d->risk());
        const auto wanted = state_of(d->project());
        d = reopen(disk, d);
        EXPECT_EQ(state_of(d->project()), wanted) << "full from call " << n;
        if (saved) break;
    }
}

// Whatever the disk does while an edit is applied: the document has it whole, and after a crash it is there or offered,
// unless the document said that it is at risk.
TEST(Document, ApplyAtEveryFailingStepIsKeptOrSaidToBeAtRisk) {
    int warned = 0, met = 0;
    for (int before = 0; before < 2; ++before)  // the first edit makes the journal, later ones append to it
        for (int n = 1;; ++n) {
            auto disk = small_disk();
            auto d = open(disk);
            if (before) ASSERT_TRUE(d->apply(peg(d->project(), "c", "9")).ok());
            const auto old = state_of(d->project());
            disk.calls = 0;
            disk.fail_at = n;
            const auto applied = d->apply(peg(d->project(), "a", "1"));
            const bool over = disk.calls < n;
            disk.fail_at = 0;
            const auto now = state_of(d->project());
            EXPECT_EQ(now == old, !applied.ok()) << n;
            const bool at_risk = d->risk().has_value();
            warned += at_risk;
            met += !over;
            d = reopen(disk, d);
            // A journal whose seal could not be made is offered instead of believed; nothing is lost.
            if (!at_risk) EXPECT_TRUE(state_of(d->project()) == now || d->offer()) << "step " << n;
            EXPECT_TRUE(state_of(d->project()) == now || state_of(d->project()) == old) << "step " << n;
            if (over) break;
        }
    EXPECT_GT(met, 1);
    EXPECT_GT(warned, 0) << "an append that fails has to be said";
}

TEST(Document, APowerCutAtEveryStepOfApplyLeavesBeforeOrAfter) {
    int cuts = 0;
    for (int n = 1;; ++n) {
        auto disk = small_disk();
        auto d = open(disk);
        ASSERT_TRUE(d->apply(peg(d->project(), "c", "9")).ok());
        const auto old = state_of(d->project());
        disk.calls = 0;
        disk.crash_at = n;
        bool cut = false;
        try {
            ASSERT_TRUE(d->apply(peg(d->project(), "a", "1")).ok());
        } catch (const PowerCut&) {
            cut = true;
        }
        disk.crash_at = 0;
        cuts += cut;
        d = reopen(disk, d);
        const auto found = state_of(d->project());
        auto wanted = small_disk();
        auto whole = open(wanted);
        ASSERT_TRUE(whole->apply(peg(whole->project(), "c", "9")).ok());
        ASSERT_TRUE(whole->apply(peg(whole->project(), "a", "1")).ok());
        EXPECT_TRUE(found == old || found == state_of(whole->project())) << "step " << n;
        if (!cut) {
            EXPECT_EQ(found, state_of(whole->project()));
            break;
        }
    }
    EXPECT_GT(cuts, 0);
}

TEST(Document, AnAppendThatFailedIsMadeUpForByTheNext) {
    auto disk = small_disk();
    auto d = open(disk);
    ASSERT_TRUE(d->apply(peg(d->project(), "a", "1")).ok());
    disk.calls = 0;
    disk.fail_at = 1;
    ASSERT_TRUE(d->apply(peg(d->project(), "b", "2")).ok());
    ASSERT_TRUE(d->risk());
    EXPECT_TRUE(d->unkept());
    EXPECT_NE(d->risk()->text.find("A crash now would lose what is not saved"), std::string::npos);
    ASSERT_TRUE(d->apply(peg(d->project(), "c", "3")).ok());
    EXPECT_FALSE(d->risk());
    const auto wanted = state_of(d->project());
    d = reopen(disk, d);
    EXPECT_EQ(state_of(d->project()), wanted);
}

TEST(Document, AJournalOfAStrangerIsShownAndNotApplied) {
    auto disk = small_disk();
    {
        auto d = open(disk);
        ASSERT_TRUE(d->apply(peg(d->project(), "a", "1")).ok());
    }
    disk.files.erase("/user/seal");  // as on another machine
    const auto files = disk.files;
    auto d = open(disk);
    ASSERT_TRUE(d->offer());
    EXPECT_TRUE(d->offer()->foreign);
    EXPECT_EQ(d->offer()->changes, std::vector<std::string>{"peg a to 1"});
    EXPECT_FALSE(d->project().pegs.contains("a"));
    EXPECT_EQ(disk.files, files);
    ASSERT_EQ(d->take_offer().value(), 0u);
    EXPECT_TRUE(d->project().pegs.contains("a"));
    EXPECT_TRUE(disk.files.contains("x/p.kpeg.journal.aside-1"));
    d = reopen(disk, d);
    EXPECT_TRUE(d->project().pegs.contains("a"));
}

TEST(Document, AStrangersJournalNamesNoFilesButTheProjectsOwn) {
    // A state with a file elsewhere: sealed, so that only the name speaks against it.
    auto disk = small_disk();
    disk.files["/home/secret"] = "precious";
    UserMemory user(disk, "/user");
    (void)user.make_seal();
    Journal journal(disk, "x/p.kpeg.journal", user);
    auto evil = campaign::small_project();
    OwnFiles state{{"", evil.at("p.kpeg")}, {"/home/secret", "owned"}, {"../up", "owned"}};
    ASSERT_TRUE(journal.saving(state, {}).ok());
    auto d = open(disk);
    EXPECT_TRUE(d->offer());
    (void)d->take_offer();
    (void)d->save();
    EXPECT_EQ(disk.files["/home/secret"], "precious");
    EXPECT_FALSE(disk.files.contains("up"));
}

TEST(Document, AnInterruptedSaveIsFinishedWhereTheFolderIsNow) {
    for (size_t torn = 0; torn < 3; ++torn)
        for (int n = 1; n < 40; ++n) {
            auto disk = small_disk();
            auto d = open(disk);
            ASSERT_TRUE(d->apply(type("a.sdc", 0, "# one\n")).ok());
            ASSERT_TRUE(d->apply(peg(d->project(), "a", "1")).ok());
            const auto wanted = state_of(d->project());
            disk.calls = 0;
            disk.crash_at = n;
            disk.torn = torn;
            bool cut = false;
            try {
                (void)d->save();
            } catch (const PowerCut&) {
                cut = true;
            }
            disk.crash_at = 0;
            d.reset();
            disk.holders.clear();
            const auto original = disk.files;
            for (const auto& [path, text] : original)
                if (path.starts_with("x/")) disk.files["moved" + path.substr(1)] = text;
            auto moved = open(disk, OpenTo::work, "moved/p.kpeg");
            EXPECT_EQ(state_of(moved->project()), wanted) << n;
            ASSERT_TRUE(moved->save().ok());
            for (const auto& [path, text] : original) EXPECT_EQ(disk.files[path], text) << path;
            if (!cut) break;
        }
}

TEST(Document, AFileChangedAfterAnInterruptedSaveIsNotWrittenOver) {
    auto disk = small_disk();
    auto d = open(disk);
    ASSERT_TRUE(d->apply(type("a.sdc", 0, "# mine\n")).ok());
    disk.calls = 0;
    disk.crash_at = 6;
    EXPECT_THROW((void)d->save(), PowerCut);
    disk.crash_at = 0;
    d.reset();
    disk.holders.clear();
    disk.files["x/a.sdc"] = "# checked out meanwhile\n";
    d = open(disk);
    EXPECT_EQ(disk.files["x/a.sdc"], "# checked out meanwhile\n");
    ASSERT_TRUE(d->offer());
    EXPECT_EQ(d->offer()->changed, std::vector<std::string>{"a.sdc"});
    EXPECT_TRUE(disk.files.contains("x/p.kpeg.journal"));
}

TEST(Document, ALinkInThePlaceOfTheJournalIsReplacedNotFollowed) {
    auto disk = small_disk();
    disk.links.insert("x/p.kpeg.journal");
    auto d = open(disk);
    ASSERT_TRUE(d->apply(peg(d->project(), "a", "1")).ok());
    EXPECT_FALSE(d->risk());
    EXPECT_TRUE(reopen(disk, d)->project().pegs.contains("a"));
}

TEST(Document, AJournalThatIsNoJournalIsSetAside) {
    for (const std::string& text : {std::string("[1,2]\n"), std::string("0123456789abcdef {\"schema\":[]}\n"),
                                    std::string(100000, '['), std::string("\0\0\0", 3)}) {
        auto disk = small_disk();
        disk.files["x/p.kpeg.journal"] = text;
        auto d = open(disk);
        ASSERT_NE(d, nullptr);
        EXPECT_FALSE(d->notes().empty());
        ASSERT_TRUE(d->apply(peg(d->project(), "a", "1")).ok());
        EXPECT_EQ(disk.files["x/p.kpeg.journal.aside-1"], text);
        EXPECT_TRUE(reopen(disk, d)->project().pegs.contains("a"));
    }
}

TEST(Document, FilesOutsideItsFolderAreAskedAbout) {
    auto disk = small_disk();
    disk.files["x/../other/c.sdc"] = "# c\n";
    auto& project = disk.files["x/p.kpeg"];
    project.replace(project.find("b.sdc"), 5, "../other/c.sdc");
    const auto refused = Document::open(disk, "x/p.kpeg", options());
    ASSERT_FALSE(refused.ok());
    EXPECT_EQ(refused.first().code, Code::outside);
    EXPECT_EQ(refused.first().file, "x/../other/c.sdc");
    auto allowed = options();
    allowed.allow = {"other"};
    EXPECT_TRUE(Document::open(disk, "x/p.kpeg", allowed).ok());
    // Remembered by the user, for this project alone.
    ASSERT_TRUE(UserMemory(disk, "/user").allow("x/p.kpeg", {"other/c.sdc"}).ok());
    EXPECT_TRUE(Document::open(disk, "x/p.kpeg", options()).ok());
    disk.files["y/p.kpeg"] = project;
    disk.files["y/a.sdc"] = "";
    EXPECT_FALSE(Document::open(disk, "y/p.kpeg", options()).ok());
}

TEST(Document, TwoNamesForOneFileAreRefused) {
    for (const char* name : {"a.sdc", "./a.sdc", "p.kpeg", "p.kpeg.journal"}) {
        auto disk = small_disk();
        disk.files["x/p.kpeg.journal"] = "";
        auto& project = disk.files["x/p.kpeg"];
        project.replace(project.find("b.sdc"), 5, name);
        EXPECT_FALSE(Document::open(disk, "x/p.kpeg", options()).ok()) << name;
    }
}

TEST(Document, AttributesComeBackWholeFromJournalAndUndo) {
    auto disk = small_disk();
    auto d = open(disk);
    PortAttributes all;
    int n = 0;
    for (const auto& f : attribute_fields()) f.set(all, "value " + std::to_string(++n));
    ASSERT_TRUE(d->apply({"choose", {AttributeChange{"a", {}, all}}}).ok());
    d = reopen(disk, d);
    EXPECT_EQ(d->project().attributes.at("a"), all);
    ASSERT_TRUE(d->undo().ok());
    EXPECT_TRUE(d->project().attributes.empty());
}

TEST(DifferenceEdit, MakesAnyPlanIntoAnyOther) {
    campaign::Random random(11);
    auto disk = small_disk();
    const auto start = open(disk)->project();
    for (int round = 0; round < 300; ++round) {
        Project a = start, b = start;
        for (int i = 0; i < 10; ++i) (void)kp::apply(a, campaign::random_edit(a, random));
        for (int i = 0; i < 10; ++i) (void)kp::apply(b, campaign::random_edit(b, random));
        if (round % 4 == 0) std::swap(b.constraints[0], b.constraints[1]);
        if (round % 5 == 0) b.constraints.pop_back();
        const auto edit = difference_edit(a, b, "");
        ASSERT_TRUE(kp::apply(a, edit).ok());
        std::sort(a.waivers.begin(), a.waivers.end(),
                  [](const Waiver& x, const Waiver& y) { return x.reason < y.reason; });
        std::sort(b.waivers.begin(), b.waivers.end(),
                  [](const Waiver& x, const Waiver& y) { return x.reason < y.reason; });
        EXPECT_EQ(state_of(a), state_of(b));
        EXPECT_TRUE(difference_edit(a, b, "").empty());
    }
}

}  // namespace
}  // namespace kp
