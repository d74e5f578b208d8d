// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/model/proof_notes.hpp"
#include "core/planning/before_power.hpp"

#include <gtest/gtest.h>

namespace kp {
namespace {

TEST(ProofNotes, ALineIsReadBack) {
    ProofNote n{"2026-01-02", "someone | else", "all 32\ncombinations", "the source", 32, 3, "aa", "bb"};
    const auto back = proof_note(to_line(n));
    ASSERT_TRUE(back);
    EXPECT_EQ(back->who, "someone   else");
    EXPECT_EQ(back->what, "all 32 combinations");
    EXPECT_EQ(back->rows, 32u);
    EXPECT_EQ(back->differ, 3u);
    EXPECT_EQ(to_line(*back), to_line(n));
    for (const char* line : {"", "by hand", "a | b | c | d | e | 3 | g | h", "a | b | c | d | 1 | 2 | g",
                             "a | b | c | d | 1 | 2 | g | h | i"})
        EXPECT_FALSE(proof_note(line)) << line;
}

TEST(ProofNotes, HoldsUntilWhatItIsOfChanges) {
    ProofNote n{"d", "w", "what", "that", 4, 0, "pegs", "net"};
    EXPECT_FALSE(n.proven()) << "nobody counted its outputs";
    n.open = 2;
    EXPECT_EQ(sentence_of(n, {"pegs", "net"}), "What against that: all 4 agree, 2 outputs not proven (d, w)");
    EXPECT_FALSE(n.proven());
    n.open = 0;
    EXPECT_TRUE(n.proven());
    EXPECT_EQ(proof_note(to_line(n))->open, size_t{0});
    EXPECT_EQ(why_stale(n, {"pegs", "net"}), "");
    EXPECT_EQ(why_stale(n, {"other", "net"}), "the pegs changed since");
    EXPECT_EQ(why_stale(n, {"pegs", "other"}), "the netlist changed since");
    EXPECT_EQ(why_stale(n, {"x", "y"}), "pegs and netlist changed since");
    EXPECT_EQ(sentence_of(n, {"pegs", "net"}), "What against that: all 4 agree (d, w)");
    EXPECT_NE(sentence_of(n, {"x", "net"}).find("no longer holds"), std::string::npos);
    Netlist a;
    a.top = "t";
    a.types = {"A"};
    a.cells.push_back({0, 0, 0, no_id});
    auto b = a;
    EXPECT_EQ(digest_of_netlist(a), digest_of_netlist(b));
    b.parameters.push_back({0, "TABLE", "6"});
    EXPECT_NE(digest_of_netlist(a), digest_of_netlist(b));  // another table computes something else
    PegMap pegs{{"p", {"1", PegState::pegged, "by hand"}}}, same{{"p", {"1", PegState::loose, "by name"}}};
    EXPECT_EQ(digest_of_pegs(pegs), digest_of_pegs(same));  // how it came there does not matter
    same["p"].pin = "2";
    EXPECT_NE(digest_of_pegs(pegs), digest_of_pegs(same));
}

TEST(BeforePower, SaysWhatThePlanAsksOfTheBoard) {
    Board b;
    b.rails = {{"0", 3.3}, {"1", 3.3}, {"2", 2.5}};
    b.straps = {{"M0", 1}, {"M1", 0}};
    b.mode = "serial";
    Part part;
    part.idcode = 0x12345678;
    Project p;
    p.part = "CODE";
    const auto lines = before_power(b, part, p);
    const auto has = [&](const std::string& text) { return std::count(lines.begin(), lines.end(), text) == 1; };
    EXPECT_TRUE(has("Supply 3.30 V measured at banks 0, 1"));
    EXPECT_TRUE(has("Supply 2.50 V measured at bank 2"));
    EXPECT_TRUE(has("Jumpers as the mode 'serial' wants them: M0 high, M1 low"));
    EXPECT_TRUE(has("The chip on the board is CODE (IDCODE 0x12345678)"));
    p.load = "stored";
    const auto other = before_power(b, part, p);
    EXPECT_NE(lines, other);  // a tick of before does not stand beside the new line
}

}  // namespace
}  // namespace kp
