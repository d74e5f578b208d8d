// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/shell/desk.hpp"

#include "core/session/data_folder.hpp"

#include <QMetaObject>

namespace kp::app {

Desk::Desk(QObject* parent) : QObject(parent) {
    told_.setSingleShot(true);
    told_.setInterval(200);
    connect(&watcher_, &QFileSystemWatcher::fileChanged, this, [this] { told_.start(); });
    connect(&told_, &QTimer::timeout, this, [this] {
        watch();  // a file that was replaced has to be watched anew
        emit disk_changed();
    });
}

Desk::~Desk() = default;

void Desk::watch() {
    QStringList paths;
    if (session_) {
        for (const auto& f : session_->world().files) paths << QString::fromStdString(f.full);
        for (const auto& f : session_->project().constraints) paths << QString::fromStdString(join_path(session_->folder(), f.path));
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
    if (!session_) return {};
    auto out = changed_files(real_disk(), session_->world());
    for (const auto& path : session_->changed_constraints()) out.push_back(path);
    return out;
}

bool Desk::accept(const Rereading& reading, const std::vector<PortRename>& renames, const std::vector<std::string>& constraints) {
    if (const auto status = session_->accept(reading, renames, constraints); !status) {
        say(QString::fromStdString(status.first().sentence()), true);
        return false;
    }
    news();
    analyse();
    return true;
}

bool Desk::open(const QString& path) {
    auto session = Session::open(real_disk(), path.toStdString(), data_folder());
    if (!session) {
        say(QString::fromStdString(session.first().sentence()), true);
        return false;
    }
    session_ = session.take();
    session_->analyse_now();
    selection_ = {};
    history_.clear();
    at_ = 0;
    emit opened();
    news();
    emit analysed();
    for (const auto& note : session_->opening_notes()) say(QString::fromStdString(note.text));
    return true;
}

void Desk::close() {
    session_.reset();
    emit opened();
}

void Desk::news() {
    watch();
    emit changed();
}

bool Desk::apply(const Edit& given) {
    if (given.empty()) return true;
    const Edit edit = given;  // it may be a fix out of the findings that are about to be replaced
    const auto status = session_->apply(edit);
    if (!status) {
        say(QString::fromStdString(status.first().sentence()), true);
        return false;
    }
    say(QString::fromStdString(edit.title));
    news();
    analyse();
    return true;
}

void Desk::undo() {
    if (!session_ || !session_->can_undo()) return;
    const auto title = session_->undo_title();
    if (const auto status = session_->undo(); !status) return say(QString::fromStdString(status.first().sentence()), true);
    say(tr("taken back: %1").arg(QString::fromStdString(title)));
    news();
    analyse();
}

void Desk::redo() {
    if (!session_ || !session_->can_redo()) return;
    const auto title = session_->redo_title();
    if (const auto status = session_->redo(); !status) return say(QString::fromStdString(status.first().sentence()), true);
    say(tr("done again: %1").arg(QString::fromStdString(title)));
    news();
    analyse();
}

bool Desk::save() {
    if (!session_) return false;
    const auto status = session_->save();
    if (!status) say(QString::fromStdString(status.first().sentence()), true);
    else say(tr("saved"));
    emit changed();
    return status.ok();
}

void Desk::analyse() {
    session_->start_analysis([this] {
        QMetaObject::invokeMethod(this, [this] {
            if (session_ && session_->take_analysis()) {
                news();
                emit analysed();
            }
        });
    });
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
    if (one == name) out.also.clear();
    else if (const auto at = out.also.indexOf(one); at >= 0) out.also.resize(at + 1);
    else out.also << one;
    return out;
}

std::vector<std::string> Desk::chosen_ports() const {
    std::vector<std::string> out;
    if (!session_) return out;
    const auto kind = selection_.kind;
    for (const auto& port : session_->world().netlist.ports) {
        const auto name = QString::fromStdString(port.name);
        bool mine = selection_.has(QStringLiteral("port"), name) || (kind == QLatin1String("bus") && selection_.name == QString::fromStdString(port.bus));
        if (kind == QLatin1String("pin"))
            if (const auto peg = session_->project().pegs.find(port.name); peg != session_->project().pegs.end()) mine = selection_.has(kind, QString::fromStdString(peg->second.pin));
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
