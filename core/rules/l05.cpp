// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rules/rules.hpp"

#include <algorithm>

namespace kp::rules {

void l05(const RuleInput& in, const RuleRow& row, const std::string& name, std::vector<Finding>& out) {
    const auto peg = in.project.pegs.find(name);
    const auto* pin = peg == in.project.pegs.end() ? nullptr : in.part.pin(peg->second.pin);
    const auto* port = in.port(name);
    if (!port || !pin || pin->job.empty()) return;
    const auto mode = std::find_if(in.part.modes.begin(), in.part.modes.end(), [&](const ConfigurationMode& m) { return m.name == in.board.mode; });
    const bool driven = mode != in.part.modes.end() && std::find(mode->drives.begin(), mode->drives.end(), pin->job) != mode->drives.end();
    const auto at = in.board.at_pin(pin->name);
    const bool by_board = at && at.terminal->direction == TerminalDirection::drives;
    if (!driven && !by_board) return;
    auto f = finding(row, driven ? "Pin " + pin->name + " of " + name + " is " + pin->job + " while the part is set up by " + in.board.mode + "; the part drives it then, whatever hangs on it." : "Pin " + pin->name + " of " + name + " is " + pin->job + " while the part is set up, and " + at.net->terminal + " drives it then.", {{"port", name}, {"pin", pin->name}});
    if (!driven) f.severity = Severity::caution;
    if (in.with_fixes)
        if (const auto place = better_place(in, *port); place && place->pin != pin->name) f.fixes.push_back(move_fix(in, name, *place));
    out.push_back(std::move(f));
}

}  // namespace kp::rules
