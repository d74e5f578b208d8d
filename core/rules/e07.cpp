// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/text.hpp"
#include "core/rules/rules.hpp"

#include <algorithm>
#include <cmath>

namespace kp::rules {

namespace {
std::string ma(double value) { return shortest(std::round(value * 100) / 100) + " mA"; }
}  // namespace

/// The lamp hangs between the output and ground (or the supply, when it is active low): I = (VCCO - Vf - VOL) / R.
void e07(const RuleInput& in, const RuleRow& row, const std::string& name, std::vector<Finding>& out) {
    const auto* port = in.port(name);
    const auto peg = in.project.pegs.find(name);
    const auto chosen = in.project.attributes.find(name);
    if (!port || port->direction == Direction::in || peg == in.project.pegs.end() || chosen == in.project.attributes.end()) return;
    const auto at = in.board.at_pin(peg->second.pin);
    const auto* standard = in.standards.find(chosen->second.standard);
    if (!at || !standard || at.terminal->forward_volts <= 0 || at.net->series_ohm <= 0) return;
    const double amps = (standard->supply - at.terminal->forward_volts - standard->vol) / at.net->series_ohm, current = std::max(0.0, amps * 1000);
    const auto drive = to_number(chosen->second.drive);
    const double can = drive ? *drive : standard->drive_ma.empty() ? 0 : *std::max_element(standard->drive_ma.begin(), standard->drive_ma.end());
    if (can <= 0 || current <= can) return;
    auto f = finding(row, at.net->terminal + " draws " + ma(current) + " through its " + shortest(at.net->series_ohm) + " Ω, and " + name + (drive ? " is set to drive " : " can drive at most ") + ma(can) + "; the lamp stays dim and the output leaves its levels.", {{"port", name}, {"pin", peg->second.pin}, {"terminal", at.net->terminal}});
    f.numbers = {{"current", "mA", current}, {"drive", "mA", can}, {"resistor", "Ω", at.net->series_ohm}};
    for (const int step : standard->drive_ma) {
        if (step < current || !f.fixes.empty()) continue;
        auto after = chosen->second;
        after.drive = std::to_string(step);
        f.fixes.push_back({"set the drive of " + name + " to " + after.drive + " mA", Edit{"drive " + after.drive + " mA for " + name, {AttributeChange{name, chosen->second, after}}}});
    }
    out.push_back(std::move(f));
}

}  // namespace kp::rules
