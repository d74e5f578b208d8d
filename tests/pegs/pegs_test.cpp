// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/pegs/place.hpp"
#include "core/session/session.hpp"
#include "core/session/verdict.hpp"

#include <gtest/gtest.h>

namespace kp {
namespace {

std::unique_ptr<Session> demo() { return Session::open(real_disk(), KP_SOURCE "/demo/vane/vane.kpeg", KP_SOURCE "/data").take(); }

TEST(FindPlace, PinsTerminalsAndKinds) {
    const auto s = demo();
    const auto at = [&](const char* text) {
        const auto r = find_place(text, s->world().part, s->world().board);
        return r ? r.value() : r.first().text;
    };
    EXPECT_EQ(at("61"), "61");
    EXPECT_EQ(at("D1.rose3"), "50");
    EXPECT_EQ(at("ROSE3"), "50");
    EXPECT_EQ(at("lamp3"), "50");
    EXPECT_EQ(at("sounder"), "112");
    EXPECT_EQ(at("lamb3"), "There is no pin or terminal 'lamb3'.");
    EXPECT_EQ(at("rosa3"), "There is no pin or terminal 'rosa3'. Did you mean 'rose3'?");
    EXPECT_EQ(at("key"), "'key' names several terminals; type the pin or the part with it, such as S1.hold.");
}

TEST(MatchNames, PlacesTheWholeDemo) {
    const auto s = demo();
    const auto matches = match_names(s->world().netlist.ports, s->world().board, {});
    EXPECT_EQ(matches.size(), s->world().netlist.ports.size());
    for (const auto& m : matches)
        if (m.port == "rose_n[2]") EXPECT_EQ(m.terminal, "D1.rose2");
    // A taken pin is not proposed again.
    PegMap taken{{"tone", {"112", PegState::pegged, ""}}};
    for (const auto& m : match_names(s->world().netlist.ports, s->world().board, taken)) EXPECT_NE(m.pin, "112");
}

TEST(MatchNames, AnOutputIsNotMatchedWithADriver) {
    const auto s = demo();
    EXPECT_TRUE(match_names({{"hold", "hold", -1, Direction::out, 0}}, s->world().board, {}).empty());
}

TEST(PegEdit, AStandardFromTheBoardFollowsAndAChosenOneStays) {
    const auto s = demo();
    Project p = s->project();
    ASSERT_TRUE(apply(p, peg_edit(p, s->world().board, "tone", "87", "by hand")));
    EXPECT_EQ(p.attributes["tone"].standard, "LVCMOS 2.5 V");
    ASSERT_TRUE(apply(p, standard_edit(p, "tone", "LVTTL 3.3 V")));
    ASSERT_TRUE(apply(p, peg_edit(p, s->world().board, "tone", "112", "by hand")));
    EXPECT_EQ(p.attributes["tone"].standard, "LVTTL 3.3 V");
    EXPECT_TRUE(peg_edit(p, s->world().board, "tone", "112", "by hand").empty());
}

TEST(PlaceTrouble, SaysTheRuleThatRefuses) {
    const auto s = demo();
    EXPECT_EQ(place_trouble(*s, "tone", "113"), "");
    EXPECT_EQ(place_trouble(*s, "tone", "6").substr(0, 4), "L01:");
    EXPECT_EQ(place_trouble(*s, "tone", "46").substr(0, 4), "L02:");
    EXPECT_EQ(place_trouble(*s, "tone", "122").substr(0, 4), "L08:");
}

TEST(OrderingCode, IsTakenApartCharacterByCharacter) {
    const auto s = demo();
    const auto& grammar = s->world().part.ordering;
    const auto good = decode_ordering_code(grammar, "SKR45T-B484-3I");
    ASSERT_TRUE(good.complete);
    EXPECT_EQ(good.fields[1].code, "45T");
    EXPECT_EQ(decode_ordering_code(grammar, "SKR12-Q145-2C").trouble, "The package is not known at character 7 of 'SKR12-Q145-2C'; it can be Q144, B256, B484.");
    EXPECT_EQ(decode_ordering_code(grammar, "SKR12-Q144-2CX").trouble, "'X' is left over at character 14 of 'SKR12-Q144-2CX'.");
    EXPECT_EQ(decode_ordering_code(grammar, "SKR12Q144").trouble, "A '-' is expected at character 6 of 'SKR12Q144'.");
}

}  // namespace
}  // namespace kp
