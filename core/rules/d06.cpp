// SPDX-License-Identifier: GPL-3.0-or-later
// Ports without delays, as the coverage of the timing report lists them: one finding a gap, its command as the way out.
// The engine decides what a gap is, so that this rule and the report never differ.
#include "core/rules/say.hpp"

namespace kp::rules {

void d06(const RuleInput& in, const RuleRow& row, std::vector<Finding>& out) {
    for (const auto& gap : in.timing.coverage.untimed) {
        if (!gap.port) continue;
        if (const auto* seat = in.seat(gap.object); seat && !seat->peg && !seat->chosen->open.empty()) continue;
        auto f = finding(row, gap.object + (gap.nothing_given ? " has " : ": ") + gap.why + ".",
                         {{Subject::port, gap.object}});
        if (in.with_fixes && !gap.suggest.empty())
            if (auto fix = append_fix(in, gap.suggest, "add a delay for " + gap.object, gap.clock, gap.ask))
                f.fixes.push_back(std::move(*fix));
        out.push_back(std::move(f));
    }
}

}  // namespace kp::rules
