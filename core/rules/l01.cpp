// SPDX-License-Identifier: GPL-3.0-or-later
// Pegs to pins that are not there or not for users.
#include "core/rules/say.hpp"

namespace kp::rules {

void l01(const RuleInput& in, const RuleRow& row, const Seat& seat, std::vector<Finding>& out) {
    if (!seat.peg || (seat.pin && seat.pin->usable())) return;
    std::string text = seat.name + " is pegged to pin " + seat.on + ", which ";
    if (seat.pin) {
        text += "is " + (seat.pin->function.empty() ? std::string(name_of(seat.pin->kind)) : seat.pin->function) +
                " and not for users.";
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
