// SPDX-License-Identifier: GPL-3.0-or-later
// A design that is loaded by cable only, on a board that would start alone.
#include "core/rules/say.hpp"
#include "core/base/said.hpp"
#include <algorithm>

namespace kp::rules {

/// A board that starts alone is one whose mode loads from something on the board: the part drives pins while it loads,
/// or waits for a stream; the mode that only the cable starts does neither.
void p03(const RuleInput& in, const RuleRow& row, std::vector<Finding>& out) {
    const auto at = std::find_if(in.part.modes.begin(), in.part.modes.end(),
                                 [&](const ConfigurationMode& m) { return m.name == in.board.mode; });
    if (in.project.load != "volatile" || at == in.part.modes.end() || at->start_clock == "jtag") return;
    auto f = finding(row,
                     said("The design is to be loaded by cable only, which is lost with power, and {} is made to start "
                          "alone from its {}.",
                          in.board.name, at->name),
                     {{Subject::board, in.board.name}, {Subject::mode, at->name}});
    if (in.with_fixes) f.fixes.push_back(setting_fix(in, "load", "stored", "store the design on the board"));
    out.push_back(std::move(f));
}

}  // namespace kp::rules
