// SPDX-License-Identifier: GPL-3.0-or-later
// What the engine that is kept tells of one row of a timing report, beyond what the report lists.
#pragma once

#include "core/session/snapshot.hpp"

#include <string>
#include <utility>
#include <vector>

namespace kp {

struct PathAnswer {
    std::vector<PathDetail> paths;                        ///< the worst first; empty: the engine is busy or knows none
    std::vector<std::pair<std::string, double>> corners;  ///< slack of the same check in each corner, ns
};

/// The worst paths of an endpoint and check, at most `most`; of a width or a period the way of its clock.
[[nodiscard]] PathAnswer paths_of(const Snapshot& now, const EndpointSlack& row, size_t most = 20);
/// The longest way of what nothing constrains.
[[nodiscard]] PathAnswer paths_of(const Snapshot& now, const UnconstrainedPath& row);

}  // namespace kp
