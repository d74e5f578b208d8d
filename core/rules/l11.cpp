// SPDX-License-Identifier: GPL-3.0-or-later
// Ports that are adrift: the handoff needs a pin for each that is not said to stay open.
#include "core/rules/say.hpp"
#include "core/base/said.hpp"

namespace kp::rules {

void l11(const RuleInput& in, const RuleRow& row, const PlannedPort& seat, std::vector<Finding>& out) {
    if (!seat.port) return;
    if (!seat.chosen->open.empty()) {
        if (!seat.peg) return;
        auto f = finding(row,
                         said("{} is said to stay open ({}), and it has pin {}; one of the two is not meant.",
                              seat.name, seat.chosen->open, seat.on),
                         port_and_pin(seat));
        f.severity = Severity::caution;
        out.push_back(std::move(f));
        return;
    }
    if (seat.peg) return;
    auto f = finding(row, seat.name + " has no pin; it is adrift.", {{Subject::port, seat.name}});
    offer_move(in, seat, f);
    out.push_back(std::move(f));
}

}  // namespace kp::rules
