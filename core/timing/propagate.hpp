// SPDX-License-Identifier: GPL-3.0-or-later
// Arrivals per node, kept apart by tag: launching clock, its edge, and the state of the exceptions.
#pragma once

#include "core/timing/clocks.hpp"
#include "core/timing/exceptions.hpp"

#include <limits>
#include <map>
#include <stop_token>
#include <vector>

namespace kp::timing {

struct Tag {
    std::uint32_t clock = no_id;  ///< no_id: a port without a clock
    int clock_edge = rise;
    Exceptions::StateId state = 0;
    auto operator<=>(const Tag&) const = default;
};
using TagId = std::uint32_t;

/// Time since the launch edge, by side and data edge; +inf (early) and -inf (late) where nothing arrives.
struct Arrival {
    TagId tag = 0;
    double time[2][2];
};

/// Where a path begins: a register's clock pin (the delay to `node`, its output, included) or an input port.
struct Start {
    NodeId node = 0;
    NodeId pin = 0;        ///< the clock pin, or the port itself
    ArcId arc = no_id;     ///< launching arc of a register
    TagId tag = 0;
    int pin_edge = rise;
    double offset[2];      ///< latency (and input delay) before the first cell, by side
    double latency[2];     ///< of which clock latency
    double time[2][2];     ///< offset + launching arc
    bool input_delay = false;
    std::uint32_t clock_entry = no_id;  ///< in the list of clocks at `pin`; no_id: a port delay, or no clock
    bool shares_source = true;          ///< false when the port delay holds the source latency already
    bool borrowed = false;              ///< through an open latch: `pin` is its data pin
};

constexpr double never_early = std::numeric_limits<double>::infinity();
constexpr double never_late = -std::numeric_limits<double>::infinity();

class Propagation {
public:
    Propagation(const Graph& graph, const Constraints& constraints, const std::vector<std::vector<ClockAt>>& clocks_at, const ClockTimes& times, Exceptions& exceptions)
        : g(graph), constraints(constraints), clocks_at(clocks_at), times(times), exceptions(exceptions) {}

    /// One pass in topological order. False when cancelled.
    bool run(const std::stop_token& stop);

    const Graph& g;
    const Constraints& constraints;
    const std::vector<std::vector<ClockAt>>& clocks_at;
    const ClockTimes& times;
    Exceptions& exceptions;
    std::vector<Tag> tags;
    std::vector<std::vector<Arrival>> at;     ///< per node
    std::vector<Start> starts;
    std::vector<std::vector<std::uint32_t>> starts_at;  ///< per node, into `starts`
    /// The tag of a path with `tag` after passing `node` with `edge`.
    [[nodiscard]] TagId passed(TagId tag, NodeId node, int edge);
    /// Some start has no share in its clock's source latency, so credit is not the same for all of a tag.
    bool any_unshared = false;

private:
    TagId intern(const Tag& tag);
    void start_registers();
    void start_ports();
    void start_inner_clocks();
    void clock_as_data(NodeId node);
    void through_latch(ArcId arc);
    void add_start(Start s, std::uint32_t clock, int clock_edge);
    void merge(NodeId node, TagId tag, int edge, double early_time, double late_time);
    std::map<Tag, TagId> ids_;
    std::map<std::uint32_t, std::vector<ArcId>> enables_;  ///< of latches: cell, its enabling arcs
};

}  // namespace kp::timing
