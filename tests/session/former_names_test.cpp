// SPDX-License-Identifier: GPL-3.0-or-later
// Files that users made by the names of before still open: ordering codes, keys, cells, journals, asks.
#include "core/format/json/json_text.hpp"
#include "core/model/former_names.hpp"
#include "core/base/memory_disk.hpp"
#include "core/format/json/edit_json.hpp"
#include "core/format/json/links_json.hpp"
#include "core/format/json/world_json.hpp"
#include "core/session/session.hpp"

#include <gtest/gtest.h>

namespace kp {
namespace {

void replace_all(std::string& text, const std::string& from, const std::string& to) {
    for (size_t at = 0; (at = text.find(from, at)) != std::string::npos; at += to.size())
        text.replace(at, from.size(), to);
}

/// The demo as it was when parts and cells had their former names.
MemoryDisk old_demo() {
    MemoryDisk disk;
    for (const char* file : {"vane.kpeg", "vane.v", "vane.sdf", "clocks.sdc", "ports.sdc"}) {
        auto& text = disk.files[std::string("p/") + file] =
            real_disk().read(std::string(KP_SOURCE "/demo/vane/") + file).take();
        // The longest present names first: one is the beginning of another.
        std::vector<FormerName> cells(former_cells().begin(), former_cells().end());
        std::sort(cells.begin(), cells.end(), [](auto& a, auto& b) { return a.now.size() > b.now.size(); });
        for (const auto& [former, now] : cells) replace_all(text, std::string(now), std::string(former));
        replace_all(text, "SKR11-Q144-MN", "SKR12-Q144-2C");
        replace_all(text, "\"receives\"", "\"target\"");
    }
    for (const char* file :
         {"parts/skr11-q144.part.json", "boards/tussock.board.json", "standards/io.standards.json", "cells/skerry.lib"})
        disk.files[std::string("data/") + file] = real_disk().read(std::string(KP_SOURCE "/data/") + file).take();
    return disk;
}

TEST(FormerNames, CodesOfEachPartSpeedAndRange) {
    EXPECT_EQ(present_code("SKR12-Q144-2C"), "SKR11-Q144-MN");
    EXPECT_EQ(present_code("SKR24-B256-1I"), "SKR23-B256-LW");
    EXPECT_EQ(present_code("SKR45L-B484-3I"), "SKR44L-B529-HW");
    EXPECT_EQ(present_code("SKR12-Q144"), "SKR11-Q144") << "the beginning of codes, as a part file has it";
    for (const char* other : {"SKR11-Q144-MN", "SKR12-Q144-4C", "SKR12-Q144-2CX", "ABX7-B16-1", "", "SKR12"})
        EXPECT_EQ(present_code(other), other);
}

TEST(FormerNames, AnOldProjectOpensIsTimedAndSavedByTheNamesOfNow) {
    auto disk = old_demo();
    ASSERT_NE(disk.files["p/vane.v"].find("SK_LOOK2 "), std::string::npos);
    auto opened = Session::open(disk, "p/vane.kpeg", "data");
    ASSERT_TRUE(opened.ok()) << opened.first().sentence();
    auto& s = *opened.value();
    EXPECT_EQ(s.project().part, "SKR11-Q144-MN");
    ASSERT_EQ(s.document().notes().size(), 1u);
    EXPECT_EQ(s.document().notes()[0].sentence(),
              "p/vane.kpeg: The ordering code SKR12-Q144-2C is now SKR11-Q144-MN; the project uses it, and the next "
              "save writes it.");
    EXPECT_EQ(s.document().notes()[0].severity, Severity::note);
    EXPECT_TRUE(s.project().constraints[1].receives);
    for (const auto& cell : s.world().cells) EXPECT_EQ(cell.from, "liberty") << cell.type;
    EXPECT_FALSE(s.document().unsaved()) << "nothing of it is an edit of the user's";
    ASSERT_TRUE(s.apply(Edit{"note", {FieldChange{"load", "", "stored"}}}).ok());
    ASSERT_TRUE(s.document().save().ok());
    EXPECT_NE(disk.files["p/vane.kpeg"].find("SKR11-Q144-MN"), std::string::npos);
    for (const char* gone : {"SKR12", "\"target\""})
        EXPECT_EQ(disk.files["p/vane.kpeg"].find(gone), std::string::npos) << gone;
}

TEST(FormerNames, APartFileOfTheUsersOwnKeepsTheCodeItKnows) {
    auto disk = old_demo();
    auto own = disk.files["data/parts/skr11-q144.part.json"];
    replace_all(own, "SKR11-Q144", "SKR12-Q144");
    replace_all(own, "{\"code\": \"11\"", "{\"code\": \"12\"");
    replace_all(own, "{\"code\": \"M\"", "{\"code\": \"2\"");
    replace_all(own, "{\"code\": \"N\"", "{\"code\": \"C\"");
    disk.files["p/mine.part.json"] = own;
    auto opened = Session::open(disk, "p/vane.kpeg", "data");
    ASSERT_TRUE(opened.ok()) << opened.first().sentence();
    EXPECT_EQ(opened.value()->project().part, "SKR12-Q144-2C");
    EXPECT_TRUE(opened.value()->document().notes().empty());
}

TEST(FormerNames, ABoardOfTheUsersOwnCarriesThePartByItsFormerCode) {
    auto disk = old_demo();
    replace_all(disk.files["data/boards/tussock.board.json"], "SKR11-Q144-MN", "SKR12-Q144-2C");
    auto opened = Session::open(disk, "p/vane.kpeg", "data");
    ASSERT_TRUE(opened.ok()) << opened.first().sentence();
    EXPECT_EQ(opened.value()->world().board.part, "SKR11-Q144-MN");
    for (const auto& f : opened.value()->findings())
        if (f.rule == "D01") ADD_FAILURE() << f.text;
}

TEST(FormerNames, KeysOfAnOldPartFileAndTheLineOfItsMistakes) {
    auto text = real_disk().read(KP_SOURCE "/data/parts/skr44l-b529.part.json").take();
    const auto now = read_part(text, "p").take();
    for (const auto& [former, key] : former_keys("part"))
        replace_all(text, '"' + std::string(key) + '"', '"' + std::string(former) + '"');
    const auto old = read_part(text, "p");
    ASSERT_TRUE(old.ok()) << old.first().sentence();
    EXPECT_EQ(write_part(old.value()), write_part(now));
    ASSERT_EQ(old.value().lane_blocks.size(), 1u);
    EXPECT_EQ(old.value().lane_blocks[0].crossings, 12);
    const auto crossings = text.find("\"channels\": 12");
    const auto line = std::count(text.begin(), text.begin() + static_cast<long>(crossings), '\n') + 1;
    text.replace(crossings, 14, "\"channels\": \"x\"");
    const auto wrong = read_part(text, "p");
    ASSERT_FALSE(wrong.ok());
    EXPECT_EQ(wrong.first().sentence(), "p:" + std::to_string(line) + ":19: \"crossings\" should be a number.");
}

TEST(FormerNames, AnOldAskAndAnOldProjectNameTheirLinksInterfaces) {
    const std::string links = R"([{"name": "a", "protocol": "raw 8b/10b", "lanes": 1, "gbps": 2.5, "clock_mhz": 125}])";
    const auto ask = read_ask(R"({"schema": "kitepeg.interfaces/1", "interfaces": )" + links + "}", "ask");
    ASSERT_TRUE(ask.ok()) << ask.first().sentence();
    EXPECT_EQ(ask.value().at(0).name, "a");
    const auto both = read_ask(R"({"schema": "kitepeg.links/1", "interfaces": [], "links": )" + links + "}", "ask");
    ASSERT_TRUE(both.ok());
    EXPECT_EQ(both.value().size(), 1u) << "the present key counts where both are";
}

TEST(FormerNames, EditsOfAnOldJournalAreEditsOfNow) {
    const auto edit = edit_from_json(Json::parse(
        R"({"title": "t", "changes": [{"kind": "field", "field": "interfaces", "before": "", "after": "a"},)"
        R"({"kind": "field", "field": "part", "before": "SKR12-Q144-2C", "after": "SKR12-Q144-3C"}]})"));
    ASSERT_TRUE(edit.ok()) << edit.first().sentence();
    const auto& first = std::get<FieldChange>(edit.value().changes.at(0));
    const auto& second = std::get<FieldChange>(edit.value().changes.at(1));
    EXPECT_EQ(first.field, "links");
    EXPECT_EQ(second.before, "SKR11-Q144-MN");
    EXPECT_EQ(second.after, "SKR11-Q144-HN");
}

}  // namespace
}  // namespace kp
