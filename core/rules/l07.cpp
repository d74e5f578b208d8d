// SPDX-License-Identifier: GPL-3.0-or-later
// Bytes of a memory interface: one group of pins a byte, the strobe on the strobe pins. Lanes are found once in the
// plan by their names (plan.cpp); each port answers for itself, so that a move changes few findings.
#include "core/rules/say.hpp"
#include "core/base/said.hpp"
#include <algorithm>

namespace kp::rules {

namespace {

/// The group that counts for a lane: that of its first strobe that is pegged, else of its first bit.
const PlannedPort* leader(const RuleInput& in, const ByteLane& lane) {
    for (const auto* list : {&lane.strobes, &lane.bits})
        for (const auto& name : *list)
            if (const auto* seat = in.seat(name); seat && seat->pin) return seat;
    return nullptr;
}

}  // namespace

/// Each port of a byte answers for itself.
void l07(const RuleInput& in, const RuleRow& row, const PlannedPort& seat, std::vector<Finding>& out) {
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
        text = said("{} is the strobe of the byte {} and sits on pin {}, which is not a strobe pin of a strobe group.",
                    seat.name, lane->name, pin.name);
    else if (pin.strobe_group.empty())
        text =
            said("{} belongs to the byte {}, and pin {} is in no strobe group; its delay could not follow the strobe.",
                 seat.name, lane->name, pin.name);
    else if (pin.strobe_group != group)
        text =
            said("{} sits in strobe group {} and {} of the same byte {} in {}; one byte lies in one group.", seat.name,
                 pin.strobe_group, first->name, lane->name, (group.empty() ? std::string("none") : group));
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
            f.fixes.push_back({said("swap {} and {}", seat.name, on[0]), swap_edit(in.project, seat.name, on[0])});
            break;
        }
    }
    out.push_back(std::move(f));
}

}  // namespace kp::rules
