// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/text.hpp"
#include "core/rules/rules.hpp"

#include <algorithm>

namespace kp::rules {

namespace {

/// Why a value that was chosen cannot be had; empty when it can.
std::string trouble_of(const AttributeInput& in, const std::string& name, const AttributeKind& kind) {
    const auto state = attribute_state(in, name, kind);
    if (state.value.empty() || std::find(state.legal.begin(), state.legal.end(), state.value) != state.legal.end()) return {};
    // What depends on the bank is not judged while there is none.
    if (state.legal.empty() && !in.project.pegs.contains(name)) return {};
    const std::string value = state.value + (*kind.unit ? " " + std::string(kind.unit) : "");
    if (state.legal.empty()) return std::string("The ") + kind.label + " of " + name + " is set to " + value + ", but there is none to set. " + state.remark;
    return std::string("The ") + kind.label + " of " + name + " is set to " + value + "; it can be " + list_names(state.legal, 8) + ".";
}

}  // namespace

void e06(const RuleInput& in, const RuleRow& row, const std::string& name, std::vector<Finding>& out) {
    const auto chosen = in.project.attributes.find(name);
    if (!in.port(name) || chosen == in.project.attributes.end()) return;
    const auto& a = chosen->second;
    if (a.drive.empty() && a.slew.empty() && a.pull.empty() && a.termination.empty() && a.pad_register.empty() && a.pad_delay.empty()) return;
    const auto take_back = [&](const AttributeKind& kind) {
        auto after = a;
        after.*(kind.field) = "";
        return Fix{std::string("take the ") + kind.label + " of " + name + " back", Edit{std::string("take back the ") + kind.label + " of " + name, {AttributeChange{name, a, after}}}};
    };
    for (const char* key : {"drive", "slew", "pull", "termination", "pad_register", "pad_delay"}) {
        const auto& kind = *attribute_kind(key);
        auto why = trouble_of(in.attributes(), name, kind);
        if (why.empty()) continue;
        auto f = finding(row, std::move(why), {{"port", name}});
        f.fixes.push_back(take_back(kind));
        out.push_back(std::move(f));
    }
    const auto peg = in.project.pegs.find(name);
    const auto at = peg == in.project.pegs.end() ? Board::Found{} : in.board.at_pin(peg->second.pin);
    const bool against = at && ((a.pull == "up" && at.net->pull == "down") || (a.pull == "down" && at.net->pull == "up"));
    if (!against) return;
    auto f = finding(row, name + " is pulled " + a.pull + " in its pad and " + at.net->pull + " on the board (" + shortest(at.net->pull_ohm) + " Ω); the wire would rest between the levels.", {{"port", name}, {"pin", peg->second.pin}});
    f.numbers = {{"pull on the board", "Ω", at.net->pull_ohm}};
    f.fixes.push_back(take_back(*attribute_kind("pull")));
    out.push_back(std::move(f));
}

}  // namespace kp::rules
