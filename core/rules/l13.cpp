// SPDX-License-Identifier: GPL-3.0-or-later
// A name that is that of a terminal elsewhere: likely a swapped peg. A certain match is a stop, since the place is
// named; a likely one counts only where nothing speaks for the place that the port has, and is a caution.
#include "core/rules/say.hpp"
#include "core/base/said.hpp"

namespace kp::rules {

namespace {

void offer_place(const RuleInput& in, const PlannedPort& seat, const BetterPin& place, Finding& f) {
    if (!in.with_fixes) return;
    const auto& there = in.at_pin(place.pin);
    if (there.empty())
        f.fixes.push_back(move_fix(in, seat.name, place));
    else if (there.size() == 1)
        f.fixes.push_back({said("swap {} and {}", seat.name, there[0]), swap_edit(in.project, seat.name, there[0])});
}

/// What the port is meant for was said by hand: that counts, wherever names lead.
void said_by_hand(const RuleInput& in, const RuleRow& row, const PlannedPort& seat, std::vector<Finding>& out) {
    const auto& meant = seat.chosen->meant;
    const auto at = in.board.at_terminal(meant);
    if (at && at.net && (!seat.peg || at.net->pin == seat.on)) return;
    if (!at || !at.net) {
        auto f = finding(row,
                         at ? said("{} is meant for {}, and the board wires that to no pin.", seat.name, meant)
                            : said("{} is meant for {}, and the board has no such terminal.", seat.name, meant),
                         {{Subject::port, seat.name}, {Subject::terminal, meant}});
        if (in.with_fixes)
            f.fixes.push_back(
                attribute_fix(in, seat, &PortAttributes::meant, "", "take back what " + seat.name + " is meant for"));
        out.push_back(std::move(f));
        return;
    }
    auto f = finding(row,
                     said("{} is meant for {} ({}) on pin {} and sits on pin {}{}.", seat.name, meant, at.part->shown(),
                          at.net->pin, seat.on,
                          seat.at ? said(", {} ({})", seat.at.net->terminal, seat.at.part->shown())
                                  : std::string(", where the board has nothing")),
                     port_and_pin(seat));
    f.objects.push_back({Subject::terminal, meant});
    offer_place(in, seat, {at.net->pin, meant + ", which it is meant for"}, f);
    out.push_back(std::move(f));
}

/// A name that most likely speaks of a part of another kind, and not at all of the one it sits on: seg[0] on a serial
/// part, with a display on the board. Likely is not certain, so it is a caution.
void likely_elsewhere(const RuleInput& in, const RuleRow& row, const PlannedPort& seat, std::vector<Finding>& out) {
    constexpr double likely = 0.8;
    const auto match = in.matcher().best(*seat.port, [](const std::string&) { return false; });
    if (!match || match->pin == seat.on || match->confidence < likely) return;
    const auto meant = in.board.at_pin(match->pin);
    if (!meant || meant.part->kind == seat.at.part->kind || meant.part->kind == "header") return;
    if (in.matcher().best(*seat.port, [&](const std::string& pin) { return pin != seat.on; })) return;
    auto f = finding(
        row,
        said("{} sits on {} ({}), and by its name it belongs to {} ({}) on pin {}. If that is not so, say "
             "what it is meant for.",
             seat.name, seat.at.net->terminal, seat.at.part->kind, match->terminal, meant.part->kind, match->pin),
        port_and_pin(seat));
    f.severity = Severity::caution;
    f.objects.push_back({Subject::terminal, match->terminal});
    offer_place(in, seat, {match->pin, match->terminal + ", " + match->why}, f);
    if (in.with_fixes)
        f.fixes.push_back(attribute_fix(in, seat, &PortAttributes::meant, seat.at.net->terminal,
                                        said("it is meant for {}", seat.at.net->terminal)));
    out.push_back(std::move(f));
}

}  // namespace

/// Only where direction and free choice do not say otherwise: L08 speaks of directions, and a header is for anything.
void l13(const RuleInput& in, const RuleRow& row, const PlannedPort& seat, std::vector<Finding>& out) {
    if (!seat.port) return;
    if (!seat.chosen->meant.empty()) return said_by_hand(in, row, seat, out);
    if (!seat.at || seat.at.part->kind == "header") return;
    const auto direction = seat.at.terminal->direction;
    const auto own = seat.port->direction;
    if ((own == Direction::out && direction == TerminalDirection::drives) ||
        (own == Direction::in && direction == TerminalDirection::reads))
        return;
    const auto match = in.matcher().certain(*seat.port, seat.on);
    if (!match) return likely_elsewhere(in, row, seat, out);
    if (match->pin == seat.on) return;
    const auto meant = in.board.at_pin(match->pin);
    if (!meant || meant.part == seat.at.part) return;
    // Its own terminal may be called the same on two parts; then the place is as good as the other.
    if (meant.terminal->name == seat.at.terminal->name) return;
    auto f = finding(row,
                     said("{} sits on {} ({}), and the board has {} ({}) on pin {}.", seat.name, seat.at.net->terminal,
                          seat.at.part->shown(), match->terminal, meant.part->shown(), match->pin),
                     port_and_pin(seat));
    f.objects.push_back({Subject::terminal, match->terminal});
    offer_place(in, seat, {match->pin, match->terminal + ", " + match->why}, f);
    out.push_back(std::move(f));
}

}  // namespace kp::rules
