// SPDX-License-Identifier: GPL-3.0-or-later
// What is remembered for this user of this machine, outside of every project: a stranger's project cannot bring it
// along.
#pragma once

#include "core/base/disk.hpp"

#include <string>
#include <vector>

namespace kp {

/// $KITE_PEG_USER, else kite-peg in $XDG_STATE_HOME or ~/.local/state; empty when there is no home.
[[nodiscard]] std::string user_folder();

class UserMemory {
public:
    /// An empty folder remembers nothing.
    UserMemory(Disk& disk, std::string folder) : disk_(disk), folder_(std::move(folder)) {}

    /// Files and folders outside its own folder that a project may read, real paths. `project`: its real path.
    [[nodiscard]] std::vector<std::string> allowed(const std::string& project) const;
    /// Errors: the disk's; nothing is remembered then.
    Status allow(const std::string& project, const std::vector<std::string>& paths);

    /// The secret with which recovery journals are sealed; empty when there is none yet.
    [[nodiscard]] std::string seal() const;
    /// The same; it is made when there is none. Still empty when it cannot be.
    [[nodiscard]] std::string make_seal();

private:
    [[nodiscard]] std::string file(const std::string& name) const { return folder_ + "/" + name; }
    Disk& disk_;
    std::string folder_;
};

}  // namespace kp
