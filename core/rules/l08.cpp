// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rules/rules.hpp"

namespace kp::rules {

void l08(const RuleInput& in, const RuleRow& row, const std::string& name, std::vector<Finding>& out) {
    const auto* port = in.port(name);
    const auto found = in.project.pegs.find(name);
    if (!port || found == in.project.pegs.end() || !in.part.pin(found->second.pin)) return;
    const auto& peg = found->second;
    const auto at = in.board.at_pin(peg.pin);
    std::string text;
    Severity severity = Severity::stop;
    if (port->direction == Direction::out && at && at.terminal->direction == TerminalDirection::drives) {
        text = "The output " + name + " and " + at.net->terminal + " (" + at.part->label + ") both drive pin " + peg.pin + "; they would fight.";
    } else if (port->direction == Direction::in && at && at.terminal->direction == TerminalDirection::reads) {
        severity = Severity::caution;
        text = "The input " + name + " sits on " + at.net->terminal + " (" + at.part->label + "), which only reads; nothing drives pin " + peg.pin + ".";
    } else if (port->direction == Direction::in && !at) {
        severity = Severity::caution;
        text = "The input " + name + " sits on pin " + peg.pin + ", which the board wires to nothing; it floats.";
    } else {
        return;
    }
    auto f = finding(row, std::move(text), {{"port", name}, {"pin", peg.pin}});
    f.severity = severity;
    if (at) f.objects.push_back({"terminal", at.net->terminal});
    if (in.with_fixes)
        if (const auto place = better_place(in, *port); place && place->pin != peg.pin) f.fixes.push_back(move_fix(in, name, *place));
    out.push_back(std::move(f));
}

}  // namespace kp::rules
