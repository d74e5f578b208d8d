// SPDX-License-Identifier: GPL-3.0-or-later
// Three invented boards with manuals as messy as life, each from nothing to a complete plan: a semicolon table with a
// title and merged cells, a commented template with three shapes of lines, a spreadsheet with units.
#include "core/base/memory_disk.hpp"
#include "core/format/json/world_json.hpp"
#include "core/format/table/board_table.hpp"
#include "core/planning/proposals.hpp"
#include "core/closing/fix_many.hpp"
#include "core/inputs/new_project.hpp"
#include "core/inputs/pattern_memory.hpp"
#include "core/session/session.hpp"

#include <gtest/gtest.h>

namespace kp {
namespace {

const char* const pin_list_of_manuals =
    "Ball,Name,Bank,Pair,Polarity\n"
    "A1,IO_A1,1,A2,N\nA2,IO_A2,1,A1,P\nA3,IO_A3,1,,\nA4,CLKIN0,1,,\nB1,IO_B1,1,,\nB2,IO_B2,1,,\nB3,GND,,,\nB4,VIO_1,1,,"
    "\n"
    "C1,IO_C1,2,,\nC2,IO_C2,2,,\nC3,IO_C3,2,,\nC4,IO_C4,2,,\nD1,IO_D1,2,,\nD2,CLKIN1,2,,\nD3,IO_D3,2,,\nD4,VIO_2,2,,\n";

struct Desk {
    MemoryDisk disk;
    StandardTable standards;
    Part part;

    Desk() {
        const auto file = std::string("standards/io.standards.json");
        disk.files["data/" + file] = real_disk().read(std::string(KP_SOURCE "/data/") + file).take();
        standards = read_standards(disk.files["data/" + file], "s").take();
        const auto pins = table::read_grid(pin_list_of_manuals, "pins.csv").take();
        part = table::draft_part(pins, table::guess_pin_mapping(pins), standards, "TRN3-B16").part;
        disk.files["p/trn3.part.json"] = write_part(part);
    }

    table::BoardDraft board(const std::string& text, std::optional<int> heading = {}) {
        const auto grid = table::read_grid(text, "manual", heading).take();
        auto draft = table::draft_board(grid, table::guess_mapping(grid, part), part, standards, "shed", "TRN3-B16");
        for (const auto& t : draft.troubles) EXPECT_NE(t.severity, Severity::stop) << t.text;
        disk.files["p/shed.board.json"] = write_board(draft.board);
        return draft;
    }

    /// From the header of a design to a plan: names, then fixes that clear something and add nothing.
    void plan(const std::string& verilog) {
        disk.files["in/top.v"] = verilog;
        const auto path = create_project(disk, {"p", "shed", "TRN3-B16", "shed", {"in/top.v"}, true, ""},
                                         read_catalogue(disk, "p", "data"));
        ASSERT_TRUE(path.ok()) << path.first().sentence();
        auto opened = Session::open(disk, path.value(), "data");
        ASSERT_TRUE(opened.ok()) << opened.first().sentence();
        auto& s = *opened.value();
        s.analyse_now();
        const auto matches = proposals_by_name(s.world().netlist.ports, s.world().board, s.project());
        ASSERT_TRUE(s.apply(take_proposals(s.project(), s.world().board, matches, "match names")).ok());
        s.analyse_now();
        std::vector<Finding> wanted;
        for (const auto& f : s.findings())
            if (f.rule[0] == 'L' || f.rule[0] == 'E') wanted.push_back(f);
        ASSERT_TRUE(s.apply(fix_many(*s.snapshot(), wanted).edit).ok());
        s.analyse_now();
        for (const auto& port : s.world().netlist.ports) {
            ASSERT_TRUE(s.project().pegs.contains(port.name)) << port.name << " has no pin";
            EXPECT_FALSE(s.project().attributes.at(port.name).standard.empty()) << port.name;
        }
        for (const auto& f : s.findings())
            EXPECT_FALSE(f.severity == Severity::stop && (f.rule[0] == 'L' || f.rule[0] == 'E'))
                << f.rule << " " << f.text;
        pegs = s.project().pegs;
    }
    PegMap pegs;
};

TEST(Manuals, SemicolonsATitleAndMergedCells) {
    Desk d;
    const auto draft = d.board(
        "Wiring of the shed, sheet 3 of 4;;;;\n"
        "Component;Signal;FPGA pin;Dir;Level\n"
        "X1;CLKIN;Pin A4;in;LVCMOS 3.3 V\n"
        "F1;VENT1;pad C1;out;LVCMOS 3.3 V\n;VENT2;pad C2;out;LVCMOS 3.3 V\n;VENT3;pad C3;out;LVCMOS 3.3 V\n"
        "K1;DOOR;pad A3;in;LVCMOS 3.3 V\nJ2;spare, n.c.;pad B2;;\n",
        2);
    EXPECT_EQ(draft.wired, 5u);
    EXPECT_EQ(draft.merged, 2u);
    d.plan("module top(input clkin, input door, output [2:0] vent); endmodule\n");
    EXPECT_EQ(d.pegs.at("vent[0]").pin, "C1");
    EXPECT_EQ(d.pegs.at("door").pin, "A3");
}

TEST(Manuals, ACommentedTemplateWithThreeShapesOfLines) {
    Desk d;
    const std::string text =
        "// The shed. Uncomment what you need.\n\n"
        "//take CLKIN   on ball A4;   // 20 MHz\n//level CLKIN = \"LVCMOS @3V3\"\n"
        "//take VENT<0> on ball C1;\n//take VENT<1>  on ball C2;\n//level VENT<0> = \"LVCMOS @3V3\"\n"
        "//level VENT<1> = \"LVCMOS @3V3\"\n//push VENT<0> by 8 mA\n"
        "//take DOOR on ball A3;\n//level DOOR = \"LVCMOS @3V3\"\n// end\n";
    const auto mark = [](const std::string& line, const std::string& field, const std::string& word) {
        return lines::Mark{field, line.find(word), word.size()};
    };
    lines::Pattern pattern;
    pattern.comment = "//";
    const std::string take = "//take CLKIN   on ball A4;   // 20 MHz", level = "//level VENT<0> = \"LVCMOS @3V3\"",
                      push = "//push VENT<0> by 8 mA";
    pattern.shapes = {{take, {mark(take, "port", "CLKIN"), mark(take, "pin", "A4")}},
                      {level, {mark(level, "port", "VENT<0>"), mark(level, "standard", "LVCMOS @3V3")}},
                      {push, {mark(push, "port", "VENT"), mark(push, "drive", "8")}}};
    const auto reading = lines::read(pattern, text, "shed.txt");
    ASSERT_TRUE(reading) << reading.first().sentence();
    EXPECT_TRUE(reading.value().unread.empty());
    ASSERT_EQ(reading.value().joined.size(), 4u);
    EXPECT_EQ(reading.value().joined[1].values.at("drive"), "8");
    const auto sheet = sheet_of(reading.value(), d.standards);
    const auto draft = d.board(sheet);
    EXPECT_EQ(draft.wired, 4u) << sheet;
    d.plan("module top(input clkin, input door, output [1:0] vent); endmodule\n");
    EXPECT_EQ(d.pegs.at("vent[1]").pin, "C2");
    // The way back: the template for this design.
    Project project;
    project.pegs = d.pegs;
    std::vector<Port> ports;
    for (const auto& [name, peg] : d.pegs) {
        Port port;
        port.name = name;
        ports.push_back(port);
    }
    const auto back =
        lines::rewrite(pattern, text, reading.value(), lines::used_by(reading.value(), ports, project), true);
    EXPECT_NE(back.find("\ntake vent<1>  on ball C2;\n"), std::string::npos) << back;
    EXPECT_NE(back.find("\ntake clkin   on ball A4;   // 20 MHz\n"), std::string::npos) << back;
    EXPECT_TRUE(back.starts_with("// The shed. Uncomment what you need.\n"));
}

TEST(Manuals, ASpreadsheetWithUnits) {
    Desk d;
    const auto draft = d.board(
        "Part\tNet\tBall\tDirection\tI/O standard\tTrace (mm)\tSeries\tPull\tPull ohm\tFrequency\n"
        "Y1\tclkin\tA4\tin\tLVCMOS33\t12.5\t\t\t\t20 MHz\n"
        "F1\tvent0\tC1\tout\tLVCMOS33\t1 in\t33R\t\t\t\n\tvent1\tC2\tout\tLVCMOS33\t2,5 cm\t33R\t\t\t\n"
        "K1\tdoor\tA3\tin\tLVCMOS33\t8\t\tup\t4k7\t\n");
    EXPECT_EQ(draft.wired, 4u);
    const auto net = draft.board.at_pin("C1");
    ASSERT_TRUE(net);
    EXPECT_NEAR(net.net->trace_mm, 25.4, 1e-9);
    EXPECT_NEAR(net.net->series_ohm, 33, 1e-9);
    EXPECT_NEAR(draft.board.at_pin("A3").net->pull_ohm, 4700, 1e-6);
    ASSERT_EQ(draft.board.oscillators.size(), 1u);
    EXPECT_NEAR(draft.board.oscillators[0].mhz, 20, 1e-9);
    d.plan("module top(input clkin, input door, output [1:0] vent); endmodule\n");
    EXPECT_EQ(d.pegs.at("vent[0]").pin, "C1");
}

}  // namespace
}  // namespace kp
