// SPDX-License-Identifier: GPL-3.0-or-later
// One pass over endpoints and paths; both are worst first, so the first that is met counts for a path.
#include "core/model/timing_index.hpp"

#include <algorithm>

namespace kp {

namespace {

std::string key_of(const std::string& check, const std::string& endpoint) {
    return check + ' ' + endpoint;
}

void lower_to(std::optional<double>& slot, double value) {
    slot = slot ? std::min(*slot, value) : value;
}

void count(PortSlack& port, const std::string& check, double slack) {
    if (check == "setup" || check == "recovery") lower_to(port.late, slack);
    if (check == "hold" || check == "removal") lower_to(port.early, slack);
}

}  // namespace

PathShare share_of(const TimingPath& path) {
    PathShare out;
    for (const auto& point : path.points) {
        if (point.kind == PointKind::wire)
            out.wire += point.delay;
        else if (point.kind == PointKind::cell)
            out.cell += point.delay;
        else if (!is_end(point.kind))
            out.outside += point.delay;
    }
    return out;
}

TimingIndex::TimingIndex(const TimingReport& report) {
    path_of_.reserve(report.paths.size());
    for (size_t i = 0; i < report.paths.size(); ++i) {
        const auto& path = report.paths[i];
        path_of_.try_emplace(key_of(path.check, path.endpoint), static_cast<int>(i));
        count(slack_[path.startpoint], path.check, path.slack);
    }
    for (const auto& e : report.endpoints) count(slack_[e.endpoint], e.check, e.slack);
}

int TimingIndex::path_of(const EndpointSlack& e) const {
    const auto at = path_of_.find(key_of(e.check, e.endpoint));
    return at == path_of_.end() ? -1 : at->second;
}

PortSlack TimingIndex::slack_of_port(std::string_view port) const {
    const auto at = slack_.find(std::string(port));
    return at == slack_.end() ? PortSlack{} : at->second;
}

}  // namespace kp
