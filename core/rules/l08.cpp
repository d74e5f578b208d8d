// SPDX-License-Identifier: GPL-3.0-or-later
// Directions across the wire: two that drive fight, two that listen float; an open drain has to be let go.
#include "core/rules/say.hpp"
#include "core/base/said.hpp"

namespace kp::rules {

void l08(const RuleInput& in, const RuleRow& row, const PlannedPort& seat, std::vector<Finding>& out) {
    if (!seat.port || !seat.pin) return;
    const auto& at = seat.at;
    const auto direction = seat.port->direction;
    std::string text;
    Severity severity = Severity::stop;
    if (direction == Direction::out && at && at.terminal->direction == TerminalDirection::drives) {
        text = said("The output {} and {} ({}) both drive pin {}; their drivers would conflict.", seat.name,
                    at.net->terminal, at.part->shown(), seat.on);
    } else if (direction == Direction::in && at && at.terminal->direction == TerminalDirection::reads) {
        severity = Severity::caution;
        text = said("The input {} sits on {} ({}), which only reads; nothing drives pin {}.", seat.name,
                    at.net->terminal, at.part->shown(), seat.on);
    } else if (direction == Direction::in && !at && !in.board.nets.empty() && seat.chosen->pull.empty()) {
        severity = Severity::caution;
        text = said("The input {} sits on pin {}, which the board wires to nothing; it floats.", seat.name, seat.on);
    } else if (direction == Direction::out && at && at.terminal->open_drain &&
               !(seat.standard && seat.standard->open_drain) && !(seat.facts && seat.facts->only_low)) {
        severity = Severity::caution;
        text = said(
            "The output {} always drives, and {} ({}) is a wire that several pull down by turns; it has to be released "
            "when it is high.",
            seat.name, at.net->terminal, at.part->shown());
    } else {
        return;
    }
    auto f = finding(row, std::move(text), port_and_pin(seat));
    f.severity = severity;
    if (at) f.objects.push_back({Subject::terminal, at.net->terminal});
    offer_move(in, seat, f);
    if (in.with_fixes && !at)
        f.fixes.push_back(attribute_fix(in, seat, &PortAttributes::pull, "up",
                                        said("hold {} high by the pull in its pad", seat.name)));
    out.push_back(std::move(f));
}

}  // namespace kp::rules
