// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/text.hpp"
#include "core/rules/rules.hpp"

namespace kp::rules {

void l01(const RuleInput& in, const RuleRow& row, std::vector<Finding>& out) {
    std::vector<std::string> names;
    for (const auto& [port, peg] : in.project.pegs) {
        const auto* pin = in.part.pin(peg.pin);
        if (pin && pin->usable()) continue;
        std::string text;
        if (pin) {
            text = port + " is pegged to pin " + peg.pin + ", which is " + (pin->function.empty() ? std::string(name_of(pin->kind)) : pin->function) + " and not for users.";
        } else {
            if (names.empty())
                for (const auto& p : in.part.pins) names.push_back(p.name);
            text = port + " is pegged to pin " + peg.pin + ", which " + in.part.name + " does not have." + did_you_mean(peg.pin, names);
        }
        auto f = finding(row, std::move(text), {{"port", port}, {"pin", peg.pin}});
        if (const auto* p = port_of(in, port))
            if (const auto place = better_place(in, *p)) f.fixes.push_back(move_fix(in, port, *place));
        out.push_back(std::move(f));
    }
}

}  // namespace kp::rules
