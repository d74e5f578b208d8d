// SPDX-License-Identifier: GPL-3.0-or-later
// Pegs to pins that are not there or not for users.
#include "core/rules/say.hpp"
#include "core/base/said.hpp"

namespace kp::rules {

void l01(const RuleInput& in, const RuleRow& row, const PlannedPort& seat, std::vector<Finding>& out) {
    if (!seat.peg || (seat.pin && seat.pin->usable())) return;
    std::string text = said("{} is pegged to pin {}, which ", seat.name, seat.on);
    if (seat.pin) {
        text += said("is {} and not for users.",
                     (seat.pin->function.empty() ? std::string(name_of(seat.pin->kind)) : seat.pin->function));
    } else {
        std::vector<std::string> names;
        for (const auto& p : in.part.pins) names.push_back(p.name);
        text += in.part.name + " does not have." + did_you_mean(seat.on, names);
    }
    auto f = finding(row, std::move(text), port_and_pin(seat));
    offer_move(in, seat, f);
    out.push_back(std::move(f));
}

}  // namespace kp::rules
