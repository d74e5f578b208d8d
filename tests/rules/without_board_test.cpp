// SPDX-License-Identifier: GPL-3.0-or-later
// What once passed in silence: rules where the board, the netlist or the stack is missing, and pairs and references in
// odd places.
#include "tests/rules/planted.hpp"

namespace kp {
namespace {

std::string texts(Planted& p, const std::string& rule) {
    std::string out;
    for (const auto& f : p.findings())
        if (f.rule == rule) out += std::string(name_of(f.severity)) + " " + f.text + "\n";
    return out;
}

/// The same plan with nothing known of the board.
Planted boardless() {
    Planted p;
    p.board = Board{};
    p.board.index();
    return p;
}

TEST(WithoutABoard, ThereIsNoPartToDisagreeWith) {
    auto p = boardless();
    EXPECT_EQ(texts(p, "D01"), "");
}

TEST(WithoutABoard, TwoSuppliesInOneBankAreAStopWithWaysThatHelp) {
    auto p = boardless();
    EXPECT_EQ(texts(p, "E03"), "");
    // lamp[0] and its neighbours are LVCMOS 3.3 V outputs of one bank.
    const auto bank = p.pin_of("lamp[0]").bank;
    p.attributes("lamp[0]").standard = "LVCMOS 1.8 V";
    const auto said = texts(p, "E03");
    EXPECT_TRUE(said.starts_with("stop lamp[0] asks for 1.8 V (LVCMOS 1.8 V), and ")) << said;
    EXPECT_NE(said.find("in the same bank " + bank + " for 3.3 V"), std::string::npos) << said;
    for (const auto& f : p.findings()) {
        if (f.rule != "E03") continue;
        ASSERT_FALSE(f.fixes.empty());
        auto copy = p.project;
        ASSERT_TRUE(kp::apply(copy, f.fixes[0].edit).ok());
        std::swap(copy, p.project);
        EXPECT_EQ(texts(p, "E03"), "");
        EXPECT_FALSE(p.project.part.empty());
        std::swap(copy, p.project);
    }
}

TEST(References, TheInputThatNeedsOneCannotSitOnIt) {
    Planted p;
    for (auto& pin : p.part.pins) {
        if (!pin.reference || !pin.usable()) continue;
        // An input with a reference, alone in its bank on the reference pin itself.
        p.project.pegs["enc_a"] = {pin.name, PegState::pegged, ""};
        for (const auto& s : p.standards.rows)
            if (s.vref > 0 && !s.differential) p.attributes("enc_a").standard = s.name;
        break;
    }
    EXPECT_NE(texts(p, "L06").find("stop Pin "), std::string::npos);
    EXPECT_NE(texts(p, "L06").find("of enc_a is the reference of bank"), std::string::npos);
}

TEST(Pairs, ChosenPartnersWithoutPAndNOnHalvesOfTwoPairs) {
    Planted p;
    std::vector<const Pin*> halves;  // true halves of two pairs of one bank
    for (const auto& pin : p.part.pins)
        if (pin.pair_true && pin.usable() && pin.kind == PinKind::io && (halves.empty() || halves[0]->bank == pin.bank))
            halves.push_back(&pin);
    ASSERT_GE(halves.size(), 2u);
    std::erase_if(p.project.pegs, [&](const auto& peg) { return p.part.pin(peg.second.pin)->bank == halves[0]->bank; });
    std::string differential;
    for (const auto& s : p.standards.rows)
        if (s.differential && s.direction != "out") differential = s.name;
    for (const auto& [port, partner] : {std::pair{"enc_a", "enc_b"}, std::pair{"enc_b", "enc_a"}}) {
        p.attributes(port).standard = differential;
        p.attributes(port).partner = partner;
    }
    p.project.pegs["enc_a"].pin = halves[0]->name;
    p.project.pegs["enc_b"].pin = halves[1]->name;
    EXPECT_EQ(texts(p, "L03"), "stop enc_a and enc_b are a pair, but pins " + halves[0]->name + " and " +
                                   halves[1]->name + " are not; the other half of " + halves[0]->name + " is " +
                                   halves[0]->pair + ".\n");
    p.project.pegs["enc_b"].pin = halves[0]->pair;
    EXPECT_EQ(texts(p, "L03"), "");
}

TEST(Stack, WithoutOneRingingIsNotCheckedAndThatIsSaid) {
    Planted p;
    EXPECT_EQ(texts(p, "E11"), "");
    p.board.stack = {};
    const auto said = texts(p, "E11");
    EXPECT_TRUE(said.starts_with("note ")) << said;
    EXPECT_NE(said.find("not checked for ringing: the board file gives no stack"), std::string::npos) << said;
}

TEST(OnlyAHeader, AClockOnAPlainPinIsSaid) {
    Planted h;
    h.header_only = true;
    const auto plain = h.free_pin("");
    EXPECT_EQ(texts(h, "L04"), "");
    // The constraints define a clock on osc_25: a stop, as with a netlist.
    h.project.pegs["osc_25"].pin = plain;
    EXPECT_NE(texts(h, "L04").find("stop osc_25 has the clock osc_25, and pin " + plain + " is not a clock pin"),
              std::string::npos)
        << texts(h, "L04");
    // By its name alone it is a caution.
    h.text("create_clock", "# create_clock");
    EXPECT_EQ(texts(h, "L04").find("stop osc_25"), std::string::npos);
}

TEST(Drives, E07AndE09AssumeTheSameAndSayIt) {
    Planted p;
    for (auto& [port, a] : p.project.attributes) a.drive.clear();
    p.terminal("D1", "lamp0").current_ma = 0;
    p.net("D1.lamp0").series_ohm = 150;  // (3.3 - Vf - 0.4) / 150
    p.terminal("D1", "lamp0").forward_volts = 1.2;
    const auto said = texts(p, "E07");
    EXPECT_NE(said.find("lamp[0] drives 8 mA (assumed: no drive is chosen)"), std::string::npos) << said;
    for (auto& b : p.part.banks) b.switching_limit = 1;
    EXPECT_NE(texts(p, "E09").find("no drive is chosen; 8 mA is assumed."), std::string::npos) << texts(p, "E09");
}

}  // namespace
}  // namespace kp
