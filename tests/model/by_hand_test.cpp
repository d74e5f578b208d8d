// SPDX-License-Identifier: GPL-3.0-or-later
// What the hand adds to a board: places, orders, and notes that are ticked.
#include "core/model/by_hand.hpp"
#include "core/planning/ways.hpp"

#include <gtest/gtest.h>

namespace kp {
namespace {

Board board() {
    Board b;
    BoardPart part;
    part.ref = "D1";
    part.x = 10;
    part.y = 20;
    for (const char* name : {"a", "b", "c"}) {
        Terminal t;
        t.name = name;
        t.order = static_cast<int>(part.terminals.size());
        part.terminals.push_back(t);
        b.nets.push_back({std::string("K") + name, std::string("D1.") + name, 0, 0, "", 0, 0, 0});
    }
    b.parts.push_back(part);
    b.notes = {"Set the jumper\nto 3.3 V", "Check the fuse"};
    b.index();
    return b;
}

TEST(ByHand, APartStandsWhereItWasPut) {
    const auto b = board();
    Project p;
    EXPECT_EQ(place_of(b.parts[0], p), (std::pair{10.0, 20.0}));
    p.part_places["D1"] = "1.5 2";
    EXPECT_EQ(place_of(b.parts[0], p), (std::pair{1.5, 2.0}));
    for (const char* wrong : {"", "1", "1 2 3", "left 2", "1,5 2", "nan 2"}) {
        p.part_places["D1"] = wrong;
        EXPECT_EQ(place_of(b.parts[0], p), (std::pair{10.0, 20.0})) << wrong;
    }
}

TEST(ByHand, TerminalsComeInTheOrderOfTheHandAndTheOthersAfterThem) {
    auto b = board();
    Project p;
    p.part_orders = {{"D1", "c a nowhere"}, {"D9", "x y"}};
    order_terminals(b, p);
    EXPECT_EQ(terminals_in_order(b.parts[0]), (std::vector<std::string>{"c", "a", "b"}));
    // A bus that is dropped on the part follows it.
    EXPECT_EQ(places_from({DropTarget::Kind::board_part, "D1"}, {"q[2]", "q[1]", "q[0]"}, {}, b, {}, {}),
              (std::vector<std::string>{"Kc", "Ka", "Kb"}));
}

TEST(ByHand, NotesAreTickedWrittenAndDropped) {
    const auto b = board();
    Project p;
    const auto set = [&](const std::string& text, Tick tick) { p.power_notes = with_power_note(b, p, text, tick); };
    EXPECT_EQ(power_notes(b, p).size(), 2u);
    EXPECT_EQ(power_notes(b, p)[0].text, "Set the jumper to 3.3 V") << "one line of a field";
    set("Set the jumper to 3.3 V", Tick::done);
    EXPECT_EQ(p.power_notes, std::vector<std::string>{"[x] Set the jumper to 3.3 V"});
    set("Ask for the\n supply = 5 V", Tick::open);
    ASSERT_EQ(power_notes(b, p).size(), 3u);
    EXPECT_TRUE(power_notes(b, p)[2].own);
    EXPECT_EQ(power_notes(b, p)[2].text, "Ask for the supply = 5 V");
    set("Ask for the supply = 5 V", Tick::done);
    EXPECT_TRUE(power_notes(b, p)[2].done);
    // The board's notes stay whatever is done to them; one's own go.
    set("Check the fuse", Tick::drop);
    set("Set the jumper to 3.3 V", Tick::open);
    set("Ask for the supply = 5 V", Tick::drop);
    EXPECT_TRUE(p.power_notes.empty());
    EXPECT_EQ(power_notes(b, p).size(), 2u);
    set("   ", Tick::open);
    EXPECT_TRUE(p.power_notes.empty());
}

}  // namespace
}  // namespace kp
