// SPDX-License-Identifier: GPL-3.0-or-later
// Data that change clocks, and whether a synchroniser stands there.
#pragma once

#include "core/design/clock_nets.hpp"
#include "core/design/facts.hpp"

namespace kp::design {

/// Fills `crossings` and `buses`; asked to stop, with what it found so far.
void find_crossings(const Connections& connections, const ClockNets& clocks, const Constraints& constraints,
                    DesignFacts& facts, const std::stop_token& stop);

}  // namespace kp::design
