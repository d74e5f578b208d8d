// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/format/json/json_text.hpp"
#include "core/base/memory_disk.hpp"
#include "core/format/csv/csv.hpp"
#include "core/format/json/project_json.hpp"
#include "core/handoff/handoff.hpp"
#include "core/planning/place.hpp"
#include "core/constraints/forms.hpp"
#include "core/session/session.hpp"

#include <gtest/gtest.h>
#include <random>

namespace kp {
namespace {

/// The demo and the shipped data on a disk in memory.
MemoryDisk demo_disk_of_session() {
    MemoryDisk disk;
    for (const char* file : {"vane.kpeg", "vane.v", "vane.sdf", "clocks.sdc", "ports.sdc"})
        disk.files[std::string("p/") + file] = real_disk().read(std::string(KP_SOURCE "/demo/vane/") + file).take();
    for (const char* file :
         {"parts/skr11-q144.part.json", "boards/tussock.board.json", "standards/io.standards.json", "cells/skerry.lib"})
        disk.files[std::string("data/") + file] = real_disk().read(std::string(KP_SOURCE "/data/") + file).take();
    return disk;
}

std::unique_ptr<Session> open_session(MemoryDisk& disk) {
    auto s = Session::open(disk, "p/vane.kpeg", "data");
    EXPECT_TRUE(s.ok()) << (s.ok() ? "" : s.first().sentence());
    return s.ok() ? s.take() : nullptr;
}

std::string state(const Session& s) {
    auto out = write_project({s.project(), {}});  // by the table of fields: all of them
    for (const auto& f : s.project().constraints) out += f.text;
    return out;
}

/// Any one of the edits a user makes.
Edit random_edit(const Session& s, std::mt19937& random) {
    const auto& ports = s.world().netlist.ports;
    const auto& port = ports[random() % ports.size()].name;
    switch (random() % 6) {
        case 0: return unpeg_edit(s.project(), port);
        case 1: return swap_edit(s.project(), port, ports[random() % ports.size()].name);
        case 2: return standard_edit(s.project(), port, s.world().standards.rows[random() % 6].name);
        case 3: return Edit{"waive", {WaiverChange{{"L11", {port}, "r" + std::to_string(random()), "me", ""}, true}}};
        case 4: {
            const auto& f = s.project().constraints[random() % 2];
            const size_t at = random() % (f.text.size() + 1), n = std::min<size_t>(random() % 4, f.text.size() - at);
            return Edit{"type", {TextChange{f.path, at, f.text.substr(at, n), "#" + std::to_string(random() % 100)}}};
        }
        default: return peg_edit(s.project(), s.world().board, port, std::to_string(1 + random() % 144), "by hand");
    }
}

TEST(Session, RandomEditsUndoneRedoneSavedAndOpenedAreTheSame) {
    std::mt19937 random(23);
    for (int round = 0; round < 5; ++round) {
        auto disk = demo_disk_of_session();
        auto s = open_session(disk);
        std::vector<std::string> states{state(*s)};
        for (int i = 0; i < 60; ++i) {
            const auto edit = random_edit(*s, random);
            ASSERT_TRUE(s->apply(edit).ok());
            if (!edit.empty()) states.push_back(state(*s));
        }
        for (size_t i = states.size(); i-- > 1;) {
            ASSERT_EQ(state(*s), states[i]);
            ASSERT_TRUE(s->undo().ok());
        }
        EXPECT_EQ(state(*s), states.front());
        while (s->document().can_redo()) ASSERT_TRUE(s->redo().ok());
        EXPECT_EQ(state(*s), states.back());
        ASSERT_TRUE(s->document().save().ok());
        EXPECT_EQ(state(*open_session(disk)), states.back());
    }
}

TEST(Session, AStaleEditChangesNothing) {
    auto disk = demo_disk_of_session();
    auto s = open_session(disk);
    const auto before = state(*s);
    Edit edit = unpeg_edit(s->project(), "tone");
    edit.changes.emplace_back(PegChange{"gray[0]", Peg{"999", PegState::pegged, ""}, std::nullopt});
    const auto status = s->apply(edit);
    ASSERT_FALSE(status.ok());
    EXPECT_EQ(status.first().text, "The peg of gray[0] is no longer as this edit found it; nothing was changed.");
    EXPECT_EQ(state(*s), before);
    EXPECT_FALSE(s->document().can_undo());
}

TEST(Session, AWrongPartIsRefusedAndTheProjectStays) {
    auto disk = demo_disk_of_session();
    auto s = open_session(disk);
    const auto status = s->apply(Edit{"part", {FieldChange{"part", "SKR11-Q144-MN", "SKR99-Q144-MN"}}});
    ASSERT_FALSE(status.ok());
    EXPECT_EQ(status.first().text,
              "No part file knows the ordering code 'SKR99-Q144-MN'; known are codes that start with SKR11-Q144. Did "
              "you mean 'SKR11-Q144'?");
    EXPECT_EQ(s->project().part, "SKR11-Q144-MN");
}

// Promise J1: what apply() returned is found again, whenever the program dies.
TEST(Journal, EditsComeBackAfterACrash) {
    auto disk = demo_disk_of_session();
    std::string wanted;
    {
        auto s = open_session(disk);
        ASSERT_TRUE(s->apply(unpeg_edit(s->project(), "tone")).ok());
        ASSERT_TRUE(s->apply(standard_edit(s->project(), "tone", "LVTTL 3.3 V")).ok());
        ASSERT_TRUE(s->undo().ok());
        wanted = state(*s);
    }  // no save: a crash
    auto s = open_session(disk);
    EXPECT_EQ(state(*s), wanted);
    EXPECT_EQ(s->document().notes().at(0).text, "3 edits that had not been saved came back.");
    EXPECT_TRUE(s->document().can_undo());
}

// Promise J2: every cut of the journal opens, with the whole edits before the cut.
TEST(Journal, EveryCutLengthOpens) {
    auto disk = demo_disk_of_session();
    std::vector<std::string> states;
    {
        auto s = open_session(disk);
        states.push_back(state(*s));
        for (const char* port : {"tone", "gray[1]", "hold_n"}) {
            ASSERT_TRUE(s->apply(unpeg_edit(s->project(), port)).ok());
            states.push_back(state(*s));
        }
    }
    const auto journal = disk.files["p/vane.kpeg.journal"];
    const auto lines = [](std::string_view text) { return std::count(text.begin(), text.end(), '\n'); };
    const auto head = lines(journal) - 3;  // one line an edit
    ASSERT_GE(head, 0);
    for (size_t n = 0; n <= journal.size(); ++n) {
        auto copy = disk;
        copy.files["p/vane.kpeg.journal"] = journal.substr(0, n);
        auto s = open_session(copy);
        ASSERT_NE(s, nullptr);
        const auto whole = std::max<std::ptrdiff_t>(0, lines(std::string_view(journal).substr(0, n)) - head);
        ASSERT_EQ(state(*s), states[static_cast<size_t>(whole)]) << "cut at " << n;
    }
}

// Promise J3.
TEST(Journal, OfAnotherStateIsNotApplied) {
    auto disk = demo_disk_of_session();
    {
        auto s = open_session(disk);
        ASSERT_TRUE(s->apply(unpeg_edit(s->project(), "tone")).ok());
    }
    disk.files["p/ports.sdc"] += "# edited elsewhere\n";
    EXPECT_TRUE(open_session(disk)->project().pegs.contains("tone"));
}

// Promise J4 and formats.md: at every failing step the project opens as before or as after, never between.
TEST(Save, EveryFailingStepLeavesAWholeProject) {
    for (int n = 1;; ++n) {
        auto disk = demo_disk_of_session();
        std::string before, after;
        bool fault_met = false;
        {
            auto s = open_session(disk);
            before = state(*s);
            ASSERT_TRUE(s->apply(unpeg_edit(s->project(), "tone")).ok());
            ASSERT_TRUE(s->apply(add_line(*s, "# a new line", "type")).ok());
            after = state(*s);
            disk.calls = 0;
            disk.fail_at = n;
            (void)s->document().save();
            fault_met = disk.calls >= n;
        }
        disk.fail_at = 0;
        auto s = open_session(disk);
        ASSERT_NE(s, nullptr) << "step " << n;
        // Unsaved edits come back from the journal, so the state is the newest in every case but a damaged journal
        // line.
        EXPECT_EQ(state(*s), after) << "step " << n;
        if (!fault_met) break;
    }
}

TEST(Open, EveryCutOfEveryFileIsASentenceAndNoCrash) {
    const auto whole = demo_disk_of_session();
    for (const auto& [path, text] : whole.files) {
        for (size_t k = 0; k < 12; ++k) {
            auto disk = whole;
            disk.files[path] = text.substr(0, text.size() * k / 12);
            const auto s = Session::open(disk, "p/vane.kpeg", "data");
            if (path.ends_with(".sdc")) {  // a text that is typed on: it opens, and says what is cut off
                EXPECT_TRUE(s.ok()) << path << " " << k;
                continue;
            }
            ASSERT_FALSE(s.ok()) << path << ", " << k << " twelfths of it, opened";
            const auto name = path.substr(path.rfind('/') + 1);
            EXPECT_NE(s.first().sentence().find(name), std::string::npos) << s.first().sentence();
        }
    }
}

TEST(Log, ComparesAndRestores) {
    auto disk = demo_disk_of_session();
    auto s = open_session(disk);
    s->analyse_now();
    ASSERT_TRUE(s->apply(unpeg_edit(s->project(), "tone")).ok());
    ASSERT_TRUE(s->apply(clock_form(*s, "osc_20", 50, 50).value()).ok());
    s->analyse_now();
    ASSERT_EQ(s->log().runs().size(), 2u);
    const auto list = compare(s->log().entry(1).value(), s->log().entry(2).value());
    std::string text;
    for (const auto& d : list) text += d.what + ": " + d.before + " > " + d.after + "\n";
    EXPECT_NE(text.find("tone: pin 112 > adrift"), std::string::npos) << text;
    EXPECT_NE(text.find("clocks.sdc:2: create_clock -name osc_20 -period 40 [get_ports osc_20] > create_clock -name "
                        "osc_20 -period 50 [get_ports osc_20]"),
              std::string::npos)
        << text;
    ASSERT_TRUE(s->apply(restore_edit(s->project(), s->log().entry(1).value())).ok());
    EXPECT_TRUE(restore_edit(s->project(), s->log().entry(1).value()).empty());
    EXPECT_TRUE(s->document().can_undo());
    // The log is on the disk.
    EXPECT_EQ(open_session(disk)->log().runs().size(), 2u);
}

TEST(Forms, EditOneCommandOfTheText) {
    auto disk = demo_disk_of_session();
    auto s = open_session(disk);
    s->analyse_now();
    ASSERT_TRUE(s->apply(clock_form(*s, "osc_20", 50, 40).value()).ok());
    EXPECT_NE(s->project().constraints[0].text.find(
                  "create_clock -waveform {0 20} -name osc_20 -period 50 [get_ports osc_20]\n"),
              std::string::npos);
    s->analyse_now();
    ASSERT_TRUE(s->apply(delay_form(*s, "tone", true, 7.5).value()).ok());
    EXPECT_TRUE(
        s->project().constraints[1].text.ends_with("set_output_delay -clock osc_20 -max 7.5 [get_ports tone]\n"));
    s->analyse_now();
    ASSERT_TRUE(s->apply(delay_form(*s, "tone", true, 8).value()).ok());
    EXPECT_TRUE(s->project().constraints[1].text.ends_with("set_output_delay -clock osc_20 -max 8 [get_ports tone]\n"));
    EXPECT_FALSE(clock_form(*s, "osc_20", 0, 50).ok());
    EXPECT_FALSE(delay_form(*s, "nobody", true, 1).ok());
}

TEST(Handoff, IsHeldByStopsAndWholeOtherwise) {
    auto disk = demo_disk_of_session();
    auto s = open_session(disk);
    s->analyse_now();
    EXPECT_EQ(write_handoff(disk, *s, "p/out", false).first().text,
              "Nothing was written: 3 stops are open. Fix or waive them in Findings.");
    EXPECT_FALSE(disk.files.contains("p/out/manifest.json"));
    // Mended by the fixes alone, as a user would.
    while (count(s->findings()).stops + count(s->findings()).cautions > 0) {
        // What only the user knows is asked for: 2 ns for the sounder.
        const auto fix = s->fixes_of(s->findings().front()).at(0);
        EXPECT_EQ(fix.ask, s->findings().front().rule == "D06" ? "output delay of tone against osc_20, ns" : "");
        ASSERT_TRUE(s->apply(answered(fix, "2")).ok());
        s->analyse_now();
    }
    ASSERT_TRUE(write_handoff(disk, *s, "p/out", false).ok());
    const auto sheet = read_csv(disk.files["p/out/pins.csv"]);
    EXPECT_EQ(sheet.size(), s->world().netlist.ports.size() + 1);
    const auto manifest = Json::parse(disk.files["p/out/manifest.json"]);
    for (const auto& file : manifest["files"])
        EXPECT_EQ(file["bytes"].get<size_t>(), disk.files["p/out/" + file["name"].get<std::string>()].size());
    EXPECT_NE(disk.files["p/out/report.html"].find("osc_20"), std::string::npos);
    EXPECT_EQ(disk.files["p/out/clocks.sdc"], s->project().constraints[0].text);
}

}  // namespace
}  // namespace kp
