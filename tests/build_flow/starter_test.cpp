// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/board_sim/board_bench.hpp"
#include "core/build_flow/build.hpp"
#include "core/build_flow/starter.hpp"
#include "core/inputs/data_folder.hpp"

#include <filesystem>
#include <gtest/gtest.h>

namespace kp::build_flow {
namespace {

class StarterFor : public testing::TestWithParam<const char*> {};

TEST_P(StarterFor, EveryBoardThatShipsBlinks) {
    Project ask;
    ask.board = GetParam();
    const std::map<std::string, std::string> part_of{
        {"tussock", "SKR11-Q144-MN"}, {"saltmarsh", "SKR23-B256-MN"}, {"headland", "SKR44L-B529-HW"}};
    ask.part = part_of.at(GetParam());
    const auto world = load_world(real_disk(), ask, ".", data_folder());
    ASSERT_TRUE(world.ok()) << world.first().sentence();
    const auto starter = starter_for(world.value()->board, ask.board, world.value()->part);
    ASSERT_TRUE(starter.ok()) << starter.first().sentence();
    EXPECT_GT(starter.value().blink_hz, 0.9);
    EXPECT_LE(starter.value().blink_hz, 2.0);
    ASSERT_FALSE(starter.value().follows.empty());
    const auto folder = testing::TempDir() + "kp_starter_" + GetParam();
    std::filesystem::remove_all(folder);
    ASSERT_TRUE(write_starter(real_disk(), folder, starter.value()).ok());
    EXPECT_FALSE(write_starter(real_disk(), folder, starter.value()).ok());  // never over what is there
    BuildRequest request;
    request.project = starter.value().project;
    request.project.part = ask.part;
    request.project.parameters["BITS"] = "6";  // so that a blink does not take a second of life
    request.folder = folder;
    request.data = data_folder();
    request.out = folder;
    const auto built = build(real_disk(), request);
    ASSERT_TRUE(built.ok()) << built.first().sentence();
    ASSERT_TRUE(built.value().built) << built.value().messages[0].sentence();
    EXPECT_EQ(built.value().verdict, BuildVerdict::met);
    EXPECT_EQ(built.value().loose, 0);
    const auto& w = *built.value().world;
    auto bench = BoardBench::make(w.netlist, w.library, w.board, request.project.pegs);
    ASSERT_TRUE(bench.ok()) << bench.first().sentence();
    EXPECT_TRUE(bench.value().conflicts().empty());
    int blinks = 0;
    bool last = bench.value().active(starter.value().blinks);
    for (int k = 0; k < 1280; ++k) {
        bench.value().run(1);
        const bool now = bench.value().active(starter.value().blinks);
        blinks += now && !last;
        last = now;
    }
    EXPECT_EQ(blinks, 20);  // 1,280 clocks, 64 a blink
    const auto key = w.board.at_terminal(starter.value().key);
    for (const bool down : {false, true, false}) {
        bench.value().drive(starter.value().key, down != key.terminal->active_low);
        EXPECT_EQ(bench.value().active(starter.value().follows), down);
    }
}

INSTANTIATE_TEST_SUITE_P(Boards, StarterFor, testing::Values("tussock", "saltmarsh", "headland"));

}  // namespace
}  // namespace kp::build_flow
