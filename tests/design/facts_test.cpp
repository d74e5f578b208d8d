// SPDX-License-Identifier: GPL-3.0-or-later
// What a netlist tells the rules, on small circuits whose answer is plain to see.
#include "core/design/connections.hpp"
#include "core/design/facts.hpp"
#include "core/format/liberty/read.hpp"
#include "core/format/sdc/read.hpp"
#include "core/hdl/verilog/read_netlist.hpp"
#include "core/model/trace.hpp"

#include <cmath>
#include <gtest/gtest.h>

namespace kp {
namespace {

constexpr const char* cells_of_facts = R"(library (t) {
  cell (BUF) { pin (A) { direction : input; } pin (Y) { direction : output; function : "A"; } }
  cell (INV) { pin (A) { direction : input; } pin (Y) { direction : output; function : "!A"; } }
  cell (AND) { pin (A) { direction : input; } pin (B) { direction : input; } pin (Y) { direction : output;
      function : "A & B"; } }
  cell (XOR) { pin (A) { direction : input; } pin (B) { direction : input; } pin (Y) { direction : output;
      function : "A ^ B"; } }
  cell (ONE) { pin (Y) { direction : output; function : "1"; } }
  cell (PADT) { pin (A) { direction : input; } pin (E) { direction : input; } pin (PAD) { direction : inout;
      function : "A"; three_state : "!E"; } pin (Y) { direction : output; function : "PAD"; } }
  cell (FF) { ff (IQ, IQN) { clocked_on : "CK"; next_state : "D"; } pin (D) { direction : input; } pin (CK) {
      direction : input; clock : true; } pin (Q) { direction : output; function : "IQ"; } }
  cell (FFR) { ff (IQ, IQN) { clocked_on : "CK"; next_state : "D"; clear : "!RN"; } pin (D) { direction : input; }
      pin (CK) { direction : input; clock : true; } pin (RN) { direction : input; } pin (Q) { direction : output;
      function : "IQ"; } }
})";

struct Small {
    Library library = read_liberty(cells_of_facts, "t.lib").take();
    Netlist netlist;
    DesignFacts facts;
    Small(const std::string& body, const std::string& sdc) {
        const std::string text =
            "module t (a, b, c, d, y, z); input a, b, c, d; inout z; output y; " + body + " endmodule";
        const SourceText source{"t.v", text};
        auto read = read_netlist({&source, 1}, "t", library);
        EXPECT_TRUE(read.ok()) << (read ? "" : read.first().sentence());
        netlist = read.take();
        const NetlistIndex index(netlist);
        const auto k = read_sdc({{"t.sdc", "t.sdc", sdc}}, netlist, index, library, {}, {});
        facts = design_facts(netlist, library, k);
    }
    const PortFacts& port(const std::string& name) const {
        for (size_t i = 0; i < netlist.ports.size(); ++i)
            if (netlist.ports[i].name == name) return facts.ports[i];
        throw std::runtime_error(name);
    }
};

constexpr const char* two_clocks =
    "create_clock -name ca -period 5 [get_ports a]\ncreate_clock -name cb -period 7 [get_ports b]\n";

TEST(DesignFacts, AResetStraightFromItsPinIsCounted) {
    const Small s("wire r; INV i (.A(c), .Y(r)); FFR f (.D(d), .CK(a), .RN(c), .Q(y)); FFR g (.D(y), .CK(a), .RN(r));",
                  "");
    EXPECT_EQ(s.port("c").cleared, 2);
    EXPECT_EQ(s.port("d").cleared, 0);
}

TEST(DesignFacts, AResetThatIsLetGoInStepIsNot) {
    const Small s(
        "wire one, q, r; ONE o (.Y(one)); FFR s1 (.D(one), .CK(a), .RN(c), .Q(q)); FFR s2 (.D(q), .CK(a), .RN(c), "
        ".Q(r)); FFR f (.D(d), .CK(a), .RN(r), .Q(y));",
        "");
    EXPECT_EQ(s.port("c").cleared, 0);
}

TEST(DesignFacts, ClocksAreToldFromTheirEnables) {
    const Small s(
        "wire g, k; AND e (.A(a), .B(b), .Y(g)); BUF u (.A(c), .Y(k)); FF f (.D(d), .CK(g), .Q(y)); FF h (.D(d), "
        ".CK(k));",
        "");
    EXPECT_FALSE(s.port("b").clocks_registers);
    EXPECT_TRUE(s.port("c").clocks_registers);
    EXPECT_FALSE(s.port("d").clocks_registers);
}

TEST(DesignFacts, RegistersInARowAreCountedOnTheShortestWay) {
    EXPECT_EQ(
        Small("wire p, q; FF f (.D(d), .CK(a), .Q(p)); FF g (.D(p), .CK(a), .Q(q)); AND x (.A(q), .B(c), .Y(y));", "")
            .port("d")
            .steady,
        2);
    EXPECT_EQ(
        Small("wire p, q; FF f (.D(d), .CK(a), .Q(p)); FF g (.D(p), .CK(a), .Q(q)); AND x (.A(p), .B(q), .Y(y));", "")
            .port("d")
            .steady,
        1);
    EXPECT_EQ(Small("AND x (.A(d), .B(c), .Y(y));", "").port("d").steady, 0);
}

TEST(DesignFacts, OpenDrainIsAPadThatOnlyDrivesZero) {
    EXPECT_TRUE(Small("PADT p (.A(1'b0), .E(c), .PAD(z));", "").port("z").only_low);
    EXPECT_FALSE(Small("PADT p (.A(d), .E(c), .PAD(z));", "").port("z").only_low);
}

TEST(DesignFacts, ACounterBitIsDividedByTwoToItsPlace) {
    // Two bits: q0 toggles, q1 toggles with q0.
    const char* body =
        "wire q0, n0, n1; INV i (.A(q0), .Y(n0)); FF f0 (.D(n0), .CK(a), .Q(q0)); XOR x (.A(q0), .B(y), .Y(n1)); FF f1 "
        "(.D(n1), .CK(a), .Q(y));";
    const Small s(body, two_clocks);
    EXPECT_EQ(s.port("y").divided_by, 4);
    EXPECT_EQ(s.port("y").counter_clock, 0u);
    EXPECT_EQ(
        Small("wire n; XOR x (.A(d), .B(y), .Y(n)); FF f (.D(n), .CK(a), .Q(y));", two_clocks).port("y").divided_by, 0);
}

TEST(Crossings, OneRegisterIsOpenTwoAreNot) {
    const Small open("wire p; FF f (.D(d), .CK(a), .Q(p)); FF g (.D(p), .CK(b), .Q(y));", two_clocks);
    ASSERT_EQ(open.facts.crossings.size(), 1u);
    EXPECT_EQ(open.facts.crossings[0].open, 1);
    EXPECT_EQ(open.facts.crossings[0].open_from, "f");
    EXPECT_EQ(open.facts.crossings[0].open_to, "g/D");
    const Small two("wire p, q; FF f (.D(d), .CK(a), .Q(p)); FF g (.D(p), .CK(b), .Q(q)); FF h (.D(q), .CK(b), .Q(y));",
                    two_clocks);
    ASSERT_EQ(two.facts.crossings.size(), 1u);
    EXPECT_EQ(two.facts.crossings[0].open, 0);
    EXPECT_EQ(two.facts.crossings[0].synchronised, 1);
}

TEST(Crossings, LogicInFrontOrBetweenIsNoSynchroniser) {
    const Small front(
        "wire p, q, r, s; FF f (.D(d), .CK(a), .Q(p)); FF e (.D(c), .CK(a), .Q(s)); AND x (.A(p), .B(s), .Y(q)); FF g "
        "(.D(q), .CK(b), .Q(r)); FF h (.D(r), .CK(b), .Q(y));",
        two_clocks);
    EXPECT_EQ(front.facts.crossings.at(0).open, 1);
    const Small between(
        "wire p, q, r; FF f (.D(d), .CK(a), .Q(p)); FF g (.D(p), .CK(b), .Q(q)); AND x (.A(q), .B(c), .Y(r)); FF h "
        "(.D(r), .CK(b), .Q(y));",
        two_clocks);
    EXPECT_EQ(between.facts.crossings.at(0).open, 1);
}

TEST(Crossings, ExceptionsOfEachKindExcuse) {
    const char* body = "wire p; FF f (.D(d), .CK(a), .Q(p)); FF g (.D(p), .CK(b), .Q(y));";
    for (const char* line :
         {"set_clock_groups -asynchronous -group ca -group cb", "set_clock_groups -asynchronous -group ca",
          "set_false_path -from [get_clocks ca] -to [get_clocks cb]", "set_false_path -from [get_cells f]",
          "set_false_path -to [get_pins g/D]", "set_max_delay 3 -from [get_cells f] -to [get_cells g]",
          "set_false_path -through [get_pins f/Q]"})
        EXPECT_TRUE(Small(body, std::string(two_clocks) + line).facts.crossings.empty()) << line;
    for (const char* line :
         {"set_false_path -from [get_clocks cb] -to [get_clocks ca]", "set_false_path -hold -from [get_cells f]",
          "set_multicycle_path 2 -from [get_cells f]", "set_false_path -to [get_cells f]"})
        EXPECT_EQ(Small(body, std::string(two_clocks) + line).facts.crossings.size(), 1u) << line;
}

TEST(Crossings, ClocksOfOneOriginDoNotCross) {
    const Small s("wire p; FF f (.D(d), .CK(a), .Q(p)); FF g (.D(p), .CK(b), .Q(y));",
                  "create_clock -name ca -period 5 [get_ports a]\ncreate_generated_clock -name cb -source [get_ports "
                  "a] -divide_by 2 [get_ports b]\n");
    EXPECT_TRUE(s.facts.crossings.empty());
}

/// Two bits through a synchroniser each; `d0` and `d1` are what the sending registers take.
std::string two_bits(const std::string& d0, const std::string& d1) {
    std::string v = "wire n0, n1, g0, g1, s0, s1, b0, b1, x, dont;\n";
    v += "INV i0 (.A(b0), .Y(n0)); FF bin_0_reg (.D(n0), .CK(a), .Q(b0)); XOR i1 (.A(b0), .B(b1), .Y(n1)); FF "
         "bin_1_reg (.D(n1), .CK(a), .Q(b1));\n";
    v += "XOR gx (.A(b0), .B(b1), .Y(x)); FF ptr_0_reg (.D(" + d0 + "), .CK(a), .Q(g0)); FF ptr_1_reg (.D(" + d1 +
         "), .CK(a), .Q(g1));\n";
    v += "FF m0 (.D(g0), .CK(b), .Q(s0)); FF m1 (.D(g1), .CK(b), .Q(s1)); FF e0 (.D(s0), .CK(b), .Q(y)); FF e1 "
         "(.D(s1), .CK(b), .Q(dont));";
    return v;
}

TEST(Crossings, ABusBitByBitIsToldFromGrayCode) {
    const Small plain(two_bits("b0", "b1"), two_clocks);
    ASSERT_EQ(plain.facts.buses.size(), 1u);
    EXPECT_EQ(plain.facts.buses[0].bus, "ptr");
    EXPECT_EQ(plain.facts.buses[0].bits, 2);
    EXPECT_TRUE(Small(two_bits("x", "b1"), two_clocks).facts.buses.empty());  // b0 ^ b1 and b1
    // An exclusive or of something else is not Gray code.
    EXPECT_EQ(Small(two_bits("x", "d"), two_clocks).facts.buses.size(), 1u);
}

TEST(Crossings, APortWithADelayAgainstAnotherClockCrossesToo) {
    const Small s("FF g (.D(d), .CK(b), .Q(y));",
                  std::string(two_clocks) + "set_input_delay -clock ca 1 [get_ports d]\n");
    ASSERT_EQ(s.facts.crossings.size(), 1u);
    EXPECT_EQ(s.facts.crossings[0].open_from, "d");
    // A clock that enters nowhere only says when the outside moves.
    EXPECT_TRUE(
        Small("FF g (.D(d), .CK(b), .Q(y));",
              std::string(two_clocks) + "create_clock -name v -period 7\nset_input_delay -clock v 1 [get_ports d]\n")
            .facts.crossings.empty());
}

TEST(DesignFacts, WhichClocksAreUsed) {
    const Small s("FF g (.D(d), .CK(b), .Q(y));", std::string(two_clocks) +
                                                      "create_clock -name idle -period 3\ncreate_clock -name out "
                                                      "-period 4\nset_output_delay -clock out 1 [get_ports y]\n");
    EXPECT_EQ(s.facts.clock_used, (std::vector<bool>{false, true, false, true}));
}

TEST(DesignFacts, WithoutANetlistNothingIsClaimed) {
    Netlist none;
    none.ports = {{"p", "p", -1, Direction::in, no_id}};
    const auto f = design_facts(none, {}, {});
    EXPECT_TRUE(f.ports.empty()) << "a port that is only planned has no facts, not even that nobody reads it";
    EXPECT_TRUE(f.crossings.empty());
}

TEST(Trace, StriplineAndMicrostrip) {
    // Stripline: the light in a medium of permittivity 4 is half as fast, 6.671 ps/mm.
    EXPECT_NEAR(delay_per_mm({"stripline", 4, 0.4, 0.14, 0.018}), 2 / 299.792458, 1e-12);
    // Microstrip: between half air (very narrow) and all dielectric (very wide).
    const auto effective = [](double er, double w) {
        return std::pow(delay_per_mm({"microstrip", er, 1, w, 0.03}) * 299.792458, 2);
    };
    EXPECT_NEAR(effective(4.3, 1000), 4.3, 0.05);
    EXPECT_NEAR(effective(4.3, 0.001), 2.65, 0.15);
    // Alumina of 9.8 with w = h: 6.6 within 2 % (value of handbooks, from memory).
    EXPECT_NEAR(effective(9.8, 1), 6.6, 0.13);
    EXPECT_EQ(delay_per_mm({}), 0);
}

}  // namespace
}  // namespace kp
