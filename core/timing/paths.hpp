// SPDX-License-Identifier: GPL-3.0-or-later
// The worst paths, point by point, ns.
#pragma once

#include "core/timing/ends.hpp"
#include "core/timing/sources.hpp"

#include <unordered_set>
#include <vector>

namespace kp::timing {

/// One corner, timed; everything outlives the search.
struct Timed {
    View view;
    const Constraints& k;
    const Ends& ends;
    const EndTimes& end_times;
    const std::vector<Lanes>& arrival;
    const Sources& sources;
    const ClockTimes& clock_times;
    const ClockSet& clocks;
};

/// Worst paths of one endpoint and check. Best-first from the endpoint backwards: the arrival at the open end of a path
/// is the exact length of its best continuation, so a path is followed along its best way on while all deviations from
/// it wait in a queue with their own bounds (the scheme of A*, Hart, Nilsson and Raphael 1968). Paths come in order of
/// slack and none comes twice. While the start of a path is open its slack without credit is a lower bound, since
/// credit only adds; a whole path waits with its credit, so the order is exact with credit too. Keeps its memory from
/// one search to the next; one per thread.
class PathSearch {
public:
    explicit PathSearch(const Timed& timed) : t_(timed) {}

    struct Found {
        double slack = 0;
        std::uint32_t step = 0;
    };
    /// The `most` worst paths with a slack up to `bound`; valid until the next search.
    const std::vector<Found>& search(const Group& group, size_t most, double bound = free_lane);
    [[nodiscard]] std::uint32_t comparison_of(const Found& found) const { return steps_[found.step].comparison; }
    [[nodiscard]] TimingPath tell(const Found& found) const;
    /// How the clocks come to both ends of a path.
    struct ClockWays {
        ClockTimes::WayId launch = 0, capture = 0;  ///< 0: there is none to follow
        double launch_latency = 0, capture_latency = 0;
    };
    [[nodiscard]] ClockWays clock_ways(const Found& found) const;

private:
    struct Step {
        double suffix = 0;  ///< delay from this slot to the endpoint, with the sign of its lane
        double credit = 0;  ///< of a whole path
        SlotId slot = 0;
        std::uint32_t way = 0;       ///< arc and pairs of the link towards the endpoint
        std::uint32_t next = no_id;  ///< the step behind it
        std::uint32_t comparison = 0;
        std::uint32_t start = no_id;  ///< set when the path is whole
        std::uint8_t edge = rise;
    };
    struct Waiting {
        double slack;
        std::uint32_t step;
        bool operator<(const Waiting& o) const { return slack > o.slack; }  // std::push_heap keeps the largest in front
    };
    void run(const Group& group, size_t most, double bound, bool straight);
    std::uint32_t keep(const Step& step);
    void wait(double slack, std::uint32_t step);
    void follow(std::uint32_t step);
    void open_starts(std::uint32_t index);
    [[nodiscard]] double credit(const Start& start, const Comparison& end) const;
    [[nodiscard]] bool first_visit(const Step& s);

    Timed t_;
    size_t most_ = 1;
    double bound_ = free_lane;
    bool straight_ =
        false;  ///< the best way on is followed and nothing else kept: exact where no path has credit of its own
    bool credited_ = false;  ///< some path had
    std::uint32_t first_comparison_ = 0;
    std::vector<Step> steps_;
    std::vector<Waiting> queue_;
    std::vector<Found> found_;
    std::unordered_set<std::uint64_t> seen_;
};

/// Longest and shortest delay to each node from any start pin, without latency or port delay; for endpoints nothing
/// constrains.
struct PlainDelay {
    double longest = never, shortest = free_lane;
    NodeId start = no_id;  ///< of the longest
};
[[nodiscard]] std::vector<PlainDelay> plain_delays(const Graph& graph, const Delays& delays);

/// The same from one start only: an input's node, or the clock pin of a register.
[[nodiscard]] std::vector<PlainDelay> plain_delays_from(const Graph& graph, const Delays& delays, NodeId start);
/// All starts of plain_delays, in the order of their nodes.
[[nodiscard]] std::vector<NodeId> plain_starts(const Graph& graph);

}  // namespace kp::timing
