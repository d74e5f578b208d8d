// SPDX-License-Identifier: GPL-3.0-or-later
// How far a project reaches: its own folder, what ships with the program, and what this user allowed it. A project that
// a stranger made must not bring files of the user's into a message, a report or a handoff.
#pragma once

#include "core/base/disk.hpp"

#include <string>
#include <vector>

namespace kp {

class Reach {
public:
    /// `allowed`: files and folders outside of `folder`.
    Reach(Disk& disk, const std::string& folder, const std::vector<std::string>& allowed);

    /// None when the file may be read and written; else what to say, with code "outside". Links are followed first.
    [[nodiscard]] std::optional<Message> refuse(const std::string& path) const;
    void allow(const std::string& path) { allowed_.push_back(disk_->real_path(path)); }

private:
    Disk* disk_;
    std::string folder_;
    std::vector<std::string> allowed_;
};

}  // namespace kp
