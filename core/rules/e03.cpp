// SPDX-License-Identifier: GPL-3.0-or-later
// One supply a bank. With a board the rail decides, without one the majority of its ports; the finding is at each port
// that disagrees, since each can be moved or changed alone. Costs the ports of a bank.
#include "core/rules/say.hpp"
#include <algorithm>
#include <cmath>
#include <map>

namespace kp::rules {

namespace {

bool takes(const Seat& seat, double supply) {
    const auto& s = *seat.standard;
    if (same_volts(s.supply, supply)) return true;
    return !seat.drives() && std::any_of(s.input_at.begin(), s.input_at.end(), [&](const std::string& v) {
        return same_volts(to_number(v).value_or(0), supply);
    });
}

/// The supply of a bank: the board's rail, else the one that most of its ports ask for (the lower of two that tie).
struct Supply {
    double volts = 0;
    bool known = false;           ///< by the board
    const Seat* first = nullptr;  ///< who else asks for it, where the board says nothing
};
std::optional<Supply> supply_of(const RuleInput& in, const Seat& seat) {
    if (seat.rail) return Supply{*seat.rail, true, nullptr};
    std::map<long, std::vector<const Seat*>> asked;  // by mV
    for (const auto* s : in.in_bank(seat.bank->name))
        if (s->port && s->standard && s->standard->supply > 0)
            asked[std::lround(s->standard->supply * 1000)].push_back(s);
    const std::vector<const Seat*>* most = nullptr;
    for (const auto& [mv, seats] : asked)
        if (!most || seats.size() > most->size()) most = &seats;
    if (!most || asked.size() < 2) return std::nullopt;
    const auto first =
        *std::min_element(most->begin(), most->end(), [](const Seat* a, const Seat* b) { return a->order < b->order; });
    return Supply{first->standard->supply, false, first};
}

void offer_standard(const RuleInput& in, const Seat& seat, double volts, Finding& f) {
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
            {"choose " + proposal + " for " + seat.name,
             standard_edit(in.project, seat.name, proposal,
                           seat.at && proposal == seat.at.terminal->standard ? "from the board" : "chosen")});
}

/// A free pin of a bank that has the supply, or whose ports all take it.
void offer_bank(const RuleInput& in, const Seat& seat, Finding& f) {
    const double wanted = seat.standard->supply;
    const auto bank_takes = [&](const std::string& bank) {
        if (const auto rail = in.board.rail(bank)) return same_volts(*rail, wanted);
        const auto& seats = in.in_bank(bank);
        return std::all_of(seats.begin(), seats.end(),
                           [&](const Seat* s) { return !s->standard || same_volts(s->standard->supply, wanted); });
    };
    for (const auto& pin : in.part.pins) {
        if (pin.bank == seat.bank->name || !pin.usable() || pin.reference || !in.at_pin(pin.name).empty() ||
            in.board.at_pin(pin.name) || !bank_takes(pin.bank))
            continue;
        f.fixes.push_back(move_fix(in, seat.name, {pin.name, "a free pin of bank " + pin.bank + ", " + volts(wanted)}));
        return;
    }
}

}  // namespace

/// One finding per port that asks for another supply than its bank has.
void e03(const RuleInput& in, const RuleRow& row, const Seat& seat, std::vector<Finding>& out) {
    if (!seat.port || !seat.bank || !seat.standard) return;
    const auto supply = supply_of(in, seat);
    if (!supply || takes(seat, supply->volts)) return;
    const auto& s = *seat.standard;
    const std::string asks = seat.name + " asks for " + volts(s.supply) + " (" + s.name + "), ";
    auto f =
        finding(row,
                asks + (supply->known ? "the board gives bank " + seat.bank->name + " " + volts(supply->volts) + "."
                                      : "and " + supply->first->name + " in the same bank " + seat.bank->name +
                                            " for " + volts(supply->volts) + " (" + supply->first->standard->name +
                                            "); a bank has one supply."),
                {{"port", seat.name}, {"pin", seat.on}, {"bank", seat.bank->name}});
    f.source = s.source;
    f.numbers = {{"asked", "V", s.supply}, {supply->known ? "rail" : "others of the bank", "V", supply->volts}};
    if (in.with_fixes) {
        offer_standard(in, seat, supply->volts, f);
        offer_bank(in, seat, f);
    }
    out.push_back(std::move(f));
}

}  // namespace kp::rules
