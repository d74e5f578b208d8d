// SPDX-License-Identifier: GPL-3.0-or-later
// Directions across the wire: two that drive fight, two that listen float; an open drain has to be let go.
#include "core/rules/say.hpp"

namespace kp::rules {

void l08(const RuleInput& in, const RuleRow& row, const Seat& seat, std::vector<Finding>& out) {
    if (!seat.port || !seat.pin) return;
    const auto& at = seat.at;
    const auto direction = seat.port->direction;
    std::string text;
    Severity severity = Severity::stop;
    if (direction == Direction::out && at && at.terminal->direction == TerminalDirection::drives) {
        text = "The output " + seat.name + " and " + at.net->terminal + " (" + at.part->label + ") both drive pin " +
               seat.on + "; their drivers would conflict.";
    } else if (direction == Direction::in && at && at.terminal->direction == TerminalDirection::reads) {
        severity = Severity::caution;
        text = "The input " + seat.name + " sits on " + at.net->terminal + " (" + at.part->label +
               "), which only reads; nothing drives pin " + seat.on + ".";
    } else if (direction == Direction::in && !at && seat.chosen->pull.empty()) {
        severity = Severity::caution;
        text = "The input " + seat.name + " sits on pin " + seat.on + ", which the board wires to nothing; it floats.";
    } else if (direction == Direction::out && at && at.terminal->open_drain &&
               !(seat.standard && seat.standard->open_drain) && !(seat.facts && seat.facts->only_low)) {
        severity = Severity::caution;
        text = "The output " + seat.name + " always drives, and " + at.net->terminal + " (" + at.part->label +
               ") is a wire that several pull down by turns; it has to be released when it is high.";
    } else {
        return;
    }
    auto f = finding(row, std::move(text), port_and_pin(seat));
    f.severity = severity;
    if (at) f.objects.push_back({"terminal", at.net->terminal});
    offer_move(in, seat, f);
    if (in.with_fixes && !at)
        f.fixes.push_back(
            attribute_fix(in, seat, &PortAttributes::pull, "up", "hold " + seat.name + " high by the pull in its pad"));
    out.push_back(std::move(f));
}

}  // namespace kp::rules
