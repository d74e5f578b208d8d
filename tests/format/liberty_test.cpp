// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/format/liberty/read.hpp"
#include "core/model/boolean.hpp"

#include <gtest/gtest.h>

namespace kp {
namespace {

constexpr const char* head =
    "library (l) { time_unit : \"1ps\"; capacitive_load_unit (1, ff);\n"
    " lu_table_template (t) { variable_1 : total_output_net_capacitance; variable_2 : input_net_transition; index_1 "
    "(\"0, 10\"); index_2 (\"0, 100, 200\"); }\n";

TEST(Liberty, ConvertsUnitsAndPutsTheTransitionFirst) {
    const auto l = read_liberty(std::string(head) +
                                    "cell (B) { pin (A) { direction : input; capacitance : 5; } pin (Y) { direction : "
                                    "output; function : \"A\";\n"
                                    " timing () { related_pin : \"A\"; cell_rise (t) { values (\"100, 200, 300\", \\\n "
                                    "\"110, 210, 310\"); } } } } }",
                                "l.lib");
    ASSERT_TRUE(l.ok()) << l.first().sentence();
    const auto* b = l.value().cell("B");
    ASSERT_NE(b, nullptr);
    EXPECT_DOUBLE_EQ(b->pins[0].capacitance, 0.005);
    const auto& t = b->arcs.at(0).delay[0];
    // Load 10 fF = 0.01 pF, transition 100 ps = 0.1 ns: the middle of the second row.
    EXPECT_DOUBLE_EQ(t.at(0.1, 0.01), 0.210);
    // Bilinear inside, linear outside: 0.15 ns and 5 fF lie half-way; 0.3 ns lies one step beyond the end.
    EXPECT_NEAR(t.at(0.15, 0.005), 0.255, 1e-12);
    EXPECT_NEAR(t.at(0.3, 0.0), 0.400, 1e-12);
}

TEST(Liberty, ReadsFlipFlopsAndChecks) {
    const auto l = read_liberty(
        "library (l) { cell (R) { ff (Q1, QN1) { clocked_on : \"CK\"; next_state : \"D\"; }\n"
        " pin (D) { direction : input; timing () { related_pin : \"CK\"; timing_type : setup_rising; rise_constraint "
        "(scalar) { values (\"0.1\"); } } }\n"
        " pin (CK) { direction : input; clock : true; } pin (Q) { direction : output; function : \"Q1\"; } } }",
        "l.lib");
    ASSERT_TRUE(l.ok()) << l.first().sentence();
    const auto& r = l.value().cells[0];
    EXPECT_TRUE(r.flip_flop);
    EXPECT_EQ(r.state, "Q1");
    EXPECT_EQ(r.arcs[0].kind, ArcKind::setup_rising);
    EXPECT_DOUBLE_EQ(r.arcs[0].constraint[0].at(9, 9), 0.1);
}

TEST(Liberty, ErrorsNameTheLine) {
    struct Row {
        std::string text, wanted;
    };
    for (const auto& r :
         {Row{"library (l) {\n cell (A) {\n", "l.lib:3:1: The file ends inside group 'cell'; it seems to be cut off."},
          Row{"hello : 1;", "l.lib:1: There is no library (…) group; this is not a Liberty file."},
          Row{"library (l) {\n time_unit : \"1year\"; }",
              "l.lib:2: The time unit '1year' is not known; it can be 1ps, 10ps, 100ps or 1ns."},
          Row{"library (l) { cell (A) { pin (Y) { direction : output;\n timing () { related_pin : \"Z\"; } } } }",
              "l.lib:2: The related pin 'Z' is not a pin of cell A."},
          Row{std::string(head) + "cell (A) { pin (Y) { direction : output; timing () { related_pin : \"Y\";\n "
                                  "cell_rise (t) { values (\"1,2\"); } } } } }",
              "l.lib:4: The table cell_rise has 2 values, its axes ask for 6."}}) {
        const auto l = read_liberty(r.text, "l.lib");
        ASSERT_FALSE(l.ok()) << r.text;
        EXPECT_EQ(l.first().sentence(), r.wanted);
    }
}

TEST(Liberty, BusesGiveTheirPinsWhatTheySay) {
    const auto l = read_liberty(
        R"lib(library (l) { type (four) { base_type : array; data_type : bit; bit_width : 4; bit_from : 3; bit_to : 0;
            downto : true; } type (up) { bit_from : 0; bit_to : 1; }
 cell (M) { bus (A) { bus_type : four; direction : input; capacitance : 0.01; pin (A[3:2]) { capacitance : 0.02; } }
  bundle (E) { members (EX, EY); direction : input; }
  bus (U) { bus_type : up; direction : input; }
  bus (Y) { bus_type : four; direction : output; function : "!A"; timing () { related_pin : "A"; cell_rise (scalar) {
      values ("0.5"); } } timing () { related_bus_pins : "E"; cell_fall (scalar) { values ("0.7"); } } } } })lib",
        "l.lib");
    ASSERT_TRUE(l.ok()) << l.first().sentence();
    const auto& m = l.value().cells[0];
    ASSERT_NE(m.bus("A"), nullptr);
    EXPECT_EQ(m.bus("A")->bits, (std::vector<std::string>{"A[3]", "A[2]", "A[1]", "A[0]"}));
    EXPECT_EQ(m.bus("U")->bits, (std::vector<std::string>{"U[0]", "U[1]"}));
    EXPECT_EQ(m.bus("E")->bits, (std::vector<std::string>{"EX", "EY"}));
    const auto& pin = [&](const char* name) -> const LibraryPin& { return m.pins[static_cast<size_t>(m.pin(name))]; };
    EXPECT_DOUBLE_EQ(pin("A[3]").capacitance, 0.02);
    EXPECT_DOUBLE_EQ(pin("A[1]").capacitance, 0.01);
    EXPECT_EQ(pin("EX").direction, Direction::in);
    EXPECT_EQ(pin("Y[2]").function.inputs, std::vector<std::string>{"A[2]"});
    // Of related_pin the bit beside it, of related_bus_pins every bit: 4 and 4 x 2 arcs.
    size_t beside = 0, every = 0;
    for (const auto& a : m.arcs) {
        const auto from = m.pins[a.from].name, to = m.pins[a.to].name;
        beside += from.substr(1) == to.substr(1);
        every += from[0] == 'E';
    }
    EXPECT_EQ(beside, 4u);
    EXPECT_EQ(every, 8u);
    EXPECT_EQ(m.arcs.size(), 12u);
    EXPECT_EQ(read_liberty("library (l) { cell (M) {\n bus (A) { bus_type : nowhere; direction : input; } } }", "l.lib")
                  .first()
                  .sentence(),
              "l.lib:2: The bits of bus A are not known; it needs members, a bus_type that is defined, or pin groups.");
    EXPECT_FALSE(read_liberty("library (l) { type (t) { bit_from : 99999999; bit_to : 0; } }", "l.lib").ok());
}

TEST(Liberty, DeepNestingIsAMessage) {
    std::string deep = "library (l) {";
    for (int i = 0; i < 100000; ++i) deep += "g () {";
    EXPECT_FALSE(read_liberty(deep, "l.lib").ok());
}

TEST(Boolean, FollowsLibertyPrecedence) {
    struct Row {
        const char* text;
        unsigned table;  // bit i: value when inputs (in order of appearance) spell i
    };
    // Liberty user guide, "function" (from memory): ! before ^, ^ before &, & before |; a blank is and; ' inverts what
    // stands before it.
    for (const auto& r : {Row{"A", 0b10}, Row{"!A", 0b01}, Row{"A'", 0b01}, Row{"A B", 0b1000}, Row{"A*B", 0b1000},
                          Row{"A+B", 0b1110}, Row{"A^B", 0b0110}, Row{"!(A B)", 0b0111}, Row{"A | B & C", 0b11101010},
                          Row{"(A+B)'", 0b0001}, Row{"A ^ B C", 0b01100000}, Row{"A B ^ C", 0b00101000}}) {
        const auto f = parse_boolean(r.text);
        ASSERT_TRUE(f.ok()) << r.text;
        for (unsigned v = 0; v < (1u << f.value().inputs.size()); ++v)
            EXPECT_EQ(f.value().eval(v), ((r.table >> v) & 1) != 0) << r.text << " at " << v;
    }
    for (const char* bad : {"", "A+", "(A", "A)", "&A", "A $ B"}) EXPECT_FALSE(parse_boolean(bad).ok()) << bad;
}

TEST(Boolean, SenseIsExact) {
    const auto f = parse_boolean("(A & B) | (!A & C)").value();  // A selects, B and C pass
    EXPECT_EQ(f.sense(0), 0);
    EXPECT_EQ(f.sense(1), 1);
    EXPECT_EQ(f.sense(2), 1);
    EXPECT_EQ(parse_boolean("!A + B").value().sense(0), -1);
}

}  // namespace
}  // namespace kp
