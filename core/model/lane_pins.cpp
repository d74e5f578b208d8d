// SPDX-License-Identifier: GPL-3.0-or-later
// Looks through all lanes of a part, of which there are few; nothing is kept, so that part and board only have to live
// during the call.
#include "core/model/lane_pins.hpp"

#include <cmath>

namespace kp {

LaneOfPart lane_of_part(const Part& part, const std::string& name) {
    for (const auto& block : part.lane_blocks)
        for (const auto& lane : block.lanes)
            if (lane.name == name) return {&block, &lane};
    return {};
}

const BoardPart* wired_to(const Board& board, const LaneBlock::Lane& lane) {
    for (const auto* pins : {&lane.tx, &lane.rx})
        for (const auto& pin : *pins)
            if (const auto at = board.at_pin(pin)) return at.part;
    return nullptr;
}

double oscillator_mhz(const Board& board, const LaneBlock::ReferenceClock& clock) {
    for (const auto& pin : clock.pins)
        if (const auto* o = board.oscillator_at_pin(pin)) return o->mhz;
    // The complement pin of a pair carries no oscillator of its own; its part does.
    for (const auto& pin : clock.pins)
        if (const auto at = board.at_pin(pin))
            for (const auto& o : board.oscillators)
                if (o.terminal.starts_with(at.part->ref + ".")) return o.mhz;
    return 0;
}

bool is_same_rate(double board, double wanted) {
    constexpr double same = 1e-4;
    return std::abs(board - wanted) <= same * board;
}

}  // namespace kp
