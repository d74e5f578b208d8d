// SPDX-License-Identifier: GPL-3.0-or-later
// A lamp that is driven by a divider too short to be seen: likely a constant left from simulation. The rate comes from
// the clock and the counter behind the port, as the facts give it.
#include "core/rules/say.hpp"
#include "core/base/said.hpp"

namespace kp::rules {

void d11(const RuleInput& in, const RuleRow& row, const PlannedPort& seat, std::vector<Finding>& out) {
    if (!seat.facts || !seat.at || !seat.drives() || seat.facts->counter_clock == no_id ||
        seat.facts->counter_clock >= in.constraints.clocks.size())
        return;
    const auto& kind = seat.at.part->kind;
    if (kind != "lamp" && kind != "display") return;
    const auto& clock = in.constraints.clocks[seat.facts->counter_clock];
    if (clock.period <= 0) return;
    const double khz = 1e6 / clock.period / seat.facts->divided_by;
    if (khz <= 1 + 1e-9) return;
    auto f = finding(row,
                     said("{} drives a lamp with {} divided by {}, that is {} kHz; nobody sees that blink. Was the "
                          "divider made short for a simulation?",
                          seat.name, clock.name, number(seat.facts->divided_by, 0), number(khz, 3)),
                     port_and_pin(seat));
    f.numbers = {{"rate", "kHz", khz}, {"seen up to", "kHz", 1}};
    out.push_back(std::move(f));
}

}  // namespace kp::rules
