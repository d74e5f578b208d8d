// SPDX-License-Identifier: GPL-3.0-or-later
// Unused pins that do something: not against what drives or pulls the wire they are on.
#include "core/rules/say.hpp"
#include "core/base/said.hpp"

namespace kp::rules {

void l12(const RuleInput& in, const RuleRow& row, std::vector<Finding>& out) {
    const auto unused = in.project.unused();
    if (unused == UnusedPins::floating) return;
    for (const auto& net : in.board.nets) {
        const auto* pin = in.part.pin(net.pin);
        const auto at = in.board.at_pin(net.pin);
        if (!pin || !pin->usable() || !at || !in.at_pin(net.pin).empty()) continue;
        const bool fights = unused == UnusedPins::driven_low && at.terminal->direction == TerminalDirection::drives &&
                            !at.terminal->open_drain;
        const bool against = (unused == UnusedPins::pulled_up && net.pull == "down") ||
                             (unused == UnusedPins::pulled_down && net.pull == "up");
        if (!fights && !against) continue;
        auto f = finding(row,
                         fights ? said("Pin {} holds no port and unused pins are driven low, but {} ({}) drives that "
                                       "wire; their drivers would conflict.",
                                       net.pin, net.terminal, at.part->shown())
                                : "Pin " + net.pin + " holds no port and unused pins are pulled " +
                                      std::string(unused == UnusedPins::pulled_up ? "up" : "down") +
                                      ", but the board pulls " + net.terminal + " " + net.pull +
                                      "; the wire would rest between the levels.",
                         {{Subject::pin, net.pin}, {Subject::terminal, net.terminal}});
        if (against) f.numbers = {{"pull on the board", "Ω", net.pull_ohm}};
        if (in.with_fixes) f.fixes.push_back(setting_fix(in, "unused_pins", "float", "let unused pins float"));
        out.push_back(std::move(f));
    }
}

}  // namespace kp::rules
