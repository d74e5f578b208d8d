// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/timing/checks.hpp"

#include <vector>

namespace kp::timing {

/// The `most` worst paths that end in the given comparisons of one endpoint and check, worst first, without duplicates.
/// Best-first search from the endpoint backwards (A*, Hart, Nilsson and Raphael 1968): the arrival at the open end is the
/// exact length of the best way on, so paths leave the queue in order of slack.
[[nodiscard]] std::vector<TimingPath> worst_paths(Propagation& propagation, const std::vector<Seed*>& seeds, size_t most);

/// Longest and shortest delay to each node from any start pin, without latency or port delay; for endpoints nothing constrains.
struct PlainDelay {
    double longest = never_late, shortest = never_early;
    NodeId start = no_id;  ///< of the longest
};
[[nodiscard]] std::vector<PlainDelay> plain_delays(const Graph& graph);

}  // namespace kp::timing
