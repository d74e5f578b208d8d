// SPDX-License-Identifier: GPL-3.0-or-later
// Which clocks each net carries as a clock, and which clocks launch the data on it.
#pragma once

#include "core/design/connections.hpp"
#include "core/model/constraints.hpp"

#include <cstdint>
#include <vector>

namespace kp::design {

using ClockMask = std::uint64_t;  ///< bit i: clock i; only the first 64 count

struct ClockNets {
    ClockNets(const Connections& connections, const Constraints& constraints);
    std::vector<ClockMask> clock;   ///< per net
    std::vector<ClockMask> launch;  ///< per net: clocks of the registers and port delays whose data it carries
    /// Clocks of a register.
    [[nodiscard]] ClockMask of_register(const Connections& c, std::uint32_t cell) const;

    /// Two clocks with sources whose origins (through generated clocks) differ. A clock without source is a way to say
    /// when the outside moves and is on good terms with all.
    [[nodiscard]] bool asynchronous(std::uint32_t a, std::uint32_t b) const {
        return !origin_[a].empty() && !origin_[b].empty() && origin_[a] != origin_[b];
    }

private:
    std::vector<std::string> origin_;
};

}  // namespace kp::design
