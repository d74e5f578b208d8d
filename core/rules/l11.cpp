// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rules/rules.hpp"

namespace kp::rules {

void l11(const RuleInput& in, const RuleRow& row, std::vector<Finding>& out) {
    for (const auto& port : in.ports) {
        if (in.project.pegs.contains(port.name)) continue;
        auto f = finding(row, port.name + " has no pin; it is adrift.", {{"port", port.name}});
        if (const auto place = better_place(in, port)) f.fixes.push_back(move_fix(in, port.name, *place));
        out.push_back(std::move(f));
    }
}

}  // namespace kp::rules
