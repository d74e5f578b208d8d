// SPDX-License-Identifier: GPL-3.0-or-later
// The open project: inputs, what is derived from them, undo, log, save and recover.
//
//     auto opened = kp::Session::open(kp::real_disk(), "vane.kpeg", kp::data_folder());
//     if (!opened) { … opened.first().sentence() … }
//     auto& s = *opened.value();
//     s.analyse_now();                                   // or start_analysis() and take_analysis()
//     s.apply(kp::peg_edit(s.project(), s.world().board, "tone", "112", "by hand"));
//     s.undo();
//     s.save();
//
// One thread owns a session (the window's, or kpeg's). Only the worker that start_analysis() makes runs elsewhere; it sees
// a copy of the project and the immutable world. States: open and up to date; stale (analysis().revision behind
// revision()); every call is legal in both.
#pragma once

#include "core/session/derive.hpp"
#include "core/pegs/attributes.hpp"
#include "core/pegs/place.hpp"
#include "core/session/document.hpp"
#include "core/session/log.hpp"
#include "core/session/reread.hpp"

#include <functional>
#include <map>
#include <memory>
#include <mutex>
#include <string>
#include <thread>
#include <vector>

namespace kp {

class LiveRules;  // core/rules/live.hpp
class Timekeeper;  // core/session/timekeeper.hpp

/// The window lists every endpoint with its worst path.
[[nodiscard]] inline TimingOptions window_options() {
    TimingOptions o;
    o.paths = 2000;
    return o;
}

/// What follows from a project that is not the session's own: a preview, a trial. Empty pointers: its inputs cannot be read.
struct Derived {
    std::shared_ptr<const World> world;
    std::shared_ptr<const Analysis> analysis;
    std::vector<Finding> findings;
};

class Session {
public:
    /// Reads a project and all it names; see Document::open for what becomes of what a crash left behind. Errors: any reader's, with
    /// file and line; nothing is changed then.
    static Result<std::unique_ptr<Session>> open(Disk& disk, const std::string& path, const std::string& data, const OpenOptions& options = {});
    ~Session();
    Session(const Session&) = delete;
    Session& operator=(const Session&) = delete;

    [[nodiscard]] const Project& project() const { return document_->project(); }
    [[nodiscard]] const Document& document() const { return *document_; }
    [[nodiscard]] const World& world() const { return *world_; }
    [[nodiscard]] std::shared_ptr<const World> world_ptr() const { return world_; }
    [[nodiscard]] const Analysis& analysis() const { return *analysis_; }
    /// Without their fixes: see fixes_of().
    [[nodiscard]] const std::vector<Finding>& findings() const;
    [[nodiscard]] const std::string& path() const { return document_->path(); }
    [[nodiscard]] std::string folder() const { return document_->folder(); }
    /// What opening has to tell: what came back, what is offered, why it is only looked at.
    [[nodiscard]] const std::vector<Message>& opening_notes() const { return document_->notes(); }

    /// Applies an edit, notes it in the journal, runs the rules. Errors: see kp::apply, and a world that cannot be loaded
    /// with the edit (then nothing is changed). An empty edit does nothing.
    Status apply(const Edit& edit);
    [[nodiscard]] bool can_undo() const { return !document_->done().empty(); }
    [[nodiscard]] bool can_redo() const { return !document_->undone().empty(); }
    [[nodiscard]] std::string undo_title() const { return can_undo() ? document_->done().back().title : ""; }
    [[nodiscard]] std::string redo_title() const { return can_redo() ? document_->undone().back().title : ""; }
    Status undo();
    Status redo();
    /// What the findings would be after an edit; the session stays as it is. Text edits are run through the engine.
    [[nodiscard]] std::vector<Finding> preview(const Edit& edit) const;
    /// The same for a whole project, `next`, which came from `before` with its analysis. Only what differs is worked out anew.
    [[nodiscard]] Derived derive(const Project& next, const Project& before, const std::shared_ptr<const Analysis>& analysis) const;

    /// What a chip at the cable answered when it was asked who it is; for rule P01, until the project is closed.
    void note_idcode(std::uint32_t idcode);
    /// The ways out of a finding; computed when asked for.
    [[nodiscard]] std::vector<Fix> fixes_of(const Finding& finding) const;

    /// Reads all inputs again beside the open ones and says what became of the ports. Errors: any reader's; nothing changes.
    [[nodiscard]] Result<Rereading> reread() const;
    /// Takes a rereading over: the new world, and one edit (one undo) with the constraint texts of `constraints` as they are
    /// on disk and the accepted renames carried through. Errors: as apply and the disk's; nothing is taken then.
    Status accept(const Rereading& reading, const std::vector<PortRename>& renames, const std::vector<std::string>& constraints = {});
    /// Constraint files, and the project file by its name, whose text on disk is no longer what was read or saved last.
    [[nodiscard]] std::vector<std::string> changed_own_files() const;
    /// Ports that differ from those the project last accepted, such as after a change while it was closed.
    [[nodiscard]] PortMerge port_changes() const { return compare_ports(accepted_ports(project(), world().netlist.ports), group_ports(world().netlist.ports)); }

    /// Grows with every edit.
    [[nodiscard]] unsigned long long revision() const { return revision_; }
    [[nodiscard]] bool stale() const { return analysed_ != revision_; }
    /// Recomputes all on this thread and adds a log entry.
    void analyse_now();
    /// Recomputes on a worker; one that is under way is cancelled. `ready` is called on the worker when the result waits.
    void start_analysis(std::function<void()> ready);
    /// Takes a waiting result over; false when there is none or it belongs to an older revision.
    bool take_analysis();
    void cancel_analysis();
    [[nodiscard]] bool analysing() const { return running_; }

    /// As Document::save.
    Status save();
    [[nodiscard]] bool unsaved() const { return document_->unsaved(); }
    /// As Document::resolve, with all that follows from it.
    Status resolve(const Conflict& conflict, const std::string& text);
    /// As Document::take_offer and leave_offer.
    Result<size_t> take_offer();
    Result<std::string> leave_offer() { return document_->leave_offer(); }
    void allow(const std::string& path) { document_->allow(path); }
    /// What is at risk (journal, log), and what to do; empty when all is well.
    [[nodiscard]] std::vector<Message> risks() const;
    /// Reading the log takes time when it is long: it happens at the first call.
    [[nodiscard]] Log& log() const { return log_; }
    [[nodiscard]] TimingOptions& timing_options() { return options_; }
    /// The engine that analyses stand on; for questions of the kind "what if".
    [[nodiscard]] std::shared_ptr<Timekeeper> timekeeper() const { return keeper_; }

private:
    Session(Disk& disk, std::unique_ptr<Document> document, std::string data);
    /// Lets the document take an edit, and whatever follows from it; `take` is one of its ways to do so.
    Status change(const Edit& edit, const std::function<Status()>& take);
    Result<std::shared_ptr<const World>> world_with(const Project& next) const;
    void find_again();
    void add_log_entry();

    Disk& disk_;
    std::string data_;
    std::unique_ptr<Document> document_;
    std::shared_ptr<const World> world_;
    std::shared_ptr<const Analysis> analysis_ = std::make_shared<Analysis>();
    std::unique_ptr<RuleInput> rule_input_;
    std::unique_ptr<LiveRules> live_;  ///< looks at rule_input_
    std::optional<std::uint32_t> idcode_read_;
    std::vector<Finding> no_findings_;  ///< before the rules ran first
    mutable Log log_;
    std::optional<Message> log_trouble_;
    TimingOptions options_ = window_options();
    std::string last_title_ = "opened";
    unsigned long long revision_ = 1, analysed_ = 0;

    std::shared_ptr<Timekeeper> keeper_;
    std::mutex waiting_lock_;  // guards waiting_ and waiting_revision_, written by the worker
    std::shared_ptr<const Analysis> waiting_;
    unsigned long long waiting_revision_ = 0;
    bool running_ = false;
    std::jthread worker_;
};

}  // namespace kp
