// SPDX-License-Identifier: GPL-3.0-or-later
// Standards against the data of a bank: is it in the list of the bank, in the direction of the port, and are the
// resistors there that a differential one wants?
#include "core/rules/say.hpp"
#include "core/base/said.hpp"
#include <algorithm>

namespace kp::rules {

namespace {
void offer_standard(const RuleInput& in, const PlannedPort& seat, Finding& f) {
    if (!in.with_fixes) return;
    for (const auto& legal : attribute_state(in.attributes(), seat.name, *attribute_kind("standard")).legal) {
        const auto* s = in.standards.find(legal);
        if (!s || !f.fixes.empty() || s->resistors || s->differential != seat.standard->differential ||
            (s->direction == "in" && seat.drives()) || (s->direction == "out" && seat.reads()))
            continue;
        f.fixes.push_back({said("choose {} for {}", legal, seat.name), standard_edit(in.project, seat.name, legal)});
    }
}
}  // namespace

void e02(const RuleInput& in, const RuleRow& row, const PlannedPort& seat, std::vector<Finding>& out) {
    if (!seat.port || !seat.bank || !seat.standard) return;
    const auto& s = *seat.standard;
    const auto say = [&](const std::string& text) {
        auto f =
            finding(row, text, {{Subject::port, seat.name}, {Subject::pin, seat.on}, {Subject::bank, seat.bank->name}});
        offer_standard(in, seat, f);
        out.push_back(std::move(f));
    };
    const auto& can = seat.bank->standards;
    if (!can.empty() && std::find(can.begin(), can.end(), s.name) == can.end())
        return say(said("Bank {} cannot carry {}, which {} asks for; it has {}.", seat.bank->name, s.name, seat.name,
                        list_names(can, 8)));
    if (s.direction == "in" && seat.drives())
        return say(said("{} is for inputs only, and {} drives.", s.name, seat.name));
    if (s.direction == "out" && seat.reads())
        return say(said("{} is for outputs only, and {} is read.", s.name, seat.name));
    if (s.resistors && seat.drives() && !(seat.at && seat.at.net->series_ohm > 0))
        say(said("{} makes its levels with a resistor in series on the board, and the board has none between pin {}{}.",
                 s.name, seat.on, (seat.at ? " and " + seat.at.net->terminal : std::string(" and anything"))));
}

}  // namespace kp::rules
