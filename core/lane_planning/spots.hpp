// SPDX-License-Identifier: GPL-3.0-or-later
// Where a link may lie by the data of the part alone: lanes, engines, reference clocks, crossings.
#pragma once

#include "core/model/lane_link.hpp"
#include "core/model/part.hpp"

#include <cstddef>

namespace kp {

/// Consecutive lanes of one block under one engine.
struct Spot {
    size_t block = 0, engine = 0, first = 0;
};

/// The engine has the protocol and the width.
[[nodiscard]] bool knows(const LaneBlock::Engine& engine, const LaneLink& link);
/// Lanes alone: consecutive, reached, aligned, fast enough.
[[nodiscard]] bool spot_fits(const LaneBlock& block, const LaneBlock::Engine& engine, std::size_t first,
                             const LaneLink& link);
/// The clock takes the frequency and reaches all lanes from `first` on.
[[nodiscard]] bool clock_fits(const LaneBlock& block, const LaneBlock::ReferenceClock& clock, std::size_t first,
                              const LaneLink& link);
[[nodiscard]] int crossings_wanted(const LaneBlock::Engine& engine, const LaneLink& link);
/// The engine reaches `count` crossings from `first` on, and the block has them.
[[nodiscard]] bool reaches_crossings(const LaneBlock& block, const LaneBlock::Engine& engine, int first, int count);

}  // namespace kp
