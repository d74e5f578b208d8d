// SPDX-License-Identifier: GPL-3.0-or-later
// Which clock reaches which pin, when its edges come, and which pairs of edges a path is checked against.
#pragma once

#include "core/timing/graph.hpp"

#include <optional>
#include <vector>

namespace kp::timing {

struct ClockAt {
    std::uint32_t clock = 0;
    bool inverted = false;
    auto operator<=>(const ClockAt&) const = default;
};

/// A pair of edges: when it is launched and when it is captured, ns.
struct EdgePair {
    double launch = 0, capture = 0;
};
struct EdgeRelation {
    EdgePair setup, hold;
    bool common_base = true;  ///< false: no common period within 1000 cycles
};

/// The tightest setup pair over the common base period of both clocks (each launch edge with the first capture edge
/// strictly after it) and the hold pair that belongs to it. Edges: 0 rise, 1 fall of the clock. engine.md, section 2.
[[nodiscard]] EdgeRelation relate(const ClockDefinition& launch, int launch_edge, const ClockDefinition& capture, int capture_edge);

/// Per node, the clocks that arrive there through nets and combinational cells; a clock defined on a pin stops others.
[[nodiscard]] std::vector<std::vector<ClockAt>> spread_clocks(const Graph& graph, const Constraints& constraints);

/// Latency of an ideal clock at a clock pin (or a port, when `pin` is a port node).
struct Latency {
    double source[2] = {0, 0};   ///< early, late
    double network[2] = {0, 0};
    [[nodiscard]] double total(int side) const { return source[side] + network[side]; }
};
[[nodiscard]] Latency ideal_latency(const Graph& graph, const Constraints& constraints, std::uint32_t clock, int clock_edge, NodeId pin);

/// Uncertainty that counts between two clocks at an endpoint; `launch` may be no_id.
[[nodiscard]] double uncertainty(const Constraints& constraints, std::uint32_t launch, std::uint32_t capture, ObjectRef endpoint, bool setup);

}  // namespace kp::timing
