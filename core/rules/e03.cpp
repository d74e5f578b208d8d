// SPDX-License-Identifier: GPL-3.0-or-later
// One supply a bank. With a board the rail decides, without one the supply that most of its ports can live with; the
// finding is at each port that disagrees, since each can be moved or changed alone. Costs the ports of a bank.
#include "core/rules/legal.hpp"
#include "core/rules/say.hpp"
#include "core/base/said.hpp"
#include <algorithm>
#include <cmath>
#include <map>

namespace kp::rules {

namespace {

/// The supply of a bank: the board's rail, else the one that most of its ports can live with.
struct Supply {
    double volts = 0;
    bool known = false;                  ///< by the board
    const PlannedPort* first = nullptr;  ///< who else asks for it, where the board says nothing
};
std::optional<Supply> supply_of(const RuleInput& in, const PlannedPort& seat) {
    if (seat.rail) return Supply{*seat.rail, true, nullptr};
    const auto& seats = in.in_bank(seat.bank->name);
    const auto volts = supply_by_ports(*seat.bank, seats);
    if (!volts) return std::nullopt;
    Supply out{*volts, false, nullptr};
    for (const auto* s : seats)
        if (s->port && s->standard && same_volts(s->standard->supply, *volts) &&
            (!out.first || s->order < out.first->order))
            out.first = s;
    return out;
}

std::string volts_of(const std::vector<double>& list) {
    std::vector<std::string> names;
    for (const double v : list) names.push_back(volts(v));
    return list_names(names, 8);
}

void offer_standard(const RuleInput& in, const PlannedPort& seat, double volts, Finding& f) {
    std::string proposal = seat.at ? seat.at.terminal->standard : "";
    const auto* fitting = in.standards.find(proposal);
    if (!fitting || !same_volts(fitting->supply, volts)) {
        proposal.clear();
        const auto& can = seat.bank->standards;
        for (const auto& other : in.standards.rows) {
            const bool carried = can.empty() || std::find(can.begin(), can.end(), other.name) != can.end();
            if (proposal.empty() && carried && same_volts(other.supply, volts) &&
                other.differential == seat.standard->differential)
                proposal = other.name;
        }
    }
    if (!proposal.empty())
        f.fixes.push_back(
            {said("choose {} for {}", proposal, seat.name),
             standard_edit(in.project, seat.name, proposal,
                           seat.at && proposal == seat.at.terminal->standard ? from_the_board : "chosen")});
}

/// A free pin of a bank that has the supply, or whose ports all take it.
void offer_bank(const RuleInput& in, const PlannedPort& seat, Finding& f) {
    const double wanted = seat.standard->supply;
    const auto bank_takes = [&](const std::string& bank) {
        if (const auto rail = in.board.rail(bank)) return same_volts(*rail, wanted);
        const auto& seats = in.in_bank(bank);
        return std::all_of(seats.begin(), seats.end(), [&](const PlannedPort* s) {
            return !s->standard || same_volts(s->standard->supply, wanted);
        });
    };
    for (const auto& pin : in.part.pins) {
        if (pin.bank == seat.bank->name || !pin.usable() || pin.reference || !in.at_pin(pin.name).empty() ||
            in.board.at_pin(pin.name) || !bank_takes(pin.bank))
            continue;
        f.fixes.push_back(
            move_fix(in, seat.name, {pin.name, said("a free pin of bank {}, {}", pin.bank, volts(wanted))}));
        return;
    }
}

}  // namespace

/// One finding per port that asks for another supply than its bank has.
void e03(const RuleInput& in, const RuleRow& row, const PlannedPort& seat, std::vector<Finding>& out) {
    if (!seat.port || !seat.bank || !seat.standard) return;
    const auto supply = supply_of(in, seat);
    if (!supply || takes_supply(*seat.standard, seat.drives(), supply->volts)) return;
    if (!supply->known && seat.standard->supply <= 0) return;
    const auto& s = *seat.standard;
    const std::string asks = said("{} asks for {} ({}), ", seat.name, volts(s.supply), s.name);
    auto f = finding(
        row,
        asks + (supply->known ? said("the board gives bank {} {}.", seat.bank->name, volts(supply->volts))
                : !supply->first
                    ? said("and bank {} cannot have that; it may have {}.", seat.bank->name, volts_of(seat.bank->volts))
                    : said("and {} in the same bank {} for {} ({}); a bank has one supply.", supply->first->name,
                           seat.bank->name, volts(supply->volts), supply->first->standard->name)),
        {{Subject::port, seat.name}, {Subject::pin, seat.on}, {Subject::bank, seat.bank->name}});
    f.source = s.source;
    f.numbers = {{"asked", "V", s.supply}, {supply->known ? "rail" : "others of the bank", "V", supply->volts}};
    if (in.with_fixes) {
        offer_standard(in, seat, supply->volts, f);
        offer_bank(in, seat, f);
    }
    out.push_back(std::move(f));
}

}  // namespace kp::rules
