// SPDX-License-Identifier: GPL-3.0-or-later
// Learned patterns that this user kept: one file each in a folder of the user's, outside of every project.
#pragma once

#include "core/base/disk.hpp"
#include "core/format/lines/read.hpp"

#include <string>
#include <vector>

namespace kp {

class PatternMemory {
public:
    /// `folder` is that of user_folder(); an empty one keeps nothing.
    PatternMemory(Disk& disk, std::string folder) : disk_(disk), folder_(std::move(folder)) {}
    /// By name; files that do not read are left out.
    [[nodiscard]] std::vector<lines::Pattern> all() const;
    /// Keeps it under its name; one of that name is replaced. Errors: no name, no folder, the disk's.
    Status keep(const lines::Pattern& pattern);

private:
    [[nodiscard]] std::string below() const { return folder_ + "/lines"; }
    Disk& disk_;
    std::string folder_;
};

/// What was read, as a pin sheet with the columns that it has: for Compare, and for a table of a board. A standard that
/// is none of ours is written as what it likely is.
[[nodiscard]] std::string sheet_of(const lines::Reading& reading, const StandardTable& standards);

}  // namespace kp
