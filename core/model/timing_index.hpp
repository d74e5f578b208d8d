// SPDX-License-Identifier: GPL-3.0-or-later
// Questions to a timing report that would otherwise be joins by name: which path belongs to an endpoint, what slack a
// port has.
#pragma once

#include "core/model/timing_report.hpp"

#include <optional>
#include <string>
#include <string_view>
#include <unordered_map>
#include <vector>

namespace kp {

/// The worst slacks of the paths that begin or end at a port, ns. Of setup and recovery, which ask whether data is too
/// late, and of hold and removal, which ask whether it is too early.
struct PortSlack {
    std::optional<double> late, early;
    [[nodiscard]] std::optional<double> worst() const {
        if (!late || !early) return late ? late : early;
        return *late < *early ? late : early;
    }
};

/// Where the delay of a path's data comes from, ns.
struct PathShare {
    double wire = 0, cell = 0, outside = 0;  ///< outside: input delay and the launch
};
[[nodiscard]] PathShare share_of(const TimingPath& path);

/// Immutable; the report outlives it. Making it is linear in the report.
class TimingIndex {
public:
    explicit TimingIndex(const TimingReport& report);
    /// Position in TimingReport::paths of the worst path of an endpoint; -1 when the report lists none.
    [[nodiscard]] int path_of(const EndpointSlack& endpoint) const;
    /// Of a port by name. An input is where paths begin: it has the slack of the worst that the report lists, and none
    /// when the report lists no path from it.
    [[nodiscard]] PortSlack slack_of_port(std::string_view port) const;

private:
    std::unordered_map<std::string, int> path_of_;  ///< by check and endpoint
    std::unordered_map<std::string, PortSlack> slack_;
};

}  // namespace kp
