// SPDX-License-Identifier: GPL-3.0-or-later
// What is proved on the board, against each thing that may know better; and what it says of a wrong peg.
#include "core/verification/proof.hpp"
#include "core/planning/meant.hpp"
#include "core/session/session.hpp"
#include "core/inputs/source_texts.hpp"
#include "tests/synthesis/same.hpp"

#include <gtest/gtest.h>

namespace kp::verification {
namespace {

class VaneProof : public testing::Test {
protected:
    void SetUp() override {
        auto opened = Session::open(real_disk(), KP_SOURCE "/demo/vane/vane.kpeg", KP_SOURCE "/data");
        ASSERT_TRUE(opened.ok()) << opened.first().sentence();
        session = opened.take();
        meant = meant_places(world().netlist.ports, world().board, session->project(), {});
        pegs = pegs_as_meant(meant);
        for (std::uint32_t i = 0; i < world().netlist.ports.size(); ++i)
            if (world().netlist.ports[i].name == "osc_20") clock = i;
        ASSERT_NE(clock, no_id);
    }
    [[nodiscard]] const World& world() const { return session->world(); }
    [[nodiscard]] BoardBench bench(const PegMap& p) const {
        return BoardBench::make(world().netlist, world().library, world().board, p).take();
    }
    /// The vane through all its positions, lamps read after each.
    [[nodiscard]] Stimulus directions() const {
        auto s = all_combinations(
            ports_to_prove(world().netlist, world().board, meant, session->project(), {{"J3", "D1"}, {}}),
            board_sim::microsecond);
        EXPECT_TRUE(s.ok()) << s.first().sentence();
        auto out = s.take();
        out.before = 2 * board_sim::millisecond;  // the keys are looked at every 1.6 ms
        return out;
    }
    Proof prove_with(const PegMap& as_is, std::unique_ptr<Oracle> oracle, const Stimulus& s) {
        auto board = bench(as_is);
        auto proof = prove(board, s, oracle.get());
        EXPECT_TRUE(proof.ok()) << (proof.ok() ? "" : proof.first().sentence());
        return proof.ok() ? proof.take() : Proof{};
    }
    std::unique_ptr<Oracle> by_name() {
        return oracle_of_names(world().netlist, world().library, world().board, pegs).take();
    }

    std::unique_ptr<Session> session;
    std::vector<NameMatch> meant;
    PegMap pegs;
    std::uint32_t clock = no_id;
};

TEST_F(VaneProof, CrossedLampsAreSeenAndNamed) {
    const auto s = directions();
    ASSERT_EQ(s.rows.size(), 32u);
    const auto good = prove_with(pegs, by_name(), s);
    EXPECT_EQ(good.differ, 0u);
    EXPECT_TRUE(crossed_in(good).empty());
    auto crossed = pegs;
    std::swap(crossed["rose_n[2]"], crossed["rose_n[3]"]);
    const auto bad = prove_with(crossed, by_name(), s);
    EXPECT_EQ(bad.differ, 8u);  // two of eight sectors, four positions each
    const auto found = crossed_in(bad);
    ASSERT_EQ(found.size(), 1u);
    EXPECT_EQ(std::min(found[0].a, found[0].b), "D1.rose2");
    EXPECT_EQ(std::max(found[0].a, found[0].b), "D1.rose3");
    ASSERT_TRUE(bad.first_difference());
    EXPECT_EQ(bad.first_difference()->in[0], "01100");  // position 8, the first in the sector of rose 2
}

TEST_F(VaneProof, AnInputOnTheWrongPinIsSeen) {
    auto wrong = pegs;
    std::swap(wrong["gray[0]"], wrong["gray[4]"]);
    EXPECT_GT(prove_with(wrong, by_name(), directions()).differ, 8u);
}

TEST_F(VaneProof, SimulationWithDelaysAndSourceAgreeWithTheBoard) {
    const auto s = directions();
    auto simulated = oracle_of_simulation(world().netlist, world().library, &*world().delays, {proof_clock(clock, 20)});
    ASSERT_TRUE(simulated.ok()) << simulated.first().sentence();
    EXPECT_EQ(simulated.value()->name(), "the simulation with delays");
    const auto timed = prove_with(pegs, simulated.take(), s);
    EXPECT_EQ(timed.differ, 0u);
    EXPECT_TRUE(timed.seen.empty()) << timed.seen[0];
    // A vane that moves to and fro, each time 0.07 ns later in the clock's period of 50 ns: some time it meets the
    // window of the first register behind its pad, and the simulation says at which.
    auto close = s;
    close.rows.clear();
    for (int i = 0; i < 720; ++i) {
        close.rows.push_back(s.rows[static_cast<size_t>(i % 2)]);
        close.rows.back().lasts = board_sim::microsecond + 70'000;
    }
    auto again =
        oracle_of_simulation(world().netlist, world().library, &*world().delays, {proof_clock(clock, 20)}).take();
    const auto near = prove_with(pegs, std::move(again), close);
    ASSERT_FALSE(near.seen.empty());
    EXPECT_NE(near.seen[0].find("gray_s1"), std::string::npos) << near.seen[0];
    const auto text = real_disk().read(KP_SOURCE "/demo/vane/vane_hdl.v").take();
    const auto source_oracle = [&](const std::string& source) {
        const SourceText one{"vane_hdl.v", source};
        return oracle_of_source({&one, 1}, {}, "vane", world().netlist, world().library, {proof_clock(clock, 20)});
    };
    auto source = source_oracle(text);
    ASSERT_TRUE(source.ok()) << source.first().sentence();
    EXPECT_EQ(prove_with(pegs, source.take(), s).differ, 0u);
    // A source that means another thing is not agreed with.
    auto other = text;
    const std::string line = "assign rose_n = lamp;";
    ASSERT_NE(other.find(line), std::string::npos);
    other.replace(other.find(line), line.size(), "assign rose_n = {lamp[0], lamp[7:1]};");
    auto turned = source_oracle(other);
    ASSERT_TRUE(turned.ok()) << turned.first().sentence();
    EXPECT_EQ(prove_with(pegs, turned.take(), s).differ, 32u);
    EXPECT_FALSE(source_oracle("module vane(").ok());
}

/// Rows that end anywhere in a period of the clock: board, simulation and source see the same edges.
TEST_F(VaneProof, ARightNetlistIsItsOwnSourceWhateverItsRows) {
    const std::string text =
        "module vane(input osc_20, output [7:0] rose_n); reg [7:0] n = 0; always @(posedge osc_20) n <= n + 1; "
        "assign rose_n = n; endmodule";
    const auto mapped = synthesis::map_text(text, "vane");
    ASSERT_TRUE(mapped.ok()) << mapped.first().sentence();
    const SourceText source{"vane.v", text}, cells{"netlist.v", mapped.value().netlist};
    const auto netlist = read_netlist({&cells, 1}, "vane", synthesis::shipped_library()).take();
    std::uint32_t osc = no_id;
    for (std::uint32_t i = 0; i < netlist.ports.size(); ++i)
        if (netlist.ports[i].name == "osc_20") osc = i;
    auto rows = ports_to_prove(netlist, world().board, meant_places(netlist.ports, world().board, {}, {}), {});
    ASSERT_EQ(rows.outputs.size(), 1u);
    std::mt19937 random(7);
    for (int i = 0; i < 300; ++i) {
        Stimulus::Row row;
        row.lasts = static_cast<board_sim::Time>(random() % 200'000'000) + 1;
        rows.rows.push_back(row);
    }
    for (const bool by_source : {true, false}) {
        auto board = BoardBench::make(netlist, synthesis::shipped_library(), world().board, pegs).take();
        auto oracle =
            by_source
                ? oracle_of_source({&source, 1}, {}, "vane", netlist, synthesis::shipped_library(),
                                   {proof_clock(osc, 20)})
                      .take()
                : oracle_of_simulation(netlist, synthesis::shipped_library(), nullptr, {proof_clock(osc, 20)}).take();
        const auto proof = prove(board, rows, oracle.get());
        ASSERT_TRUE(proof.ok()) << proof.first().sentence();
        EXPECT_EQ(proof.value().differ, 0u) << by_source;
    }
}

TEST_F(VaneProof, AFormulaIsHeldAgainstTheBoard) {
    // Outputs follow the vane by the definition of the Gray code: binary bit 4 is gray bit 4, bit 3 their exclusive or.
    // Sector 0 is lit (low) while the three upper binary bits are 0.
    const std::string formula = "rose_n = ~(8'd1 << {gray[4], gray[4] ^ gray[3], gray[4] ^ gray[3] ^ gray[2]})";
    auto oracle = oracle_of_formula(formula, world().netlist);
    ASSERT_TRUE(oracle.ok()) << oracle.first().sentence();
    const auto proof = prove_with(pegs, oracle.take(), directions());
    EXPECT_EQ(proof.differ, 0u);
    EXPECT_EQ(proof.against, "the formula");
    auto wrong = oracle_of_formula("rose_n = ~(8'd1 << gray[4:2])", world().netlist);
    ASSERT_TRUE(wrong.ok());
    EXPECT_GT(prove_with(pegs, wrong.take(), directions()).differ, 0u);
    EXPECT_FALSE(oracle_of_formula("rose_n = = gray", world().netlist).ok());
    EXPECT_FALSE(oracle_of_formula("nobody = gray", world().netlist).ok());
}

TEST_F(VaneProof, AVectorFileSaysWhatIsWanted) {
    const auto ports = ports_to_prove(world().netlist, world().board, meant, session->project());
    const std::string text =
        "time,gray,hold_n,zero_n,=rose_n\n0,00000,1,1,-\n2000000,00000,1,1,11111110\n"
        "2001000,01100,1,1,11111011\n2002000,00000,1,1,01111111\n";
    auto s = from_vectors(ports, text, "v.csv", world().netlist);
    ASSERT_TRUE(s.ok()) << s.first().sentence();
    const auto proof = prove_with(pegs, nullptr, s.value());
    ASSERT_EQ(proof.rows.size(), 4u);
    EXPECT_EQ(proof.differ, 1u);
    EXPECT_FALSE(proof.rows[3].agrees);  // the last row is wrong on purpose
    const auto clocked = from_vectors(ports, "time,osc_20\n0,1\n", "v.csv", world().netlist);
    ASSERT_FALSE(clocked.ok());
    EXPECT_NE(clocked.first().text.find("osc_20"), std::string::npos);
}

TEST_F(VaneProof, ARecordingIsGivenAgain) {
    const auto ports = ports_to_prove(world().netlist, world().board, meant, session->project());
    // A vane that goes from position 0 to 8 and back, keys at rest, and the lamp that belongs to each.
    const std::string text =
        "$timescale 1ns $end\n$var wire 5 g gray [4:0] $end\n$var wire 1 h hold_n $end\n$var wire 1 z zero_n $end\n"
        "$var wire 8 r rose_n [7:0] $end\n$enddefinitions $end\n#0\nb0 g\n1h\n1z\nbx r\n#2000000\nb01100 g\n"
        "#2000400\nb11111011 r\n#2001000\nb0 g\n#2001400\nb11111110 r\n#2002000\n";
    const auto dump = vcd::read_vcd(text, "r.vcd");
    ASSERT_TRUE(dump.ok()) << dump.first().sentence();
    const auto s = from_dump(ports, dump.value(), "r.vcd");
    ASSERT_TRUE(s.ok()) << s.first().sentence();
    ASSERT_EQ(s.value().rows.size(), 3u);
    EXPECT_EQ(s.value().rows[0].want[0], "--------");  // nothing was known yet
    auto good = prove_with(pegs, nullptr, s.value());
    EXPECT_EQ(good.differ, 0u);
    auto crossed = pegs;
    std::swap(crossed["rose_n[2]"], crossed["rose_n[3]"]);
    EXPECT_EQ(prove_with(crossed, nullptr, s.value()).differ, 1u);
    vcd::Dump nothing;
    EXPECT_FALSE(from_dump(ports, nothing, "r.vcd").ok());
}

TEST_F(VaneProof, TooManyCombinationsAreRefused) {
    auto ports = ports_to_prove(world().netlist, world().board, meant, session->project());
    while (ports.inputs.size() < 20) ports.inputs.push_back(ports.inputs[0]);
    EXPECT_FALSE(all_combinations(ports, board_sim::microsecond).ok());
    ports.inputs.clear();
    const auto one = all_combinations(ports, board_sim::microsecond);
    ASSERT_TRUE(one.ok());
    EXPECT_EQ(one.value().rows.size(), 1u);  // nothing to set is one way to set it
}

TEST_F(VaneProof, WhatAHandDidIsDoneAgain) {
    auto crossed = pegs;
    std::swap(crossed["rose_n[2]"], crossed["rose_n[3]"]);
    const std::vector<Doing> doings{{2 * board_sim::millisecond, "J3", "position", "9"},
                                    {3 * board_sim::millisecond, "S1", "hold", "1"},
                                    {8 * board_sim::millisecond, "J3", "position", "20"}};
    auto wanted = bench(pegs), same = bench(pegs), again = bench(pegs), real = bench(crossed);
    EXPECT_EQ(compare_doings(wanted, same, doings, 10 * board_sim::millisecond).differ, 0u);
    const auto proof = compare_doings(again, real, doings, 10 * board_sim::millisecond);
    ASSERT_TRUE(proof.first_difference());
    EXPECT_EQ(proof.first_difference()->in[0], "S1 hold 1");  // the first look after the vane was turned
    EXPECT_EQ(proof.rows.size(), 4u);
}

TEST_F(VaneProof, TheConeOfALampEndsAtRegisters) {
    std::uint32_t lamp = no_id;
    for (std::uint32_t i = 0; i < world().netlist.ports.size(); ++i)
        if (world().netlist.ports[i].name == "rose_n[2]") lamp = i;
    const auto cone = cone_of(world().netlist, world().library, lamp);
    EXPECT_GT(cone.all, 1u);
    EXPECT_FALSE(cone.from.empty());
    EXPECT_LT(cone.all, world().netlist.cells.size());
    const auto small = cone_of(world().netlist, world().library, lamp, 2);
    EXPECT_LE(small.cells.size(), 2u);
    EXPECT_EQ(small.all, cone.all);
    EXPECT_EQ(cone_of(world().netlist, world().library, no_id).all, 0u);
}

}  // namespace
}  // namespace kp::verification
