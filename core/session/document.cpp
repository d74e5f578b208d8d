// SPDX-License-Identifier: GPL-3.0-or-later
// Edits, saves and conflicts; recover.cpp has how a document is opened. A save costs reading and writing the files that
// differ; an edit one synced line. Every call is of one thread; what it answers with as a reference lives until the
// next change.
#include "core/session/document.hpp"

#include "core/base/bytes.hpp"
#include "core/base/checksum.hpp"
#include "core/base/text.hpp"
#include "core/format/json/world_json.hpp"
#include "core/model/former_names.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <set>

namespace kp {

namespace {

constexpr size_t largest_project = size_t{64} << 20, largest_constraints = size_t{16} << 20;
const std::string project_name;  // the key of the project file among its own files

Message stop(Code code, std::string text, std::string file = {}) {
    return {Severity::stop, code, std::move(text), std::move(file), 0, 0};
}

}  // namespace

Document::Document(Disk& disk, std::string path, const OpenOptions& options)
    : disk_(disk),
      path_(std::move(path)),
      user_(disk, options.user),
      reach_(disk, folder_of(path_), user_.allowed(disk.real_path(path_))),
      journal_(disk, beside(path_, ".journal"), user_) {
    for (const auto& allowed : options.allow) reach_.allow(allowed);
}

std::string Document::place(const std::string& name) const {
    return name.empty() ? path_ : join_path(folder(), name);
}

void Document::note(Severity severity, Code code, const std::string& text) {
    notes_.push_back({severity, code, text, path_, 0, 0});
}

Result<std::unique_ptr<Document>> Document::open(Disk& disk, const std::string& path, const OpenOptions& options) {
    auto out = std::unique_ptr<Document>(new Document(disk, path, options));
    if (auto status = out->take_lock(options); !status) return status.messages();
    if (auto status = out->read_files(); !status) return status.messages();
    out->recover();
    return out;
}

/// Two names for one file, or a name of a file that the program itself writes beside the project, would be written
/// twice by a save.
Status Document::check_names(const Project& project) const {
    std::set<std::string> taken{disk_.real_path(path_)};
    for (const char* ending : {".journal", ".log", ".lock", ".bak", ".new", ".bak.new", ".journal.new", ".log.new"})
        taken.insert(disk_.real_path(beside(path_, ending)));
    std::vector<Message> outside;
    for (const auto& file : project.constraints) {
        const auto where = join_path(folder(), file.path);
        if (!taken.insert(disk_.real_path(where)).second)
            return stop(Code::value,
                        said("The constraint file {} is named twice, or is a file of the project itself; take it out "
                             "of \"constraints\".",
                             file.path),
                        path_);
        if (auto why = reach_.refuse(where)) outside.push_back(std::move(*why));
    }
    if (!outside.empty()) return outside;
    return Done{};
}

/// A project file with the former ordering code of a made-up part gets the present one, with a note. A part file of the
/// user's own beside it that knows the code keeps it.
Result<ProjectFile> Document::read_own(std::string_view text, const std::string& path) const {
    auto read = read_project(text, path);
    if (!read) return read;
    const auto was = read.value().project.part, now = present_code(was);
    if (now == was) return read;
    for (const auto& own : disk_.list(folder(), ".part.json"))
        if (auto part = disk_.read(own))
            if (auto known = read_part(part.value(), own); known && was.starts_with(known.value().codes)) return read;
    auto out = read.take();
    out.project.part = now;
    return Result<ProjectFile>(
        std::move(out),
        {{Severity::note, Code::part,
          said("The ordering code {} is now {}; the project uses it, and the next save writes it.", was, now), path}});
}

Status Document::read_files() {
    auto text = disk_.read(path_, largest_project);
    if (!text) return text.messages();
    auto read = read_own(text.value(), path_);
    if (!read) return read.messages();
    file_ = read.take();
    notes_.insert(notes_.end(), read.messages().begin(), read.messages().end());
    on_disk_[project_name] = text.take();
    note_project_as_read();
    if (auto status = check_names(file_.project); !status) return status;
    for (auto& file : file_.project.constraints) {
        auto sdc = disk_.read(join_path(folder(), file.path), largest_constraints);
        if (!sdc) return sdc.messages();
        on_disk_[file.path] = file.text = sdc.take();
    }
    return Done{};
}

OwnFiles Document::texts() const {
    OwnFiles out;
    for (const auto& file : file_.project.constraints) out[file.path] = file.text;
    out[project_name] = write_project(file_);
    return out;
}

/// A project file that somebody wrote by hand is not another one because this program would set its commas otherwise.
void Document::note_project_as_read() {
    const auto read = read_own(on_disk_[project_name], path_);
    project_as_read_ = read ? write_project(read.value()) : std::string();
}

bool Document::edited(const std::string& name, const std::string& text) const {
    const auto read = on_disk_.find(name);
    return read == on_disk_.end() || (name.empty() ? project_as_read_ : read->second) != text;
}

OwnFiles Document::checksums() const {
    OwnFiles out;
    for (const auto& [name, text] : on_disk_) out[name] = sha256(text);
    return out;
}

// ---- edits
// ------------------------------------------------------------------------------------------------------------

Status Document::may_write() const {
    if (looking())
        return stop(Code::looking,
                    owner_.empty()
                        ? "The project is open to look at only."
                        : said("The project is being worked on in {}; here it is open to look at only.", owner_),
                    path_);
    if (taken_over())
        return stop(Code::taken_over,
                    "Another program has taken this project over; what was edited here is in its recovery journal, and "
                    "nothing more is taken here.",
                    path_);
    return Done{};
}

Status Document::change(const Edit& edit) {
    const WriteTurn turn(lock_.get());
    if (auto status = may_write(); !status) return status;
    const bool files = std::any_of(edit.changes.begin(), edit.changes.end(),
                                   [](const Change& c) { return std::holds_alternative<SdcFileChange>(c); });
    if (files) {
        auto next = file_.project;
        if (auto status = kp::apply(next, edit); !status) return status;
        if (auto status = check_names(next); !status) return status;
    }
    // In place: the rules of the session look at what is in the project.
    if (auto status = kp::apply(file_.project, edit); !status) return status;
    ++revision_;
    // A constraint file that came in was read from the disk as it is there.
    if (files)
        for (const auto& file : file_.project.constraints)
            if (!on_disk_.contains(file.path))
                if (const auto now = disk_.read(place(file.path), largest_constraints); now && now.value() == file.text)
                    on_disk_[file.path] = file.text;
    if (!offered_.empty() || offer_)
        if (auto aside = leave_offer(); !aside) risk_ = aside.first();
    if (auto status = journal_.append(edit); !status)
        risk_ = status.first();
    else
        risk_.reset();
    return Done{};
}

Status Document::apply(const Edit& given) {
    if (given.empty()) return Done{};
    const Edit edit = given;  // it may be part of what the edit changes
    auto status = change(edit);
    if (!status) return status;
    undo_.push_back(edit);
    redo_.clear();
    return status;
}

Edit Document::undo_edit() const {
    Edit back = undo_.back().inverse();
    back.title = "undo " + undo_.back().title;
    return back;
}

Status Document::undo() {
    if (undo_.empty()) return Done{};
    if (auto status = change(undo_edit()); !status) return status;
    redo_.push_back(undo_.back());
    undo_.pop_back();
    return Done{};
}

Status Document::redo() {
    if (redo_.empty()) return Done{};
    if (auto status = change(redo_.back()); !status) return status;
    undo_.push_back(redo_.back());
    redo_.pop_back();
    return Done{};
}

std::optional<Message> Document::risk() const {
    if (!risk_) return std::nullopt;
    return Message{Severity::caution, Code::journal,
                   said("Edits are not kept in the recovery journal ({}) A crash now would lose what is not saved: "
                        "save, or make room.",
                        risk_->sentence()),
                   path_};
}

bool Document::unsaved() const {
    return revision_ != saved_;
}

// ---- save
// -------------------------------------------------------------------------------------------------------------

std::vector<Conflict> Document::conflicts() const {
    std::vector<Conflict> out;
    for (const auto& [name, mine] : texts()) {
        const auto read = on_disk_.find(name);
        if (!edited(name, mine) || !disk_.exists(place(name))) continue;
        auto now = disk_.read(place(name), largest_project);
        if (!now || now.value() == mine || (read != on_disk_.end() && now.value() == read->second)) continue;
        out.push_back({name, place(name), read == on_disk_.end() ? std::string() : read->second, mine, now.take()});
    }
    return out;
}

std::vector<std::string> Document::changed_on_disk() const {
    std::vector<std::string> out;
    for (const auto& [name, text] : on_disk_) {
        if (!disk_.exists(place(name))) continue;
        const auto now = disk_.read(place(name), largest_project);
        if (now && now.value() != text) out.push_back(name);
    }
    return out;
}

Status Document::save() {
    const WriteTurn turn(lock_.get());
    if (auto status = may_write(); !status) return status;
    if (auto status = check_names(file_.project); !status) return status;
    const auto all = texts();
    OwnFiles to_write;
    for (const auto& [name, text] : all)
        if (edited(name, text) || !disk_.exists(place(name))) to_write[name] = text;
    // What another program changed and this one did not is left alone; it is shown elsewhere.
    for (const auto& c : conflicts())
        if (to_write.contains(c.name))
            return stop(
                Code::changed,
                "was changed by another program since it was read; nothing was written. Look at both sides first.",
                c.path);
    if (!to_write.empty()) {
        auto state = to_write;
        state[project_name] = all.at(project_name);
        if (offer_ || !offered_.empty())
            if (auto aside = leave_offer(); !aside) return aside.messages();
        // Without the journal's promise each file is still whole; nothing would be gained by not saving.
        if (auto status = journal_.saving(state, checksums()); !status) risk_ = status.first();
    }
    // The project file names the others, so it is the last.
    std::vector<std::string> order;
    for (const auto& [name, text] : to_write)
        if (!name.empty()) order.push_back(name);
    if (to_write.contains(project_name)) order.push_back(project_name);
    for (const auto& name : order) {
        const auto& text = to_write.at(name);
        const auto read = on_disk_.find(name);
        // A save that was interrupted may have written this one already.
        if (disk_.exists(place(name)))
            if (const auto now = disk_.read(place(name), largest_project); now && now.value() == text) {
                on_disk_[name] = text;
                continue;
            }
        if (auto status = save_whole(disk_, place(name), text, read == on_disk_.end() ? nullptr : &read->second);
            !status)
            return status;
        on_disk_[name] = text;
    }
    note_project_as_read();
    saved_ = revision_;
    risk_.reset();
    // A journal that cannot be removed holds the state that was saved; opening sees that it is there already.
    if (auto status = journal_.clear(); !status) note(Severity::caution, Code::journal, status.first().sentence());
    journal_.begin(checksums());
    return Done{};
}

Status Document::resolve(const Conflict& conflict, const std::string& text) {
    auto next = file_;
    if (conflict.name.empty()) {
        auto read = read_own(text, conflict.path);
        if (!read) return read.messages();
        auto merged = read.take();
        for (auto& file : merged.project.constraints) {
            const auto same = std::find_if(next.project.constraints.begin(), next.project.constraints.end(),
                                           [&](const SdcFile& f) { return f.path == file.path; });
            if (same != next.project.constraints.end()) {
                file.text = same->text;
                continue;
            }
            if (auto why = reach_.refuse(place(file.path))) return std::move(*why);
            auto sdc = disk_.read(place(file.path), largest_constraints);
            if (!sdc) return sdc.messages();
            file.text = sdc.take();
        }
        next = std::move(merged);
    } else {
        for (auto& file : next.project.constraints)
            if (file.path == conflict.name) file.text = text;
    }
    const auto edit =
        difference_edit(file_.project, next.project,
                        said("take {} as merged", (conflict.name.empty() ? file_name_of(path_) : conflict.name)));
    if (auto status = may_write(); !status) return status;
    if (auto status = apply(edit); !status) return status;
    file_.unknown = next.unknown;
    ++revision_;
    seen({{conflict.name, conflict.theirs}});
    return Done{};
}

void Document::seen(const OwnFiles& files) {
    for (const auto& [name, text] : files) on_disk_[name] = text;
    note_project_as_read();
    rebase();
}

/// The edits in the journal speak of files as they no longer are; from here it holds the state itself.
void Document::rebase() {
    const WriteTurn turn(lock_.get());
    if (!may_write() || !unsaved()) return;
    if (auto status = journal_.state(texts(), checksums()); !status)
        risk_ = status.first();
    else
        risk_.reset();
}

}  // namespace kp
