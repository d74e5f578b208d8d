// SPDX-License-Identifier: GPL-3.0-or-later
// How each clock stands to each other one: whether data go from one to the other, against which edges they are timed,
// or what takes them out.
#pragma once

#include "core/session/analysis.hpp"

#include <string>
#include <vector>

namespace kp {

struct ClockPair {
    enum class Kind {
        same,          ///< a clock with itself
        related,       ///< timed against the tightest pair of edges
        synchronised,  ///< of different origins, through synchronisers only
        open,          ///< of different origins, and some data have no synchroniser
        excluded,      ///< a command takes them out
        never          ///< no data go this way
    };
    std::uint32_t from = 0, to = 0;
    Kind kind = Kind::never;
    double launch = 0, capture = 0;  ///< related and same: the tightest pair of edges, ns
    bool common_period = true;
    int open = 0, synchronised = 0;  ///< register inputs
    std::string file;                ///< of the command that takes them out
    int line = 0;
    std::string proposal;  ///< a command that would settle an open pair; empty: nothing is to be settled
};

/// Row by row: from each clock to each, in the order of the constraints.
[[nodiscard]] std::vector<ClockPair> clock_matrix(const Analysis& analysis);

/// "related: 10 → 13.333 ns", "excluded by ports.sdc:7", …
[[nodiscard]] std::string words_of(const ClockPair& pair);

}  // namespace kp
