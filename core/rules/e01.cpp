// SPDX-License-Identifier: GPL-3.0-or-later
// A standard for each port that has a pin. Nothing is assumed in silence: what the board gives is written down as its
// origin, and everything else has to be chosen.
#include "core/rules/say.hpp"
#include "core/base/said.hpp"

namespace kp::rules {

void e01(const RuleInput& in, const RuleRow& row, const PlannedPort& seat, std::vector<Finding>& out) {
    if (!seat.peg || !seat.port || seat.standard) return;
    const auto& standard = seat.chosen->standard;
    auto f = finding(row,
                     standard.empty()
                         ? said("{} has no I/O standard.", seat.name)
                         : said("The I/O standard '{}' of {} is not in the table of standards.", standard, seat.name),
                     port_and_pin(seat));
    if (seat.at && !seat.at.terminal->standard.empty()) {
        f.fixes.push_back({said("take {} from the board", seat.at.terminal->standard),
                           standard_edit(in.project, seat.name, seat.at.terminal->standard, from_the_board)});
    } else if (seat.rail) {
        for (const auto& s : in.standards.rows)
            if (same_volts(s.supply, *seat.rail) && f.fixes.empty())
                f.fixes.push_back({said("choose {}, which fits the bank's rail", s.name),
                                   standard_edit(in.project, seat.name, s.name)});
    }
    out.push_back(std::move(f));
}

}  // namespace kp::rules
