// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/format/sdc/text.hpp"
#include "core/rules/rules.hpp"

namespace kp::rules {

void d06(const RuleInput& in, const RuleRow& row, std::vector<Finding>& out) {
    const SdcFile* target = nullptr;
    for (const auto& file : in.project.constraints)
        if (!target || file.target) target = &file;
    for (const auto& gap : in.coverage.untimed) {
        if (!gap.port) continue;
        auto f = finding(row, gap.object + (gap.why.starts_with("no ") ? " has " : ": ") + gap.why + ".", {{"port", gap.object}});
        if (target) {
            const auto insertion = sdc::append_command(target->text, gap.suggest);
            f.fixes.push_back({"add: " + gap.suggest, Edit{"add a delay for " + gap.object, {TextChange{target->path, insertion.offset, "", insertion.text}}}});
        }
        out.push_back(std::move(f));
    }
}

}  // namespace kp::rules
