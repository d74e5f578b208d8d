// SPDX-License-Identifier: GPL-3.0-or-later
// Lanes of a part by name, with their pins, and what of a board is wired to them.
#pragma once

#include "core/model/board.hpp"
#include "core/model/part.hpp"

#include <string>
#include <vector>

namespace kp {

struct LaneOfPart {
    const LaneBlock* block = nullptr;
    const LaneBlock::Lane* lane = nullptr;
    explicit operator bool() const { return lane != nullptr; }
};
/// Null when the part has no such lane; the first of the name where several blocks have it.
[[nodiscard]] LaneOfPart lane_of_part(const Part& part, const std::string& name);

/// The board part at the transmit or receive pins of a lane; null: nothing is wired there.
[[nodiscard]] const BoardPart* wired_to(const Board& board, const LaneBlock::Lane& lane);
/// Rate of the oscillator at a reference clock, MHz; 0: none is wired there.
[[nodiscard]] double oscillator_mhz(const Board& board, const LaneBlock::ReferenceClock& clock);
/// Whether an oscillator of `board` MHz serves a link that wants `wanted`: within 100 ppm, which is what an oscillator
/// with its tolerance may be off (common practice, no source).
[[nodiscard]] bool is_same_rate(double board, double wanted);

}  // namespace kp
