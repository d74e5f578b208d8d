// SPDX-License-Identifier: GPL-3.0-or-later
// What rules look at: seats, partners, buses, lanes and the board's watch lists, before and after edits.
#include "tests/rules/planted.hpp"

#include "core/planning/place.hpp"
#include "core/rules/say.hpp"

namespace kp {
namespace {

struct Input : testing::Test {
    Planted p;
    std::unique_ptr<RuleInput> in;
    void SetUp() override {
        p.board.index();
        const auto& a = p.session->analysis();
        in = std::make_unique<RuleInput>(p.part, p.board, p.standards, p.world().netlist.ports, p.project,
                                         a.constraints(), a.timing(), a.design());
    }
    void apply_and_tell(const Edit& edit, const std::vector<std::string>& ports) {
        ASSERT_TRUE(apply(p.project, edit).ok());
        for (const auto& port : ports) in->refresh(port);
    }
};

TEST_F(Input, ASeatHasAllThatItsPegLeadsTo) {
    const auto* seat = in->seat("lamp[0]");
    ASSERT_TRUE(seat);
    EXPECT_EQ(seat->on, "A10");
    EXPECT_EQ(seat->pin->name, "A10");
    EXPECT_EQ(seat->bank->name, "2");
    EXPECT_EQ(seat->standard->name, "LVCMOS 3.3 V");
    EXPECT_EQ(seat->at.net->terminal, "D1.lamp0");
    EXPECT_DOUBLE_EQ(*seat->rail, 3.3);
    EXPECT_TRUE(seat->drives());
    EXPECT_FALSE(seat->reads());
    EXPECT_EQ(in->seat("nobody"), nullptr);
}

TEST_F(Input, AnEditOfThePegMovesTheSeatEverywhere) {
    const auto bank_before = in->in_bank("2").size(), other_before = in->in_bank("3").size();
    const auto pin = p.project.pegs.at("tone").pin;
    apply_and_tell(swap_edit(p.project, "tone", "lamp[0]"), {"tone", "lamp[0]"});
    EXPECT_EQ(in->seat("lamp[0]")->on, pin);
    EXPECT_EQ(in->at_pin(pin), std::vector<std::string>{"lamp[0]"});
    EXPECT_EQ(in->in_bank("2").size(), bank_before);
    EXPECT_EQ(in->in_bank("3").size(), other_before);
    apply_and_tell(unpeg_edit(p.project, "lamp[0]"), {"lamp[0]"});
    EXPECT_TRUE(in->at_pin(pin).empty());
    EXPECT_EQ(in->in_bank("3").size(), other_before - 1);
    EXPECT_EQ(in->seat("lamp[0]")->pin, nullptr);
}

TEST_F(Input, APegOfNoPortComesAndGoes) {
    const auto count = in->seats().size();
    p.project.pegs["gone"] = {"A10", PegState::pegged, "by hand"};
    in->refresh("gone");
    ASSERT_EQ(in->seats().size(), count + 1);
    EXPECT_EQ(in->seats().back()->name, "gone");
    EXPECT_EQ(in->at_pin("A10"), (std::vector<std::string>{"gone", "lamp[0]"}));
    p.project.pegs.erase("gone");
    in->refresh("gone");
    EXPECT_EQ(in->seats().size(), count);
    EXPECT_EQ(in->seat("gone"), nullptr);
    EXPECT_EQ(in->at_pin("A10"), std::vector<std::string>{"lamp[0]"});
}

TEST_F(Input, PartnersByEndingAndByChoice) {
    EXPECT_EQ(in->partner(*in->seat("adc_d_p[2]"))->name, "adc_d_n[2]");
    EXPECT_EQ(in->partner(*in->seat("adc_clk_out_n"))->name, "adc_clk_out_p");
    EXPECT_EQ(in->partner(*in->seat("tone")), nullptr);
    EXPECT_EQ(in->partner(*in->seat("load_cs_n")), nullptr);  // ends so, but there is no load_cs_p
    p.attributes("tone").partner = "host_rx";
    in->refresh("tone");
    EXPECT_EQ(in->partner(*in->seat("tone"))->name, "host_rx");
}

TEST_F(Input, BusesAreInTheOrderOfTheDesign) {
    const auto& bus = in->bus_of(*in->seat("rgmii_txd[1]"));
    ASSERT_EQ(bus.size(), 4u);
    EXPECT_EQ(bus.front()->name, "rgmii_txd[3]");
    EXPECT_EQ(bus.back()->name, "rgmii_txd[0]");
    EXPECT_TRUE(in->bus_of(*in->seat("tone")).empty());
}

TEST_F(Input, ALaneIsEightBitsTheirMaskAndTheirStrobe) {
    ASSERT_EQ(in->lanes().size(), 2u);
    const auto* lane = in->lane_of("mem_dq[9]");
    ASSERT_TRUE(lane);
    EXPECT_EQ(lane->name, "mem_dq[15:8]");
    EXPECT_EQ(lane->bits.size(), 9u);
    EXPECT_EQ(lane->bits.back(), "mem_dm[1]");
    EXPECT_EQ(lane->strobes, (std::vector<std::string>{"mem_dqs_p[1]", "mem_dqs_n[1]"}));
    EXPECT_EQ(in->lane_of("mem_dqs_n[0]"), &in->lanes()[0]);
    EXPECT_EQ(in->lane_of("mem_a[3]"), nullptr);
}

TEST_F(Input, TheBoardsWatchLists) {
    std::vector<std::string> held;
    for (const auto& h : in->held_terminals()) held.push_back(h.net->terminal);
    EXPECT_EQ(held, (std::vector<std::string>{"U2.phy_rst_n", "U3.cke", "U3.mem_rst_n", "U4.cs_n", "U6.brake_n"}));
    ASSERT_EQ(in->forwarded_clocks().size(), 3u);
    for (const auto& f : in->forwarded_clocks())
        EXPECT_EQ(f.data.size(), f.terminal == "U4.clk_out_p" ? 10u : 5u) << f.terminal;
}

TEST_F(Input, CurrentOfALoadByOhmsLaw) {
    // Lamp: (3.3 - 1.9 - 0.4) / 390; coil through 150 Ohm: 6 mA as its part says; pull-up: (2.5 - 0.4) / 10 k.
    EXPECT_NEAR(rules::load_ma(*in->seat("lamp[0]")), 1.0 / 390 * 1000, 1e-9);
    EXPECT_NEAR(rules::load_ma(*in->seat("tone")), 6, 1e-9);
    EXPECT_NEAR(rules::load_ma(*in->seat("adc_cs_n")), 2.1 / 10000 * 1000, 1e-9);
    EXPECT_EQ(rules::load_ma(*in->seat("rocker[0]")), 0);
    EXPECT_EQ(rules::load_ma(*in->seat("mem_ck_p")), 0);
}

TEST_F(Input, DriveAndSlewWhenNothingIsChosen) {
    EXPECT_EQ(rules::drive_of(*in->seat("lamp[0]")), 8) << "8 mA, or the next the standard has";
    EXPECT_FALSE(rules::fast(*in->seat("lamp[0]")));
    p.attributes("lamp[0]").drive = "12";
    p.attributes("lamp[0]").slew = "fast";
    in->refresh("lamp[0]");
    EXPECT_EQ(rules::drive_of(*in->seat("lamp[0]")), 12);
    EXPECT_TRUE(rules::fast(*in->seat("lamp[0]")));
}

TEST(Say, NumbersAsPeopleWriteThem) {
    EXPECT_EQ(rules::number(2.0), "2");
    EXPECT_EQ(rules::number(2.345, 1), "2.3");
    EXPECT_EQ(rules::volts(1.1250001), "1.125 V");
    EXPECT_EQ(rules::ma(3.14159), "3.14 mA");
    EXPECT_EQ(rules::ns(6.6666667), "6.666667 ns");
    EXPECT_TRUE(rules::same_volts(2.5, 2.504));
    EXPECT_FALSE(rules::same_volts(2.5, 2.506));
}

}  // namespace
}  // namespace kp
