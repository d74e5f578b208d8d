// SPDX-License-Identifier: GPL-3.0-or-later
// Pairs of pins for pairs of ports: which half a port is comes from its name or from its partner, which half a pin is
// from the pin list. A port without partner keeps the other half free.
#include "core/rules/legal.hpp"
#include "core/rules/say.hpp"

namespace kp::rules {

// Each half of a pair answers for itself, so that one port can be asked alone.
void l03(const RuleInput& in, const RuleRow& row, const Seat& seat, std::vector<Finding>& out) {
    if (!seat.port || !seat.standard || !seat.standard->differential || !seat.pin || !seat.pin->usable()) return;
    const auto* partner = in.partner(seat);
    const auto& pin = *seat.pin;
    const auto say = [&](const std::string& text) -> Finding& {
        out.push_back(finding(row, text, port_and_pin(seat)));
        return out.back();
    };
    if (pin.pair.empty())
        return offer_move(in, seat,
                          say(seat.name + " is half of a pair (" + seat.standard->name + "), and pin " + pin.name +
                              " has no other half."));
    const char mine = half_of_pair(seat, partner);
    if (mine && (mine == 'p') != pin.pair_true) {
        auto& f = say(seat.name + " is the " + (mine == 'p' ? "positive" : "negative") +
                      " half of its pair and sits on pin " + pin.name + ", the " +
                      (pin.pair_true ? "true" : "complement") + " one; every bit would arrive inverted.");
        if (in.with_fixes && partner && partner->peg)
            f.fixes.push_back(
                {"swap " + seat.name + " and " + partner->name, swap_edit(in.project, seat.name, partner->name)});
    }
    for (const auto& other : in.at_pin(pin.pair)) {
        if (partner && other == partner->name) continue;
        auto& f =
            say("Pin " + pin.pair + " is the other half of the pair of " + seat.name + ", and " + other + " is on it.");
        if (in.with_fixes)
            if (const auto place = better_place(in, *in.seat(other))) f.fixes.push_back(move_fix(in, other, *place));
    }
    // Names that do not say which half they are: the one that comes first in the design speaks for both.
    const bool speaks = mine == 'p' || (mine == 0 && partner && seat.order < partner->order);
    if (speaks && partner && partner->peg && partner->on != pin.pair) {
        auto& f = say(seat.name + " and " + partner->name + " are a pair, but pins " + pin.name + " and " +
                      partner->on + " are not; the other half of " + pin.name + " is " + pin.pair + ".");
        if (in.with_fixes && in.at_pin(pin.pair).empty())
            f.fixes.push_back(move_fix(in, partner->name, {pin.pair, "the other half of " + pin.name}));
    }
}

}  // namespace kp::rules
