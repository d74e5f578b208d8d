// SPDX-License-Identifier: GPL-3.0-or-later
// How far a change of the constraints reaches.
#pragma once

#include "core/model/constraints.hpp"

#include <vector>

namespace kp::timing {

struct ConstraintChange {
    enum Reach : std::uint8_t {
        nothing,    ///< places in the text at most
        io_values,  ///< numbers of I/O delays: `io` says which
        ends,       ///< numbers, and what is compared with what; what arrives where stays
        structure   ///< clocks, cases, arcs, or exceptions that arrivals carry
    } reach = nothing;
    bool delays = false;            ///< loads, transitions, driving cells or factors: tables are asked again
    std::vector<std::uint32_t> io;  ///< positions in io_delays
};

/// Compares field by field what the commands say; where they stand in the text does not count.
[[nodiscard]] ConstraintChange compare(const Constraints& before, const Constraints& after);

}  // namespace kp::timing
