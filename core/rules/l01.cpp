// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/text.hpp"
#include "core/rules/rules.hpp"

namespace kp::rules {

void l01(const RuleInput& in, const RuleRow& row, const std::string& port, std::vector<Finding>& out) {
    const auto peg = in.project.pegs.find(port);
    if (peg == in.project.pegs.end()) return;
    const auto* pin = in.part.pin(peg->second.pin);
    if (pin && pin->usable()) return;
    std::string text = port + " is pegged to pin " + peg->second.pin + ", which ";
    if (pin) {
        text += "is " + (pin->function.empty() ? std::string(name_of(pin->kind)) : pin->function) + " and not for users.";
    } else {
        std::vector<std::string> names;
        for (const auto& p : in.part.pins) names.push_back(p.name);
        text += in.part.name + " does not have." + did_you_mean(peg->second.pin, names);
    }
    auto f = finding(row, std::move(text), {{"port", port}, {"pin", peg->second.pin}});
    if (in.with_fixes)
        if (const auto* p = in.port(port))
            if (const auto place = better_place(in, *p)) f.fixes.push_back(move_fix(in, port, *place));
    out.push_back(std::move(f));
}

}  // namespace kp::rules
