// SPDX-License-Identifier: GPL-3.0-or-later
// Pins that the part or the board drives before the design is up, by the configuration mode that is chosen.
#include "core/rules/legal.hpp"
#include "core/rules/say.hpp"
#include "core/base/said.hpp"
#include <algorithm>

namespace kp::rules {

void l05(const RuleInput& in, const RuleRow& row, const PlannedPort& seat, std::vector<Finding>& out) {
    if (!seat.port || !seat.pin || seat.pin->job.empty()) return;
    const auto* mode = mode_of(in);
    const bool driven = part_drives(in, *seat.pin);
    const bool by_board = seat.at && seat.at.terminal->direction == TerminalDirection::drives;
    if (!driven && !by_board) return;
    const std::string start =
        said("Pin {} of {} is {} while the part is configured", seat.on, seat.name, seat.pin->job);
    auto f = finding(row,
                     driven ? said("{} by {}; the part drives it then, whatever hangs on it.", start, mode->name)
                            : said("{}, and {} drives it then.", start, seat.at.net->terminal),
                     port_and_pin(seat));
    if (!driven) f.severity = Severity::caution;
    offer_move(in, seat, f);
    out.push_back(std::move(f));
}

}  // namespace kp::rules
