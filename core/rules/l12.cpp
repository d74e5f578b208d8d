// SPDX-License-Identifier: GPL-3.0-or-later
// Unused pins that do something: not against what drives or pulls the wire they are on.
#include "core/rules/say.hpp"

namespace kp::rules {

void l12(const RuleInput& in, const RuleRow& row, std::vector<Finding>& out) {
    const auto& state = in.project.unused_pins;
    if (state.empty() || state == "float") return;
    for (const auto& net : in.board.nets) {
        const auto* pin = in.part.pin(net.pin);
        const auto at = in.board.at_pin(net.pin);
        if (!pin || !pin->usable() || !at || !in.at_pin(net.pin).empty()) continue;
        const bool fights =
            state == "drive low" && at.terminal->direction == TerminalDirection::drives && !at.terminal->open_drain;
        const bool against = (state == "pull up" && net.pull == "down") || (state == "pull down" && net.pull == "up");
        if (!fights && !against) continue;
        auto f =
            finding(row,
                    fights ? "Pin " + net.pin + " holds no port and unused pins are driven low, but " + net.terminal +
                                 " (" + at.part->label + ") drives that wire; their drivers would conflict."
                           : "Pin " + net.pin + " holds no port and unused pins are pulled " + state.substr(5) +
                                 ", but the board pulls " + net.terminal + " " + net.pull +
                                 "; the wire would rest between the levels.",
                    {{"pin", net.pin}, {"terminal", net.terminal}});
        if (against) f.numbers = {{"pull on the board", "Ω", net.pull_ohm}};
        if (in.with_fixes) f.fixes.push_back(setting_fix(in, "unused_pins", "float", "let unused pins float"));
        out.push_back(std::move(f));
    }
}

}  // namespace kp::rules
