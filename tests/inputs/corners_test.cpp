// SPDX-License-Identifier: GPL-3.0-or-later
// Corners: how they are told, and that a project's are those of the command.
#include "core/inputs/corners.hpp"

#include "core/format/json/project_json.hpp"
#include "core/session/analysis.hpp"

#include <gtest/gtest.h>

namespace kp {
namespace {

TEST(Corners, AreReadAndWrittenBack) {
    const auto c = parse_corner("slow,sdf=a.sdf,lib=b.lib,early=typ,late=max,early-factor=0.9", {}).take();
    EXPECT_EQ(c.name, "slow");
    EXPECT_EQ(c.sdf, "a.sdf");
    EXPECT_EQ(c.library, "b.lib");
    EXPECT_EQ(c.early, 1);
    EXPECT_EQ(c.late, 2);
    EXPECT_EQ(c.early_factor, 0.9);
    const auto again = parse_corner(text_of(c), {}).take();
    EXPECT_EQ(text_of(again), text_of(c));
    EXPECT_EQ(text_of(parse_corner("fast", {}).value()), "fast");
}

TEST(Corners, WhatIsWrongIsSaid) {
    for (const char* text : {"", "slow,early=soon", "slow,sdf=", "slow,late-factor=-1", "slow,other=1", "sdf=a.sdf",
                             "slow,late-factor=nan", "slow,fast"})
        EXPECT_FALSE(parse_corner(text, {}).ok()) << text;
    EXPECT_FALSE(parse_corners({"a", "b", "a"}, {}).ok());
    EXPECT_TRUE(parse_corners({}, {}).value().empty());
}

Project vane() {
    const std::string path = KP_SOURCE "/demo/vane/vane-closed.kpeg";
    auto project = read_project(real_disk().read(path).value(), path).take().project;
    for (auto& sdc : project.constraints) sdc.text = real_disk().read(join_path(folder_of(path), sdc.path)).take();
    return project;
}

TimingReport report_of(const Project& project) {
    const auto world = load_world(real_disk(), project, KP_SOURCE "/demo/vane", KP_SOURCE "/data");
    EXPECT_TRUE(world.ok()) << world.first().sentence();
    return analyse(*world.value(), project, "", {})->timing();
}

TEST(Corners, OfAProjectAreTimedTogether) {
    auto project = vane();
    const auto alone = report_of(project);
    EXPECT_TRUE(alone.corners.empty());
    project.corners = {"slow", "half,late-factor=0.5,early-factor=0.5"};
    const auto both = report_of(project);
    ASSERT_EQ(both.corners.size(), 2u);
    EXPECT_EQ(both.corners[0].name, "slow");
    EXPECT_EQ(both.corners[0].setup.wns, alone.setup.wns);
    // Setup is worst where everything is slow, and each endpoint says where it is worst.
    EXPECT_EQ(both.setup.wns, alone.setup.wns);
    EXPECT_GT(*both.corners[1].setup.wns, *both.corners[0].setup.wns);
    for (const auto& e : both.endpoints) EXPECT_FALSE(e.corner.empty()) << e.endpoint;
}

TEST(Corners, AFileThatIsMissingIsSaid) {
    auto project = vane();
    project.corners = {"slow,sdf=nowhere.sdf"};
    EXPECT_FALSE(load_world(real_disk(), project, KP_SOURCE "/demo/vane", KP_SOURCE "/data").ok());
    project.corners = {"slow,pace=2"};
    const auto world = load_world(real_disk(), project, KP_SOURCE "/demo/vane", KP_SOURCE "/data");
    ASSERT_FALSE(world.ok());
    EXPECT_NE(world.first().text.find("pace=2"), std::string::npos);
}

}  // namespace
}  // namespace kp
