// SPDX-License-Identifier: GPL-3.0-or-later
// How a document is opened: the lock, and what a crash left behind.
#include "core/session/document.hpp"

#include "core/base/bytes.hpp"
#include "core/base/checksum.hpp"
#include "core/base/local_time.hpp"
#include "core/base/text.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <pwd.h>
#include <set>
#include <unistd.h>

namespace kp {

namespace {

std::string counted_edits(size_t n) {
    return counted(n, "edit");
}

std::string machine() {
    char name[256] = {};
    return ::gethostname(name, sizeof name - 1) == 0 ? one_line(name) : "this machine";
}

std::string user() {
    if (const auto* entry = ::getpwuid(::geteuid())) return one_line(entry->pw_name);
    return said("user {}", ::geteuid());
}

/// The first line is the machine, see Disk::lock.
std::string lock_text(const std::string& program) {
    return said("{}\n{}\n{}\n{}\n{} {}\n", machine(), user(), program, local_time("%Y-%m-%d %H:%M"), ::getpid(),
                random_hex(4));
}

std::string owner_of(const std::string& text) {
    const auto lines = split(text, '\n');
    const auto line = [&](size_t i, const char* otherwise) {
        return i < lines.size() && !lines[i].empty() ? one_line(lines[i].substr(0, 80)) : std::string(otherwise);
    };
    return said("the {} of {} on {}, since {}", line(2, "program"), line(1, "somebody"), line(0, "some machine"),
                line(3, "an unknown time"));
}

/// The files that the steps speak of; the project file always.
std::set<std::string> spoken_of(const std::vector<Journal::Step>& steps) {
    std::set<std::string> out{""};
    for (const auto& step : steps) {
        if (step.state)
            for (const auto& [name, text] : *step.state) out.insert(name);
        if (!step.edit) continue;
        for (const auto& change : step.edit->changes) {
            if (const auto* text = std::get_if<TextChange>(&change)) out.insert(text->file);
            if (const auto* file = std::get_if<SdcFileChange>(&change))
                for (const auto* side : {&file->before, &file->after})
                    if (*side) out.insert((*side)->path);
        }
    }
    return out;
}

/// What a change does, in its own words: a title is what whoever wrote the journal says of it.
struct Describe {
    std::string operator()(const PegChange& c) const {
        return c.after ? said("peg {} to {}", c.port, c.after->pin) : said("set {} adrift", c.port);
    }
    std::string operator()(const AttributeChange& c) const {
        std::string out;
        for (const auto& f : attribute_fields())
            if (f.of(c.before) != f.of(c.after))
                out += (out.empty() ? "" : ", ") + std::string(f.name) + " " +
                       (f.of(c.after).empty() ? "none" : f.of(c.after));
        return c.port + ": " + out;
    }
    std::string operator()(const TextChange& c) const {
        const auto line = [](const std::string& text) { return text.size() > 60 ? text.substr(0, 60) + "…" : text; };
        return said("{}: {}\"{}\"", c.file, (c.before.empty() ? "" : "\"" + line(c.before) + "\" becomes "),
                    line(c.after));
    }
    std::string operator()(const WaiverChange& c) const {
        return said("{}{} for {}: {}", c.add ? "waive " : "no longer waive ", c.waiver.rule,
                    list_names(c.waiver.objects), c.waiver.reason);
    }
    std::string operator()(const FieldChange& c) const { return c.field + ": " + (c.after.empty() ? "none" : c.after); }
    std::string operator()(const SdcFileChange& c) const {
        return c.after ? "constraint file " + c.after->path
                       : "without constraint file " + (c.before ? c.before->path : std::string());
    }
};

std::vector<std::string> described(const std::vector<Journal::Step>& steps) {
    std::vector<std::string> out;
    for (const auto& step : steps) {
        if (step.state)
            for (const auto& [name, text] : *step.state)
                out.push_back((name.empty() ? "the project file" : one_line(name)) + " as a whole, " +
                              counted(text.size(), "byte"));
        if (step.edit)
            for (const auto& change : step.edit->changes) out.push_back(one_line(std::visit(Describe{}, change)));
    }
    return out;
}

/// The first step that counts: a state that was to be saved holds all that came before it.
size_t first_step(const std::vector<Journal::Step>& steps) {
    for (size_t i = steps.size(); i-- > 0;)
        if (steps[i].state) return i;
    return 0;
}

}  // namespace

Status Document::take_lock(const OpenOptions& options) {
    if (options.purpose == OpenTo::look) return Done{};
    if (disk_.kind(path_) != FileKind::file) return Done{};  // reading says what is wrong
    auto answer = disk_.lock(beside(disk_.real_path(path_), ".lock"), lock_text(options.program), options.take_over);
    if (!answer) {
        note(Severity::caution, Code::looking, "It is open to look at only: " + answer.first().sentence());
        return Done{};
    }
    lock_ = std::move(answer.value().lock);
    if (lock_) return Done{};
    owner_ = owner_of(answer.value().owner);
    note(Severity::caution, Code::looking, said("It is being worked on in {}, and open here to look at only.", owner_));
    return Done{};
}

/// True when each file a journal speaks of is as it was when the journal was begun, or as a save that it tells of was
/// to make it.
bool Document::belongs(const Journal::Found& found, std::vector<std::string>& changed) const {
    auto names = spoken_of(found.steps);
    for (const auto& [name, sum] : found.base) names.insert(name);
    for (const auto& name : names) {
        std::set<std::string> known;
        if (const auto at = found.base.find(name); at != found.base.end()) known.insert(at->second);
        for (const auto& step : found.steps)
            if (step.state)
                if (const auto at = step.state->find(name); at != step.state->end()) known.insert(sha256(at->second));
        const auto mine = on_disk_.find(name);
        if (mine != on_disk_.end()) {
            if (!known.contains(sha256(mine->second))) changed.push_back(name);
            continue;
        }
        // A file that an edit brings: it may not be there yet, or be there as it came or as it was saved.
        const auto where = place(name);
        if (reach_.refuse(where)) {
            changed.push_back(name);
        } else if (!known.empty() && disk_.exists(where)) {
            const auto now = disk_.read(where);
            if (!now || !known.contains(sha256(now.value()))) changed.push_back(name);
        }
    }
    return changed.empty() && !found.old;
}

Result<ProjectFile> Document::state_from(const OwnFiles& state) const {
    const auto own = state.find("");
    if (own == state.end())
        return Message{Severity::stop, Code::journal, "A state in the recovery journal has no project file.", path_};
    auto read = read_own(own->second, path_);
    if (!read) return read.messages();
    if (auto status = check_names(read.value().project); !status) return status.messages();
    for (auto& file : read.value().project.constraints) {
        if (const auto at = state.find(file.path); at != state.end()) {
            file.text = at->second;
        } else if (const auto known = on_disk_.find(file.path); known != on_disk_.end()) {
            file.text = known->second;
        } else {
            auto text = disk_.read(place(file.path), size_t{16} << 20);
            if (!text) return text.messages();
            file.text = text.take();
        }
    }
    return read;
}

/// All of the steps or, after an error, none.
Status Document::replay(const std::vector<Journal::Step>& steps) {
    auto next = file_;
    std::vector<Edit> done;
    for (size_t i = first_step(steps); i < steps.size(); ++i) {
        if (steps[i].state) {
            auto state = state_from(*steps[i].state);
            if (!state) return state.messages();
            next = state.take();
        } else if (auto status = kp::apply(next.project, *steps[i].edit); status) {
            done.push_back(*steps[i].edit);
        } else {
            return status;
        }
    }
    if (auto status = check_names(next.project); !status) return status;
    file_ = std::move(next);
    undo_ = std::move(done);
    return Done{};
}

void Document::recover() {
    const auto found = journal_.read();
    journal_.begin(checksums());
    if (found.trouble)
        note(Severity::caution, Code::journal, "The recovery journal was left as it is: " + found.trouble->sentence());
    // Bytes that nobody understands are set aside before a journal of that name is written, not thrown away.
    if (found.steps.empty()) {
        if (found.cut)
            note(
                Severity::caution, Code::journal,
                "The recovery journal is damaged from its first lines on; it is set aside when the next edit is made.");
        if (found.cut || (found.trouble && disk_.kind(journal_.path()) == FileKind::file)) offered_.emplace_back();
        return;
    }
    std::vector<std::string> changed;
    const bool fits = belongs(found, changed);
    if (found.old) changed.clear();
    Status status = Done{};
    if (fits && found.ours) status = replay(found.steps);
    const size_t first = first_step(found.steps);
    const bool save = found.steps[first].state.has_value();
    const size_t edits = found.steps.size() - first - (save ? 1 : 0);
    if (!fits || !found.ours || !status) {
        Offer offer;
        offer.foreign = !found.ours;
        offer.changes = described(found.steps);
        for (const auto& name : changed) offer.changed.push_back(name.empty() ? file_name_of(path_) : one_line(name));
        offer.sentence = said(
            "A recovery journal holds {}{}{}{}. Nothing of it was taken: {}.", counted_edits(found.steps.size()),
            (found.old       ? " of an older version of this program"
             : offer.foreign ? " that this user did not make on this machine"
                             : ""),
            (changed.empty()
                 ? std::string()
                 : std::string(found.old || offer.foreign ? ", and " : ", but ") + list_names(offer.changed) +
                       (changed.size() == 1 ? " is" : " are") + " of another state now"),
            (status ? std::string() : "; it does not fit: " + status.first().sentence()), list_names(offer.changes, 4));
        note(Severity::caution, Code::journal_offered, offer.sentence);
        offer_ = std::move(offer);
        offered_ = found.steps;
        return;
    }
    bool differs = false;
    const bool to_finish = save && found.steps[first].save;
    for (const auto& [name, text] : texts()) differs = differs || edited(name, text);
    if (!differs && edits == 0) {
        // The save had been finished, all but for the journal.
        if (!looking()) (void)journal_.clear();
        return;
    }
    ++revision_;
    journal_.resume(found);
    if (to_finish && edits == 0 && !looking()) {
        if (auto finished = this->save(); finished)
            return note(Severity::note, Code::recovered, "A save that was interrupted has been finished.");
        else
            return note(
                Severity::caution, Code::recovered,
                "A save that was interrupted came back and could not be finished: " + finished.first().sentence());
    }
    if (save)
        note(Severity::note, Code::recovered,
             to_finish ? "A save that was interrupted came back." : "What had not been saved came back.");
    if (edits > 0)
        note(Severity::note, Code::recovered,
             counted_edits(edits) + " that had not been saved came back" +
                 (found.cut ? "; the last one was cut off and is lost." : "."));
}

Result<std::string> Document::leave_offer() {
    offer_.reset();
    offered_.clear();
    const WriteTurn turn(lock_.get());
    if (auto status = may_write(); !status) return status.messages();
    if (disk_.kind(journal_.path()) == FileKind::none) return std::string();
    auto name = journal_.set_aside();
    if (name)
        note(Severity::note, Code::journal,
             said("The recovery journal that was found is now {}.", file_name_of(name.value())));
    return name;
}

Result<size_t> Document::take_offer() {
    if (auto status = may_write(); !status) return status.messages();
    const auto steps = offered_;
    const auto changed = offer_ ? offer_->changed : std::vector<std::string>();
    if (auto aside = leave_offer(); !aside) return aside.messages();
    size_t left = 0;
    for (size_t i = first_step(steps); i < steps.size(); ++i) {
        if (steps[i].edit) {
            left += apply(*steps[i].edit).ok() ? 0 : 1;
            continue;
        }
        if (!steps[i].state) continue;
        // A state is taken when the project file is one of those it knows; of the constraint files those that are.
        const bool foreign_project = std::find(changed.begin(), changed.end(), file_name_of(path_)) != changed.end();
        auto known = *steps[i].state;
        for (const auto& name : changed) known.erase(name);
        auto state = foreign_project ? Result<ProjectFile>(Message{}) : state_from(known);
        left +=
            state && apply(difference_edit(file_.project, state.value().project, "take a save that was interrupted"))
                ? 0
                : 1;
    }
    return left;
}

}  // namespace kp
