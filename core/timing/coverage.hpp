// SPDX-License-Identifier: GPL-3.0-or-later
// What is timed, what is not, and which line would change that.
#pragma once

#include "core/timing/paths.hpp"

namespace kp::timing {

/// What coverage looks at.
struct CoverInput {
    const Graph& g;
    const Constraints& k;
    const ClockSet& clocks;
    const Ends& ends;
    const Delays& delays;
    const std::vector<std::uint8_t>& done;  ///< per node: 1 something like a setup is checked, 2 something like a hold
    std::size_t other_starts = 0;           ///< TimingOptions::other_starts
};

/// Fills `coverage` and `unconstrained` of the report: every endpoint is constrained, taken out on purpose, or untimed
/// with the reason and a command that would mend it; input ports and registers likewise. Notes registers that several
/// clocks reach.
void cover(const CoverInput& input, TimingReport& report);

}  // namespace kp::timing
