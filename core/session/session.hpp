// SPDX-License-Identifier: GPL-3.0-or-later
// The open project: document (edits, undo, journal, save), deriver (what follows from it), run log and inputs on disk,
// under one face.
//
//     auto opened = kp::Session::open(kp::real_disk(), "vane.kpeg", kp::data_folder());
//     if (!opened) { … opened.first().sentence() … }
//     auto& s = *opened.value();
//     s.analyse_now();                                   // or start_analysis() and take_analysis()
//     s.apply(kp::peg_edit(s.project(), s.world().board, "tone", "112", "by hand"));
//     s.undo();
//     s.document().save();
//
// One thread owns a session (the window's, or kpeg's). Jobs of the deriver run elsewhere and see a copy of the project
// and the immutable world; whoever else needs more than a call's time takes a snapshot(). States: open and up to date;
// stale (the analysis is of older inputs). Every call is legal in both.
//
// More than fifteen public functions, for this reason: the window, kpeg and the tests all work through this class, and
// six of them only hand out what its parts hold, so that callers need not know which part that is.
#pragma once

#include "core/session/deriver.hpp"
#include "core/session/document.hpp"
#include "core/session/run_log.hpp"
#include "core/session/snapshot.hpp"
#include "core/session/watcher.hpp"

#include <functional>
#include <memory>
#include <string>
#include <vector>

namespace kp {

/// The window lists every endpoint with its worst path.
[[nodiscard]] inline TimingOptions window_options() {
    TimingOptions o;
    o.paths = 2000;
    return o;
}

/// What an edit of inputs needs before it can be taken, made beforehand on another thread: the world it leads to and
/// the rules on it.
struct Prepared {
    unsigned long long revision = 0;  ///< of the session that it fits
    std::shared_ptr<const World> world;
    std::unique_ptr<RuleKeeper> rules;
};

class Session {
public:
    /// Reads a project and all it names; see Document::open for what becomes of what a crash left behind. Errors: any
    /// reader's, with file and line; nothing is changed then.
    static Result<std::unique_ptr<Session>> open(Disk& disk, const std::string& path, const std::string& data,
                                                 const OpenOptions& options = {});
    ~Session();
    Session(const Session&) = delete;
    Session& operator=(const Session&) = delete;

    [[nodiscard]] Document& document() { return *document_; }
    [[nodiscard]] const Document& document() const { return *document_; }
    /// What follows, to be asked; what changes it are functions of the session.
    [[nodiscard]] const Deriver& deriver() const { return *deriver_; }
    [[nodiscard]] RunLog& log() const { return *log_; }
    [[nodiscard]] Watcher watcher() const;

    // What stands now. References live until the next call that changes something.
    [[nodiscard]] const Project& project() const { return document_->project(); }
    [[nodiscard]] const World& world() const { return *world_; }
    [[nodiscard]] const Analysis& analysis() const { return deriver_->analysis(); }
    /// Without their fixes: see RuleKeeper::fixes_of().
    [[nodiscard]] const std::vector<Finding>& findings() const { return deriver_->rules().findings(); }
    [[nodiscard]] const Plan& plan() const { return deriver_->rules().plan(); }
    /// The ways out of a finding, and what the findings would be after an edit. References into findings() end here.
    [[nodiscard]] std::vector<Fix> fixes_of(const Finding& finding) const {
        return deriver_->rules().fixes_of(finding);
    }
    [[nodiscard]] std::vector<Finding> findings_after(const Edit& edit) const {
        return deriver_->rules().findings_after(edit);
    }
    /// All of it as a value. Copies the project at the first call after an edit.
    [[nodiscard]] std::shared_ptr<const Snapshot> snapshot() const;
    /// Grows with every edit.
    [[nodiscard]] unsigned long long revision() const { return revision_; }
    [[nodiscard]] bool stale() const { return deriver_->stale(); }

    /// Applies an edit, notes it in the journal, and lets the rules follow. Errors: see kp::apply and Document::apply,
    /// and a world that cannot be loaded with the edit; code "old" when `prepared` is of another revision. Nothing is
    /// changed then. An empty edit does nothing. Without `prepared` an edit of inputs reads them on this thread.
    Status apply(const Edit& edit, Prepared prepared = {});
    Status undo(Prepared prepared = {});
    Status redo(Prepared prepared = {});
    /// Takes a rereading of the inputs over: the new world, and one edit (one undo) with the constraint texts of
    /// `constraints` as they are on disk and the accepted renames carried through. Errors: as apply and the disk's;
    /// nothing is taken then.
    Status accept(const Rereading& reading, const std::vector<PortRename>& renames,
                  const std::vector<std::string>& constraints = {});
    /// Changes of the document that are not a single edit, such as a file that was merged or a journal that was found,
    /// with all that follows. Errors: those of `change`, and a world that cannot be loaded; the document's edits are
    /// taken back then.
    Status change_document(const std::string& title, const std::function<Status(Document&)>& change);
    /// Paths that may be read from now on, although they lie outside of the project's folder.
    void allow(const std::string& path);

    /// Works out what is stale on this thread and adds a log entry.
    void analyse_now();
    /// The same by a job; see Deriver::start.
    void start_analysis(std::function<void()> ready) { deriver_->start(project(), std::move(ready)); }
    /// Takes a waiting result over; false when there is none or it is of other inputs. The log entry is the caller's to
    /// ask for: it costs a synced line.
    bool take_analysis();
    /// Stops a job that works the analysis out; what stood before stays, and is stale.
    void cancel_analysis() { deriver_->cancel(); }
    /// The next analysis works out everything, as if all inputs had changed: files that a script reads may be others.
    void forget_analysis() { deriver_->force(); }
    /// See Deriver::change_grounds.
    void change_grounds(const std::function<void(Grounds&)>& change) { deriver_->change_grounds(change); }
    /// The queue of the session; for all work on its snapshots.
    [[nodiscard]] Jobs& jobs() const { return deriver_->jobs(); }
    /// Adds a log entry for the state as it is, unless it is stale.
    void note_run();
    /// What is at risk (journal, log), and what to do; empty when all is well.
    [[nodiscard]] std::vector<Message> risks() const;

private:
    Session(Disk& disk, std::unique_ptr<Document> document, const std::string& data);
    /// Lets the document take an edit, and whatever follows from it; `take` is one of its ways to do so.
    Status change(const Edit& edit, Prepared prepared, const std::function<Status()>& take);
    /// Of files that changed since they were asked for last; large ones by size and time.
    [[nodiscard]] std::map<std::string, std::string> input_digests();
    void begin(std::shared_ptr<const World> world, std::unique_ptr<RuleKeeper> rules, const std::string& title);

    Disk& disk_;
    std::unique_ptr<Document> document_;
    std::shared_ptr<const World> world_;
    std::unique_ptr<Deriver> deriver_;
    std::unique_ptr<RunLog> log_;
    std::string last_title_ = "opened";
    unsigned long long revision_ = 1;
    std::map<std::string, std::pair<unsigned long long, std::string>> digests_;  ///< by path: stamp and digest
    mutable std::shared_ptr<const Snapshot> snapshot_;                           ///< of now, once somebody asked
};

/// Reads the inputs that `edit` leads to from `now` and runs the rules on them. On any thread. Errors: an edit that
/// does not fit, an input that changed on disk meanwhile (code "changed"), any reader's.
[[nodiscard]] Result<std::shared_ptr<Prepared>> prepare(const Snapshot& now, const Edit& edit);

}  // namespace kp
