// SPDX-License-Identifier: GPL-3.0-or-later
// Questions wait for nobody: while a report is under way the answer is empty, and is asked again after it.
#include "core/session/path_questions.hpp"

#include "core/session/timekeeper.hpp"

namespace kp {

PathAnswer paths_of(const Snapshot& now, const EndpointSlack& row, size_t most) {
    PathAnswer out;
    const bool pulse = row.check == "pulse_width" || row.check == "period";
    now.grounds->timekeeper->ask([&](const TimingEngine& engine) {
        if (!pulse) {
            out.paths = engine.paths_to(row.check, row.endpoint, most);
        } else if (auto way = engine.clock_path(row.capture_clock, row.endpoint)) {
            way->path.check = row.check;
            way->path.slack = row.slack;
            out.paths.push_back(std::move(*way));
        }
        for (const auto& c : now.world->corners)
            for (const auto& d : engine.paths_to(row.check, row.endpoint, 1, c.spec.name))
                out.corners.emplace_back(c.spec.name, d.path.slack);
    });
    return out;
}

PathAnswer paths_of(const Snapshot& now, const UnconstrainedPath& row) {
    PathAnswer out;
    now.grounds->timekeeper->ask([&](const TimingEngine& engine) {
        if (auto way = engine.free_path(row.startpoint, row.endpoint)) out.paths.push_back(std::move(*way));
    });
    return out;
}

}  // namespace kp
