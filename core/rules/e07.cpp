// SPDX-License-Identifier: GPL-3.0-or-later
// Ohm's law for lamps and coils: the current they take against the drive of the output that feeds them.
#include "core/rules/say.hpp"
#include "core/base/said.hpp"
#include <algorithm>

namespace kp::rules {

/// The lamp hangs between the output and ground (or the supply, when it is active low): I = (VIO - Vf - VOL) / R.
void e07(const RuleInput& in, const RuleRow& row, const PlannedPort& seat, std::vector<Finding>& out) {
    if (!seat.port || !seat.at || !seat.standard || !seat.drives()) return;
    const auto& t = *seat.at.terminal;
    if (t.forward_volts <= 0 && t.current_ma <= 0) return;
    const double current = load_ma(seat);
    const auto& drives = seat.standard->drive_ma;
    const double can = drive_of(seat);
    if (can <= 0 || current <= can) return;
    const bool lamp = t.forward_volts > 0;
    const std::string through =
        seat.at.net->series_ohm > 0 ? said(" through its {} Ω", shortest(seat.at.net->series_ohm)) : "";
    auto f = finding(row,
                     said("{}{}{}{}, and {} drives {}{}", seat.at.net->terminal, (lamp ? " draws " : " takes "),
                          ma(current), through, seat.name, drive_words(seat),
                          (lamp ? "; the lamp stays dim and the output leaves its levels."
                                : "; it would not work, and the output leaves its levels.")),
                     port_and_pin(seat));
    f.objects.push_back({Subject::terminal, seat.at.net->terminal});
    f.numbers = {{"current", "mA", current}, {"drive", "mA", can}, {"resistor", "Ω", seat.at.net->series_ohm}};
    for (const int step : drives) {
        if (step < current || !f.fixes.empty()) continue;
        f.fixes.push_back(attribute_fix(in, seat, &PortAttributes::drive, std::to_string(step),
                                        said("set the drive of {} to {} mA", seat.name, step)));
    }
    out.push_back(std::move(f));
}

}  // namespace kp::rules
