// SPDX-License-Identifier: GPL-3.0-or-later
// Active levels across the wire, for all that is on or off: keys, rockers, lamps, displays, sounders. One finding for a
// bus, said at its first bit. Resets on reset keys are D09's.
#include "core/planning/roles.hpp"
#include "core/rules/say.hpp"
#include "core/base/said.hpp"

namespace kp::rules {

namespace {

/// Sets one attribute of several ports.
Fix for_all(const RuleInput& in, const std::vector<const PlannedPort*>& seats, std::string PortAttributes::*field,
            const std::string& value, const std::string& text) {
    Fix fix{text, Edit{text, {}}};
    for (const auto* seat : seats) {
        auto one = attribute_fix(in, *seat, field, value, text);
        fix.edit.changes.insert(fix.edit.changes.end(), one.edit.changes.begin(), one.edit.changes.end());
    }
    return fix;
}

std::string effect_of(const PlannedPort& seat) {
    if (seat.port->direction == Direction::in) return "the design would take it as worked when it is not";
    return "it would be on when the design means off";
}

}  // namespace

void d12(const RuleInput& in, const RuleRow& row, const PlannedPort& seat, std::vector<Finding>& out) {
    if (!seat.port) return;
    std::vector<const PlannedPort*> bits = in.bus_of(seat);
    if (bits.empty()) bits = {&seat};
    if (bits.front() != &seat) return;
    std::erase_if(bits, [&](const PlannedPort* bit) {
        const bool reset =
            bit->port && bit->at && speaks_of_reset(bit->port->bus) && speaks_of_reset(bit->at.terminal->name);
        return !bit->port || reset || role_of(*bit).role == "clock" ||
               !opposed(*bit->port, *bit->chosen, bit->at, bit->standard);
    });
    if (bits.empty()) return;
    const auto& first = *bits.front();
    const auto sense = sense_of(first.port->bus, *first.chosen);
    const auto& name = bits.size() > 1 ? first.port->bus : first.name;
    const bool by_adapter = first.chosen->invert == "adapter";
    auto f = finding(
        row,
        said("{} is active {}{}, and {} ({}) is active {}; {}.", name, sense.low ? "low" : "high",
             sense.why == "chosen" ? "" : " by its name", first.at.net->terminal, first.at.part->shown(),
             first.at.terminal->active_low ? "low" : "high",
             by_adapter ? "the adapter of the handoff inverts it, so build with the adapter on top" : effect_of(first)),
        port_and_pin(first));
    if (by_adapter) f.severity = Severity::note;
    f.objects.push_back({Subject::terminal, first.at.net->terminal});
    for (size_t i = 1; i < bits.size(); ++i) f.objects.push_back({Subject::port, bits[i]->name});
    if (in.with_fixes && !by_adapter) {
        f.fixes.push_back(
            for_all(in, bits, &PortAttributes::invert, "adapter", said("let the handoff's adapter invert {}", name)));
        f.fixes.push_back(for_all(
            in, bits, &PortAttributes::sense, first.at.terminal->active_low ? "low" : "high",
            said("say that the design takes {} as active {}", name, first.at.terminal->active_low ? "low" : "high")));
    }
    out.push_back(std::move(f));
}

}  // namespace kp::rules
