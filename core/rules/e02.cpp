// SPDX-License-Identifier: GPL-3.0-or-later
// Standards against the data of a bank: is it in the list of the bank, in the direction of the port, and are the
// resistors there that a differential one wants?
#include "core/rules/say.hpp"
#include <algorithm>

namespace kp::rules {

namespace {
void offer_standard(const RuleInput& in, const Seat& seat, Finding& f) {
    if (!in.with_fixes) return;
    for (const auto& legal : attribute_state(in.attributes(), seat.name, *attribute_kind("standard")).legal) {
        const auto* s = in.standards.find(legal);
        if (!s || !f.fixes.empty() || s->resistors || s->differential != seat.standard->differential ||
            (s->direction == "in" && seat.drives()) || (s->direction == "out" && seat.reads()))
            continue;
        f.fixes.push_back({"choose " + legal + " for " + seat.name, standard_edit(in.project, seat.name, legal)});
    }
}
}  // namespace

void e02(const RuleInput& in, const RuleRow& row, const Seat& seat, std::vector<Finding>& out) {
    if (!seat.port || !seat.bank || !seat.standard) return;
    const auto& s = *seat.standard;
    const auto say = [&](const std::string& text) {
        auto f = finding(row, text, {{"port", seat.name}, {"pin", seat.on}, {"bank", seat.bank->name}});
        offer_standard(in, seat, f);
        out.push_back(std::move(f));
    };
    const auto& can = seat.bank->standards;
    if (!can.empty() && std::find(can.begin(), can.end(), s.name) == can.end())
        return say("Bank " + seat.bank->name + " cannot carry " + s.name + ", which " + seat.name +
                   " asks for; it has " + list_names(can, 8) + ".");
    if (s.direction == "in" && seat.drives()) return say(s.name + " is for inputs only, and " + seat.name + " drives.");
    if (s.direction == "out" && seat.reads())
        return say(s.name + " is for outputs only, and " + seat.name + " is read.");
    if (s.resistors && seat.drives() && !(seat.at && seat.at.net->series_ohm > 0))
        say(s.name + " makes its levels with a resistor in series on the board, and the board has none between pin " +
            seat.on + (seat.at ? " and " + seat.at.net->terminal : std::string(" and anything")) + ".");
}

}  // namespace kp::rules
