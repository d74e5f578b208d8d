// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rules/say.hpp"

namespace kp::rules {

void d06(const RuleInput& in, const RuleRow& row, std::vector<Finding>& out) {
    for (const auto& gap : in.timing.coverage.untimed) {
        if (!gap.port) continue;
        auto f = finding(row, gap.object + (gap.why.starts_with("no ") ? " has " : ": ") + gap.why + ".",
                         {{"port", gap.object}});
        if (in.with_fixes && !gap.suggest.empty())
            if (auto fix = append_fix(in, gap.suggest, "add a delay for " + gap.object, gap.clock, gap.ask))
                f.fixes.push_back(std::move(*fix));
        out.push_back(std::move(f));
    }
}

}  // namespace kp::rules
