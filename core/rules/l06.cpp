// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/text.hpp"
#include "core/rules/rules.hpp"

namespace kp::rules {

void l06(const RuleInput& in, const RuleRow& row, const std::string& name, std::vector<Finding>& out) {
    const auto peg = in.project.pegs.find(name);
    const auto* pin = peg == in.project.pegs.end() ? nullptr : in.part.pin(peg->second.pin);
    const auto* port = in.port(name);
    if (!port || !pin || !pin->reference) return;
    // The first input of the bank that compares with the reference.
    for (const auto& [other, at] : in.project.pegs) {
        const auto* there = in.part.pin(at.pin);
        const auto a = in.project.attributes.find(other);
        const auto* who = in.port(other);
        if (!there || !who || other == name || there->bank != pin->bank || a == in.project.attributes.end() || who->direction == Direction::out) continue;
        const auto* standard = in.standards.find(a->second.standard);
        if (!standard || standard->vref <= 0) continue;
        auto f = finding(row, "Pin " + pin->name + " of " + name + " is the reference of bank " + pin->bank + "; " + other + " (" + standard->name + ") compares with the " + shortest(standard->vref) + " V that belong there.", {{"port", name}, {"pin", pin->name}, {"bank", pin->bank}});
        f.numbers = {{"reference", "V", standard->vref}};
        if (in.with_fixes)
            if (const auto place = better_place(in, *port); place && place->pin != pin->name) f.fixes.push_back(move_fix(in, name, *place));
        return out.push_back(std::move(f));
    }
}

}  // namespace kp::rules
