// SPDX-License-Identifier: GPL-3.0-or-later
// The open project as it was at one moment, with all that follows from it. A value that never changes: whoever needs
// derived data for longer than a call (a drag, a page, a job, a preview) holds one, on any thread, and sees by its
// revision when it has become old.
#pragma once

#include "core/model/finding.hpp"
#include "core/session/analysis.hpp"

#include <cstdint>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace kp {

class Timekeeper;  // core/session/timekeeper.hpp

/// Where the project lies and what its questions are asked with; the same for all snapshots of a session but for what
/// was allowed and what the cable said.
struct Grounds {
    Disk* disk = nullptr;  ///< outlives the session and all its snapshots
    std::string path, folder, data;
    Reach reach;
    TimingOptions options;
    std::optional<std::uint32_t> idcode;     ///< what a chip at the cable said
    std::shared_ptr<Timekeeper> timekeeper;  ///< the engine that analyses stand on; safe from any thread
};

struct Snapshot {
    unsigned long long revision = 0;  ///< of the session, see Session::revision()
    bool stale = false;               ///< `analysis` is of older inputs than `project` and `world`
    std::shared_ptr<const Grounds> grounds;
    std::shared_ptr<const Project> project;
    std::shared_ptr<const World> world;
    Analysis analysis;
    std::shared_ptr<const std::vector<Finding>> findings;
};

/// The world of a project that lies where the grounds say; see load_world in core/inputs/world.hpp.
[[nodiscard]] inline Result<std::shared_ptr<const World>> load_world(const Grounds& grounds, const Project& project) {
    return load_world(*grounds.disk, project, grounds.folder, grounds.data, grounds.reach);
}

}  // namespace kp
