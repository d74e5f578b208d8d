// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/text.hpp"
#include "core/rules/rules.hpp"

#include <cmath>

namespace kp::rules {

namespace {
/// The reference an input on this pin would need, V; 0: none.
double reference_of(const RuleInput& in, const std::string& port) {
    const auto* p = in.port(port);
    const auto a = in.project.attributes.find(port);
    if (!p || p->direction == Direction::out || a == in.project.attributes.end()) return 0;
    const auto* standard = in.standards.find(a->second.standard);
    return standard ? standard->vref : 0;
}
}  // namespace

void e04(const RuleInput& in, const RuleRow& row, const std::string& name, std::vector<Finding>& out) {
    const auto peg = in.project.pegs.find(name);
    const auto* pin = peg == in.project.pegs.end() ? nullptr : in.part.pin(peg->second.pin);
    const double mine = reference_of(in, name);
    if (!pin || pin->bank.empty() || mine <= 0) return;
    for (const auto& [other, at] : in.project.pegs) {
        const auto* there = in.part.pin(at.pin);
        if (!there || there->bank != pin->bank || other == name) continue;
        const double theirs = reference_of(in, other);
        if (theirs <= 0 || std::fabs(theirs - mine) < 0.005) continue;
        auto f = finding(row, name + " needs a reference of " + shortest(mine) + " V and " + other + " one of " + shortest(theirs) + " V; bank " + pin->bank + " has one reference.", {{"port", name}, {"pin", pin->name}, {"bank", pin->bank}});
        f.numbers = {{"needed", "V", mine}, {"needed by the other", "V", theirs}};
        return out.push_back(std::move(f));
    }
}

}  // namespace kp::rules
