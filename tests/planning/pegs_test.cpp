// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/planning/place.hpp"
#include "core/session/session.hpp"
#include "core/session/verdict.hpp"

#include <gtest/gtest.h>

namespace kp {
namespace {

std::unique_ptr<Session> demo() {
    return Session::open(real_disk(), KP_SOURCE "/demo/vane/vane.kpeg", KP_SOURCE "/data").take();
}

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
    EXPECT_EQ(Trial(s->snapshot()).trouble("tone", "113"), "");
    EXPECT_EQ(Trial(s->snapshot()).trouble("tone", "6").substr(0, 4), "L01:");
    EXPECT_EQ(Trial(s->snapshot()).trouble("tone", "46").substr(0, 4), "L02:");
    EXPECT_EQ(Trial(s->snapshot()).trouble("tone", "122").substr(0, 4), "L08:");
}

TEST(OrderingCode, IsTakenApartCharacterByCharacter) {
    const auto s = demo();
    const auto& grammar = s->world().part.ordering;
    const auto good = decode_ordering_code(grammar, "SKR44L-B529-HW");
    ASSERT_TRUE(good.complete);
    EXPECT_EQ(good.fields[1].code, "44L");
    EXPECT_EQ(decode_ordering_code(grammar, "SKR11-Q145-MN").trouble,
              "The package is not known at character 7 of 'SKR11-Q145-MN'; it can be Q144, B256, B529.");
    EXPECT_EQ(decode_ordering_code(grammar, "SKR11-Q144-MNX").trouble,
              "'X' is left over at character 14 of 'SKR11-Q144-MNX'.");
    EXPECT_EQ(decode_ordering_code(grammar, "SKR11Q144").trouble, "A '-' is expected at character 6 of 'SKR11Q144'.");
}

/// A board of one-terminal parts, by their terminals.
Board board_of(const std::vector<std::pair<std::string, std::string>>& terminals) {
    Board b;
    int pin = 0;
    for (const auto& [ref, name] : terminals) {
        if (b.parts.empty() || b.parts.back().ref != ref) {
            BoardPart part;
            part.ref = part.name = part.label = ref;
            b.parts.push_back(part);
        }
        Terminal t;
        t.name = name;
        t.direction = TerminalDirection::reads;
        b.parts.back().terminals.push_back(t);
        BoardNet net;
        net.pin = "P" + std::to_string(++pin);
        net.terminal = ref + "." + name;
        b.nets.push_back(net);
    }
    b.index();
    return b;
}

std::vector<Port> bus(const std::string& name, int high, int low) {
    std::vector<Port> out;
    for (int i = high; i >= low; --i)
        out.push_back({name + "[" + std::to_string(i) + "]", name, i, Direction::out, no_id});
    return out;
}

std::string matched(const std::vector<Port>& ports, const Board& b) {
    std::string out;
    for (const auto& m : match_names(ports, b, {})) out += m.port + "=" + m.terminal + " ";
    return out;
}

TEST(MatchNames, NumbersThatStartElsewhereAreAnOffsetThatIsSaid) {
    const auto b = board_of({{"F1", "VENT1"}, {"F2", "VENT2"}, {"F3", "VENT3"}, {"F4", "VENT4"}});
    EXPECT_EQ(matched(bus("vent", 3, 0), b), "vent[0]=F1.VENT1 vent[1]=F2.VENT2 vent[2]=F3.VENT3 vent[3]=F4.VENT4 ");
    const auto list = match_names(bus("vent", 3, 0), b, {});
    EXPECT_EQ(list[0].why, "the board's numbers are 1 above the design's: bit 0 is number 1");
    for (const auto& m : list) EXPECT_LT(m.confidence, 0.95) << "an offset is not a certainty";
    EXPECT_EQ(matched(bus("vent", 4, 1), b), "vent[1]=F1.VENT1 vent[2]=F2.VENT2 vent[3]=F3.VENT3 vent[4]=F4.VENT4 ");
    for (const auto& m : match_names(bus("vent", 4, 1), b, {})) EXPECT_GT(m.confidence, 0.99);
    // Too few on the board: what has the same number is proposed, and not as a certainty.
    const auto few = board_of({{"F1", "VENT1"}, {"F2", "VENT2"}});
    for (const auto& m : match_names(bus("vent", 3, 0), few, {}))
        EXPECT_EQ(m.why, "the board's numbers do not reach over the whole bus");
}

TEST(MatchNames, AWideBusOnANarrowElementHasItsTopBits) {
    Board b = board_of({{"D1", "bar0"}, {"D1", "bar1"}, {"D1", "bar2"}});
    ASSERT_EQ(b.parts.size(), 1u) << "one element";
    EXPECT_EQ(matched(bus("bar", 7, 0), b), "bar[5]=D1.bar0 bar[6]=D1.bar1 bar[7]=D1.bar2 ");
    for (const auto& m : match_names(bus("bar", 7, 0), b, {})) {
        EXPECT_LT(m.confidence, 0.95) << "no certainty";
        EXPECT_TRUE(m.why.starts_with("there are fewer places than bits, so the top bits have them")) << m.why;
    }
    EXPECT_EQ(matched(bus("bar", 2, 0), b), "bar[0]=D1.bar0 bar[1]=D1.bar1 bar[2]=D1.bar2 ");
}

TEST(MatchNames, ABitIsNoMatchForATerminalWithoutANumber) {
    const auto b = board_of({{"F1", "led_b"}, {"F2", "led_a"}});
    EXPECT_EQ(matched(bus("led", 1, 0), b), "");
    EXPECT_EQ(matched({{"led_b", "led_b", -1, Direction::out, no_id}}, b), "led_b=F1.led_b ");
}

TEST(MatchNames, ANumberInsideANameIsNoIndex) {
    const auto b = board_of({{"U7", "rs485_di"}, {"U8", "rs485_ro"}, {"U9", "uart0_rx"}, {"U10", "uart1_rx"}});
    EXPECT_EQ(matched({{"rs485_di", "rs485_di", -1, Direction::out, no_id}}, b), "rs485_di=U7.rs485_di ");
    EXPECT_EQ(matched({{"uart1_rx", "uart1_rx", -1, Direction::out, no_id},
                       {"uart0_rx", "uart0_rx", -1, Direction::out, no_id}},
                      b),
              "uart0_rx=U9.uart0_rx uart1_rx=U10.uart1_rx ");
    for (const auto& m : match_names({{"rs485_di", "rs485_di", -1, Direction::out, no_id}}, b, {}))
        EXPECT_GT(m.confidence, 0.99);
}

TEST(FindPlace, ADesignatorNamesAPartWithOneTerminal) {
    const auto b = board_of({{"F1", "VENT1"}, {"F2", "VENT2"}});
    EXPECT_EQ(find_place("f2", {}, b).value(), "P2");
    Part part;
    part.pins = {{"F2"}, {"P2"}};
    EXPECT_FALSE(find_place("F2", part, b).ok()) << "a ball and a designator";
    EXPECT_EQ(find_place("pin F2", part, b).value(), "F2");
    EXPECT_EQ(find_place("part F2", part, b).value(), "P2");
}

}  // namespace
}  // namespace kp
