// SPDX-License-Identifier: GPL-3.0-or-later
// All that changes the session goes through here: edits, undo, opening, saving. Inputs are read on a job's thread
// (prepare) and taken when the project is still what they fit; a later change takes their place.
#include "app/shell/desk.hpp"

#include "core/base/bytes.hpp"
#include "core/base/text.hpp"
#include "core/inputs/data_folder.hpp"

#include <QAbstractItemView>
#include <QApplication>
#include <QMetaObject>
#include <atomic>
#include <filesystem>
#include <mutex>
#include <thread>
#include <utility>

namespace kp::app {

Desk::Desk(QObject* parent) : QObject(parent) {
    told_.setSingleShot(true);
    told_.setInterval(200);
    note_soon_.setSingleShot(true);
    note_soon_.setInterval(400);
    connect(&note_soon_, &QTimer::timeout, this, [this] {
        if (!session_) return;
        session_->note_run();
        tell(News::document);
    });
    connect(&watcher_, &QFileSystemWatcher::fileChanged, this, [this] { told_.start(); });
    connect(&told_, &QTimer::timeout, this, [this] {
        watch();  // a file that was replaced has to be watched anew
        emit disk_changed();
    });
}

Desk::~Desk() {
    give_up_opening();
    session_.reset();  // its jobs call this object
}

void Desk::watch() {
    QStringList paths;
    if (session_) {
        for (const auto& path : session_->watcher().files()) paths << QString::fromStdString(path);
    }
    // Most edits leave the files as they are. One that was replaced on disk has dropped out and is taken in again.
    QStringList fresh, gone;
    const auto watched = watcher_.files();
    for (const auto& path : paths)
        if (!watched.contains(path)) fresh << path;
    for (const auto& path : watched)
        if (!paths.contains(path)) gone << path;
    if (!gone.isEmpty()) watcher_.removePaths(gone);
    if (!fresh.isEmpty()) watcher_.addPaths(fresh);
}

std::vector<std::string> Desk::changed_on_disk() const {
    return session_ ? session_->watcher().changed() : std::vector<std::string>();
}

bool Desk::accept(const Rereading& reading, const std::vector<PortRename>& renames,
                  const std::vector<std::string>& constraints) {
    settle();
    if (const auto status = session_->accept(reading, renames, constraints); !status) {
        say(QString::fromStdString(status.first().sentence()), true);
        return false;
    }
    tell(News::all);
    analyse();
    return true;
}

namespace {
std::atomic<int> reading = 0;  // threads that open a project

/// The path from the root: the folder in which the program was started may be another one later.
std::string from_root(const std::string& path) {
    if (path.starts_with('/')) return path;
    std::error_code error;
    const auto here = std::filesystem::current_path(error);
    return error ? path : join_path(here.string(), path);
}
}  // namespace

struct Desk::Opening {
    std::string path;
    std::mutex lock;
    bool given_up = false;
};

bool Desk::still_reading() {
    return reading > 0;
}

OpenOptions Desk::options(bool take_over) {
    OpenOptions out;
    out.program = "window";
    out.take_over = take_over;
    return out;
}

bool Desk::let_go() {
    if (session_->document().unkept()) {
        say(tr("There are edits that are neither saved nor in the recovery journal; save them first."), true);
        return false;
    }
    close();
    return true;
}

bool Desk::open(const std::string& path, bool take_over) {
    settle();
    give_up_opening();
    const auto full = from_root(path);
    // The project that is open already is let go first: its lock would keep it from itself.
    if (session_ && real_disk().real_path(session_->document().path()) == real_disk().real_path(full) &&
        !session_->document().looking()) {
        if (!let_go()) return false;
    }
    auto session = Session::open(real_disk(), full, data_folder(), options(take_over));
    if (session) session.value()->analyse_now();
    return take_in(std::move(session), full);
}

void Desk::open_later(const std::string& path, bool take_over) {
    settle();
    give_up_opening();
    // A project that is opened again is let go first: its lock would keep it from itself.
    if (session_ && real_disk().real_path(session_->document().path()) == real_disk().real_path(from_root(path)) &&
        !session_->document().looking() && !let_go())
        return;
    opening_ = std::make_shared<Opening>();
    opening_->path = from_root(path);
    ++reading;
    std::thread([this, mine = opening_, take_over] {
        auto session = Session::open(real_disk(), mine->path, data_folder(), options(take_over));
        auto kept = std::make_shared<Result<std::unique_ptr<Session>>>(std::move(session));
        {
            // The desk waits for this lock before it goes, so it is there as long as nobody has given up.
            const std::lock_guard guard(mine->lock);
            if (!mine->given_up)
                QMetaObject::invokeMethod(this, [this, mine, kept] {
                    if (opening_ != mine) return;
                    opening_.reset();
                    emit opening_changed();
                    take_in(std::move(*kept), mine->path);
                });
        }
        kept.reset();
        --reading;
    }).detach();
    emit opening_changed();
}

void Desk::give_up_opening() {
    if (!opening_) return;
    {
        const std::lock_guard guard(opening_->lock);
        opening_->given_up = true;
    }
    opening_.reset();
    emit opening_changed();
}

bool Desk::take_in(Result<std::unique_ptr<Session>> session, const std::string& path) {
    outside_.clear();
    question_.reset();
    if (!session) {
        for (const auto& m : session.messages())
            if (m.code == Code::outside) outside_.push_back(m.file);
        refused_path_ = path;
        say(QString::fromStdString(one_line(session.first().sentence())), true);
        if (!outside_.empty()) emit opening_changed();
        return false;
    }
    when_analysed_.clear();
    after_prepare_.clear();
    preparing_ = false;
    session_ = session.take();
    selection_ = {};
    history_.clear();
    at_ = 0;
    emit opened();
    tell(News::all);
    if (session_->stale())
        analyse();
    else
        finish_analysis();
    for (const auto& note : session_->document().notes()) say(QString::fromStdString(note.text));
    return true;
}

void Desk::close() {
    settle();
    when_analysed_.clear();
    after_prepare_.clear();
    preparing_ = false;
    session_.reset();
    emit opened();
}

bool Desk::allow(const std::vector<std::string>& paths) {
    const auto project = session_ ? session_->document().path() : refused_path_;
    std::vector<std::string> real;
    for (const auto& path : paths) real.push_back(real_disk().real_path(path));
    if (const auto status = UserMemory(real_disk(), user_folder()).allow(real_disk().real_path(project), real);
        !status) {
        say(QString::fromStdString(status.first().sentence()), true);
        return false;
    }
    if (session_)
        for (const auto& path : real) session_->allow(path);
    return true;
}

void Desk::ask(Question question) {
    question_ = std::move(question);
    emit asked();
}

void Desk::answer(Answer answer) {
    const auto question = std::exchange(question_, std::nullopt);
    emit asked();
    if (!question || answer == Answer::no) return;
    if (answer == Answer::yes)
        question->run();
    else if (question->other_run)
        question->other_run();
}

void Desk::allow_outside() {
    const auto paths = outside_;
    if (!paths.empty() && allow(paths)) open_later(refused_path_);
}

void Desk::take_over() {
    if (session_) open_later(std::string(session_->document().path()), true);
}

void Desk::take_offer() {
    if (!session_) return;
    settle();
    size_t left = 0;
    const auto status = session_->change_document("recovered", [&](Document& d) -> Status {
        auto taken = d.take_offer();
        if (!taken) return taken.messages();
        left = taken.value();
        return Done{};
    });
    if (!status) return say(QString::fromStdString(status.first().sentence()), true);
    tell(News::all);
    analyse();
    say(left == 0 ? tr("all of the journal was taken; it can be undone edit by edit")
                  : tr("%1 of its edits no longer fit and stay in the journal that was set aside").arg(left));
}

void Desk::leave_offer() {
    if (!session_) return;
    const auto name = session_->document().leave_offer();
    if (!name) return say(QString::fromStdString(name.first().sentence()), true);
    tell(News::document);
    say(tr("the journal is now %1").arg(QString::fromStdString(file_name_of(name.value()))));
}

bool Desk::resolve(const Conflict& conflict, const std::string& text) {
    const auto status =
        session_->change_document("taken as merged", [&](Document& d) { return d.resolve(conflict, text); });
    if (!status) {
        say(QString::fromStdString(status.first().sentence()), true);
        return false;
    }
    tell(News::all);
    analyse();
    return true;
}

void Desk::settle() {
    if (settling_) return;
    settling_ = true;
    // An open cell of a table takes what is in it when it loses the focus.
    if (auto* editor = QApplication::focusWidget();
        editor && editor->parentWidget() && qobject_cast<QAbstractItemView*>(editor->parentWidget()->parentWidget()))
        editor->clearFocus();
    for (const auto& commit : typists_) commit();
    settling_ = false;
}

void Desk::tell(unsigned what) {
    watch();
    emit changed(News{what, session_ ? session_->revision() : 0});
}

/// Says what came of an edit; true when it was taken.
bool Desk::took(const Status& status, const Edit& edit, const After& after) {
    if (!status && status.first().code == Code::outside) {
        std::vector<std::string> paths;
        for (const auto& m : status.messages())
            if (m.code == Code::outside) paths.push_back(m.file);
        ask({tr("That reads outside the project's folder: %1. Nothing was changed. If you know why, allow it; that is "
                "remembered for this project and for you alone.")
                 .arg(QString::fromStdString(one_line(list_names(paths, 4)))),
             tr("Allow and go on"), [this, edit, paths, after] {
                 if (allow(paths)) apply(edit, after.then, after.otherwise);
             }});
    }
    if (!status) {
        say(QString::fromStdString(status.first().sentence()), true);
        if (after.otherwise) after.otherwise();
        return false;
    }
    say(QString::fromStdString(edit.title));
    tell(news_of(edit));
    analyse();
    if (after.then) after.then();
    return true;
}

void Desk::reread(QObject* receiver, std::function<void(Rereading)> then) {
    later<Result<Rereading>>(
        "reread", receiver,
        [](const std::shared_ptr<const Snapshot>& now, const std::stop_token&) { return kp::reread(*now); },
        [this, then = std::move(then)](Result<Rereading> reading) {
            if (!reading) return say(QString::fromStdString(reading.first().sentence()), true);
            then(reading.take());
        });
}

Status Desk::step(Step which, const Edit& edit, Prepared prepared) {
    switch (which) {
        case Step::undo: return session_->undo(std::move(prepared));
        case Step::redo: return session_->redo(std::move(prepared));
        case Step::apply: break;
    }
    return session_->apply(edit, std::move(prepared));
}

/// Reads what an edit of inputs leads to beside the window. When the project was edited meanwhile, it is read once
/// more.
void Desk::prepare_then(Step which, const Edit& edit, After after) {
    using Made = Result<std::shared_ptr<Prepared>>;
    preparing_ = true;
    // Undo and redo are edits of the document's own; their title says so.
    const Edit change = which == Step::undo   ? session_->document().undo_edit()
                        : which == Step::redo ? session_->document().undone().back()
                                              : edit;
    later<Made>(
        "prepare", this,
        [change](const std::shared_ptr<const Snapshot>& now, const std::stop_token&) { return prepare(*now, change); },
        [this, which, edit, after = std::move(after)](Made made) {
            preparing_ = false;
            const auto status = made ? step(which, edit, std::move(*made.value())) : Status(made.messages());
            if (!status && status.first().code == Code::old) return prepare_then(which, edit, after);
            took(status, edit, after);
            for (const auto& next : std::exchange(after_prepare_, {})) next();
        });
}

/// While an edit of inputs is on its way, what is asked for next waits for it.
bool Desk::waits(std::function<void()> then) {
    if (!preparing_) return false;
    after_prepare_.push_back(std::move(then));
    return true;
}

bool Desk::apply(const Edit& given, std::function<void()> then, std::function<void()> otherwise) {
    if (given.empty()) {
        if (then) then();
        return true;
    }
    const Edit edit = given;  // it may be a fix out of the findings that are about to be replaced
    settle();
    if (waits([this, edit, then, otherwise] { apply(edit, then, otherwise); })) return true;
    if (touched(edit).inputs) {
        prepare_then(Step::apply, edit, {std::move(then), std::move(otherwise)});
        return true;
    }
    return took(session_->apply(edit), edit, {std::move(then), std::move(otherwise)});
}

void Desk::undo() {
    settle();
    if (waits([this] { undo(); }) || !session_ || !session_->document().can_undo()) return;
    Edit edit = session_->document().done().back();
    edit.title = tr("undone: %1").arg(QString::fromStdString(edit.title)).toStdString();
    if (touched(edit).inputs) return prepare_then(Step::undo, edit, {});
    took(session_->undo(), edit, {});
}

void Desk::redo() {
    settle();
    if (waits([this] { redo(); }) || !session_ || !session_->document().can_redo()) return;
    Edit edit = session_->document().undone().back();
    edit.title = tr("redone: %1").arg(QString::fromStdString(edit.title)).toStdString();
    if (touched(edit).inputs) return prepare_then(Step::redo, edit, {});
    took(session_->redo(), edit, {});
}

bool Desk::save() {
    if (!session_) return false;
    settle();
    const auto status = session_->document().save();
    if (!status && status.first().code == Code::changed) emit conflicts_found();
    if (!status)
        say(QString::fromStdString(status.first().sentence()), true);
    else
        say(tr("saved"));
    tell(News::document);
    return status.ok();
}

void Desk::analyse(bool everything) {
    if (everything) session_->forget_analysis();
    if (!session_->stale()) {
        session_->cancel_analysis();
        note_soon_.start();
        finish_analysis();
        return;
    }
    session_->start_analysis([this] {
        QMetaObject::invokeMethod(this, [this] {
            if (!session_ || !session_->take_analysis()) return;
            note_soon_.start();
            tell(News::analysis | News::findings);
            finish_analysis();
        });
    });
}

/// The analysis is of the present state.
void Desk::finish_analysis() {
    emit analysed();
    for (const auto& then : std::exchange(when_analysed_, {})) then();
}

void Desk::when_analysed(std::function<void()> then) {
    if (!session_) return;
    if (!session_->stale()) return then();
    when_analysed_.push_back(std::move(then));
    analyse();
}

void Desk::note_idcode(std::uint32_t idcode) {
    if (!session_) return;
    session_->change_grounds([&](Grounds& g) { g.idcode = idcode; });
    tell(News::findings);
}

void Desk::forget(const char* kind) {
    ++tickets_[kind];
    if (session_) session_->jobs().stop(kind);
}

Selection Selection::toggled(const QString& of_kind, const QString& one) const {
    if (kind != of_kind || empty()) return {of_kind, one, {}};
    Selection out = *this;
    if (out.also.removeAll(one) > 0) return out;
    if (out.name != one) {
        out.also << one;
        return out;
    }
    if (out.also.isEmpty()) return {};
    out.name = out.also.takeFirst();
    return out;
}

Selection Selection::extended(const QString& one) const {
    Selection out = *this;
    if (one == name)
        out.also.clear();
    else if (const auto at = out.also.indexOf(one); at >= 0)
        out.also.resize(at + 1);
    else
        out.also << one;
    return out;
}

std::vector<std::string> Desk::chosen_ports() const {
    std::vector<std::string> out;
    if (!session_) return out;
    const auto kind = selection_.kind;
    for (const auto& port : session_->world().netlist.ports) {
        const auto name = QString::fromStdString(port.name);
        bool mine = selection_.has(QStringLiteral("port"), name) ||
                    (kind == QLatin1String("bus") && selection_.name == QString::fromStdString(port.bus));
        if (kind == QLatin1String("pin"))
            if (const auto peg = session_->project().pegs.find(port.name); peg != session_->project().pegs.end())
                mine = selection_.has(kind, QString::fromStdString(peg->second.pin));
        if (mine) out.push_back(port.name);
    }
    return out;
}

void Desk::select(const Selection& selection) {
    if (selection == selection_) return;
    selection_ = selection;
    if (!history_.empty()) history_.resize(at_ + 1);
    history_.push_back(selection);
    at_ = history_.size() - 1;
    emit selected(selection_);
}

void Desk::back() {
    if (!can_back()) return;
    selection_ = history_[--at_];
    emit selected(selection_);
}

void Desk::forward() {
    if (!can_forward()) return;
    selection_ = history_[++at_];
    emit selected(selection_);
}

}  // namespace kp::app
