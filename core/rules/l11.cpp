// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rules/rules.hpp"

namespace kp::rules {

void l11(const RuleInput& in, const RuleRow& row, const std::string& port, std::vector<Finding>& out) {
    const auto* p = in.port(port);
    if (!p || in.project.pegs.contains(port)) return;
    auto f = finding(row, port + " has no pin; it is adrift.", {{"port", port}});
    if (in.with_fixes)
        if (const auto place = better_place(in, *p)) f.fixes.push_back(move_fix(in, port, *place));
    out.push_back(std::move(f));
}

}  // namespace kp::rules
