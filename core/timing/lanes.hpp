// SPDX-License-Identifier: GPL-3.0-or-later
// Four numbers side by side: early rise, early fall, late rise, late fall, the early ones with their sign turned. So
// one operation does for all four: an arrival is the largest of its candidates, whether it is the first early or the
// last late one.
#pragma once

#include <algorithm>
#include <limits>

namespace kp::timing {

constexpr int rise = 0, fall = 1;
constexpr int early = 0, late = 1;

/// Position of a side and an edge among the lanes.
constexpr int lane_of(int side, int edge) {
    return side * 2 + edge;
}

constexpr double never = -std::numeric_limits<double>::infinity();     ///< a lane nothing has reached
constexpr double free_lane = std::numeric_limits<double>::infinity();  ///< a required lane that nothing limits

struct alignas(32) Lanes {
    double v[4] = {never, never, never, never};

    /// A time in ns, early ones turned back. Meaningless where the lane is `never`.
    [[nodiscard]] double time(int side, int edge) const { return side == early ? 0.0 - v[edge] : v[2 + edge]; }
    /// Never a negative zero, so that equal results have equal bits.
    void set(int side, int edge, double ns) { v[lane_of(side, edge)] = side == early ? 0.0 - ns : ns + 0.0; }
    [[nodiscard]] bool reached(int side, int edge) const { return v[lane_of(side, edge)] != never; }
    [[nodiscard]] bool any() const { return v[0] != never || v[1] != never || v[2] != never || v[3] != never; }
    bool operator==(const Lanes&) const = default;
};

inline Lanes swapped(const Lanes& a) {
    return {{a.v[1], a.v[0], a.v[3], a.v[2]}};
}
inline void raise(Lanes& to, const Lanes& from) {
    for (int i = 0; i < 4; ++i) to.v[i] = std::max(to.v[i], from.v[i]);
}
inline void lower(Lanes& to, const Lanes& from) {
    for (int i = 0; i < 4; ++i) to.v[i] = std::min(to.v[i], from.v[i]);
}
inline Lanes sum(const Lanes& a, const Lanes& b) {
    return {{a.v[0] + b.v[0], a.v[1] + b.v[1], a.v[2] + b.v[2], a.v[3] + b.v[3]}};
}
inline Lanes difference(const Lanes& a, const Lanes& b) {
    return {{a.v[0] - b.v[0], a.v[1] - b.v[1], a.v[2] - b.v[2], a.v[3] - b.v[3]}};
}
inline Lanes larger(const Lanes& a, const Lanes& b) {
    Lanes out = a;
    raise(out, b);
    return out;
}
inline Lanes smaller(const Lanes& a, const Lanes& b) {
    Lanes out = a;
    lower(out, b);
    return out;
}

}  // namespace kp::timing
