// SPDX-License-Identifier: GPL-3.0-or-later
// A name that is that of a terminal elsewhere: likely a swapped peg. Only certain matches count, since a guess that is
// wrong costs more than it helps.
#include "core/rules/say.hpp"
#include "core/base/said.hpp"

namespace kp::rules {

/// Only where direction and free choice do not say otherwise: L08 speaks of directions, and a header is for anything.
void l13(const RuleInput& in, const RuleRow& row, const PlannedPort& seat, std::vector<Finding>& out) {
    if (!seat.port || !seat.at || seat.at.part->kind == "header") return;
    const auto direction = seat.at.terminal->direction;
    const auto own = seat.port->direction;
    if ((own == Direction::out && direction == TerminalDirection::drives) ||
        (own == Direction::in && direction == TerminalDirection::reads))
        return;
    const auto match = in.matcher().certain(*seat.port, seat.on);
    if (!match || match->pin == seat.on) return;
    const auto meant = in.board.at_pin(match->pin);
    if (!meant || meant.part == seat.at.part) return;
    // Its own terminal may be called the same on two parts; then the place is as good as the other.
    if (meant.terminal->name == seat.at.terminal->name) return;
    auto f = finding(row,
                     said("{} sits on {} ({}), and the board has {} ({}) on pin {}.", seat.name, seat.at.net->terminal,
                          seat.at.part->label, match->terminal, meant.part->label, match->pin),
                     port_and_pin(seat));
    f.objects.push_back({Subject::terminal, match->terminal});
    if (in.with_fixes) {
        const auto& there = in.at_pin(match->pin);
        if (there.empty())
            f.fixes.push_back(move_fix(in, seat.name, {match->pin, match->terminal + ", " + match->why}));
        else if (there.size() == 1)
            f.fixes.push_back(
                {said("swap {} and {}", seat.name, there[0]), swap_edit(in.project, seat.name, there[0])});
    }
    out.push_back(std::move(f));
}

}  // namespace kp::rules
