// SPDX-License-Identifier: GPL-3.0-or-later
// Parts by code, by file, and named by their file in a project.
#include "core/inputs/part_files.hpp"

#include "core/base/memory_disk.hpp"
#include "core/inputs/data_folder.hpp"
#include "core/inputs/world.hpp"

#include <gtest/gtest.h>

namespace kp {
namespace {

std::string shipped_part() {
    return real_disk().read(data_folder() + "/parts/skr11-q144.part.json").take();
}

TEST(PartFiles, ByCodeByFormerCodeAndByFile) {
    auto& disk = real_disk();
    const auto code = part_called(disk, "SKR11-Q144-MN", ".", data_folder());
    ASSERT_TRUE(code.ok()) << code.first().sentence();
    const auto file = part_called(disk, data_folder() + "/parts/skr11-q144.part.json", ".", data_folder());
    ASSERT_TRUE(file.ok()) << file.first().sentence();
    EXPECT_EQ(file.value().name, code.value().name);
    EXPECT_EQ(file.value().pins.size(), code.value().pins.size());
    const auto none = part_called(disk, "SKR11-Q14", ".", data_folder());
    ASSERT_FALSE(none.ok());
    EXPECT_EQ(none.first().code, Code::part);
    EXPECT_TRUE(none.first().text.starts_with("No part file knows the ordering code 'SKR11-Q14'; known are codes that"))
        << none.first().text;
    EXPECT_FALSE(part_called(disk, "SKR11-Q144-MX", ".", data_folder()).ok()) << "a code that is not a whole one";
    EXPECT_FALSE(part_called(disk, "nowhere.part.json", ".", data_folder()).ok());
}

TEST(PartFiles, OneBesideTheProjectGoesBeforeTheShippedOnes) {
    MemoryDisk disk;
    auto text = shipped_part();
    const auto at = text.find("\"name\"");
    ASSERT_NE(at, std::string::npos);
    disk.files["here/own.part.json"] = text;
    const auto found = part_called(disk, "SKR11-Q144-MN", "here", "data");
    ASSERT_TRUE(found.ok()) << found.first().sentence();
    EXPECT_FALSE(part_called(disk, "SKR11-Q144-MN", "there", "data").ok());
}

// A stranger's project must not have files read that lie outside of its folder.
TEST(PartFiles, AProjectsPartFileLiesInItsFolderOrIsAllowed) {
    MemoryDisk disk;
    disk.files["p/in.part.json"] = shipped_part();
    disk.files["out.part.json"] = shipped_part();
    for (const auto& entry : {std::string("/standards/io.standards.json")})
        disk.files["data" + entry] = real_disk().read(data_folder() + entry).take();
    Project project;
    project.part = "in.part.json";
    const auto inside = load_world(disk, project, "p", "data");
    ASSERT_TRUE(inside.ok()) << inside.first().sentence();
    EXPECT_EQ(inside.value()->part.name, "SKR11-Q144");
    EXPECT_TRUE(inside.value()->code.complete);
    ASSERT_FALSE(inside.value()->files.empty());
    EXPECT_EQ(inside.value()->files[0].role, "part");
    EXPECT_FALSE(inside.value()->files[0].with_program) << "it is the user's, so a handoff takes it along";
    project.part = "../out.part.json";
    const auto outside = load_world(disk, project, "p", "data");
    ASSERT_FALSE(outside.ok());
    EXPECT_EQ(outside.first().code, Code::outside);
    project.part = "none.part.json";
    EXPECT_FALSE(load_world(disk, project, "p", "data").ok());
}

TEST(PartFiles, TroublesOfCellsStandAtTheLinesOfTheirRows) {
    const auto grid = table::read_grid("Ball,Wire\n1,a\n2,b\n", "t.csv").take();
    const auto told =
        messages_of({{1, 0, Severity::stop, "not a ball"}, {0, -1, Severity::note, "the whole row"}}, grid, "t.csv");
    ASSERT_EQ(told.size(), 2U);
    EXPECT_EQ(told[0].sentence(), "t.csv:3: not a ball");
    EXPECT_EQ(told[1].sentence(), "t.csv: the whole row");
    EXPECT_EQ(told[0].code, Code::table);
}

}  // namespace
}  // namespace kp
