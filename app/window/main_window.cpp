// SPDX-License-Identifier: GPL-3.0-or-later
// Puts stations, tether, facts and notices together, and owns the commands that belong to no station. State: which
// station is in front; all else is the desk's.
#include "app/window/main_window.hpp"

#include "app/bench/bench_station.hpp"
#include "app/findings/findings_station.hpp"
#include "app/log/log_station.hpp"
#include "app/pegs/pegs_station.hpp"
#include "app/shell/plain_texts.hpp"
#include "app/site/site_station.hpp"
#include "app/slack/slack_station.hpp"
#include "app/tempo/tempo_station.hpp"
#include "app/shell/ask_files.hpp"
#include "core/base/bytes.hpp"
#include "core/base/text.hpp"

#include <QAbstractButton>
#include <QAbstractItemView>
#include <QApplication>
#include <QCloseEvent>
#include <QGuiApplication>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QScreen>
#include <QScrollArea>
#include <QStackedWidget>
#include <QStyle>
#include <QVBoxLayout>
#include <Qsci/qsciscintilla.h>
#include <algorithm>

namespace kp::app {

MainWindow::MainWindow()
    : tether_(new Tether),
      notices_(new NoticeBar),
      conflict_(new ConflictPage(desk_)),
      stack_(new QStackedWidget),
      facts_(new FactsPane),
      facts_area_(new QScrollArea),
      right_(new QWidget),
      status_(new QLabel),
      hint_(new QLabel),
      chooser_(nullptr) {
    qApp->installEventFilter(new PlainTexts(this));
    qApp->installEventFilter(this);
    setMinimumSize(1100, 620);
    // On a screen of 1280 x 800 the frame and the panel need room too: the status line has to be on it.
    constexpr int frame = 36;
    const QSize room = QGuiApplication::primaryScreen()
                           ? QGuiApplication::primaryScreen()->availableSize() - QSize(0, frame)
                           : QSize(1280, 800);
    resize(room.boundedTo(QSize(1280, 800)).expandedTo(minimumSize()));
    setWindowTitle(tr("Kite Peg"));
    setWindowIcon(QIcon(QStringLiteral(":/icons/kite.svg")));
    stations_ = {new SiteStation(desk_, this),  new PegsStation(desk_, this),  new FindingsStation(desk_, this),
                 new TempoStation(desk_, this), new SlackStation(desk_, this), new BenchStation(desk_, this),
                 new LogStation(desk_, this)};
    for (auto* s : stations_) stack_->addWidget(s);
    stack_->addWidget(conflict_);

    build();
    make_actions();
    connect_desk();
    // Nobody is typing at the start, so that the keys of the window work at once.
    stack_->setFocusPolicy(Qt::StrongFocus);
    stack_->setFocus();
    refresh();
}

void MainWindow::build() {
    facts_area_->setWidget(facts_);
    facts_area_->setWidgetResizable(true);
    right_->setFixedWidth(292);
    auto* right = new QVBoxLayout(right_);
    right->setContentsMargins(0, 0, 0, 0);
    right->setSpacing(0);
    right->addWidget(facts_area_, 1);
    for (auto* s : stations_)
        if (auto* side = s->side()) {
            right->addWidget(side);
            side->hide();
        }
    facts_area_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    facts_area_->setAccessibleName(tr("Facts about the selection"));
    auto* middle = new QHBoxLayout;
    middle->setSpacing(0);
    middle->addWidget(stack_, 1);
    middle->addWidget(right_);
    auto* foot = new QHBoxLayout;
    foot->setContentsMargins(16, 3, 16, 4);
    foot->addWidget(status_, 1);
    foot->addWidget(hint_);
    status_->setProperty("role", "second");
    status_->setObjectName("status");
    status_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    hint_->setProperty("role", "second");
    hint_->setObjectName("hint");
    keys_ = tr("Ctrl+K commands    / find    Alt+1…7 stations");
    hint_->setText(keys_);
    connect(&stage_, &QTimer::timeout, this, &MainWindow::show_stage);
    stage_.start(250);
    auto* page = new QWidget;
    auto* all = new QVBoxLayout(page);
    all->setContentsMargins(0, 0, 0, 0);
    all->setSpacing(0);
    all->addWidget(tether_);
    all->addLayout(middle, 1);
    all->addLayout(foot);
    setCentralWidget(page);
    notices_->lie_on(stack_);
    chooser_ = new Chooser(page);
    desk_.serve({[this](const QString& prompt, std::vector<Chooser::Item> items, Services::Typed typed,
                        const QString& begin) { chooser_->open(prompt, std::move(items), std::move(typed), begin); },
                 [this](const QString& id) {
                     if (auto* command = findChild<QAction*>(id)) command->trigger();
                 }});
}

void MainWindow::connect_desk() {
    connect(tether_, &Tether::chosen, this, &MainWindow::show_station);
    connect(&desk_, &Desk::opened, this, [this] {
        if (!desk_.has_session()) refresh();  // else everything changed, and that is told next
    });
    connect(&desk_, &Desk::changed, this, &MainWindow::follow);
    connect(&desk_, &Desk::selected, this, [this] { refresh_facts(); });
    connect(&desk_, &Desk::said, this, &MainWindow::say);
    connect(&desk_, &Desk::station_wanted, this, &MainWindow::show_station);
    connect(&desk_, &Desk::opening_changed, this, &MainWindow::refresh_notices);
    connect(&desk_, &Desk::asked, this, [this] {
        refused_.clear();
        refresh_notices();
    });
    connect(&desk_, &Desk::opened, this, &MainWindow::look_for_conflicts);
    connect(&desk_, &Desk::disk_changed, this, [this] {
        look_for_conflicts();
        refresh_notices();
    });
    connect(&desk_, &Desk::conflicts_found, this, &MainWindow::show_conflicts);
    connect(conflict_, &ConflictPage::done, this, [this] { show_station(tether_->current()); });
}

MainWindow::~MainWindow() {
    qApp->removeEventFilter(this);
    desk_.disconnect(this);
}

QAction* MainWindow::action(const char* id, const QString& name, const QKeySequence& keys,
                            const std::function<void()>& run) {
    auto* a = new QAction(name, this);
    a->setObjectName(QLatin1String(id));
    if (!keys.isEmpty()) a->setShortcut(keys);
    connect(a, &QAction::triggered, this, [this, run] {
        desk_.settle();
        run();
    });
    addAction(a);
    return a;
}

void MainWindow::make_actions() {
    for (int i = 0; i < 7; ++i)
        action(qPrintable(QStringLiteral("station.%1").arg(i + 1)),
               tr("Go to %1").arg(QLatin1String(place_names[static_cast<size_t>(i)])),
               QKeySequence(QStringLiteral("Alt+%1").arg(i + 1)), [this, i] { show_station(i); });
    action("project.open", tr("Open a project…"), QKeySequence::Open, [this] {
        const auto path = ask_file(this, tr("Open a project"), {}, tr("Kite Peg projects (*.kpeg)"));
        if (!path.isEmpty()) desk_.open_later(path.toStdString());
    });
    action("project.cancel", tr("Cancel opening"), {}, [this] { desk_.give_up_opening(); });
    action("project.conflicts", tr("Look at files that another program changed"), {}, [this] { show_conflicts(); });
    action("project.save", tr("Save"), QKeySequence::Save, [this] { desk_.save(); });
    action("edit.undo", tr("Undo"), QKeySequence::Undo, [this] { desk_.undo(); });
    action("edit.redo", tr("Redo"), QKeySequence(QStringLiteral("Ctrl+Shift+Z")), [this] { desk_.redo(); });
    action("go.back", tr("Back to what was selected before"), QKeySequence(QStringLiteral("Alt+Left")),
           [this] { desk_.back(); });
    action("go.forward", tr("Forward again"), QKeySequence(QStringLiteral("Alt+Right")), [this] { desk_.forward(); });
    action("palette", tr("Commands…"), QKeySequence(QStringLiteral("Ctrl+K")), [this] { open_palette(); });
    auto* find = action("find", tr("Find an object…"), QKeySequence(QStringLiteral("/")), [this] { open_search(); });
    action("analyse", tr("Analyse again"), QKeySequence(QStringLiteral("F5")), [this] {
        if (desk_.has_session()) desk_.analyse(true);
    });
    action("view.theme", tr("Light or dark"), QKeySequence(QStringLiteral("Ctrl+Shift+D")), [this] {
        dark_ = !dark_;
        use_theme(dark_);
        refresh();
        update();
    });
    action("view.facts", tr("Show or hide the facts pane"), QKeySequence(QStringLiteral("F4")),
           [this] { right_->setVisible(!right_->isVisible()); });
    // A plain '/' belongs to whoever is being typed into.
    connect(qApp, &QApplication::focusChanged, this, [find](QWidget*, QWidget* now) {
        const bool typing =
            now && (now->inherits("QLineEdit") || now->inherits("QsciScintilla") || now->inherits("QComboBox"));
        find->setEnabled(!typing);
    });
    // What goes to its station by itself has its key on every page.
    for (const char* id : {"build.start", "bench.load", "log.handoff", "site.reread", "tempo.edit", "tempo.budgets"})
        if (auto* of_station = findChild<QAction*>(QLatin1String(id))) addAction(of_station);
}

int MainWindow::station() const {
    return std::min(stack_->currentIndex(), 6);
}

void MainWindow::show_station(int index) {
    desk_.settle();
    stack_->setCurrentIndex(index);
    for (int i = 0; i < 7; ++i)
        if (auto* side = stations_[static_cast<size_t>(i)]->side()) side->setVisible(i == index);
    tether_->show_current(index);
    stack_->setFocus();
    if (desk_.has_session()) bring_up_to_date(*stations_[static_cast<size_t>(index)], static_cast<size_t>(index));
    refused_.clear();
    say({}, false);
    refresh_notices();
}

void MainWindow::refresh() {
    follow({News::all, 0});
}

void MainWindow::refresh_title() {
    if (!desk_.has_session()) return tether_->show_project(tr("Kite Peg"), tr("no project is open"));
    const auto& s = desk_.session();
    const auto name = QString::fromStdString(s.project().name);
    setWindowTitle(tr("%1 – Kite Peg").arg(name));
    tether_->show_project(name, QStringLiteral("%1 · %2").arg(QString::fromStdString(s.world().board.name),
                                                              QString::fromStdString(s.project().part)));
}

void MainWindow::bring_up_to_date(Station& shown, size_t at) {
    const unsigned news = std::exchange(behind_[at], 0U);
    if (const unsigned what = news & shown.cares(); what != 0) shown.follow(what);
}

void MainWindow::follow(const News& news) {
    refused_.clear();  // something else was done since
    for (auto& behind : behind_) behind |= news.what;
    if (news.any(News::inputs)) refresh_title();
    // The others show themselves when they are gone to; what they say for the tether does not depend on it.
    const auto at = static_cast<size_t>(station());
    if (desk_.has_session() && stack_->currentWidget() != conflict_) bring_up_to_date(*stations_[at], at);
    refresh_tether(news.what);
    if (news.any(News::all & ~unsigned{News::document})) refresh_facts();
    refresh_notices();
    say(said_, false);
    said_.clear();
}

void MainWindow::refresh_tether(unsigned what) {
    const bool open = desk_.has_session();
    for (size_t i = 0; i < place_count; ++i) {
        if (!open)
            standings_[i] = {};
        else if ((what & stations_[i]->standing_cares()) != 0)
            standings_[i] = stations_[i]->standing();
        standings_[i].name = QLatin1String(place_names[i]);
    }
    const bool stops = open && count(desk_.session().findings()).stops > 0;
    tether_->show_states(standings_, open && !stops && !desk_.session().stale(), stops);
}

void MainWindow::refresh_facts() {
    if (desk_.has_session())
        facts_->show_sheet(facts_of(desk_.session(), desk_.selection()));
    else
        facts_->show_sheet({tr("Nothing open"), tr("Ctrl+O opens a project"), {}});
}

void MainWindow::open_palette() {
    std::vector<Chooser::Item> items;
    for (auto* a : findChildren<QAction*>()) {
        if (a->objectName().isEmpty() || a->text().isEmpty() || a->objectName() == QLatin1String("palette")) continue;
        items.push_back({a->text(), a->shortcut().toString(QKeySequence::NativeText), [a] { a->trigger(); }});
    }
    chooser_->open(tr("commands"), std::move(items));
}

void MainWindow::open_search() {
    if (!desk_.has_session()) return;
    std::vector<Chooser::Item> items;
    const auto add = [&](const std::string& name, const char* kind, int where) {
        const Selection s{QLatin1String(kind), QString::fromStdString(name)};
        items.push_back({s.name, s.kind, [this, s, where] {
                             if (where >= 0) show_station(where);
                             desk_.select(s);
                         }});
    };
    const auto& w = desk_.session().world();
    for (const auto& port : w.netlist.ports) add(port.name, "port", 1);
    for (const auto& part : w.board.parts) add(part.ref, "part", 0);
    for (const auto& net : w.board.nets) add(net.terminal, "terminal", 1);
    for (const auto& clock : desk_.session().analysis().constraints().clocks) add(clock.name, "clock", 3);
    for (const auto& pin : w.part.pins) add(pin.name, "pin", 1);
    chooser_->open(tr("a port, pin, terminal, part or clock"), std::move(items));
}

void MainWindow::clear_refusal() {
    if (refused_.isEmpty()) return;
    refused_.clear();
    refresh_notices();
}

/// Whether a key is a command of the window also while somebody types: one with Ctrl or Alt, or a function key, that
/// does nothing in a text which people count on there, as undo does.
bool MainWindow::is_command(const QKeyEvent& key) const {
    using enum QKeySequence::StandardKey;
    for (const auto edit : {Undo, Redo, Copy, Cut, Paste, SelectAll, Delete, MoveToNextWord, MoveToPreviousWord})
        if (key.matches(edit)) return false;
    const bool function = key.key() >= Qt::Key_F1 && key.key() <= Qt::Key_F35;
    if (!function && !(key.modifiers() & (Qt::ControlModifier | Qt::AltModifier))) return false;
    const QKeySequence pressed(key.keyCombination());
    for (const auto* action : findChildren<QAction*>())
        if (action->isEnabled() && !action->shortcut().isEmpty() && action->shortcut() == pressed &&
            action->objectName() != QLatin1String("edit.redo"))
            return true;
    return false;
}

/// Escape gives the keys back to the plan, and so does Return in a filter: what is typed there is done with. Text
/// fields do not keep the keys of commands.
bool MainWindow::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::ShortcutOverride && is_command(*static_cast<QKeyEvent*>(event))) {
        event->ignore();
        return true;
    }
    if (event->type() != QEvent::KeyPress) return QMainWindow::eventFilter(watched, event);
    const auto key = static_cast<QKeyEvent*>(event)->key();
    auto* focus = focusWidget();
    const bool escape = key == Qt::Key_Escape, back = key == Qt::Key_Return || key == Qt::Key_Enter;
    if (watched != focus || (!escape && !back)) return QMainWindow::eventFilter(watched, event);
    auto* line = qobject_cast<QLineEdit*>(focus);
    const bool of_cell =
        focus->parentWidget() && qobject_cast<QAbstractItemView*>(focus->parentWidget()->parentWidget());
    const bool inside = stack_->isAncestorOf(focus) || right_->isAncestorOf(focus);
    auto* editor = qobject_cast<QsciScintilla*>(focus);
    if (escape && editor && (editor->isListActive() || editor->isCallTipActive()))
        return QMainWindow::eventFilter(watched, event);
    const bool filter = line && line->objectName().endsWith(QLatin1String("filter"));
    if (inside && !of_cell && ((escape && (line || editor)) || (back && filter))) {
        if (escape) clear_refusal();
        stack_->setFocus();
        return true;
    }
    if (escape) clear_refusal();
    return QMainWindow::eventFilter(watched, event);
}

void MainWindow::say(const QString& sentence, bool trouble) {
    if (trouble && !sentence.isEmpty()) {
        refused_ = sentence;
        refresh_notices();
    }
    QString text = sentence;
    if (text.isEmpty() && desk_.has_session()) text = stations_[static_cast<size_t>(station())]->status();
    if (!sentence.isEmpty()) said_ = sentence;
    if (desk_.has_session())
        text += QStringLiteral(" · %1 %2")
                    .arg(QString::fromStdString(file_name_of(desk_.session().document().path())),
                         desk_.session().document().unsaved() ? tr("not saved") : tr("saved"));
    status_->setText(text);
    status_->setToolTip(text);
    status_->setProperty("role", trouble ? "stop" : "second");
    status_->style()->unpolish(status_);
    status_->style()->polish(status_);
}

/// What a job is at, as soon as it takes a moment; short work shows nothing.
void MainWindow::show_stage() {
    const auto stage = desk_.has_session() ? desk_.session().deriver().stage() : std::string();
    const auto text = desk_.opening()    ? tr("reading the project …")
                      : stage.empty()    ? keys_
                      : stage == "paths" ? tr("calculating: timing …")
                                         : tr("calculating: %1 …").arg(QString::fromStdString(stage));
    if (hint_->text() != text) hint_->setText(text);
}

/// Comparing reads the files, so it is done when one of them changed, and as long as one is in question.
void MainWindow::look_for_conflicts() {
    both_.clear();
    if (desk_.has_session() && desk_.session().document().unsaved())
        for (const auto& c : desk_.session().document().conflicts())
            both_.push_back(c.name.empty() ? file_name_of(c.path) : c.name);
}

void MainWindow::show_conflicts() {
    if (!conflict_->look()) return desk_.say(tr("No file was changed both here and by another program."));
    for (auto* st : stations_)
        if (auto* side = st->side()) side->hide();
    stack_->setCurrentWidget(conflict_);
}

/// The most urgent first.
void MainWindow::refresh_notices() {
    if (!both_.empty()) look_for_conflicts();
    std::vector<Notice> out;
    const auto q = [](const std::string& text) { return QString::fromStdString(one_line(text)); };
    if (leaving_) {
        out.push_back(
            {Notice::warning,
             tr("There are edits that are neither saved nor in the recovery journal; closing now would lose them."),
             {{QStringLiteral("notice.save_close"), tr("Save and close"),
               [this] {
                   if (desk_.save()) leave_for_good(false);
               }},
              {QStringLiteral("notice.lose"), tr("Discard and close"), [this] { leave_for_good(true); }},
              {QStringLiteral("notice.stay"), tr("Stay"), [this] {
                   leaving_ = false;
                   refresh_notices();
               }}}});
    }
    if (desk_.opening())
        out.push_back({Notice::question,
                       tr("A project is being read…"),
                       {{QStringLiteral("notice.cancel"), tr("Cancel"), [this] { desk_.give_up_opening(); }}}});
    if (!desk_.outside().empty()) {
        std::vector<std::string> paths;
        for (const auto& path : desk_.outside()) paths.push_back(one_line(path));
        out.push_back({Notice::question,
                       tr("The project wants to read outside its own folder: %1. It was not opened. If you know why, "
                          "allow it; that is remembered for this project and for you alone.")
                           .arg(q(list_names(paths, 4))),
                       {{QStringLiteral("notice.allow"), tr("Allow and open"), [this] { desk_.allow_outside(); }}}});
    }
    if (const auto& question = desk_.question()) {
        std::vector<Notice::Way> ways{
            {QStringLiteral("notice.yes"), question->way, [this] { desk_.answer(Desk::Answer::yes); }}};
        if (!question->other_way.isEmpty())
            ways.push_back(
                {QStringLiteral("notice.other"), question->other_way, [this] { desk_.answer(Desk::Answer::other); }});
        ways.push_back({QStringLiteral("notice.no"), tr("Leave it"), [this] { desk_.answer(Desk::Answer::no); }});
        out.push_back({Notice::question, question->sentence, std::move(ways)});
    }
    // What was refused stands where one looks, whole; a question about it says it better.
    if (!refused_.isEmpty() && out.empty())
        out.push_back(
            {Notice::warning, refused_, {{QStringLiteral("notice.refused"), tr("OK"), [this] { clear_refusal(); }}}});
    if (desk_.has_session()) session_notices(out);
    notices_->show_notices(std::move(out));
}

void MainWindow::session_notices(std::vector<Notice>& out) {
    const auto q = [](const std::string& text) { return QString::fromStdString(one_line(text)); };
    const auto& s = desk_.session();
    const auto& d = s.document();
    for (const auto& risk : s.risks())
        out.push_back(
            {Notice::warning, q(risk.text), {{QStringLiteral("notice.save"), tr("Save"), [this] { desk_.save(); }}}});
    if (d.taken_over())
        out.push_back({Notice::warning,
                       tr("Another program has taken this project over. What was edited here up to then is in its "
                          "recovery journal; here it can only be looked at."),
                       {}});
    if (d.looking()) {
        std::vector<Notice::Way> ways;
        if (!d.owner().empty())
            ways.push_back({QStringLiteral("notice.take_over"), tr("Take it over"), [this] { desk_.take_over(); }});
        for (const auto& note : d.notes())
            if (note.code == Code::looking)
                out.push_back(
                    {Notice::question, tr("%1 Nothing can be edited or saved here.").arg(q(note.text)), ways});
    }
    const auto show_all = [this] {
        std::vector<Chooser::Item> items;
        if (const auto& offer = desk_.session().document().offer())
            for (const auto& line : offer->changes) items.push_back({QString::fromStdString(line), {}, [] {}});
        chooser_->open(tr("what the journal would do"), std::move(items));
    };
    if (const auto& offer = d.offer(); offer && !d.looking())
        out.push_back(
            {Notice::question,
             q(offer->sentence),
             {{QStringLiteral("notice.show"), tr("Show all"), show_all},
              {QStringLiteral("notice.take"), tr("Take what fits"), [this] { desk_.take_offer(); }},
              {QStringLiteral("notice.aside"), tr("Set the journal aside"), [this] { desk_.leave_offer(); }}}});
    const auto& both = both_;
    if (!both.empty() && stack_->currentWidget() != conflict_)
        out.push_back({Notice::question,
                       tr("%1 was changed by another program while it was edited here. Saving waits until you have "
                          "seen both sides.")
                           .arg(q(list_names(both))),
                       {{QStringLiteral("notice.conflict"), tr("Look at both sides"), [this] { show_conflicts(); }}}});
    std::vector<std::string> refused;
    for (const auto& m : s.analysis().constraints().messages)
        if (m.code == Code::outside)
            for (const auto& file : m.subjects) refused.push_back(file.name);
    if (refused.empty()) return;
    const auto allow = [this, refused] {
        if (desk_.allow(refused)) desk_.open_later(std::string(desk_.session().document().path()));
    };
    out.push_back({Notice::question,
                   tr("The constraints read a file outside the project's folder: %1. It was not read. If you know why, "
                      "allow it; that is remembered for this project and for you alone.")
                       .arg(q(list_names(refused, 4))),
                   {{QStringLiteral("notice.allow_source"), tr("Allow and read"), allow}}});
}

void MainWindow::leave_for_good(bool despite) {
    despite_ = despite;
    close();
}

void MainWindow::closeEvent(QCloseEvent* event) {
    desk_.settle();
    if (desk_.has_session()) {
        // Edits that are not saved are in the recovery journal and come back at the next start; only what is in neither
        // would be lost.
        if (desk_.session().document().unkept() && !despite_) {
            leaving_ = true;
            refresh_notices();
            return event->ignore();
        }
        desk_.session().cancel_analysis();
    }
    event->accept();
}

}  // namespace kp::app
