// SPDX-License-Identifier: GPL-3.0-or-later
// From nothing to a handoff with inputs as messy as life, none of them of a demo: a pin list with a remark on top and
// merged cells, a table of wires with prefixes, blanks and spare rows, a netlist with an open-drain pad and a key
// behind a reset synchroniser, and constraints in older spellings with halves missing. Every proposal is taken blindly;
// no stop may be there at the end that was not there when the project was first opened.
#include "core/base/memory_disk.hpp"
#include "core/format/json/world_json.hpp"
#include "core/format/table/board_table.hpp"
#include "core/handoff/handoff.hpp"
#include "core/planning/proposals.hpp"
#include "core/closing/fix_many.hpp"
#include "core/inputs/new_project.hpp"

#include <gtest/gtest.h>
#include <set>

namespace kp {
namespace {

const char* const pin_list_of_messy =
    "pins of the thing; from an old mail,,,,\n"
    "Ball,Name,Bank,Pair,Polarity\n"
    "A1,IO_A1,1,A2,N\nA2,IO_A2,,A1,P\nA3,IO_A3,,,\nA4,CLKIN0,,,\nB1,IO_B1,,,\nB2,IO_B2,,,\nB3,GND,,,\nB4,VIO_1,1,,\n"
    "C1,IO_C1,bank 2,,\nC2,IO_C2,,,\nC3,IO_C3,,,\nC4,IO_C4,,,\nD1,IO_D1,,,\nD2,CLKIN1,,,\nD3,IO_D3,,,\nD4,VIO_2,2,,\n";

const char* const wires_of_messy =
    "Component;Signal;FPGA pin;Dir;Level;Active;Freq (MHz)\n"
    "X1;CLKIN;Pin A4;in;LVCMOS 3.3 V;;20\n"
    "F1;VENT1;pad C1;out;LVCMOS 3.3 V;high;\n;VENT2;pad C2;out;LVCMOS 3.3 V;;\n;VENT3;pad C3;out;LVCMOS 3.3 "
    "V;;\n;VENT4;pad C4;out;LVCMOS 3.3 V;;\n"
    "K1;RESET_KEY;pad A3;in;LVCMOS 3.3 V;low;\n"
    "U7;rs485_di;pad D1;out;LVCMOS 3.3 V;;\n;rs485_ro;pad D3;in;LVCMOS 3.3 V;;\n"
    "J2;alarm;pad B1;inout;LVCMOS 3.3 V;;\n"
    "J2;Spare; n.c.;pad B2;;;\n"
    "J2;Spare n.c.;pad B2;;;;\n";

const char* const cells_of_messy = R"lib(library (shed) { time_unit : "1ns"; capacitive_load_unit (1, pf);
  cell (S_BUF) { pin (A) { direction : input; } pin (Y) { direction : output; function : "A"; timing () {
      related_pin : "A"; cell_rise (scalar) { values ("0.4"); } cell_fall (scalar) { values ("0.5"); } } } }
  cell (S_INV) { pin (A) { direction : input; } pin (Y) { direction : output; function : "!A"; timing () {
      related_pin : "A"; cell_rise (scalar) { values ("0.3"); } cell_fall (scalar) { values ("0.3"); } } } }
  cell (S_OD) { pin (OE) { direction : input; } pin (I) { direction : input; } pin (P) { direction : inout;
      function : "I"; three_state : "!OE";
      timing () { related_pin : "OE"; timing_type : three_state_enable; cell_rise (scalar) { values ("1.2"); }
          cell_fall (scalar) { values ("1.2"); } } }
    pin (O) { direction : output; function : "P"; timing () { related_pin : "P"; cell_rise (scalar) { values ("0.4");
        } cell_fall (scalar) { values ("0.4"); } } } }
  cell (S_FF) { ff (Q1, QN1) { clocked_on : "CK"; next_state : "D"; } pin (CK) { direction : input; clock : true; }
    pin (D) { direction : input; timing () { related_pin : "CK"; timing_type : setup_rising;
        rise_constraint (scalar) { values ("0.1"); } fall_constraint (scalar) { values ("0.1"); } } timing () {
        related_pin : "CK"; timing_type : hold_rising; rise_constraint (scalar) { values ("0.05"); }
        fall_constraint (scalar) { values ("0.05"); } } }
    pin (Q) { direction : output; function : "Q1"; timing () { related_pin : "CK"; timing_type : rising_edge;
        cell_rise (scalar) { values ("0.3"); } cell_fall (scalar) { values ("0.3"); } } } }
  cell (S_FFC) { ff (Q1, QN1) { clocked_on : "CK"; next_state : "D"; clear : "!RN"; } pin (CK) { direction : input;
      clock : true; }
    pin (RN) { direction : input; timing () { related_pin : "CK"; timing_type : recovery_rising;
        rise_constraint (scalar) { values ("0.2"); } } timing () { related_pin : "CK"; timing_type : removal_rising;
        rise_constraint (scalar) { values ("0.1"); } } }
    pin (D) { direction : input; timing () { related_pin : "CK"; timing_type : setup_rising;
        rise_constraint (scalar) { values ("0.1"); } fall_constraint (scalar) { values ("0.1"); } } timing () {
        related_pin : "CK"; timing_type : hold_rising; rise_constraint (scalar) { values ("0.05"); }
        fall_constraint (scalar) { values ("0.05"); } } }
    pin (Q) { direction : output; function : "Q1"; timing () { related_pin : "CK"; timing_type : rising_edge;
        cell_rise (scalar) { values ("0.3"); } cell_fall (scalar) { values ("0.3"); } } timing () {
        related_pin : "RN"; timing_type : clear; timing_sense : positive_unate; cell_fall (scalar) { values ("0.4"); }
        } } }
})lib";

const char* const netlist_of_messy =
    "module shed(input clkin, input reset_key, input rs485_ro, output rs485_di, output [3:0] vent, inout alarm);\n"
    "wire r0, r1, a, q, oe, in; wire [3:0] v;\n"
    "S_FFC s0 (.D(1'b1), .CK(clkin), .RN(reset_key), .Q(r0));\nS_FFC s1 (.D(r0), .CK(clkin), .RN(reset_key), .Q(r1));\n"
    "S_FF i0 (.D(rs485_ro), .CK(clkin), .Q(a));\nS_FFC i1 (.D(a), .CK(clkin), .RN(r1), .Q(q));\nS_BUF o0 (.A(q), "
    ".Y(rs485_di));\n"
    "S_FF v0 (.D(q), .CK(clkin), .Q(v[0]));\nS_FF v1 (.D(v[0]), .CK(clkin), .Q(v[1]));\nS_FF v2 (.D(v[1]), .CK(clkin), "
    ".Q(v[2]));\nS_FF v3 (.D(v[2]), .CK(clkin), .Q(v[3]));\n"
    "S_BUF b0 (.A(v[0]), .Y(vent[0]));\nS_BUF b1 (.A(v[1]), .Y(vent[1]));\nS_BUF b2 (.A(v[2]), .Y(vent[2]));\nS_BUF b3 "
    "(.A(v[3]), .Y(vent[3]));\n"
    "S_FF e0 (.D(in), .CK(clkin), .Q(oe));\nS_OD p0 (.I(1'b0), .OE(oe), .P(alarm), .O(in));\nendmodule\n";

const char* const constraints =
    "# from the last board\nset_output_delay -clock clkin -max 3 [get_ports -regexp {vent\\[[0-3]\\]}]\n"
    "create_clock -name other -period 100\nset_clock_groups -exclusive -group other\n";

std::set<std::string> stops(const Session& s) {
    std::set<std::string> out;
    for (const auto& f : s.findings()) {
        if (f.severity != Severity::stop || f.waived) continue;
        std::string key = f.rule;
        for (const auto& o : f.objects) key += " " + o.name;
        out.insert(key);
    }
    return out;
}

TEST(Messy, FromNothingToAHandoffTakingEveryProposalBlindly) {
    MemoryDisk disk;
    for (const char* file : {"standards/io.standards.json"})
        disk.files[std::string("data/") + file] = real_disk().read(std::string(KP_SOURCE "/data/") + file).take();
    const auto standards = read_standards(disk.files["data/standards/io.standards.json"], "s").take();
    // The part, with its hyphen, from a list whose second line names the columns.
    const auto pins = table::read_grid(pin_list_of_messy, "pins.csv", 2).take();
    const auto part = table::draft_part(pins, table::guess_pin_mapping(pins), standards, "ABX7-B16");
    for (const auto& t : part.troubles) EXPECT_NE(t.severity, Severity::stop) << t.text;
    EXPECT_EQ(part.part.codes, "ABX7-B16");
    EXPECT_TRUE(part.part.pin("A2")->pair_true) << "the polarity column says so";
    EXPECT_EQ(part.part.pin("C4")->bank, "2");
    disk.files["p/abx7.part.json"] = write_part(part.part);
    // The board: what is merged, spare or prefixed is understood, and nothing is invented.
    const auto grid = table::read_grid(wires_of_messy, "wires.csv").take();
    auto mapping = table::guess_mapping(grid, part.part);
    const auto board = table::draft_board(grid, mapping, part.part, standards, "shed", "ABX7-B16");
    EXPECT_EQ(board.wired, 9u);
    EXPECT_EQ(board.merged, 4u);
    for (const auto& p : board.board.parts) EXPECT_NE(p.ref, "BOARD");
    disk.files["p/shed.board.json"] = write_board(board.board);
    disk.files["in/shed.v"] = netlist_of_messy;
    disk.files["in/shed.lib"] = cells_of_messy;
    disk.files["in/shed.sdc"] = constraints;
    const auto path =
        create_project(disk, {"p", "shed", "ABX7-B16", "shed", {"in/shed.lib", "in/shed.v", "in/shed.sdc"}, true, ""},
                       read_catalogue(disk, "p", "data"));
    ASSERT_TRUE(path.ok()) << path.first().sentence();
    auto opened = Session::open(disk, path.value(), "data");
    ASSERT_TRUE(opened.ok()) << opened.first().sentence();
    auto& s = *opened.value();
    s.analyse_now();
    const auto at_first = stops(s);
    // Names first: all that is proposed.
    const auto matches = proposals_by_name(s.world().netlist.ports, s.world().board, s.project());
    ASSERT_TRUE(s.apply(take_proposals(s.project(), s.world().board, matches, "match names")).ok());
    s.analyse_now();
    EXPECT_EQ(s.project().pegs.at("vent[0]").pin, "C1") << "the board counts from 1";
    EXPECT_EQ(s.project().pegs.at("vent[3]").pin, "C4");
    EXPECT_EQ(s.project().pegs.at("rs485_di").pin, "D1");
    // Then the first fix of every finding, as it comes, with a number where one is asked for.
    for (int round = 0; round < 40; ++round) {
        bool any = false;
        for (const auto& f : std::vector<Finding>(s.findings())) {
            if (f.waived) continue;
            const auto fixes = s.fixes_of(f);
            if (fixes.empty()) continue;
            if (s.apply(answered(fixes.front(), "1"))) any = true;
            if (any) break;  // what follows is computed anew
        }
        if (!any) break;
        s.analyse_now();
        for (const auto& m : s.analysis().constraints().messages) EXPECT_NE(m.severity, Severity::stop) << m.sentence();
    }
    std::string left;
    for (const auto& stop : stops(s)) {
        if (!at_first.contains(stop)) left += stop + "\n";
    }
    EXPECT_EQ(left, "") << "no stop that it did not start with";
    for (const auto& f : s.findings()) EXPECT_NE(f.rule, "D06") << f.text;
    for (const auto& f : s.findings()) EXPECT_NE(f.rule, "D10") << "a key that only starts a reset over: " << f.text;
    ASSERT_TRUE(s.document().save().ok());
    const auto status = write_handoff(disk, s, "p/handoff", true);
    ASSERT_TRUE(status.ok()) << status.first().sentence();
    EXPECT_TRUE(disk.files.contains("p/handoff/manifest.json"));
    // The board's oscillator was proposed before any delay against it.
    EXPECT_NE(disk.files["p/handoff/shed.sdc"].find("create_clock -name clkin -period 50"), std::string::npos);
}

}  // namespace
}  // namespace kp
