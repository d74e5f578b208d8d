// SPDX-License-Identifier: GPL-3.0-or-later
// The recovery journal: a text file beside the project, one JSON object a line, each with a checksum.
//
//   J1  An edit whose append() returned is found again after a crash at any later moment.
//   J2  A line cut off or damaged ends the replay; what stands before it counts, and replay says that it was cut.
//   J3  A journal that belongs to another state of the files is not applied.
//   J4  A save writes the whole new state as one line before it touches any file; if it is interrupted, opening finishes it.
#pragma once

#include "core/base/disk.hpp"
#include "core/model/edit.hpp"

#include <map>
#include <optional>
#include <string>
#include <vector>

namespace kp {

class Journal {
public:
    Journal(Disk& disk, std::string path) : disk_(disk), path_(std::move(path)) {}

    /// What opening found.
    struct Found {
        std::vector<Edit> edits;                                      ///< to be applied to the state named by `base`
        std::optional<std::map<std::string, std::string>> unfinished;  ///< files of a save that was interrupted
        bool cut = false;
    };
    /// Reads a journal left behind for the state `base` (a checksum); empty when there is none or it belongs elsewhere.
    [[nodiscard]] Found read(const std::string& base);
    /// Starts a new journal for the state `base` with the first edit; later ones are appended.
    Status append(const Edit& edit, const std::string& base);
    /// Promise J4. `files`: full text by path.
    Status saving(const std::map<std::string, std::string>& files);
    Status clear();

private:
    Disk& disk_;
    std::string path_;
    bool started_ = false;
};

}  // namespace kp
