// SPDX-License-Identifier: GPL-3.0-or-later
// Where E11 would be content with the termination of the pad itself; a note, since the board may have it unsaid.
#include "core/rules/say.hpp"
#include "core/base/said.hpp"

namespace kp::rules {

void e12(const RuleInput& in, const RuleRow& row, const PlannedPort& seat, std::vector<Finding>& out) {
    if (!seat.port || !seat.reads() || !seat.bank || !seat.standard || seat.bank->termination_ohm.empty() ||
        !seat.chosen->termination.empty())
        return;
    // Only standards that compare with a reference ask for an end; pairs are spoken of by E11.
    if (seat.standard->vref <= 0 || seat.standard->differential || (seat.at && seat.at.net->parallel_ohm > 0)) return;
    std::vector<std::string> ohms;
    for (const double ohm : seat.bank->termination_ohm) ohms.push_back(number(ohm) + " Ω");
    auto f =
        finding(row,
                said("{} ({}) is terminated neither on the board nor in its pad; bank {} can terminate it with {}.",
                     seat.name, seat.standard->name, seat.bank->name, list_names(ohms)),
                port_and_pin(seat));
    const auto value = number(seat.bank->termination_ohm.front());
    if (in.with_fixes)
        f.fixes.push_back(attribute_fix(in, seat, &PortAttributes::termination, value,
                                        said("end {} with {} Ω on the chip", seat.name, value)));
    out.push_back(std::move(f));
}

}  // namespace kp::rules
