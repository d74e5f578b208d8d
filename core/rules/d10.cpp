// SPDX-License-Identifier: GPL-3.0-or-later
// Keys and rockers bounce for milliseconds; what reads them needs registers in a row, or it sees each bounce. The facts
// say how many registers stand behind a port before logic does.
#include "core/rules/say.hpp"
#include "core/base/said.hpp"

namespace kp::rules {

void d10(const RuleInput&, const RuleRow& row, const PlannedPort& seat, std::vector<Finding>& out) {
    if (!seat.facts || !seat.at || !seat.reads() || !seat.facts->read || seat.facts->clocks_registers) return;
    const auto kind = seat.chosen->role.empty() ? seat.at.part->kind : seat.chosen->role;
    if (kind != "key" && kind != "rocker") return;
    constexpr int enough = 2;
    if (seat.facts->steady >= enough) return;
    auto f = finding(
        row,
        said("{} is read from {} ({}) and {}; its contact bounces for milliseconds, and every bounce would count.",
             seat.name, seat.at.net->terminal, seat.at.part->shown(),
             (seat.facts->steady == 0 ? std::string("goes into logic at once") : std::string("passes one register"))),
        port_and_pin(seat));
    f.objects.push_back({Subject::terminal, seat.at.net->terminal});
    f.numbers = {{"registers in a row", "", static_cast<double>(seat.facts->steady)}, {"needed", "", enough}};
    out.push_back(std::move(f));
}

}  // namespace kp::rules
