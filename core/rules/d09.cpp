// SPDX-License-Identifier: GPL-3.0-or-later
// Resets: how they are released (facts of the netlist) and whether board part and port mean the same level. The name of
// a port says its level by its ending; common practice, no source.
#include "core/planning/roles.hpp"
#include "core/rules/say.hpp"
#include "core/base/said.hpp"

namespace kp::rules {

void d09(const RuleInput&, const RuleRow& row, const PlannedPort& seat, std::vector<Finding>& out) {
    if (!seat.port) return;
    if (seat.facts && seat.facts->cleared > 0) {
        auto f = finding(row,
                         said("{} clears {} straight from its pin, such as {}; when it is released near a clock edge, "
                              "some start a cycle before others. Two registers in series would release them in step.",
                              seat.name, counted(seat.facts->cleared, "register"), seat.facts->cleared_first),
                         port_and_pin(seat));
        f.numbers = {{"registers", "", static_cast<double>(seat.facts->cleared)}};
        out.push_back(std::move(f));
    }
    if (!seat.at || seat.at.part->kind == "header" ||
        !(speaks_of_reset(seat.port->bus) && speaks_of_reset(seat.at.terminal->name)))
        return;
    const auto sense = sense_of(seat.port->bus, *seat.chosen);
    const bool here = sense.low, there = seat.at.terminal->active_low;
    if (here == there) return;
    auto f =
        finding(row,
                said("{}{}{}, and {} ({}) is active {}; the design would be in reset when the board is not.", seat.name,
                     (sense.why == "chosen" ? " is active " : " is named active "), (here ? "low" : "high"),
                     seat.at.net->terminal, seat.at.part->shown(), (there ? "low" : "high")),
                port_and_pin(seat));
    f.objects.push_back({Subject::terminal, seat.at.net->terminal});
    out.push_back(std::move(f));
}

}  // namespace kp::rules
