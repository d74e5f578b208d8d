// SPDX-License-Identifier: GPL-3.0-or-later
// What the user makes: the project file and the constraint files, with edits, undo, recovery journal, save and lock.
// Nothing here knows of parts, netlists or timing. docs/saving-and-recovery.md tells the states, every step, and what
// each crash point leaves.
//
//   S1  A save leaves each file whole: the old text or the new.
//   S2  A file that another program changed since it was read is never written over before the user has seen both
//       sides.
//   S3  One program at a time works on a project; a second one looks, or takes over knowingly.
//   S4  A document that is opened to look writes nothing at all.
#pragma once

#include "core/format/json/project_json.hpp"
#include "core/session/journal.hpp"
#include "core/inputs/reach.hpp"

#include <memory>
#include <string>
#include <vector>

namespace kp {

enum class OpenTo { look, work };

struct OpenOptions {
    OpenTo purpose = OpenTo::work;   ///< to work, the lock is needed; whoever does not get it looks
    std::string program = "kpeg";    ///< who works, for others to read: "window", "kpeg pegs"
    bool take_over = false;          ///< the lock of another, knowingly
    std::vector<std::string> allow;  ///< paths outside the project's folder, for this once
    std::string user = user_folder();
};

/// A file of the user's that another program changed meanwhile.
struct Conflict {
    std::string name;  ///< "" is the project file
    std::string path;
    std::string base, mine, theirs;  ///< as both began, as it is here, as it is on disk
};

/// Edits that opening found and did not take by itself.
struct Offer {
    bool foreign = false;              ///< not made by this user on this machine
    std::vector<std::string> changed;  ///< files that are of another state than the edits speak of
    std::vector<std::string> changes;  ///< what it would do, one line a change, in order
    std::string sentence;              ///< what it is and why it was not taken
};

class Document {
public:
    /// Reads the project and its constraint files, and replays the edits that a crash left behind where they belong to
    /// exactly these files and this user made them. To work, a save that was interrupted is finished. Errors: any
    /// reader's; a constraint file outside the project's folder that is not allowed (code "outside"), all of them.
    /// Nothing is changed then.
    static Result<std::unique_ptr<Document>> open(Disk& disk, const std::string& path, const OpenOptions& options = {});

    [[nodiscard]] const Project& project() const { return file_.project; }
    [[nodiscard]] const std::string& path() const { return path_; }
    [[nodiscard]] std::string folder() const { return folder_of(path_); }
    [[nodiscard]] const std::vector<Message>& notes() const { return notes_; }
    [[nodiscard]] const Reach& reach() const { return reach_; }
    /// For as long as it is open; UserMemory remembers for longer.
    void allow(const std::string& path) { reach_.allow(path); }

    /// Applies an edit and notes it in the journal; it counts for undo. Errors: see kp::apply; a document that only
    /// looks (code "looking") or was taken over (code "taken-over"); a new constraint file outside. Nothing is changed
    /// then.
    Status apply(const Edit& edit);
    Status undo();
    Status redo();
    [[nodiscard]] const std::vector<Edit>& undone() const { return redo_; }
    [[nodiscard]] const std::vector<Edit>& done() const { return undo_; }
    [[nodiscard]] bool can_undo() const { return !undo_.empty(); }
    [[nodiscard]] bool can_redo() const { return !redo_.empty(); }
    /// The edit that undo() will apply; only when there is one.
    [[nodiscard]] Edit undo_edit() const;

    /// Writes what is other than on disk. Errors: code "changed" when another program changed a file meanwhile (see
    /// conflicts()); looking, taken over; the disk's. The journal, or the document, still has everything then.
    Status save();
    [[nodiscard]] bool unsaved() const;

    /// Files that were edited here and that others changed on disk, both sides.
    [[nodiscard]] std::vector<Conflict> conflicts() const;
    /// Names of the files that are other on disk than they were read, saved or seen.
    [[nodiscard]] std::vector<std::string> changed_on_disk() const;
    /// Takes `text`, whichever of both sides or a mixture it is, as one edit; what is on disk now has then been seen.
    /// Errors: a text of the project file that does not read; as apply().
    Status resolve(const Conflict& conflict, const std::string& text);
    /// Constraint texts that were read from disk again and taken over by an edit.
    void seen(const OwnFiles& files);

    [[nodiscard]] const std::optional<Offer>& offer() const { return offer_; }
    /// Applies those of the offered edits that still fit; gives how many did not. The journal they came from is set
    /// aside first.
    Result<size_t> take_offer();
    /// Renames that journal away; gives its new name.
    Result<std::string> leave_offer();

    [[nodiscard]] bool looking() const { return lock_ == nullptr; }
    [[nodiscard]] bool taken_over() const { return lock_ && !lock_->held(); }
    /// Who works on it, when this one only looks for that: "the window of kim on bench2, since 2026-11-27 10:12". Else
    /// empty.
    [[nodiscard]] const std::string& owner() const { return owner_; }
    /// What is at risk, when edits are not in the journal; and what to do.
    [[nodiscard]] std::optional<Message> risk() const;
    /// True when something is neither saved nor in the journal.
    [[nodiscard]] bool unkept() const { return unsaved() && risk_.has_value(); }

private:
    Document(Disk& disk, std::string path, const OpenOptions& options);
    Status read_files();
    [[nodiscard]] Result<ProjectFile> read_own(std::string_view text, const std::string& path) const;
    [[nodiscard]] Status check_names(const Project& project) const;
    Status take_lock(const OpenOptions& options);
    void recover();
    bool belongs(const Journal::Found& found, std::vector<std::string>& changed) const;
    Status replay(const std::vector<Journal::Step>& steps);
    [[nodiscard]] Result<ProjectFile> state_from(const OwnFiles& state) const;
    Status may_write() const;
    Status change(const Edit& edit);
    void rebase();
    [[nodiscard]] OwnFiles texts() const;
    [[nodiscard]] bool edited(const std::string& name, const std::string& text) const;
    void note_project_as_read();
    [[nodiscard]] OwnFiles checksums() const;
    [[nodiscard]] std::string place(const std::string& name) const;
    void note(Severity severity, Code code, const std::string& text);

    Disk& disk_;
    std::string path_;
    UserMemory user_;
    Reach reach_;
    ProjectFile file_;
    OwnFiles on_disk_;  ///< the files as last read, saved or seen
    std::string
        project_as_read_;  ///< what that project file would be if it were written: ours to the byte, whoever wrote it
    std::vector<Edit> undo_, redo_;
    std::vector<Message> notes_;
    Journal journal_;
    std::optional<Message> risk_;
    std::optional<Offer> offer_;
    std::vector<Journal::Step> offered_;
    std::unique_ptr<FileLock> lock_;
    std::string owner_;
    unsigned long long revision_ = 0, saved_ = 0;
};

}  // namespace kp
