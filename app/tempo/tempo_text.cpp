// SPDX-License-Identifier: GPL-3.0-or-later
// The text of Tempo: files, what is typed, what the cursor is on, what follows the board.
#include "app/tempo/tempo_station.hpp"

#include "app/tempo/budget_lens.hpp"
#include "app/tempo/clock_chart.hpp"
#include "app/tempo/command_lens.hpp"
#include "app/tempo/draft_lens.hpp"
#include "app/tempo/find_bar.hpp"
#include "app/shell/ask_files.hpp"
#include "app/tempo/recipe_lens.hpp"
#include "app/shell/counted.hpp"
#include "app/tempo/sdc_editor.hpp"
#include "app/theme/text.hpp"
#include "core/base/bytes.hpp"
#include "core/base/text.hpp"
#include "core/base/names.hpp"
#include "core/base/output.hpp"
#include "core/format/sdc/as_used.hpp"
#include "core/format/sdc/table.hpp"
#include "core/constraints/budget_edits.hpp"
#include "core/constraints/clock_matrix.hpp"
#include "core/constraints/forms.hpp"
#include <QComboBox>
#include <QFormLayout>
#include <QFrame>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QStackedWidget>
#include <QTabBar>
#include <QTableWidget>
#include <QTreeWidget>
#include <QVBoxLayout>
#include <algorithm>
#include <map>
#include <cmath>

namespace kp::app {

void TempoStation::make_file() {
    if (!desk_.has_session()) return;
    commit_text();
    const auto& files = desk_.session().project().constraints;
    std::string path = "constraints.sdc";
    for (int n = 2; std::any_of(files.begin(), files.end(), [&](const SdcFile& f) { return f.path == path; }) ||
                    real_disk().exists(join_path(desk_.session().document().folder(), path));
         ++n)
        path = "constraints-" + std::to_string(n) + ".sdc";
    Edit edit{"make " + path, {}};
    for (const auto& f : files)
        if (f.receives) {
            auto after = f;
            after.receives = false;
            edit.changes.push_back(SdcFileChange{f, after});
        }
    SdcFile fresh;
    fresh.path = path;
    fresh.receives = true;
    edit.changes.push_back(SdcFileChange{std::nullopt, fresh});
    if (desk_.apply(edit)) files_->setCurrentIndex(files_->count() - 1);
}

void TempoStation::follow_linked() {
    if (!desk_.has_session() || desk_.session().document().looking()) return;
    const auto next = next_to_follow(desk_.session(), followed_);
    if (!next) return;
    const auto& b = next->budget;
    desk_.say(
        tr("The lines of %1 follow the board: %2 and %3 ns.").arg(q(b.name), q(fixed(b.max, 3)), q(fixed(b.min, 3))));
    desk_.apply(next->edit);  // the next one when the text was read again
}

void TempoStation::write_as_used() {
    if (!desk_.has_session()) return;
    commit_text();
    const auto& s = desk_.session();
    const auto path = ask_where_to_save(this, tr("Write the constraints as they are used"),
                                        q(join_path(s.document().folder(), "as-used.sdc")), tr("Constraints (*.sdc)"));
    if (path.isEmpty()) return;
    for (const auto& f : s.project().constraints)
        if (same_file(join_path(s.document().folder(), f.path), path.toStdString()))
            return desk_.say(tr("%1 is a constraint file of this project; choose another name.").arg(q(f.path)), true);
    desk_.later<std::string>(
        "as used", this,
        [](const std::shared_ptr<const Snapshot>& now, const std::stop_token& stop) {
            const auto& w = *now->world;
            return sdc::constraints_as_used(analysis_scripts(*now->project, now->grounds->folder), w.netlist, *w.index,
                                            w.library, script_limits(w, 10), stop)
                .text;
        },
        [this, path](const std::string& text) {
            const auto status = write_output(path.toStdString(), text);
            desk_.say(status ? tr("The constraints as used are in %1.").arg(path) : q(status.first().sentence()),
                      !status);
        });
}

const ListedCommand* TempoStation::command_here() const {
    const auto* f = desk_.has_session() ? file() : nullptr;
    int line = 0, column = 0;
    editor_->getCursorPosition(&line, &column);
    return f ? command_at(listed_, f->path, static_cast<size_t>(editor_->positionFromLineIndex(line, column)))
             : nullptr;
}

void TempoStation::explain() {
    if (!desk_.has_session()) return explains_->clear();
    const auto* c = command_here();
    if (!c) return explains_->setText(tr("The cursor is in no command. Ctrl+Space completes."));
    const auto* row = sdc::find_command(c->name);
    QString text = q(c->name) + QStringLiteral(": ");
    text +=
        row ? QString::fromUtf8(row->help) + tr(" (SDC 2.1)") : tr("A Tcl command; what it holds is listed with it.");
    if (c->hits)
        text += QLatin1Char(' ') + tr("It hits %1; Ctrl+Shift+L selects them.").arg(counted(*c->hits, "object"));
    explains_->setText(text);
}

void TempoStation::light() {
    const auto* c = command_here();
    if (!c) return desk_.say(tr("The cursor is in no command."), true);
    Selection selection;
    for (const auto& o : c->objects) {
        if (o.kind != ObjectKind::port || o.id >= desk_.session().world().netlist.ports.size()) continue;
        const auto name = q(desk_.session().world().netlist.ports[o.id].name);
        if (selection.empty())
            selection = {QStringLiteral("port"), name};
        else
            selection.also << name;
    }
    if (selection.empty() && c->objects.size() == 1 && c->objects[0].kind == ObjectKind::clock)
        selection = {QStringLiteral("clock"),
                     q(desk_.session().analysis().constraints().clocks[c->objects[0].id].name)};
    if (selection.empty())
        return desk_.say(tr("%1 hits %2, none of them a port.")
                             .arg(q(c->name), counted(static_cast<int>(c->objects.size()), "object")));
    desk_.select(selection);
}

const SdcFile* TempoStation::file() const {
    const auto& list = desk_.session().project().constraints;
    const int at = files_->currentIndex();
    return at >= 0 && at < static_cast<int>(list.size()) ? &list[static_cast<size_t>(at)] : nullptr;
}

void TempoStation::show_file() {
    const auto* f = file();
    if (!f) return;
    filling_ = true;
    const auto text = q(shown_text(f->text));
    const bool other = shown_ != f->path;
    shown_ = f->path;
    editor_->setReadOnly(desk_.session().document().looking());
    receive_->setVisible(!f->receives);
    target_->setVisible(f->receives);
    QString receives = tr("new commands go here");
    if (!f->handoff) receives = tr("new commands go here; not handed over");
    if (!f->analysis) receives = tr("new commands go here; not read");
    target_->setText(receives);
    // What is being typed is newer than the session, and what could not be taken is not thrown away.
    if (editor_->text() != text && (other || (!typing_.isActive() && !untaken_))) {
        untaken_ = false;
        editor_->setEolMode(f->text.find("\r\n") != std::string::npos ? QsciScintilla::EolWindows
                                                                      : QsciScintilla::EolUnix);
        int line = 0, column = 0;
        editor_->getCursorPosition(&line, &column);
        editor_->setText(text);
        editor_->setCursorPosition(line, column);
    }
    QStringList names;
    for (const auto& port : desk_.session().world().netlist.ports) names << q(port.name);
    for (const auto& clock : desk_.session().analysis().constraints().clocks) names << q(clock.name);
    editor_->offer(names);
    const auto& messages = desk_.session().analysis().constraints().messages;
    editor_->mark(q(f->path), messages);
    QStringList said;
    for (const auto& m : messages)
        if (m.file == f->path && said.size() < 2) said << tr("line %1: %2").arg(m.line).arg(q(m.text));
    trouble_->setText(said.join('\n'));
    trouble_->setVisible(!said.isEmpty());
    trouble_->setStyleSheet(QStringLiteral("color: %1; font-size: 12px;").arg(theme().stop.name()));
    filling_ = false;
    const auto& s = desk_.session();
    Project shown;  // the other files have no cursor in them
    shown.constraints = {*f};
    listed_ = list_commands(shown, s.analysis().constraints(), s.analysis().texts());
    explain();
}

/// The smallest span that differs becomes the edit, so that undo shows what was typed and all other bytes stay as they
/// are.
void TempoStation::commit_text() {
    typing_.stop();
    oldest_.stop();
    if (!desk_.has_session() || !typed_) return;
    typed_ = false;
    // The file that the editor shows, whichever tab is in front by now.
    const auto& list = desk_.session().project().constraints;
    const auto f = std::find_if(list.begin(), list.end(), [this](const SdcFile& c) { return c.path == shown_; });
    if (f == list.end()) return;
    const auto change = change_to_show(f->text, editor_->text().toStdString());
    if (!change) return;
    untaken_ =
        !desk_.apply(Edit{"type in " + f->path, {TextChange{f->path, change->offset, change->before, change->after}}});
}

void TempoStation::move_file(int from, int to) {
    const auto& now = desk_.session().project().constraints;
    const auto n = static_cast<int>(now.size());
    if (from < 0 || to < 0 || from >= n || to >= n || from == to) return;
    commit_text();
    Project next = desk_.session().project();
    auto& files = next.constraints;
    const auto moved = files[static_cast<size_t>(from)];
    files.erase(files.begin() + from);
    files.insert(files.begin() + to, moved);
    desk_.apply(
        difference_edit(desk_.session().project(), next, "read " + moved.path + (to < from ? " earlier" : " later")));
}

void TempoStation::receive_here() {
    const auto* here = file();
    if (!here) return;
    commit_text();
    Edit edit{"put new commands in " + here->path, {}};
    for (const auto& f : desk_.session().project().constraints) {
        auto after = f;
        after.receives = f.path == here->path;
        if (after != f) edit.changes.push_back(SdcFileChange{f, after});
    }
    desk_.apply(edit);
}

void TempoStation::use_file(bool SdcFile::*use) {
    const auto* here = desk_.has_session() ? file() : nullptr;
    if (!here) return;
    commit_text();
    auto after = *here;
    after.*use = !(after.*use);
    const bool analysis = use == &SdcFile::analysis;
    const char* on = analysis ? "read " : "hand over ";
    const char* off = analysis ? "leave out " : "keep back ";
    const std::string what = after.*use ? on : off;
    desk_.apply(Edit{what + here->path, {SdcFileChange{*here, after}}});
}

void TempoStation::write_out() {
    const auto* here = desk_.has_session() ? file() : nullptr;
    if (!here) return;
    commit_text();
    const auto path =
        ask_where_to_save(this, tr("Write %1 to another place").arg(q(here->path)), {}, tr("Constraints (*.sdc)"));
    if (path.isEmpty()) return;
    for (const auto& f : desk_.session().project().constraints)
        if (same_file(join_path(desk_.session().document().folder(), f.path), path.toStdString()))
            return desk_.say(tr("%1 is a constraint file of this project; choose another name.").arg(q(f.path)), true);
    const auto status = write_output(path.toStdString(), file()->text);
    desk_.say(status ? tr("%1 is in %2 too.").arg(q(file()->path), path) : q(status.first().sentence()), !status);
}

}  // namespace kp::app
