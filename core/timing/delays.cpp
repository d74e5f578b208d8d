// SPDX-License-Identifier: GPL-3.0-or-later
// One number an arc, side and pair of edges, in flat arrays a corner.
#include "core/timing/delays.hpp"

namespace kp::timing {

Delays::Delays(const std::vector<EdgePairs>& passes) {
    place_.reserve(passes.size());
    std::uint32_t next = 0;
    for (const auto p : passes) {
        const Shape shape = !(p & crossed_pairs) ? straight : !(p & straight_pairs) ? crossed : both;
        place_.push_back(next << 2 | shape);
        next += shape == both ? 2 : 1;
    }
    lanes_.assign(next, Lanes{{0, 0, 0, 0}});
}

void Delays::set(ArcId arc, int side, int in, int out, double ns) {
    const bool turned = in != out;
    const auto s = shape(arc);
    if (s == straight ? turned : s == crossed && !turned) return;
    if (s == either) {
        if (at(arc, side, in, out) == ns) return;
        const Lanes own = *lanes(arc);
        place_[arc] = static_cast<std::uint32_t>(lanes_.size()) << 2 | both;
        lanes_.push_back(own);
        lanes_.push_back(own);
    }
    lanes_[(place_[arc] >> 2) + (shape(arc) == both && turned ? 1 : 0)].set(side, out, ns);
}

/// Room only shrinks and arcs stand in order, so everything can move down in place.
void Delays::pack() {
    if (packed_) return;
    packed_ = true;
    std::uint32_t next = 0;
    for (ArcId arc = 0; arc < place_.size(); ++arc) {
        auto s = shape(arc);
        const Lanes first = *lanes(arc), second = s == both ? lanes(arc)[1] : first;
        if (s == both && first == second) s = either;
        place_[arc] = next << 2 | s;
        lanes_[next++] = first;
        if (s == both) lanes_[next++] = second;
    }
    lanes_.resize(next);
    lanes_.shrink_to_fit();
}

}  // namespace kp::timing
