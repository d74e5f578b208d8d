// SPDX-License-Identifier: GPL-3.0-or-later
// Delays of all arcs of one corner, in the order of the arcs: one set of lanes for an arc that turns edges one way or
// delays both alike, two for the others.
#pragma once

#include "core/timing/lanes.hpp"

#include <cmath>
#include <cstdint>
#include <vector>

namespace kp::timing {

using ArcId = std::uint32_t;

/// Which pairs of edges pass an arc, a bit each: rise to rise, rise to fall, fall to rise, fall to fall.
using EdgePairs = std::uint8_t;
constexpr EdgePairs pair_bit(int in, int out) {
    return static_cast<EdgePairs>(1u << (in * 2 + out));
}
constexpr EdgePairs straight_pairs = pair_bit(rise, rise) | pair_bit(fall, fall),
                    crossed_pairs = pair_bit(rise, fall) | pair_bit(fall, rise), all_pairs = 15;

class Delays {
public:
    /// straight: an edge leaves as it came; crossed: turned; either: both with the same delays; both: each with its
    /// own.
    enum Shape : std::uint32_t { straight, crossed, either, both };

    /// Room for every arc, all delays 0.
    explicit Delays(const std::vector<EdgePairs>& passes);
    Delays() = default;

    [[nodiscard]] size_t size() const { return place_.size(); }
    [[nodiscard]] Shape shape(ArcId arc) const { return static_cast<Shape>(place_[arc] & 3); }
    /// For `both`, the straight delays; the crossed ones stand behind them.
    [[nodiscard]] const Lanes* lanes(ArcId arc) const { return &lanes_[place_[arc] >> 2]; }

    /// Asks memory for where the delays of an arc stand.
    void expect(ArcId arc) const { __builtin_prefetch(&place_[arc]); }

    /// ns; NaN when the arc's shape does not let this pair of edges pass.
    [[nodiscard]] double at(ArcId arc, int side, int in, int out) const {
        const auto* l = lanes(arc);
        const bool turned = in != out;
        switch (shape(arc)) {
            case straight: return turned ? std::nan("") : l->time(side, out);
            case crossed: return turned ? l->time(side, out) : std::nan("");
            case either: return l->time(side, out);
            case both: break;
        }
        return l[turned ? 1 : 0].time(side, out);
    }
    /// Sets one delay, ns; an arc whose pairs had the same delays gets room for its own. Pairs that do not pass are
    /// left out.
    void set(ArcId arc, int side, int in, int out, double ns);
    /// Once, after the first values: puts arcs together that delay both pairs alike.
    void pack();

private:
    std::vector<std::uint32_t> place_;
    std::vector<Lanes> lanes_;
    bool packed_ = false;
};

}  // namespace kp::timing
