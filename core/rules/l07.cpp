// SPDX-License-Identifier: GPL-3.0-or-later
// Bytes of a memory interface: one group of pins a byte, the strobe on the strobe pins. Lanes are found once in the
// plan by their names (plan.cpp); each port answers for itself, so that a move changes few findings.
#include "core/rules/say.hpp"
#include <algorithm>

namespace kp::rules {

namespace {

/// The group that counts for a lane: that of its first strobe that is pegged, else of its first bit.
const Seat* leader(const RuleInput& in, const ByteLane& lane) {
    for (const auto* list : {&lane.strobes, &lane.bits})
        for (const auto& name : *list)
            if (const auto* seat = in.seat(name); seat && seat->pin) return seat;
    return nullptr;
}

}  // namespace

/// Each port of a byte answers for itself.
void l07(const RuleInput& in, const RuleRow& row, const Seat& seat, std::vector<Finding>& out) {
    const auto* lane = seat.pin && seat.pin->usable() ? in.lane_of(seat.name) : nullptr;
    if (!lane ||
        std::none_of(in.part.pins.begin(), in.part.pins.end(), [](const Pin& p) { return !p.strobe_group.empty(); }))
        return;
    const bool strobe = std::find(lane->strobes.begin(), lane->strobes.end(), seat.name) != lane->strobes.end();
    const auto* first = leader(in, *lane);
    const auto& group = first->pin->strobe_group;
    const auto& pin = *seat.pin;
    std::string text;
    if (strobe && !pin.strobe)
        text = seat.name + " is the strobe of the byte " + lane->name + " and sits on pin " + pin.name +
               ", which is not a strobe pin of a strobe group.";
    else if (pin.strobe_group.empty())
        text = seat.name + " belongs to the byte " + lane->name + ", and pin " + pin.name +
               " is in no strobe group; its delay could not follow the strobe.";
    else if (pin.strobe_group != group)
        text = seat.name + " sits in strobe group " + pin.strobe_group + " and " + first->name + " of the same byte " +
               lane->name + " in " + (group.empty() ? std::string("none") : group) + "; one byte lies in one group.";
    if (text.empty()) return;
    auto f = finding(row, std::move(text), port_and_pin(seat));
    const auto fits = [&](const Pin& p) {
        return !p.strobe_group.empty() && (first == &seat || p.strobe_group == group) && p.strobe == strobe;
    };
    offer_move(in, seat, f, fits);
    if (in.with_fixes && f.fixes.empty()) {
        // No free pin there: who sits in the group and does not belong to it changes places.
        for (const auto& p : in.part.pins) {
            const auto& on = fits(p) ? in.at_pin(p.name) : in.at_pin("");
            if (on.size() != 1 || in.lane_of(on[0]) == lane) continue;
            f.fixes.push_back({"swap " + seat.name + " and " + on[0], swap_edit(in.project, seat.name, on[0])});
            break;
        }
    }
    out.push_back(std::move(f));
}

}  // namespace kp::rules
