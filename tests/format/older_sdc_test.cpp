// SPDX-License-Identifier: GPL-3.0-or-later
// Spellings that files written by others have: regular expressions with backslashes, options and commands of older SDC
// (SDC 1.x, from memory), clocks defined twice or where none comes in.
#include "core/base/text.hpp"
#include "tests/timing/circuit.hpp"

#include <cmath>

namespace kp {
namespace {

using test::Circuit;

const char* const design =
    "module m(input clk, k2, input [3:0] d, output [3:0] y); R r0(.D(d[0]),.CK(clk),.Q(y[0])); R "
    "r1(.D(d[1]),.CK(clk),.Q(y[1])); R r2(.D(d[2]),.CK(k2),.Q(y[2])); R r3(.D(d[3]),.CK(k2),.Q(y[3])); endmodule";

struct Read {
    Constraints k;
    Netlist netlist;
    explicit Read(const std::string& sdc) {
        const auto library = read_liberty(test::plain_cells, "plain.lib").take();
        const SourceText source{"t.v", design};
        netlist = read_netlist({&source, 1}, "", library).take();
        const NetlistIndex index(netlist);
        k = read_sdc({{"t.sdc", "", sdc}}, netlist, index, library);
    }
    /// Ports that have an input delay.
    [[nodiscard]] std::string delayed() const {
        std::string out;
        for (const auto& d : k.io_delays) out += netlist.ports[d.port].name + " ";
        return out;
    }
    [[nodiscard]] std::string said() const {
        std::string out;
        for (const auto& m : k.messages) out += std::string(name_of(m.severity)) + " " + m.text + "\n";
        return out;
    }
};

const std::string clock = "create_clock -name c -period 8 clk\n";

TEST(SdcRegexp, BackslashesReachTheExpression) {
    const auto with = [](const std::string& query) {
        return Read(clock + "set_input_delay -clock c 1 " + query).delayed();
    };
    EXPECT_EQ(with(R"([get_ports -regexp {d\[2\]}])"), "d[2] ");
    EXPECT_EQ(with(R"([get_ports {d\[2\]} -regexp])"), "d[2] ") << "the option may come last";
    EXPECT_EQ(with(R"([get_ports -regexp {d\[[02]\]}])"), "d[2] d[0] ");
    EXPECT_EQ(with(R"([get_ports -regexp {d\[1\] d\[3\]}])"), "d[1] d[3] ");
    EXPECT_EQ(with(R"([get_ports -regexp [list {d\[1\]} {d\[3\]}]])"), "d[1] d[3] ");
    EXPECT_EQ(with(R"([get_ports -regexp -nocase {D\[\d\]}])"), "d[3] d[2] d[1] d[0] ");
    EXPECT_EQ(with(R"([get_ports {d\[2\]}])"), "d[2] ") << "without -regexp a backslash only quotes";
}

TEST(SdcRegexp, ClocksAreMatchedTooAndABrokenExpressionIsSaid) {
    const Read two(
        "create_clock -name ca -period 8 clk\ncreate_clock -name cb -period 8 k2\nset_clock_uncertainty 0.1 "
        "[get_clocks -regexp {c[ab]}]\n");
    EXPECT_EQ(two.said(), "");
    ASSERT_EQ(two.k.uncertainties.size(), 1u);
    EXPECT_EQ(two.k.uncertainties[0].objects.size(), 2u);
    EXPECT_EQ(Read("get_ports -regexp {d[}\n").said(), "stop 'd[' is not a regular expression.\n");
    EXPECT_EQ(Read("get_ports -regexp {e.*}\n").said(),
              "stop get_ports finds nothing for 'e.*' as a regular expression.\n")
        << "an expression is near to no name";
}

TEST(OlderSdc, ExclusiveIsLogicallyExclusiveWithANote) {
    const Read r(
        "create_clock -name c -period 8 clk\ncreate_clock -name s -period 8 k2\nset_clock_groups -exclusive -group c "
        "-group s\n");
    EXPECT_EQ(r.said(), "note -exclusive is an older spelling; it is read as -logically_exclusive.\n");
    ASSERT_EQ(r.k.groups.size(), 1u);
    // Still an abbreviation of nothing else.
    EXPECT_EQ(
        Read("create_clock -name c -period 8 clk\nset_clock_groups -exclusive -group c -allow_paths\n").k.groups.size(),
        0u)
        << "paths that are allowed stay timed";
}

TEST(OlderSdc, ConstantsAndWhatChangesNoFigure) {
    const Read r("set_logic_zero d[0]\nset_logic_one [get_ports d[1]]\nset_max_area 0\nset_max_dynamic_power 1 mW\n");
    EXPECT_EQ(r.said(), "");
    ASSERT_EQ(r.k.cases.size(), 2u);
    EXPECT_EQ(r.k.cases[0].value, CaseValue::zero);
    EXPECT_EQ(r.k.cases[1].value, CaseValue::one);
    EXPECT_EQ(Read("set_wire_load_model -name w\n").said(),
              "caution set_wire_load_model is read, but this version's analysis does not use it.\n");
}

TEST(SdcClocks, ASecondOneOfANameAndOneOnAnOutputAreSaid) {
    EXPECT_EQ(Read(clock + "create_clock -name c -period 4 k2\n").said(),
              "caution A second clock is named c; it replaces the one of line 1. Give it a name of its own if both are "
              "meant.\n");
    EXPECT_EQ(Read("create_clock -name c -period 8 [get_ports y[0]]\n").said(),
              "caution create_clock is given the output y[0]; no clock comes in there. For a clock that goes out, "
              "write create_generated_clock.\n");
}

TEST(Netlist, AnInstanceNameStandsOnce) {
    const auto library = read_liberty(test::plain_cells, "plain.lib").take();
    const SourceText source{"t.v",
                            "module m(input a, output x, y);\nBUF u(.A(a),.Y(x));\nBUF u(.A(a),.Y(y));\nendmodule"};
    const auto n = read_netlist({&source, 1}, "", library);
    ASSERT_FALSE(n.ok());
    EXPECT_EQ(n.first().text, "Instance u is there twice in module m; give each a name of its own.");
    EXPECT_EQ(n.first().line, 3);
}

/// IEEE 1497: the edge of a port in a timing check is optional; without it the check holds for the edges the cell is
/// checked at.
TEST(SdfChecks, WithoutAnEdgeOnlyWhatTheLibraryChecks) {
    const auto lib =
        read_liberty(
            R"lib(library (l) { cell (C) { ff (S, SN) { clocked_on : "!CKN"; next_state : "D"; clear : "!RN"; }
                pin (CKN) { direction : input; clock : true; }
      pin (D) { direction : input; timing () { related_pin : "CKN"; timing_type : setup_falling;
          rise_constraint (scalar) { values ("0.1"); } fall_constraint (scalar) { values ("0.1"); } } }
      pin (RN) { direction : input; timing () { related_pin : "CKN"; timing_type : recovery_falling;
          rise_constraint (scalar) { values ("0.3"); } } timing () { related_pin : "CKN";
          timing_type : removal_falling; rise_constraint (scalar) { values ("0.2"); } } }
      pin (Q) { direction : output; function : "S"; timing () { related_pin : "CKN"; timing_type : falling_edge;
          cell_rise (scalar) { values ("0.2"); } cell_fall (scalar) { values ("0.2"); } }
        timing () { related_pin : "RN"; timing_type : clear; cell_fall (scalar) { values ("0.4"); } } } } })lib",
            "l.lib")
            .take();
    const SourceText source{"t.v",
                            "module m(input clk, rn, d, output y); C r(.D(d),.CKN(clk),.RN(rn),.Q(y)); endmodule"};
    const auto netlist = read_netlist({&source, 1}, "m", lib).take();
    const NetlistIndex index(netlist);
    const auto k = read_sdc(
        {{"t", "",
          "create_clock -name c -period 10 clk\nset_input_delay -clock c 1 {rn d}\nset_output_delay -clock c 1 y\n"}},
        netlist, index, lib);
    const auto time = [&](const std::string& checks) {
        const auto f = read_sdf(
            "(DELAYFILE (TIMESCALE 1ns) (CELL (CELLTYPE \"C\") (INSTANCE r) (DELAY (ABSOLUTE (IOPATH RN Q () (0.5)))) "
            "(TIMINGCHECK " +
                checks + ")))",
            "t.sdf");
        EXPECT_TRUE(f.ok());
        return analyse_timing({netlist, lib, k, &f.value()}, {});
    };
    const auto rows = [](const TimingReport& r) {
        std::string out;
        for (const auto& e : r.endpoints)
            if (e.endpoint == "r/RN")
                out += e.check + (e.rise ? " rise " : " fall ") + shortest(std::round(e.slack * 1e6) / 1e6) + "; ";
        return out;
    };
    EXPECT_EQ(rows(time("(RECREM RN (negedge CKN) (0.7) (0.6))")),
              rows(time("(RECREM (posedge RN) (negedge CKN) (0.7) (0.6))")));
    EXPECT_EQ(rows(time("(RECOVERY RN (negedge CKN) (0.7)) (REMOVAL RN (negedge CKN) (0.6))")),
              rows(time("(RECREM (posedge RN) (negedge CKN) (0.7) (0.6))")));
    EXPECT_EQ(rows(time("(RECREM RN (negedge CKN) (0.7) (0.6))")).find("fall"), std::string::npos)
        << "no check for the edge that asserts the clear";
    // The arc from clear to output is in the library and is not followed: no reason to say that it is not there.
    for (const auto& m : time("(SETUP D (negedge CKN) (0.1))").messages) EXPECT_NE(m.code, Code::sdf) << m.text;
}

}  // namespace
}  // namespace kp
