// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/text.hpp"
#include "core/pegs/place.hpp"
#include "core/rules/rules.hpp"

#include <algorithm>
#include <cmath>

namespace kp::rules {

namespace {
bool same_volts(double a, double b) {
    return std::fabs(a - b) < 0.005;
}

std::string volts(double v) {
    return shortest(std::round(v * 100) / 100) + " V";
}
}  // namespace

/// One finding per port: the rail of its bank is the truth, and a port asks for another supply.
void e03(const RuleInput& in, const RuleRow& row, const std::string& name, std::vector<Finding>& out) {
    const auto found = in.project.pegs.find(name);
    if (found == in.project.pegs.end()) return;
    const auto& peg = found->second;
    const auto* pin = in.part.pin(peg.pin);
    const auto* port = in.port(name);
    const auto chosen = in.project.attributes.find(name);
    if (!pin || !port || pin->bank.empty() || chosen == in.project.attributes.end()) return;
    const auto* standard = in.standards.find(chosen->second.standard);
    const auto rail = in.board.rail(pin->bank);
    if (!standard || !rail || same_volts(standard->supply, *rail)) return;
    const bool drives = port->direction != Direction::in;
    const bool allowed = std::any_of(standard->input_at.begin(), standard->input_at.end(), [&](const std::string& v) { return same_volts(to_number(v).value_or(0), *rail); });
    if (!drives && allowed) return;
    auto f = finding(row, name + " asks for " + volts(standard->supply) + " (" + standard->name + "), the board gives bank " + pin->bank + " " + volts(*rail) + ".", {{"port", name}, {"pin", peg.pin}, {"bank", pin->bank}});
    f.source = standard->source;
    f.numbers = {{"asked", "V", standard->supply}, {"rail", "V", *rail}};
    if (!in.with_fixes) return out.push_back(std::move(f));
    const auto at = in.board.at_pin(peg.pin);
    std::string proposal = at ? at.terminal->standard : "";
    const auto* fitting = in.standards.find(proposal);
    if (!fitting || !same_volts(fitting->supply, *rail)) {
        proposal.clear();
        for (const auto& s : in.standards.rows)
            if (proposal.empty() && same_volts(s.supply, *rail)) proposal = s.name;
    }
    if (!proposal.empty()) f.fixes.push_back({"choose " + proposal + " for " + name, standard_edit(in.project, name, proposal, at && proposal == at.terminal->standard ? "from the board" : "chosen")});
    for (const auto& candidate : in.part.pins) {
        const auto other = in.board.rail(candidate.bank);
        if (!candidate.usable() || !in.at_pin(candidate.name).empty() || !other || !same_volts(*other, standard->supply) || in.board.at_pin(candidate.name)) continue;
        f.fixes.push_back(move_fix(in, name, {candidate.name, "a free pin of bank " + candidate.bank + ", " + volts(*other)}));
        break;
    }
    out.push_back(std::move(f));
}

}  // namespace kp::rules
