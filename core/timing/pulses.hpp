// SPDX-License-Identifier: GPL-3.0-or-later
// Minimum pulse width and minimum period at the clock pins of registers.
#pragma once

#include "core/timing/clocks.hpp"

#include <vector>

namespace kp::timing {

struct PulseSlack {
    bool period = false;
    NodeId pin = 0;
    std::uint32_t clock = 0;
    bool high = true;  ///< the pulse between rise and fall
    double slack = 0;
};

/// Pulse width: width + early latency of the closing edge - late latency of the opening edge + credit (the smaller of
/// the two differences) - minimum. Period: period - minimum. The minimum is the largest that library, SDF and
/// constraints ask for.
[[nodiscard]] std::vector<PulseSlack> check_pulses(const Graph& graph, const Constraints& constraints,
                                                   const Corner& corner, const ClockSet& clocks,
                                                   const ClockTimes& times, bool credit);

}  // namespace kp::timing
