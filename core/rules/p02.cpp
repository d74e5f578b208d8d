// SPDX-License-Identifier: GPL-3.0-or-later
// Mode and straps: what is chosen, what the board holds the mode pins at, and which start-up clock runs then.
#include "core/rules/say.hpp"
#include <algorithm>

namespace kp::rules {

void p02(const RuleInput& in, const RuleRow& row, std::vector<Finding>& out) {
    if (in.part.modes.empty() || mode_name(in).empty()) return;
    const auto* mode = mode_of(in);
    if (!mode) {
        std::vector<std::string> names;
        for (const auto& m : in.part.modes) names.push_back(m.name);
        out.push_back(finding(
            row,
            in.part.name + " has no configuration mode '" + mode_name(in) + "'; it has " + list_names(names, 8) + ".",
            {{"mode", mode_name(in)}}));
        if (in.with_fixes) out.back().fixes.push_back(setting_fix(in, "mode", names[0], "choose the mode " + names[0]));
        return;
    }
    for (const auto& [pin, level] : mode->straps) {
        const auto strap = std::find_if(in.board.straps.begin(), in.board.straps.end(),
                                        [&, p = pin](const Strap& s) { return s.pin == p; });
        if (strap == in.board.straps.end() || strap->level == level) continue;
        auto f = finding(row,
                         "The mode " + mode->name + " needs pin " + pin + " at " + std::to_string(level) +
                             ", and the board holds it at " + std::to_string(strap->level) +
                             "; the part would start in another mode.",
                         {{"mode", mode->name}, {"pin", pin}});
        f.numbers = {{"needed", "", static_cast<double>(level)}, {"strapped", "", static_cast<double>(strap->level)}};
        if (in.with_fixes)
            for (const auto& other : in.part.modes)
                if (std::all_of(other.straps.begin(), other.straps.end(), [&](const auto& s) {
                        return std::any_of(in.board.straps.begin(), in.board.straps.end(),
                                           [&](const Strap& b) { return b.pin == s.first && b.level == s.second; });
                    }))
                    f.fixes.push_back(setting_fix(in, "mode", other.name,
                                                  "choose the mode " + other.name + ", as the board is strapped"));
        out.push_back(std::move(f));
    }
    const auto& clock = in.project.start_clock;
    if (clock.empty() || mode->start_clock.empty() || clock == mode->start_clock) return;
    auto f = finding(row,
                     "The start-up clock is set to " + clock + ", and in the mode " + mode->name + " only the " +
                         mode->start_clock + " one runs; the part would load and never start.",
                     {{"mode", mode->name}});
    if (in.with_fixes)
        f.fixes.push_back(
            setting_fix(in, "start_clock", mode->start_clock, "choose the " + mode->start_clock + " start-up clock"));
    out.push_back(std::move(f));
}

}  // namespace kp::rules
