// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rules/say.hpp"
#include <algorithm>

namespace kp::rules {

/// One finding per port: the rail of its bank is the truth, and a port asks for another supply.
void e03(const RuleInput& in, const RuleRow& row, const Seat& seat, std::vector<Finding>& out) {
    if (!seat.port || !seat.bank || !seat.standard || !seat.rail || same_volts(seat.standard->supply, *seat.rail)) return;
    const auto& s = *seat.standard;
    const double rail = *seat.rail;
    const bool allowed = std::any_of(s.input_at.begin(), s.input_at.end(), [&](const std::string& v) { return same_volts(to_number(v).value_or(0), rail); });
    if (!seat.drives() && allowed) return;
    auto f = finding(row, seat.name + " asks for " + volts(s.supply) + " (" + s.name + "), the board gives bank " + seat.bank->name + " " + volts(rail) + ".", {{"port", seat.name}, {"pin", seat.on}, {"bank", seat.bank->name}});
    f.source = s.source;
    f.numbers = {{"asked", "V", s.supply}, {"rail", "V", rail}};
    if (!in.with_fixes) return out.push_back(std::move(f));
    std::string proposal = seat.at ? seat.at.terminal->standard : "";
    const auto* fitting = in.standards.find(proposal);
    if (!fitting || !same_volts(fitting->supply, rail)) {
        proposal.clear();
        for (const auto& other : in.standards.rows)
            if (proposal.empty() && same_volts(other.supply, rail) && other.differential == s.differential) proposal = other.name;
    }
    if (!proposal.empty()) f.fixes.push_back({"choose " + proposal + " for " + seat.name, standard_edit(in.project, seat.name, proposal, seat.at && proposal == seat.at.terminal->standard ? "from the board" : "chosen")});
    for (const auto& pin : in.part.pins) {
        const auto other = in.board.rail(pin.bank);
        if (!pin.usable() || !in.at_pin(pin.name).empty() || !other || !same_volts(*other, s.supply) || in.board.at_pin(pin.name)) continue;
        f.fixes.push_back(move_fix(in, seat.name, {pin.name, "a free pin of bank " + pin.bank + ", " + volts(*other)}));
        break;
    }
    out.push_back(std::move(f));
}

}  // namespace kp::rules
