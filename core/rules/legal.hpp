// SPDX-License-Identifier: GPL-3.0-or-later
// What location and electrical rules know of one port and one place, as data: the rules say findings by it, placing
// looks for places by it.
#pragma once

#include "core/rules/input.hpp"

#include <string>

namespace kp::rules {

/// Why a port is taken as a clock. With a netlist that is known; before there is one, a constraint or an oscillator on
/// its pin says so, or its name, which is a guess.
struct ClockEvidence {
    enum class Kind { none, netlist, constraint, board, name } kind = Kind::none;
    std::string words;  ///< "feeds a PLL"; to stand behind the name of the port
    explicit operator bool() const { return kind != Kind::none; }
    [[nodiscard]] bool sure() const { return kind != Kind::none && kind != Kind::name; }
};
[[nodiscard]] ClockEvidence clock_evidence(const RuleInput& in, const PlannedPort& seat);

/// L04: a clock gets to its network from here: a clock pin, the true one of its pair when the clock has one wire.
[[nodiscard]] bool is_clock_place(const Pin& pin, bool differential);
/// L04: the part says which of its pins are clock pins.
[[nodiscard]] bool knows_clock_pins(const Part& part);

/// L05: the part drives the pin while it is configured in the mode that is chosen.
[[nodiscard]] bool part_drives(const RuleInput& in, const Pin& pin);

/// L03: which half of its pair a port is, by its own name, else by its partner's; 0 when neither says.
[[nodiscard]] char half_of_pair(const PlannedPort& seat, const PlannedPort* partner);

/// L07: the part says which pins make a byte.
[[nodiscard]] bool knows_strobe_groups(const Part& part);

/// E02: what a bank cannot do for a standard in a direction: it does not carry it, or the standard is for the other
/// direction only.
[[nodiscard]] bool bank_carries(const Bank& bank, const IoStandard& standard, bool drives, bool reads);
/// E03: a port of a standard can live with a supply.
[[nodiscard]] bool takes_supply(const IoStandard& standard, bool drives, double volts);
/// E03: the supply of a bank without a rail: of those it may have (all that are asked for, where the part does not say)
/// the one that most of its ports can live with; of equal ones the one asked for by more, then the lower. None while
/// nobody asks.
[[nodiscard]] std::optional<double> supply_by_ports(const Bank& bank, const std::vector<const PlannedPort*>& seats);

}  // namespace kp::rules
