// SPDX-License-Identifier: GPL-3.0-or-later
// Pairs of pins for pairs of ports: which half a port is comes from its name or from its partner, which half a pin is
// from the pin list. A port without partner keeps the other half free.
#include "core/rules/legal.hpp"
#include "core/rules/say.hpp"
#include "core/base/said.hpp"

namespace kp::rules {

// Each half of a pair answers for itself, so that one port can be asked alone.
void l03(const RuleInput& in, const RuleRow& row, const PlannedPort& seat, std::vector<Finding>& out) {
    if (!seat.port || !seat.standard || !seat.standard->differential || !seat.pin || !seat.pin->usable()) return;
    const auto* partner = in.partner(seat);
    const auto& pin = *seat.pin;
    const auto say = [&](const std::string& text) -> Finding& {
        out.push_back(finding(row, text, port_and_pin(seat)));
        return out.back();
    };
    if (pin.pair.empty())
        return offer_move(in, seat,
                          say(said("{} is half of a pair ({}), and pin {} has no other half.", seat.name,
                                   seat.standard->name, pin.name)));
    const char mine = half_of_pair(seat, partner);
    if (mine && (mine == 'p') != pin.pair_true) {
        auto& f = say(said(
            "{} is the {} half of its pair and sits on pin {}, the {} one; every bit would arrive inverted.", seat.name,
            (mine == 'p' ? "positive" : "negative"), pin.name, (pin.pair_true ? "true" : "complement")));
        if (in.with_fixes && partner && partner->peg)
            f.fixes.push_back(
                {said("swap {} and {}", seat.name, partner->name), swap_edit(in.project, seat.name, partner->name)});
    }
    for (const auto& other : in.at_pin(pin.pair)) {
        if (partner && other == partner->name) continue;
        auto& f = say(said("Pin {} is the other half of the pair of {}, and {} is on it.", pin.pair, seat.name, other));
        if (in.with_fixes)
            if (const auto place = better_pin(in, *in.seat(other))) f.fixes.push_back(move_fix(in, other, *place));
    }
    // Names that do not say which half they are: the one that comes first in the design speaks for both.
    const bool speaks = mine == 'p' || (mine == 0 && partner && seat.order < partner->order);
    if (speaks && partner && partner->peg && partner->on != pin.pair) {
        auto& f = say(said("{} and {} are a pair, but pins {} and {} are not; the other half of {} is {}.", seat.name,
                           partner->name, pin.name, partner->on, pin.name, pin.pair));
        if (in.with_fixes && in.at_pin(pin.pair).empty())
            f.fixes.push_back(move_fix(in, partner->name, {pin.pair, "the other half of " + pin.name}));
    }
}

}  // namespace kp::rules
