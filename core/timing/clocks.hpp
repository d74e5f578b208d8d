// SPDX-License-Identifier: GPL-3.0-or-later
// Which clock reaches which pin and when: waveforms against each other, ideal latency, and the delay of clock networks.
#pragma once

#include "core/timing/corner.hpp"

#include <optional>
#include <unordered_map>
#include <vector>

namespace kp::timing {

/// A clock at a node, and when its edges arrive there, counted from the clock's source.
struct ClockAt {
    std::uint32_t clock = 0;
    bool inverted = false;
    double time[2][2] = {{0, 0}, {0, 0}};  ///< [side][edge of the node], ns
    struct Came {
        ArcId arc = no_id;        ///< the arc that decided; no_id at the source
        std::uint32_t entry = 0;  ///< position in the list of its start
        int edge = 0;
    };
    Came came[2][2];
    std::uint32_t way[2][2] = {{0, 0}, {0, 0}};  ///< [side][edge]: number of the way here, see ClockTimes
    /// The edge of the clock that an edge here comes from.
    [[nodiscard]] int clock_edge(int edge) const { return inverted ? 1 - edge : edge; }
};

/// The clocks at each node; most nodes have none.
class ClockSet {
public:
    explicit ClockSet(size_t nodes = 0) : where_(nodes, 0), lists_(1) {}
    [[nodiscard]] const std::vector<ClockAt>& operator[](NodeId node) const { return lists_[where_[node]]; }
    /// To be filled; makes room when the node has none yet.
    [[nodiscard]] std::vector<ClockAt>& make(NodeId node) {
        if (where_[node] == 0) {
            where_[node] = static_cast<std::uint32_t>(lists_.size());
            lists_.emplace_back();
            nodes_.push_back(node);
        }
        return lists_[where_[node]];
    }
    /// Nodes that clocks reach, in the order they were made.
    [[nodiscard]] const std::vector<NodeId>& nodes() const { return nodes_; }

private:
    std::vector<std::uint32_t> where_;
    std::vector<std::vector<ClockAt>> lists_;
    std::vector<NodeId> nodes_;
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
/// strictly after it) and the hold pair that belongs to it. Edges: 0 rise, 1 fall of the clock. docs/timing.md,
/// section 2.
[[nodiscard]] EdgeRelation relate(const ClockDefinition& launch, int launch_edge, const ClockDefinition& capture,
                                  int capture_edge);

/// The clocks that arrive at each node through nets and combinational cells; a clock defined on a pin stops others, and
/// so does set_sense. Without times: see time_clocks.
[[nodiscard]] ClockSet spread_clocks(const Graph& graph, const Constraints& constraints);

/// Fills the times of what spread_clocks found, from the delays that clocks take.
void time_clocks(const Graph& graph, const Constraints& constraints, const Delays& delays, ClockSet& at);

/// Per clock: its delay is that of its network. By set_propagated_clock, or for all when `all` says so; a clock without
/// a source never.
[[nodiscard]] std::vector<bool> propagated_clocks(const Constraints& constraints, bool all);

/// Latency of a clock at a clock pin or port.
struct Latency {
    double source[2] = {0, 0};  ///< early, late
    double network[2] = {0, 0};
    [[nodiscard]] double total(int side) const { return source[side] + network[side]; }
};

/// Latency of an ideal clock by set_clock_latency alone; `pin` may be no_id.
[[nodiscard]] Latency ideal_latency(const Graph& graph, const Constraints& constraints, std::uint32_t clock,
                                    int clock_edge, NodeId pin);

/// Latencies of all clocks, ideal and propagated, and what two clock paths share.
///
/// The way of a clock to a pin is a chain of steps, each with the one before it. Between two sources (of a clock and of
/// one generated from it) lies a stretch; steps at the same place of the same stretch have the same `trail`, whichever
/// way led there, and steps come in the order of stretches and of the graph. So the last place that two ways share is
/// found from their ends; where branches of different sources meet they share nothing.
class ClockTimes {
public:
    using WayId = std::uint32_t;

    /// Numbers the ways in `at` too.
    ClockTimes(const Graph& graph, const Constraints& constraints, const Delays& delays, ClockSet& at,
               std::vector<bool> propagated);

    [[nodiscard]] bool propagated(std::uint32_t clock) const { return propagated_[clock]; }
    /// At a clock pin; `entry` is one of its list.
    [[nodiscard]] Latency at_pin(const ClockAt& entry, NodeId pin, int edge) const;
    /// At a port whose delay is given against an edge of the clock; a propagated clock has only its source latency
    /// there.
    [[nodiscard]] Latency at_port(std::uint32_t clock, int clock_edge) const;
    [[nodiscard]] const double (&source(std::uint32_t clock, int clock_edge) const)[2] {
        return source_[clock].time[clock_edge];
    }

    /// The way of a clock to an edge of a pin along what decided `side`, from its first source on.
    [[nodiscard]] WayId way(const ClockAt& entry, int edge, int side) const {
        return propagated_[entry.clock] ? entry.way[side][edge]
                                        : source_[entry.clock].way[entry.clock_edge(edge)][side];
    }
    [[nodiscard]] WayId way_to_port(std::uint32_t clock, int clock_edge) const {
        return source_[clock].way[clock_edge][late];
    }
    /// A place that a clock passes on its way.
    struct Passed {
        NodeId node = no_id;  ///< no_id: a clock without a source
        int edge = rise;
        double time[2] = {0, 0};  ///< early, late, source latency included
    };
    /// A way from its first source to its end; empty for 0.
    [[nodiscard]] std::vector<Passed> passed(WayId way) const;
    /// Common-path credit of two ways: late minus early at the last step they share, counted from the start; where they
    /// pass it with different edges, the smaller of the two; what their source latencies differ by counts only where
    /// both have it from the same clock. Never negative.
    [[nodiscard]] double shared_credit(WayId launch, WayId capture) const;

private:
    struct Source {
        double time[2][2] = {{0, 0}, {0, 0}};  ///< [clock edge][side]
        WayId way[2][2] = {{0, 0}, {0, 0}};    ///< [clock edge][side], up to the clock's source
    };
    struct Step {
        double time[2] = {0, 0};  ///< early, late, source latency included
        std::uint32_t place = 0;  ///< node, or a clock without a source
        WayId before = 0;         ///< 0: the first step
        std::uint32_t trail = 0, stretch = 0;
        std::uint64_t order = 0;  ///< of sources passed, then of the graph
        std::uint8_t edge = rise;
        std::uint32_t root = no_id;  ///< the clock whose source latency is the first step
        double head = 0;             ///< late minus early of that step
        bool guessed = false;        ///< behind a cell of which only the delays are known
    };
    /// set_clock_latency; most pins have that of their clock.
    [[nodiscard]] Latency ideal(std::uint32_t clock, int clock_edge, NodeId pin) const {
        const NodeId by = pin == no_id || named_.empty() ? no_id : named_[pin];
        return by == no_id ? ideal_[clock * 2 + static_cast<std::uint32_t>(clock_edge)]
                           : ideal_latency(g_, k_, clock, clock_edge, by);
    }
    void be_careful(WayId before, ArcId arc);
    void find_named(const ClockSet& at);
    void find_source(std::uint32_t clock, int depth);
    void from_master(std::uint32_t clock, std::uint32_t master);
    /// What a clock has at its source before its network: an ideal one the latency of its network too.
    [[nodiscard]] double master_latency(std::uint32_t master, int edge, int side) const;
    void through_network(std::uint32_t clock, std::uint32_t master, NodeId goal);
    [[nodiscard]] bool own_source(std::uint32_t clock, int edge, double (&out)[2]) const;
    [[nodiscard]] std::uint32_t place_of(std::uint32_t clock) const;
    WayId step(WayId before, std::uint32_t place, int edge, double early_time, double late_time, bool source = false);
    std::uint32_t number(std::uint32_t of, std::uint32_t place);
    void number_ways(ClockSet& at);

    const Graph& g_;
    const Constraints& k_;
    const Delays& delays_;
    std::vector<bool> propagated_;
    std::vector<int> state_;  ///< 0 new, 1 open, 2 done
    std::vector<Source> source_;
    std::vector<NodeId> named_;   ///< per node: the nearest place before it that a latency names; empty: none is named
    std::vector<Latency> ideal_;  ///< per clock and edge, where no pin is named
    std::vector<Step> steps_;     ///< the first one stands for nothing
    std::unordered_map<std::uint64_t, std::uint32_t> numbers_;  ///< of trails and stretches
};

/// An edge of a clock; no_id: none.
struct ClockEdge {
    std::uint32_t clock = no_id;
    int edge = rise;
};

/// Uncertainty that counts between two clocks at an endpoint. One between the clocks wins over the capture clock's own,
/// and of those one on the endpoint's clock pin or port over one on the clock or its source.
[[nodiscard]] double uncertainty(const Constraints& constraints, ClockEdge launch, ClockEdge capture,
                                 ObjectRef endpoint, bool setup);

}  // namespace kp::timing
