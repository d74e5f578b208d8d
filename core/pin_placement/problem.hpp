// SPDX-License-Identifier: GPL-3.0-or-later
// A question of placing as data: units that want places, places that are legal for each, and the facts that make it
// hard, each of which may be left out of account.
#pragma once

#include "core/rules/input.hpp"

#include <cstdint>
#include <map>
#include <set>
#include <string>
#include <vector>

namespace kp::pin_placement {

/// Something that stands in the way: a port that wants a place, a peg, a rail, the wires of a board part, the mode.
struct Fact {
    std::string id, kind, text, relax;  ///< relax: what loosening it would mean
    std::vector<std::string> objects;
};

/// A legal place of a unit, under conditions.
struct Candidate {
    int pin = -1, other = -1;      ///< positions in the part; `other` is used up too: of the second port, or kept free
    std::uint32_t supplies = ~0u;  ///< supplies of the pin's bank that it can live with, a bit for each option
    int reference = any_reference;
    int group = -1;                                              ///< strobe group of the pin
    int needs[2] = {-1, -1};                                     ///< facts that would have to be left out
    bool named = false;                                          ///< the board has a terminal of the port's name there
    static constexpr int any_reference = -1, no_reference = -2;  ///< otherwise an option of the bank
    bool operator==(const Candidate&) const = default;
};

/// Ports that are placed together: one, or the halves of a pair.
struct Unit {
    std::vector<std::string> ports;
    std::vector<int> when;      ///< facts that all have to count
    std::vector<int> any{};     ///< facts one of which has to count, if there are any
    std::vector<int> unless{};  ///< facts none of which may count
    int kind = 0;               ///< which list of candidates
    bool asked = false;         ///< to be placed; otherwise it lies where it is pegged
    int now = -1;               ///< pin of its first port, when it is loose
};

/// Units of one kind have the same places.
struct Kind {
    bool pair = false;   ///< uses two pins
    bool rests = false;  ///< uses none: it lies where others keep a pin for it, and only has to be legal there
    int lane = -1;       ///< byte it belongs to
    bool named = false;  ///< some place is
    std::vector<Candidate> places;
};

struct BankOptions {
    std::string name;
    std::vector<double> supplies;  ///< V
    std::uint32_t allowed = ~0u;   ///< of these, what the bank may have
    int rail = -1;                 ///< option that the board gives it
    int rail_fact = -1;
    std::vector<double> references;  ///< V
};

struct Problem {
    const RuleInput* in = nullptr;
    std::vector<Fact> facts;
    std::vector<int> optional;  ///< of the facts: ports whose peg was loosened, which need not find a place
    std::vector<Unit> units;
    std::vector<Kind> kinds;
    std::vector<BankOptions> banks;  ///< by bank of the part
    std::vector<int> bank_of;        ///< per pin; -1: none
    std::vector<int> pair_of;        ///< per pin: number of its pair; -1: none
    int pairs = 0, lanes = 0;
    std::vector<std::string> groups;  ///< strobe groups

    [[nodiscard]] int fact(const std::string& id) const;
    [[nodiscard]] bool counts(const Unit& unit, const std::vector<bool>& active) const;
};

/// Everything that is asked of `ports` (all that are adrift or loose when empty; those open on purpose never).
/// `loosened`: ids of facts that are left out. Ports of such pegs are asked for too, but need not find a place; wires
/// of a board part count for every question as they are given here.
[[nodiscard]] Problem make_problem(const RuleInput& in, const std::set<std::string>& ports,
                                   const std::set<std::string>& loosened);

/// Where a name leads on the board, of ports that are asked for; see match_names().
[[nodiscard]] std::map<std::string, std::string> places_by_name(const RuleInput& in,
                                                                const std::set<std::string>& asked);

/// The ports that a question without names is about.
[[nodiscard]] std::set<std::string> all_to_place(const RuleInput& in);

}  // namespace kp::pin_placement
