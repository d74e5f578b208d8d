// SPDX-License-Identifier: GPL-3.0-or-later
// The reference pin of a bank: taken only while no input of the bank compares.
#include "core/rules/say.hpp"
#include "core/base/said.hpp"

namespace kp::rules {

void l06(const RuleInput& in, const RuleRow& row, const PlannedPort& seat, std::vector<Finding>& out) {
    if (!seat.port || !seat.pin || !seat.pin->reference || !seat.bank) return;
    // An input that compares with the reference cannot sit on the reference pin either.
    const PlannedPort* needs = nullptr;
    for (const auto* s : in.in_bank(seat.bank->name))
        if (s->reads() && s->standard && s->standard->vref > 0 && (!needs || s->name < needs->name)) needs = s;
    if (!needs) return;
    auto f = finding(row,
                     said("Pin {} of {} is the reference of bank {}; {} ({}) compares with the {} that belong there.",
                          seat.on, seat.name, seat.bank->name, (needs == &seat ? std::string("it") : needs->name),
                          needs->standard->name, volts(needs->standard->vref)),
                     {{Subject::port, seat.name}, {Subject::pin, seat.on}, {Subject::bank, seat.bank->name}});
    f.numbers = {{"reference", "V", needs->standard->vref}};
    offer_move(in, seat, f);
    out.push_back(std::move(f));
}

}  // namespace kp::rules
