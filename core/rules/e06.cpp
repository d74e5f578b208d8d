// SPDX-License-Identifier: GPL-3.0-or-later
// Choices that cannot be had: each attribute against what plan/attributes finds legal for this port, and the pull of
// the pad against that of the board.
#include "core/rules/say.hpp"
#include "core/base/said.hpp"
#include <algorithm>

namespace kp::rules {

namespace {

/// Why a value that was chosen cannot be had; empty when it can.
std::string trouble_of(const AttributeInput& in, const PlannedPort& seat, const AttributeKind& kind) {
    if ((seat.chosen->*(kind.field)).empty()) return {};
    const auto state = attribute_state(in, seat.name, kind);
    if (std::find(state.legal.begin(), state.legal.end(), state.value) != state.legal.end()) return {};
    // What depends on the bank is not judged while there is none.
    if (state.legal.empty() && !seat.peg) return {};
    const std::string value = state.value + (*kind.unit ? " " + std::string(kind.unit) : "");
    if (state.legal.empty())
        return said("The {} of {} is set to {}, but there is none to set. {}", kind.label, seat.name, value,
                    state.remark);
    return said("The {} of {} is set to {}; it can be {}.", kind.label, seat.name, value, list_names(state.legal, 8));
}

}  // namespace

void e06(const RuleInput& in, const RuleRow& row, const PlannedPort& seat, std::vector<Finding>& out) {
    if (!seat.port) return;
    const auto& a = *seat.chosen;
    const auto take_back = [&](const AttributeKind& kind) {
        return attribute_fix(in, seat, kind.field, "", said("take the {} of {} back", kind.label, seat.name));
    };
    for (const char* key : {"drive", "slew", "pull", "termination", "pad_register", "pad_delay"}) {
        const auto& kind = *attribute_kind(key);
        auto why = trouble_of(in.attributes(), seat, kind);
        if (why.empty()) continue;
        auto f = finding(row, std::move(why), {{Subject::port, seat.name}});
        f.fixes.push_back(take_back(kind));
        out.push_back(std::move(f));
    }
    const bool against =
        seat.at && ((a.pull == "up" && seat.at.net->pull == "down") || (a.pull == "down" && seat.at.net->pull == "up"));
    if (!against) return;
    auto f =
        finding(row,
                said("{} is pulled {} in its pad and {} on the board ({} Ω); the wire would rest between the levels.",
                     seat.name, a.pull, seat.at.net->pull, shortest(seat.at.net->pull_ohm)),
                port_and_pin(seat));
    f.numbers = {{"pull on the board", "Ω", seat.at.net->pull_ohm}};
    f.fixes.push_back(take_back(*attribute_kind("pull")));
    out.push_back(std::move(f));
}

}  // namespace kp::rules
