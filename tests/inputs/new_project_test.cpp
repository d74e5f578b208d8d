// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/memory_disk.hpp"
#include "core/inputs/new_project.hpp"

#include "core/base/names.hpp"
#include "core/planning/place.hpp"
#include "core/session/session.hpp"

#include <gtest/gtest.h>

namespace kp {
namespace {

TEST(Names, PortableOnesAndProposals) {
    struct Row {
        const char *name, *better;
    };
    for (const auto& r : {Row{"vane", "vane"}, Row{"my design", "my_design"}, Row{"2nd", "n2nd"}, Row{"a__b_", "a_b"},
                          Row{"process", "process_1"}, Row{"input", "input_1"}, Row{"foreach", "foreach_1"},
                          Row{"Böe", "Boe"}, Row{"", "unnamed"}, Row{"--", "unnamed"}}) {
        EXPECT_EQ(name_trouble(r.name).has_value(), std::string(r.name) != r.better) << r.name;
        EXPECT_EQ(portable_name(r.name), r.better);
        EXPECT_FALSE(name_trouble(portable_name(r.name))) << r.name;
    }
    EXPECT_FALSE(path_trouble("/home/me/kite-1/vane.v"));
    EXPECT_TRUE(path_trouble("/home/me/my files/vane.v"));
    EXPECT_EQ(portable_path("/home/Jörg/my files/a&b.v"), "/home/Jorg/my_files/a_b.v");
}

struct NewProjectWorld : testing::Test {
    NewProjectWorld() {
        for (const char* file : {"parts/skr11-q144.part.json", "parts/skr23-b256.part.json",
                                 "boards/tussock.board.json", "boards/saltmarsh.board.json",
                                 "standards/io.standards.json", "cells/skerry.lib", "modules/lampbar.module.json"})
            disk.files[std::string("data/") + file] = real_disk().read(std::string(KP_SOURCE "/data/") + file).take();
        disk.files["src/vane.v"] = real_disk().read(KP_SOURCE "/demo/vane/vane.v").take();
        disk.files["src/skerry.lib"] = disk.files["data/cells/skerry.lib"];
        disk.files["src/shell.sv"] = real_disk().read(KP_SOURCE "/demo/profiler/profiler_shell.sv").take();
        catalogue = read_catalogue(disk, "", "data");
    }
    MemoryDisk disk;
    Catalogue catalogue;
};
using NewProjects = NewProjectWorld;

TEST_F(NewProjects, TheCatalogueKnowsPartsBoardsAndCodes) {
    EXPECT_EQ(catalogue.parts.size(), 2u);
    EXPECT_EQ(catalogue.boards.size(), 2u);
    EXPECT_EQ(catalogue.modules, std::vector<std::string>{"lampbar"});
    const auto codes = catalogue.codes();
    EXPECT_EQ(codes.size(), 12u);  // two parts, three speeds, two ranges
    EXPECT_EQ(codes[0], "SKR11-Q144-HN");
}

TEST_F(NewProjects, IsCheckedBeforeAnythingIsWritten) {
    const auto first = [&](const NewProject& w) {
        const auto all = check(disk, w, catalogue);
        return all.empty() ? std::string() : all[0].text;
    };
    const auto files = disk.files;
    EXPECT_EQ(first({"", "x", "", "", {}, true, ""}), "Say in which folder the project shall be.");
    EXPECT_EQ(first({"p", "", "", "", {}, true, ""}), "Give the project a name.");
    EXPECT_EQ(first({"p", "my design", "", "", {}, true, ""}),
              "The name 'my design' makes trouble elsewhere: it has a blank; letters, digits and underscores are "
              "understood everywhere. Better: my_design.");
    EXPECT_NE(first({"my p", "x", "", "", {}, true, ""}).find("Better: my_p."), std::string::npos);
    EXPECT_EQ(first({"p", "x", "SKR11-Q145-MN", "", {}, true, ""}).substr(0, 27), "No part file knows the orde");
    EXPECT_EQ(first({"p", "x", "", "tusock", {}, true, ""}), "There is no board 'tusock'. Did you mean 'tussock'?");
    EXPECT_EQ(first({"p", "x", "SKR23-B256-MN", "tussock", {}, true, ""}),
              "The board Tussock carries SKR11-Q144-MN, not SKR23-B256-MN.");
    EXPECT_EQ(first({"p", "x", "", "", {"src/none.v"}, true, ""}), "is not there.");
    EXPECT_EQ(disk.files, files);
}

TEST_F(NewProjects, WithANetlistAndItsCells) {
    const auto path =
        create_project(disk, {"p", "mine", "", "tussock", {"src/vane.v", "src/skerry.lib"}, true, ""}, catalogue);
    ASSERT_TRUE(path) << path.first().sentence();
    EXPECT_EQ(path.value(), "p/mine.kpeg");
    EXPECT_TRUE(disk.files.contains("p/vane.v"));
    auto s = Session::open(disk, path.value(), "data");
    ASSERT_TRUE(s) << s.first().sentence();
    EXPECT_EQ(s.value()->project().netlists, std::vector<std::string>{"vane.v"});
    EXPECT_EQ(s.value()->project().part, "SKR11-Q144-MN") << "the board brings its part";
    EXPECT_EQ(s.value()->world().netlist.cells.size(), 114u);
    EXPECT_FALSE(create_project(disk, {"p", "mine", "", "", {}, true, ""}, catalogue))
        << "a project is never written over";
}

TEST_F(NewProjects, ADesignThatCannotBeReadIsRefusedBeforeAnythingIsWritten) {
    disk.files["src/two.v"] = "module alpha(input a); endmodule module beta(input b); endmodule";
    disk.files["src/cut.v"] = "module alpha(input a";
    const auto files = disk.files;
    EXPECT_EQ(create_project(disk, {"p", "mine", "", "", {"src/two.v"}, true, ""}, catalogue).first().text,
              "Several modules could be the top: alpha and beta. Name one of them.");
    EXPECT_FALSE(create_project(disk, {"p", "mine", "", "", {"src/cut.v"}, true, ""}, catalogue));
    EXPECT_EQ(disk.files, files);
    EXPECT_TRUE(create_project(disk, {"p", "mine", "", "", {"src/two.v"}, true, "beta"}, catalogue));
}

TEST_F(NewProjects, HalfDoneIsWritten) {
    const auto path = create_project(disk, {"q", "later", "", "", {}, true, ""}, catalogue);
    ASSERT_TRUE(path);
    auto s = Session::open(disk, path.value(), "data");
    ASSERT_TRUE(s) << s.first().sentence();
    EXPECT_TRUE(s.value()->project().part.empty());
}

TEST_F(NewProjects, WithAHeaderOnly) {
    const auto path =
        create_project(disk, {"p", "early", "SKR23-B256-MN", "saltmarsh", {"src/shell.sv"}, true, ""}, catalogue);
    ASSERT_TRUE(path);
    auto s = Session::open(disk, path.value(), "data");
    ASSERT_TRUE(s) << s.first().sentence();
    EXPECT_EQ(s.value()->world().language, "systemverilog");
    EXPECT_EQ(s.value()->world().netlist.ports.size(), 149u);
}

// The fourth part and board, written from docs/describe-your-part.md and docs/describe-your-board.md.
TEST_F(NewProjects, ThePartAndBoardOfTheGuidesArePlannedOn) {
    for (const char* file : {"trn4-q32.part.json", "plover.board.json"})
        disk.files[std::string("p/") + file] = real_disk().read(std::string(KP_SOURCE "/docs/examples/") + file).take();
    disk.files["src/meter.v"] =
        "module meter(input osc_12, start_n, data, output sck, cs_n, output [2:0] lamp_n);\nendmodule\n";
    catalogue = read_catalogue(disk, "p", "data");
    const auto path = create_project(disk, {"p", "meter", "", "plover", {"src/meter.v"}, true, ""}, catalogue);
    ASSERT_TRUE(path) << path.first().sentence();
    auto opened = Session::open(disk, path.value(), "data");
    ASSERT_TRUE(opened) << opened.first().sentence();
    auto& s = *opened.value();
    EXPECT_EQ(s.project().part, "TRN4-Q32-F");
    s.analyse_now();
    Edit pegs{"match", {}};
    for (const auto& m : match_names(s.world().netlist.ports, s.world().board, {})) {
        Project next = s.project();
        ASSERT_TRUE(kp::apply(next, pegs));
        for (const auto& change : peg_edit(next, s.world().board, m.port, m.pin, "by name").changes)
            pegs.changes.push_back(change);
    }
    ASSERT_TRUE(s.apply(pegs));
    EXPECT_EQ(s.project().pegs.size(), 8u) << "every port finds its terminal by name";
    for (const auto& f : s.findings()) EXPECT_NE(f.severity, Severity::stop) << f.text;
    // The header takes a module of the world.
    ASSERT_TRUE(s.apply(Edit{"fit", {set_field(s.project(), "modules", "lampbar@J1")}}));
    EXPECT_TRUE(s.world().board.at_terminal("J1.M1.bar7"));
}

TEST_F(NewProjects, AFaultOfTheDiskLeavesNoHalfProject) {
    for (int step = 1; step < 40; ++step) {
        MemoryDisk fresh;
        fresh.files = disk.files;
        fresh.fail_at = step;
        const auto path =
            create_project(fresh, {"p", "mine", "", "tussock", {"src/vane.v", "src/skerry.lib"}, true, ""}, catalogue);
        if (path) continue;
        EXPECT_FALSE(fresh.files.contains("p/mine.kpeg")) << step;
    }
}

}  // namespace
}  // namespace kp
