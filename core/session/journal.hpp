// SPDX-License-Identifier: GPL-3.0-or-later
// The recovery journal: a text file beside the project, one JSON object a line. docs/saving-and-recovery.md tells the
// whole protocol.
//
//   J1  An edit whose append() returned well is found again after a crash at any later moment, also after appends and
//       saves that failed.
//   J2  A line cut off or damaged ends the replay; what stands before it counts, and the next append cuts the file at
//       the tear.
//   J3  A journal names the state of the files it speaks of. It says so when they have another; nothing is thrown away
//       for that.
//   J4  A save writes the whole new state as one line before it touches any file.
//   J5  It names no files but the project's own, relative to the project; and it tells whether this user made it on
//       this machine.
//   J6  Reading changes nothing.
//
// A line is "CHECK SEAL BODY": CHECK are 16 digits of the SHA-256 of the CHECK before and BODY (against damage, lines
// that are missing, and lines of two journals mixed); SEAL are 16 digits of their HMAC with the user's secret (against
// strangers), or 16 dashes.
#pragma once

#include "core/model/edit.hpp"
#include "core/session/user_memory.hpp"

#include <map>
#include <optional>
#include <string>
#include <vector>

namespace kp {

/// Texts or checksums of a project's own files, by name: "" is the project file, constraint files are named as in the
/// project.
using OwnFiles = std::map<std::string, std::string>;

class Journal {
public:
    Journal(Disk& disk, std::string path, UserMemory user)
        : disk_(disk), path_(std::move(path)), user_(std::move(user)) {}

    /// One line behind the header: an edit, or a whole state.
    struct Step {
        std::optional<Edit> edit;
        std::optional<OwnFiles> state;
        bool save = false;  ///< the state was about to be written
    };
    /// What was left behind.
    struct Found {
        OwnFiles base;  ///< SHA-256 of the files as they were when it was begun
        std::vector<Step> steps;
        bool cut = false;                ///< it ends in a line that is cut off or damaged
        bool ours = false;               ///< every line was sealed by this user of this machine
        bool old = false;                ///< of version 1, which names no files
        std::optional<Message> trouble;  ///< it is there and cannot be read
    };
    [[nodiscard]] Found read() const;

    /// Goes on from what read() found; later edits follow it.
    void resume(const Found& found);
    /// Begins anew; a file that is there goes at the next append.
    void begin(OwnFiles base);

    /// Promise J1. After an error the edit is kept in memory, and the next append writes all of them.
    Status append(const Edit& edit);
    /// Promise J4. `base`: checksums of the files as they are now, before the save.
    Status saving(const OwnFiles& state, OwnFiles base);
    /// A whole state instead of all that was appended: the files are other than when the journal was begun.
    Status state(const OwnFiles& state, OwnFiles base);
    /// All is saved: the file goes.
    Status clear();
    /// Renames the file to a free name beside it, which is the answer.
    Result<std::string> set_aside();
    /// True while everything appended is in the file.
    [[nodiscard]] bool kept() const { return kept_; }
    [[nodiscard]] const std::string& path() const { return path_; }

private:
    [[nodiscard]] std::string line_of(const std::string& body, std::string& check) const;
    [[nodiscard]] std::string header() const;
    Status put(const std::string& body);
    Status put_state(const char* key, const OwnFiles& state, OwnFiles base);
    Found read_lines(std::string_view text) const;

    Disk& disk_;
    std::string path_;
    UserMemory user_;
    std::string seal_;  ///< the user's secret, once it was needed
    OwnFiles base_;
    std::vector<std::string> bodies_;  ///< of all lines behind the header
    std::string check_;                ///< of the last line in the file
    bool in_file_ = false;             ///< the file holds the header and bodies_, and nothing else
    bool kept_ = true;
};

}  // namespace kp
