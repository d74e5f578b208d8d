// SPDX-License-Identifier: GPL-3.0-or-later
// Folders as people have them: a dozen layouts, invented, each with what has to come of it.
#include "core/inputs/folder.hpp"

#include "core/hdl/outline.hpp"
#include "core/session/document.hpp"
#include "core/inputs/source_list.hpp"
#include "core/inputs/take_over.hpp"
#include "core/inputs/world.hpp"

#include <gtest/gtest.h>

#include <filesystem>
#include <fstream>
#include <unistd.h>

namespace kp {
namespace {

using Files = std::map<std::string, std::string>;

class TreeFolder {
public:
    explicit TreeFolder(const Files& files) {
        static int count = 0;
        path_ = std::filesystem::temp_directory_path() /
                ("kp_folder_" + std::to_string(::getpid()) + "_" + std::to_string(++count));
        std::filesystem::create_directories(path_);
        for (const auto& [name, text] : files) write(name, text);
    }
    ~TreeFolder() { std::filesystem::remove_all(path_); }
    TreeFolder(const TreeFolder&) = delete;
    TreeFolder& operator=(const TreeFolder&) = delete;
    void write(const std::string& name, const std::string& text) const {
        std::filesystem::create_directories((path_ / name).parent_path());
        std::ofstream(path_ / name, std::ios::binary) << text;
    }
    [[nodiscard]] std::string path() const { return path_.string(); }
    [[nodiscard]] FolderView look() const {
        auto view = look_at_folder(real_disk(), path());
        EXPECT_TRUE(view.ok()) << view.first().sentence();
        return view ? view.take() : FolderView();
    }

private:
    std::filesystem::path path_;
};

std::string roles(const FolderView& v) {
    std::string out;
    for (const auto& f : v.files) out += f.path + ":" + f.role + " ";
    return out;
}
std::string joined(const std::vector<std::string>& list) {
    std::string out;
    for (const auto& s : list) out += s + " ";
    return out;
}

struct Layout {
    const char* name;
    Files files;
    std::string roles, top, order;
};

const std::string counter_of_folder =
    "module counter(input clk, output reg [3:0] q);\nalways @(posedge clk) q <= q + 1;\nendmodule\n";
const std::string cell_models =
    "`timescale 1ns/1ps\n`celldefine\nmodule INV(input A, output Y); not (Y, A); specify (A => Y) = 1; endspecify "
    "endmodule\n`endcelldefine\n";
const std::string netlist =
    "module chip(input a, output y);\n wire w; INV u1(.A(a), .Y(w)); INV u2(.A(w), .Y(y));\nendmodule\n";
const std::string sdf =
    "(DELAYFILE (SDFVERSION \"3.0\") (CELL (CELLTYPE \"INV\") (INSTANCE u1)\n"
    "(DELAY (ABSOLUTE (IOPATH A Y (1))))))\n";

const std::vector<Layout>& layouts() {
    static const std::vector<Layout> all{
        {"FlatVerilog",
         {{"top.v", "module top(input clk, output [3:0] led);\n counter c0(.clk(clk), .q(led));\nendmodule\n"},
          {"counter.v", counter_of_folder},
          {"top_tb.v",
           "module top_tb; reg clk = 0; wire [3:0] l; top dut(clk, l); initial begin #10 $finish; end\n"
           "always #5 clk = ~clk; endmodule\n"}},
         "counter.v:hdl top.v:hdl top_tb.v:bench ",
         "top",
         "counter.v top.v "},
        {"SourceAndSimulationFolders",
         {{"rtl/core.sv",
           "module core #(parameter W = 8) (input logic clk, output logic [W-1:0] d);\n"
           " for (genvar i = 0; i < W; i++) begin : g\n  bitcell #(.N(i)) b (.clk, .q(d[i]));\n end\nendmodule\n"},
          {"rtl/bitcell.sv",
           "module bitcell #(int N = 0) (input logic clk, output logic q);\nalways_ff @(posedge clk) q "
           "<= ~q;\nendmodule\n"},
          {"sim/clock_model.v", "module clock_model(output reg c); initial begin c = 0; #100 $stop; end endmodule\n"},
          {"sim/run.sh", "echo run\n"},
          {"doc/notes.md", "# notes\n"}},
         "doc/notes.md:other rtl/bitcell.sv:hdl rtl/core.sv:hdl sim/clock_model.v:bench sim/run.sh:other ",
         "core",
         "rtl/bitcell.sv rtl/core.sv "},
        {"PackagesFirst",
         {{"a_top.sv",
           "module a_top import z_types::*; (input byte_t d, output byte_t q);\n assign q = d;\nendmodule\n"},
          {"z_types.sv", "package z_types;\n import y_base::*;\n typedef logic [7:0] byte_t;\nendpackage\n"},
          {"y_base.sv", "package y_base; localparam int N = 3; endpackage\n"}},
         "a_top.sv:hdl y_base.sv:hdl z_types.sv:hdl ",
         "a_top",
         "y_base.sv z_types.sv a_top.sv "},
        {"HeadersThatAreIncluded",
         {{"src/top.v", "`include \"defs.vh\"\nmodule top(input clk, output y);\n`include \"body.inc.v\"\nendmodule\n"},
          {"inc/defs.vh", "`define WIDTH 8\n"},
          {"src/body.inc.v", "assign y = clk & 1'b1;\n"}},
         "inc/defs.vh:hdl src/body.inc.v:hdl src/top.v:hdl ",
         "top",
         "src/top.v "},
        {"Vhdl",
         {{"top.vhd",
           "library ieee; use ieee.std_logic_1164.all; use work.types.all;\nentity top is port (clk : in "
           "std_logic; q : out word); end top;\narchitecture rtl of top is\n component leaf port (c : in "
           "std_logic); end component;\nbegin\n u0 : entity work.blink(rtl) generic map (N => 3) port map (clk "
           "=> clk);\n u1 : leaf port map (c => clk);\nend rtl;\n"},
          {"leaf.vhd",
           "entity leaf is port (c : in bit); end; architecture a of leaf is begin process (c) begin end "
           "process; end;\n"},
          {"blink.vhd",
           "entity Blink is generic (N : integer); port (clk : in bit); end entity;\narchitecture rtl of blink "
           "is begin end;\n"},
          {"types.vhd", "package types is subtype word is bit_vector(7 downto 0); end package;\n"},
          {"tb.vhd",
           "entity tb is end tb;\narchitecture sim of tb is signal c : bit; begin\n dut : entity work.top port map "
           "(clk => c);\n c <= not c after 5 ns;\nend sim;\n"}},
         "blink.vhd:hdl leaf.vhd:hdl tb.vhd:bench top.vhd:hdl types.vhd:hdl ",
         "top",
         "blink.vhd leaf.vhd types.vhd top.vhd "},
        {"ImplementationRun",
         {{"run/chip.v", netlist},
          {"run/chip.sdf", sdf},
          {"cells/models.v", cell_models},
          {"chip.sdc", "create_clock -period 10 [get_ports a]\n"},
          {"rtl/chip.v", "module chip(input a, output y);\n assign y = ~~a;\nendmodule\n"}},
         "cells/models.v:models chip.sdc:constraints rtl/chip.v:hdl run/chip.sdf:delays run/chip.v:netlist ",
         "chip",
         "rtl/chip.v "},
        {"LibraryAndTables",
         {{"lib/cells.lib", "/* cells */\nlibrary (mine) { cell (INV) { } }\n"},
          {"board/pins.csv", "port;pin;standard\na;1;LVTTL\n"},
          {"board/prices.csv", "item,cost\nnut,3\n"},
          {"clocks.tcl", "# constraints\ncreate_clock -period 8 clk\n"},
          {"top.v", "module top(input clk); endmodule\n"}},
         "board/pins.csv:table board/prices.csv:other clocks.tcl:constraints lib/cells.lib:cells top.v:hdl ",
         "top",
         "top.v "},
        {"PartsAndBoards",
         {{"x.part.json", "{\n \"schema\": \"kitepeg.part/1\", \"name\": \"x\"}\n"},
          {"x.board.json", "{\"schema\": \"kitepeg.board/1\"}\n"},
          {"other.json", "{\"a\": 1}\n"},
          {"chip.bsd", "entity CHIP is generic (PHYSICAL_PIN_MAP : string := \"Q\");\nend CHIP;\n"},
          {"p.kpeg", "{\"schema\": \"kitepeg.project/1\"}\n"}},
         "chip.bsd:part other.json:other p.kpeg:other x.board.json:board x.part.json:part ",
         "",
         ""},
        {"SeveralTops",
         {{"one.v", "module one(input a, output y); assign y = !a; endmodule\n"},
          {"two.v", "module two(input a, output y); assign y = a; endmodule\n"}},
         "one.v:hdl two.v:hdl ",
         "",
         "one.v two.v "},
        {"OneFileForAll",
         {{"all.v", counter_of_folder + "module top(input clk, output [3:0] q); counter c(clk, q); endmodule\n"
                                        "module test; wire [3:0] q; top t(1'b0, q); endmodule\n"}},
         "all.v:hdl ",
         "top",
         "all.v "},
        {"GateLevelTopOfOwnBlocks",
         {{"top.v",
           "module top(input clk, output [3:0] q, r);\n PAD p(.I(clk), .O(c)); counter c0(.clk(c), .q(q)); counter "
           "c1(.clk(c), .q(r));\nendmodule\n"},
          {"counter.v", counter_of_folder}},
         "counter.v:hdl top.v:hdl ",
         "top",
         "counter.v top.v "},
        {"PrimitivesAndBinaries",
         {{"udp.v", "primitive p(o, a); output o; input a; table 0 : 1; 1 : 0; endtable endprimitive\n"},
          {"image.bin", std::string("\0\1\2", 3)},
          {".hidden.v", "module hidden; endmodule\n"},
          {"empty.v", ""},
          {"list.f", "+incdir+inc\ntop.v\n"}},
         "empty.v:hdl image.bin:other list.f:other udp.v:models ",
         "",
         "empty.v "},
    };
    return all;
}

TEST(FolderCorpus, EveryLayoutIsTakenOverRight) {
    for (const auto& l : layouts()) {
        const TreeFolder folder(l.files);
        const auto v = folder.look();
        EXPECT_EQ(roles(v), l.roles) << l.name;
        EXPECT_EQ(v.top, l.top) << l.name;
        EXPECT_EQ(joined(v.order), l.order) << l.name;
        for (const auto& f : v.files) EXPECT_FALSE(f.why.empty()) << l.name << " " << f.path;
    }
}

TEST(FolderTree, CountsInstancesAndSetsTestBenchesAside) {
    const TreeFolder folder(layouts()[0].files);
    const auto v = folder.look();
    ASSERT_EQ(v.hierarchy.size(), 3u);
    EXPECT_EQ(v.hierarchy[1].module, "top");
    EXPECT_EQ(v.hierarchy[1].instances.at("counter"), 1);
    EXPECT_EQ(v.hierarchy[2].only_simulated, "calls $finish");
    const TreeFolder grid(Files{{"t.v",
                                 "module leaf(input a); endmodule\nmodule t(input a); leaf u[3:0](.a(a)); leaf v(a);\n"
                                 "if (1) begin : x leaf w(a); end else leaf z(a); endmodule\n"}});
    EXPECT_EQ(grid.look().hierarchy.at(1).instances.at("leaf"), 4);
}

TEST(FolderTree, AWrapperOfACellBelongsToTheSourcesThatUseIt) {
    const TreeFolder folder(
        Files{{"top.v",
               "module top(input c, d, output reg q); wire k; wrap u(c, k); always @(posedge k) q <= d; endmodule\n"},
              {"wrap.v", "module wrap(input i, output o); inner v(i, o); endmodule\n"},
              {"inner.v", "module inner(input i, output o); CLOCK_CELL w(.I(i), .O(o)); endmodule\n"},
              {"placed.v", "module other(input i, output o); CLOCK_CELL w(.I(i), .O(o)); endmodule\n"}});
    const auto v = folder.look();
    EXPECT_EQ(joined(v.order), "inner.v wrap.v top.v ");
    EXPECT_EQ(joined(v.with_role("netlist")), "placed.v ");
}

TEST(FolderTree, ToldTwiceAndSeveralTops) {
    const TreeFolder folder(
        Files{{"a.v", "module m(input a); endmodule\n"}, {"b.v", "\nmodule m(input a); endmodule\n"}});
    const auto v = folder.look();
    ASSERT_EQ(v.messages.size(), 1u);
    EXPECT_TRUE(
        v.messages[0].sentence().ends_with("b.v:2: Module m is declared a second time; a.v has the other one."));
    const auto several = TreeFolder(layouts()[8].files).look();
    EXPECT_EQ(several.messages.at(0).text, "Several modules could be the top: one and two; choose one.");
}

TEST(FolderLook, WhatThisProgramKeepsIsNoInput) {
    const TreeFolder folder(Files{{"p.kpeg.log", "create_clock\n"}, {"p.kpeg.lock", "x\n"}});
    EXPECT_EQ(roles(folder.look()), "p.kpeg.lock:other p.kpeg.log:other ");
    EXPECT_EQ(folder.look().files[0].why, "kept by this program beside a project");
}

// A header of a design is not a netlist, although nothing in it speaks against one.
TEST(AddedFiles, AHeaderWithoutCellsIsASource) {
    const TreeFolder folder(Files{{"top.v", "module top(input a, output [3:0] y); endmodule\n"}});
    const auto library = load_libraries(real_disk(), {KP_SOURCE "/data/cells/skerry.lib"}).take();
    const auto edit = add_files(real_disk(), Project{}, folder.path(), {folder.path() + "/top.v"}, false, library);
    ASSERT_TRUE(edit) << edit.first().sentence();
    Project project;
    ASSERT_TRUE(apply(project, edit.value()).ok());
    EXPECT_EQ(joined(project.sources), "top.v ");
    EXPECT_TRUE(project.netlists.empty());
}

TEST(FolderLook, LinksInACircleAndMissingFoldersEnd) {
    const TreeFolder folder(Files{{"a/top.v", "module top(input a); endmodule\n"}});
    std::filesystem::create_directory_symlink(folder.path(), folder.path() + "/a/again");
    EXPECT_EQ(roles(folder.look()), "a/top.v:hdl ");
    const auto gone = look_at_folder(real_disk(), folder.path() + "/nowhere");
    ASSERT_FALSE(gone.ok());
    EXPECT_EQ(gone.first().text, "This is not a folder that can be looked at.");
    std::stop_source stop;
    stop.request_stop();
    EXPECT_EQ(look_at_folder(real_disk(), folder.path(), stop.get_token()).first().code, Code::cancelled);
}

TEST(TakeOver, AProjectThenOnlyWhatIsNew) {
    const TreeFolder folder(layouts()[5].files);
    const auto view = folder.look();
    const auto wanted = files_to_take(view, folder.path());
    ASSERT_EQ(wanted.size(), 5u);
    EXPECT_TRUE(wanted[0].ends_with("cells/models.v"));
    EXPECT_TRUE(wanted[4].ends_with("rtl/chip.v"));
    const TreeFolder home(Files{});
    NewProject w;
    w.folder = home.path() + "/p";
    w.name = "mine";
    w.copy = false;
    w.top = view.top;
    w.sources = wanted;
    w.netlists = {folder.path() + "/run/chip.v"};
    const auto path = create_project(real_disk(), w, {});
    ASSERT_TRUE(path) << path.first().sentence();
    Project project;
    {
        OpenOptions options;
        options.purpose = OpenTo::look;
        options.allow = {folder.path()};
        auto document = Document::open(real_disk(), path.value(), options);
        ASSERT_TRUE(document) << document.first().sentence();
        project = document.value()->project();
    }
    EXPECT_EQ(project.models.size(), 1u);
    EXPECT_EQ(project.netlists.size(), 1u);
    EXPECT_EQ(project.constraints.size(), 1u);
    EXPECT_EQ(project.top, "chip");
    auto changes = compare_folder(real_disk(), project, w.folder, wanted, folder.path());
    EXPECT_TRUE(changes.fresh.empty() && changes.gone.empty());
    folder.write("rtl/more.v", "module more(input a); endmodule\n");
    std::filesystem::remove(folder.path() + "/run/chip.sdf");
    changes =
        compare_folder(real_disk(), project, w.folder, files_to_take(folder.look(), folder.path()), folder.path());
    ASSERT_EQ(changes.fresh.size(), 1u);
    EXPECT_TRUE(changes.fresh[0].ends_with("rtl/more.v"));
    ASSERT_EQ(changes.gone.size(), 1u);
    EXPECT_TRUE(changes.gone[0].ends_with("chip.sdf"));
}

TEST(FileList, IsReadAsManySimulatorsWriteIt) {
    const auto l = read_file_list(
        "// sources\n+incdir+inc+more/inc\n+define+FAST+WIDTH=8\nsrc/top.v\n  src/a.v # x\n"
        "-y lib\n-v /abs/cells.v\n-sv\n$ROOT/b.v\n",
        "work/files.f");
    EXPECT_EQ(joined(l.files), "work/src/top.v work/src/a.v /abs/cells.v ");
    EXPECT_EQ(joined(l.folders), "work/inc work/more/inc work/lib ");
    EXPECT_EQ(l.defines.at("FAST"), "1");
    EXPECT_EQ(l.defines.at("WIDTH"), "8");
    ASSERT_EQ(l.messages.size(), 2u);
    EXPECT_EQ(l.messages[1].sentence(),
              "work/files.f:9: '$ROOT/b.v' holds a variable, which is not replaced; write the path.");
}

TEST(Patterns, StandForFiles) {
    const std::vector<std::string> paths{"src/top.v", "src/a/b/c.v", "src/a/x.sv", "top.v", "sim/t.v"};
    EXPECT_EQ(joined(matching(paths, "src/**/*.v")), "src/a/b/c.v src/top.v ");
    EXPECT_EQ(joined(matching(paths, "*.v")), "top.v ");
    EXPECT_EQ(joined(matching(paths, "**/?.v")), "sim/t.v src/a/b/c.v ");
    EXPECT_EQ(joined(matching(paths, "src/*")), "src/top.v ");
    EXPECT_EQ(matching({std::string(3000, 'a')}, std::string(1000, '*') + "b").size(), 0u) << "and soon";
}

TEST(Sources, APatternOrAListStandsForFiles) {
    const TreeFolder folder(
        Files{{"src/a/leaf.v", "module leaf(input c); endmodule\n"},
              {"src/top.v", "`include \"w.vh\"\nmodule top(input [`W-1:0] d); leaf l(d[0]); endmodule\n"},
              {"inc/w.vh", "`define W `WIDTH\n"},
              {"all.f", "+incdir+inc\n+define+WIDTH=3\nsrc/a/leaf.v\nsrc/top.v\n"}});
    const auto expand = [&](std::vector<std::string> sources) {
        const auto r = expand_sources(real_disk(), folder.path(), sources);
        return r ? joined(r.value().files) : r.first().text;
    };
    EXPECT_EQ(expand({"src/**/*.v"}), "src/a/leaf.v src/top.v ");
    EXPECT_EQ(expand({"src/top.v", "src/**/*.v"}), "src/top.v src/a/leaf.v ") << "each once, at its first place";
    EXPECT_EQ(expand({"all.f"}), "src/a/leaf.v src/top.v ");
    EXPECT_EQ(expand({"no/*.v"}), "The pattern 'no/*.v' matches no file.");
    folder.write("loop.f", "-f loop.f\n");
    EXPECT_EQ(expand({"loop.f"}), "Lists of files name each other.");
    Project project;
    project.name = "p";
    project.sources = {"all.f"};
    project.top = "top";
    auto world = load_world(real_disk(), project, folder.path(), KP_SOURCE "/data");
    ASSERT_TRUE(world) << world.first().sentence();
    EXPECT_EQ(world.value()->netlist.ports.size(), 3u) << "the define and the folder of includes come from the list";
    const TreeFolder elsewhere(Files{{"x.v", "module x(input a); endmodule\n"}});
    folder.write("all.f", elsewhere.path() + "/x.v\n");
    world = load_world(real_disk(), project, folder.path(), KP_SOURCE "/data");
    ASSERT_FALSE(world.ok()) << "a list reaches no further than its project";
    EXPECT_EQ(world.first().code, Code::outside);
}

}  // namespace
}  // namespace kp
