// SPDX-License-Identifier: GPL-3.0-or-later
// Which terminal of the board each port is meant for: as its user said, else as names, clocks and oscillators suggest,
// wherever the pegs lead now.
#pragma once

#include "core/design/facts.hpp"
#include "core/planning/attributes.hpp"
#include "core/planning/place.hpp"

#include <map>
#include <set>
#include <string>
#include <vector>

namespace kp {

/// Ports through which the design takes a clock, and the rate in MHz that constraints say; 0: they do not say.
using ClockRates = std::map<std::string, double>;

/// What the netlist clocks registers or PLLs with; without a netlist (`facts` is empty): what constraints make a clock,
/// else what a name says.
[[nodiscard]] ClockRates clock_rates(const std::vector<Port>& ports, const std::vector<PortFacts>& facts,
                                     const Constraints& constraints);

/// Whether a clock of `mhz` may come from this oscillator; one whose rate nobody said may.
[[nodiscard]] bool has_rate(const Oscillator& oscillator, double mhz);

/// The oscillator that a clock is meant for: the only one of the board that has its rate; null when there is none or
/// more than one.
[[nodiscard]] const Oscillator* oscillator_for(const Board& board, double mhz);

/// Each port and pin once. What was said by hand comes first (confidence 1), then the names, then roles, then a clock
/// that is left takes the oscillator of its rate if that is free. Ports in `taken` and their pins are left alone.
/// `only`: the ports that are asked for, of all `ports` of the design; null: all of them.
[[nodiscard]] std::vector<NameMatch> meant_places(const std::vector<Port>& ports, const Board& board,
                                                  const Project& project, const PegMap& taken,
                                                  const ClockRates& clocks = {},
                                                  const std::set<std::string>* only = nullptr);

/// Says what ports are meant for, in one edit: terminals with commas between them, one for each port in turn; or the
/// ref of a board part, whose wired terminals are taken in order; empty takes it back. Errors: another number of
/// terminals than of ports, a terminal that is none or goes the wrong way.
[[nodiscard]] Result<Edit> meant_edit(const AttributeInput& input, const std::vector<std::string>& ports,
                                      const std::string& text);

/// The pegs by which every port would sit where it is meant for.
[[nodiscard]] PegMap pegs_as_meant(const std::vector<NameMatch>& meant);

}  // namespace kp
