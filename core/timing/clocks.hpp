// SPDX-License-Identifier: GPL-3.0-or-later
// Which clock reaches which pin and when: waveforms against each other, ideal latency, and the delay of clock networks.
#pragma once

#include "core/timing/graph.hpp"

#include <optional>
#include <vector>

namespace kp::timing {

/// A clock at a node, and when its edges arrive there, counted from the clock's source.
struct ClockAt {
    std::uint32_t clock = 0;
    bool inverted = false;
    double time[2][2] = {{0, 0}, {0, 0}};  ///< [side][edge of the node], ns
    struct Came {
        ArcId arc = no_id;         ///< the arc that decided; no_id at the source
        std::uint32_t entry = 0;   ///< position in the list of its start
        int edge = 0;
    };
    Came came[2][2];
    /// The edge of the clock that an edge here comes from.
    [[nodiscard]] int clock_edge(int edge) const { return inverted ? 1 - edge : edge; }
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

/// Per node, the clocks that arrive there through nets and combinational cells; a clock defined on a pin stops others, and
/// so does set_sense. Without times: see time_clocks.
[[nodiscard]] std::vector<std::vector<ClockAt>> spread_clocks(const Graph& graph, const Constraints& constraints);

/// Fills the times of what spread_clocks found, from the delays of the graph as clocks take them.
void time_clocks(const Graph& graph, const Constraints& constraints, std::vector<std::vector<ClockAt>>& at);

/// Per clock: its delay is that of its network. By set_propagated_clock, or for all when `all` says so; a clock without a source never.
[[nodiscard]] std::vector<bool> propagated_clocks(const Constraints& constraints, bool all);

/// Latency of a clock at a clock pin or port.
struct Latency {
    double source[2] = {0, 0};   ///< early, late
    double network[2] = {0, 0};
    [[nodiscard]] double total(int side) const { return source[side] + network[side]; }
};

/// A step of a clock's way, with both arrivals there, source latency included.
struct ClockStep {
    std::uint32_t place = 0;  ///< node, or a clock without a source
    int edge = rise;
    double time[2] = {0, 0};  ///< early, late
};

/// Latencies of all clocks, ideal and propagated, and what two clock paths share.
class ClockTimes {
public:
    ClockTimes(const Graph& graph, const Constraints& constraints, const std::vector<std::vector<ClockAt>>& at, std::vector<bool> propagated);

    [[nodiscard]] bool propagated(std::uint32_t clock) const { return propagated_[clock]; }
    /// At a clock pin; `entry` is one of its list.
    [[nodiscard]] Latency at_pin(const ClockAt& entry, NodeId pin, int edge) const;
    /// At a port whose delay is given against an edge of the clock; a propagated clock has only its source latency there.
    [[nodiscard]] Latency at_port(std::uint32_t clock, int clock_edge, NodeId port) const;
    [[nodiscard]] const double (&source(std::uint32_t clock, int clock_edge) const)[2] { return source_[clock].time[clock_edge]; }

    /// The way of a clock to an edge of a pin along what decided `side`, from its first source on.
    [[nodiscard]] std::vector<ClockStep> way(const ClockAt& entry, NodeId pin, int edge, int side) const;
    [[nodiscard]] std::vector<ClockStep> way_to_port(std::uint32_t clock, int clock_edge) const;

private:
    struct Source {
        double time[2][2] = {{0, 0}, {0, 0}};  ///< [clock edge][side]
        std::vector<ClockStep> way[2][2];      ///< [clock edge][side], up to the clock's source
    };
    void find_source(std::uint32_t clock, int depth);
    void from_master(std::uint32_t clock, std::uint32_t master);
    [[nodiscard]] bool own_source(std::uint32_t clock, int edge, double (&out)[2]) const;
    [[nodiscard]] std::uint32_t place_of(std::uint32_t clock) const;

    const Graph& g_;
    const Constraints& k_;
    const std::vector<std::vector<ClockAt>>& at_;
    std::vector<bool> propagated_;
    std::vector<int> state_;  ///< 0 new, 1 open, 2 done
    std::vector<Source> source_;
};

/// Common-path credit of two ways: late minus early at the last step they share, counted from the start; where they pass it with
/// different edges, the smaller of the two. Never negative.
[[nodiscard]] double shared_credit(const std::vector<ClockStep>& launch, const std::vector<ClockStep>& capture);

/// Latency of an ideal clock by set_clock_latency alone; `pin` may be no_id.
[[nodiscard]] Latency ideal_latency(const Graph& graph, const Constraints& constraints, std::uint32_t clock, int clock_edge, NodeId pin);

/// Uncertainty that counts between two clocks at an endpoint; `launch` may be no_id.
[[nodiscard]] double uncertainty(const Constraints& constraints, std::uint32_t launch, std::uint32_t capture, ObjectRef endpoint, bool setup);

}  // namespace kp::timing
