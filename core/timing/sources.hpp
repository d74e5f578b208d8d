// SPDX-License-Identifier: GPL-3.0-or-later
// When paths begin in one corner: latency and launching delay of registers, input delays, clocks used as data, open
// latches.
#pragma once

#include "core/timing/times.hpp"

#include <unordered_map>

namespace kp::timing {

class Sources {
public:
    Sources(const Graph& g, const Constraints& k, const Slots& slots, const Corner& corner, const ClockSet& clocks,
            const ClockTimes& times);

    /// The lanes of a start that does not depend on other arrivals; nothing for an open latch.
    [[nodiscard]] Lanes lanes(const Start& start) const;
    /// Clock latency in front of a start, ns.
    [[nodiscard]] double latency(const Start& start, int side) const;
    [[nodiscard]] LatchWindow window(const Start& start) const;
    /// The way of the clock to a start, on one side; 0 when it shares nothing with a capture.
    [[nodiscard]] ClockTimes::WayId way(const Start& start, int side) const;

private:
    [[nodiscard]] bool makes(const IoDelay& delay, const Start& start) const;
    [[nodiscard]] double port_latency(const IoDelay& delay, int side) const;
    [[nodiscard]] const ClockAt& clock_of(const Start& s, NodeId pin) const { return clocks_[pin][s.clock_entry]; }

    const Graph& g_;
    const Constraints& k_;
    const Slots& slots_;
    const Corner& corner_;
    const ClockSet& clocks_;
    const ClockTimes& times_;
    std::unordered_map<NodeId, std::vector<std::uint32_t>> delays_of_;  ///< per input node, its input delays
};

}  // namespace kp::timing
