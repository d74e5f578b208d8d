// SPDX-License-Identifier: GPL-3.0-or-later
// Ports that are adrift: the handoff needs a pin for each that is not said to stay open.
#include "core/rules/say.hpp"

namespace kp::rules {

void l11(const RuleInput& in, const RuleRow& row, const Seat& seat, std::vector<Finding>& out) {
    if (!seat.port) return;
    if (!seat.chosen->open.empty()) {
        if (!seat.peg) return;
        auto f = finding(row,
                         seat.name + " is said to stay open (" + seat.chosen->open + "), and it has pin " + seat.on +
                             "; one of the two is not meant.",
                         port_and_pin(seat));
        f.severity = Severity::caution;
        out.push_back(std::move(f));
        return;
    }
    if (seat.peg) return;
    auto f = finding(row, seat.name + " has no pin; it is adrift.", {{"port", seat.name}});
    offer_move(in, seat, f);
    out.push_back(std::move(f));
}

}  // namespace kp::rules
