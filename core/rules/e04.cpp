// SPDX-License-Identifier: GPL-3.0-or-later
// One reference voltage a bank: an input that compares needs its own VREF, and a bank has one.
#include "core/rules/say.hpp"
#include "core/base/said.hpp"

namespace kp::rules {

namespace {
/// The reference an input on this seat needs, V; 0: none.
double reference_of(const PlannedPort& seat) {
    return seat.reads() && seat.standard ? seat.standard->vref : 0;
}
}  // namespace

void e04(const RuleInput& in, const RuleRow& row, const PlannedPort& seat, std::vector<Finding>& out) {
    const double mine = reference_of(seat);
    if (!seat.bank || mine <= 0) return;
    // The first by name, so that the answer does not depend on the order of edits.
    const PlannedPort* other = nullptr;
    for (const auto* s : in.in_bank(seat.bank->name)) {
        const double theirs = reference_of(*s);
        if (theirs > 0 && !same_volts(theirs, mine) && (!other || s->name < other->name)) other = s;
    }
    if (!other) return;
    auto f = finding(row,
                     said("{} needs a reference of {} and {} one of {}; bank {} has one reference.", seat.name,
                          volts(mine), other->name, volts(reference_of(*other)), seat.bank->name),
                     {{Subject::port, seat.name}, {Subject::pin, seat.on}, {Subject::bank, seat.bank->name}});
    f.numbers = {{"needed", "V", mine}, {"needed by the other", "V", reference_of(*other)}};
    if (in.with_fixes)
        f.fixes.push_back({said("choose {} for {}", other->standard->name, seat.name),
                           standard_edit(in.project, seat.name, other->standard->name)});
    offer_move(in, seat, f, [&](const Pin& pin) { return pin.bank != seat.bank->name; });
    out.push_back(std::move(f));
}

}  // namespace kp::rules
