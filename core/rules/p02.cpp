// SPDX-License-Identifier: GPL-3.0-or-later
// Mode and straps: what is chosen, what the board holds the mode pins at, and which start-up clock runs then.
#include "core/rules/say.hpp"
#include "core/base/said.hpp"
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
            said("{} has no configuration mode '{}'; it has {}.", in.part.name, mode_name(in), list_names(names, 8)),
            {{Subject::mode, mode_name(in)}}));
        if (in.with_fixes) out.back().fixes.push_back(setting_fix(in, "mode", names[0], "choose the mode " + names[0]));
        return;
    }
    for (const auto& [pin, level] : mode->straps) {
        const auto strap = std::find_if(in.board.straps.begin(), in.board.straps.end(),
                                        [&, p = pin](const Strap& s) { return s.pin == p; });
        if (strap == in.board.straps.end() || strap->level == level) continue;
        auto f = finding(
            row,
            said("The mode {} needs pin {} at {}, and the board holds it at {}; the part would start in another mode.",
                 mode->name, pin, level, strap->level),
            {{Subject::mode, mode->name}, {Subject::pin, pin}});
        f.numbers = {{"needed", "", static_cast<double>(level)}, {"strapped", "", static_cast<double>(strap->level)}};
        if (in.with_fixes)
            for (const auto& other : in.part.modes)
                if (std::all_of(other.straps.begin(), other.straps.end(), [&](const auto& s) {
                        return std::any_of(in.board.straps.begin(), in.board.straps.end(),
                                           [&](const Strap& b) { return b.pin == s.first && b.level == s.second; });
                    }))
                    f.fixes.push_back(setting_fix(in, "mode", other.name,
                                                  said("choose the mode {}, as the board is strapped", other.name)));
        out.push_back(std::move(f));
    }
    const auto& clock = in.project.start_clock;
    if (clock.empty() || mode->start_clock.empty() || clock == mode->start_clock) return;
    auto f = finding(row,
                     said("The start-up clock is set to {}, and in the mode {} only the {} one runs; the part would "
                          "load and never start.",
                          clock, mode->name, mode->start_clock),
                     {{Subject::mode, mode->name}});
    if (in.with_fixes)
        f.fixes.push_back(
            setting_fix(in, "start_clock", mode->start_clock, said("choose the {} start-up clock", mode->start_clock)));
    out.push_back(std::move(f));
}

}  // namespace kp::rules
