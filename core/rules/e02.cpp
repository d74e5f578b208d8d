// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/text.hpp"
#include "core/rules/rules.hpp"

#include <algorithm>

namespace kp::rules {

void e02(const RuleInput& in, const RuleRow& row, const std::string& name, std::vector<Finding>& out) {
    const auto peg = in.project.pegs.find(name);
    const auto chosen = in.project.attributes.find(name);
    const auto* pin = peg == in.project.pegs.end() ? nullptr : in.part.pin(peg->second.pin);
    const auto* bank = pin ? in.part.bank(pin->bank) : nullptr;
    if (!in.port(name) || !bank || bank->standards.empty() || chosen == in.project.attributes.end()) return;
    const auto& standard = chosen->second.standard;
    if (!in.standards.find(standard) || std::find(bank->standards.begin(), bank->standards.end(), standard) != bank->standards.end()) return;
    auto f = finding(row, "Bank " + bank->name + " cannot carry " + standard + ", which " + name + " asks for; it has " + list_names(bank->standards, 8) + ".", {{"port", name}, {"pin", pin->name}, {"bank", bank->name}});
    if (in.with_fixes) {
        const auto* kind = attribute_kind("standard");
        for (const auto& legal : attribute_state(in.attributes(), name, *kind).legal)
            if (f.fixes.empty()) f.fixes.push_back({"choose " + legal + " for " + name, standard_edit(in.project, name, legal)});
    }
    out.push_back(std::move(f));
}

}  // namespace kp::rules
