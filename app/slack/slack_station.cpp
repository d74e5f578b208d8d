// SPDX-License-Identifier: GPL-3.0-or-later
// A view of the report and of one path's details, which the engine is asked for by a job. What-if runs on a
// snapshot. State: chosen endpoint by name, so that it survives analyses; the filter.
#include "app/slack/slack_station.hpp"

#include "app/shell/ask_files.hpp"
#include "app/slack/charts.hpp"
#include "app/slack/clock_grid.hpp"
#include "app/slack/corner_page.hpp"
#include "app/slack/cure_page.hpp"
#include "app/slack/net_view.hpp"
#include "app/slack/path_table.hpp"
#include "app/shell/counted.hpp"
#include "app/theme/text.hpp"
#include "core/base/text.hpp"
#include "core/model/path_cause.hpp"
#include "core/model/path_query.hpp"
#include "core/model/timing_words.hpp"
#include "core/drawing/pictures.hpp"
#include "core/session/path_questions.hpp"
#include "core/closing/what_if.hpp"
#include "core/timing/clocks.hpp"

#include <QApplication>
#include <QClipboard>
#include <QButtonGroup>
#include <QFrame>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollArea>
#include <QStackedWidget>
#include <QItemSelectionModel>
#include <QTreeView>
#include <QVBoxLayout>
#include <algorithm>
#include <cctype>
#include <cmath>
#include <memory>
#include <unordered_map>

namespace kp::app {

namespace {
/// Whose delay the clocks have.
QString how_clocks(const Constraints& constraints, bool all) {
    const auto propagated = timing::propagated_clocks(constraints, all);
    const auto n = std::count(propagated.begin(), propagated.end(), true);
    if (n == 0) return SlackStation::tr("ideal clocks");
    return n == static_cast<std::ptrdiff_t>(propagated.size())
               ? SlackStation::tr("propagated clocks")
               : SlackStation::tr("%1 of %2 clocks propagated").arg(n).arg(propagated.size());
}

QString slack_ns(double v) {
    return q(fixed(v, 3));
}

QString one_check(const QString& name, const CheckSummary& s) {
    return q(kind_sentence(name.toStdString(), s));
}
}  // namespace

QString summary_sentence(const TimingReport& r) {
    return q(timing_sentence(r));
}

SlackStation::SlackStation(Desk& desk, QWidget* parent)
    : Station(desk, parent),
      sentence_(new QLabel),
      under_(new QLabel),
      answer_(new QLabel),
      spread_(new SpreadChart),
      ribbon_(new PathRibbon),
      filter_(new QLineEdit),
      what_if_(new QLineEdit),
      missing_(new QPushButton(tr("see what is missing"))),
      card_(new QFrame),
      setup_(new QPushButton(tr("setup"))),
      hold_(new QPushButton(tr("hold"))),
      others_(new QPushButton(tr("other checks"))),
      free_(new QPushButton(tr("unconstrained"))),
      list_(new QTreeView),
      model_(new EndpointModel(this)),
      below_(new QStackedWidget),
      which_(new QLabel),
      table_(new PathTable),
      cures_(new CurePage(desk)),
      grid_(new ClockGrid),
      corners_(new CornerPage(desk)),
      cells_(new NetView) {
    build();
    connect_all();
}

void SlackStation::build() {
    sentence_->setProperty("role", "heading");
    sentence_->setWordWrap(true);
    sentence_->setObjectName("slack.sentence");
    under_->setProperty("role", "second");
    filter_->setPlaceholderText(tr("filter endpoints"));
    filter_->setAccessibleName(tr("Filter endpoints"));
    filter_->setMinimumWidth(240);
    filter_->setMaximumWidth(320);
    filter_->setToolTip(
        tr("Words, and from: to: through: clock: launch: capture: corner: cause: slack<0 slack>1 "
           "levels>8, with * and ?"));
    filter_->setObjectName("slack.filter");
    list_->setObjectName("slack.list");
    list_->setModel(model_);
    list_->setRootIsDecorated(false);
    list_->setUniformRowHeights(true);
    const int widths[] = {84, 190, 190, 150, 84};
    for (int i = 0; i < 5; ++i) list_->setColumnWidth(i, widths[i]);
    spread_->setFixedHeight(118);
    below_->setFixedHeight(216);
    for (QWidget* page : std::initializer_list<QWidget*>{ribbon_, table_, cures_, grid_, corners_})
        below_->addWidget(page);
    auto* scroll = new QScrollArea;
    scroll->setWidget(cells_);
    scroll->setWidgetResizable(true);
    below_->addWidget(scroll);
    build_card();
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(20, 10, 16, 10);
    all->setSpacing(8);
    missing_->setObjectName("slack.missing");
    auto* second = new QHBoxLayout;
    second->addWidget(under_, 1);
    second->addWidget(missing_);
    all->addWidget(sentence_);
    all->addLayout(second);
    all->addWidget(spread_);
    all->addWidget(card_, 1);
    all->addLayout(below_bar());
    all->addWidget(below_);
    all->addStretch(0);
    sentence_->setText(tr("No project is open."));
    under_->setText(tr("What the paths of one have to spare is told here. Ctrl+O opens a project."));
    for (QWidget* w : std::initializer_list<QWidget*>{spread_, card_, below_, missing_}) w->hide();
    for (auto* button : below_buttons_) button->hide();
}

QLayout* SlackStation::below_bar() {
    auto* bar = new QHBoxLayout;
    auto* group = new QButtonGroup(this);
    const QString names[] = {tr("path"), tr("table"), tr("what if"), tr("clocks"), tr("corners"), tr("cells")};
    for (int i = 0; i < 6; ++i) {
        auto* button = new QPushButton(names[i]);
        button->setCheckable(true);
        button->setChecked(i == 0);
        button->setObjectName(QStringLiteral("slack.below.%1").arg(i));
        group->addButton(button);
        bar->addWidget(button);
        below_buttons_ << button;
        connect(button, &QPushButton::clicked, this, [this, i] { show_below(static_cast<Below>(i)); });
    }
    bar->addStretch(1);
    which_->setProperty("role", "second");
    which_->setObjectName("slack.which");
    which_->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
    which_->setFixedWidth(330);  // a text that comes later finds its room
    bar->addWidget(which_);
    return bar;
}

void SlackStation::build_card() {
    auto* bar = new QHBoxLayout;
    auto* group = new QButtonGroup(this);
    others_->setToolTip(tr("Recovery, removal, pulse width and period"));
    for (auto* b : {setup_, hold_, others_, free_}) {
        b->setCheckable(true);
        group->addButton(b);
        bar->addWidget(b);
        connect(b, &QPushButton::clicked, this, [this] {
            if (desk_.has_session()) fill_list();
        });
    }
    setup_->setChecked(true);
    bar->addStretch(1);
    bar->addWidget(filter_);
    card_->setProperty("card", true);
    auto* box = new QVBoxLayout(card_);
    box->setContentsMargins(8, 6, 8, 4);
    box->addLayout(bar);
    box->addWidget(list_);
    what_if_->setObjectName("slack.whatif");
    what_if_->setAccessibleName(tr("A line of SDC to try"));
    what_if_->setPlaceholderText(
        tr("what if … a line of SDC, such as set_multicycle_path 2 -to r1/D; nothing is edited"));
    what_if_->setFont(mono(12));
    answer_->setObjectName("slack.answer");
    answer_->setWordWrap(true);
    answer_->setProperty("role", "second");
    answer_->hide();
    box->addWidget(what_if_);
    box->addWidget(answer_);
}

void SlackStation::show_below(Below page) {
    below_->setCurrentIndex(static_cast<int>(page));
    below_buttons_[static_cast<int>(page)]->setChecked(true);
    if (page == Below::clocks && desk_.has_session())
        grid_->show_report(desk_.session().analysis().timing(), listed_check());
    if (page == Below::corners && desk_.has_session()) corners_->refresh();
    if (page == Below::cells) ask_cells();
}

/// What lies around the path that is shown; only while it is seen.
void SlackStation::ask_cells() {
    if (!desk_.has_session() || details_.empty()) return;
    std::vector<std::string> pins;
    for (const auto& p : details_[detail_].path.points) pins.push_back(p.pin);
    desk_.later<Surroundings>(
        "cells", this,
        [pins, levels = cells_->levels()](const std::shared_ptr<const Snapshot>& now, const std::stop_token&) {
            const auto& w = *now->world;
            return surroundings_of(w.netlist, *w.index, w.library, pins, levels);
        },
        [this](const Surroundings& around) { cells_->show_surroundings(around); });
}

void SlackStation::add_below_actions() {
    const auto page = [this](const char* id, const QString& name, const char* keys, Below below) {
        add_action(id, name, QKeySequence(QLatin1String(keys)), [this, below] {
            desk_.go_to(Place::slack);
            show_below(below);
            below_->currentWidget()->setFocus();
        });
    };
    page("slack.path", tr("Show the path on the time axis"), "", Below::path);
    page("slack.table", tr("Show the path as a table"), "", Below::table);
    page("slack.cures", tr("What would close this path"), "Ctrl+Shift+I", Below::cures);
    page("slack.clocks", tr("Slack from clock to clock"), "", Below::clocks);
    page("slack.corners", tr("Corners of the analysis"), "", Below::corners);
    page("slack.cells", tr("Cells around the path"), "", Below::cells);
    add_action("slack.few", tr("Smallest set of changes"), {}, [this] {
        desk_.go_to(Place::slack);
        show_below(Below::cures);
        cures_->find_few();
    });
    add_action("slack.take", tr("Take the change that closes the path"), {}, [this] { cures_->take(); });
    add_action("slack.next", tr("Next path of this endpoint"), QKeySequence(QStringLiteral("Alt+.")),
               [this] { step_path(1); });
    add_action("slack.previous", tr("Path before of this endpoint"), QKeySequence(QStringLiteral("Alt+,")),
               [this] { step_path(-1); });
    add_action("slack.svg", tr("Save the path as a drawing (SVG)"), {}, [this] { save_path(); });
}

void SlackStation::connect_all() {
    add_below_actions();
    connect(spread_, &SpreadChart::brushed, this, [this](double low, double high) {
        filter_->setText(QStringLiteral("slack>%1 slack<%2").arg(q(shortest(low - 1e-9)), q(shortest(high))));
    });
    connect(cells_, &NetView::levels_wanted, this, [this] { ask_cells(); });
    connect(grid_, &ClockGrid::pair_chosen, this, [this](const QString& filter) { filter_->setText(filter); });
    connect(table_, &PathTable::pin_chosen, this, [this](const QString& pin) {
        if (desk_.session().plan().port(pin.toStdString())) desk_.select({QStringLiteral("port"), pin});
    });
    add_action("slack.copy", tr("Copy the path as a table of text"), {}, [this] { copy_path(); });
    connect(what_if_, &QLineEdit::returnPressed, this, [this] { ask_what_if(); });
    connect(what_if_, &QLineEdit::textEdited, this, [this] { forget_answer(); });
    connect(missing_, &QPushButton::clicked, this, [this] { desk_.run_command(QStringLiteral("tempo.coverage")); });
    connect(filter_, &QLineEdit::textChanged, this, [this] {
        if (desk_.has_session()) fill_list();
    });
    connect(list_->selectionModel(), &QItemSelectionModel::currentRowChanged, this, [this] {
        if (!filling_) show_path();
    });
    add_action("slack.setup", tr("Show setup slack"), {}, [this] {
        desk_.go_to(Place::slack);
        setup_->click();
    });
    add_action("slack.whatif.ask", tr("Ask what if"), {}, [this] {
        desk_.go_to(Place::slack);
        what_if_->setFocus();
    });
    add_action("slack.hold", tr("Show hold slack"), {}, [this] {
        desk_.go_to(Place::slack);
        hold_->click();
    });
}

void SlackStation::forget_answer() {
    desk_.forget("what if");
    answer_->hide();
}

/// The line is run beside the window; the answer is dropped when another line was typed or the plan moved on.
void SlackStation::ask_what_if() {
    forget_answer();
    const auto line = what_if_->text().trimmed().toStdString();
    if (line.empty() || !desk_.has_session()) return;
    answer_->setText(tr("asking …"));
    answer_->show();
    desk_.later<Result<WhatIf>>(
        "what if", this,
        [line](const std::shared_ptr<const Snapshot>& now, const std::stop_token& stop) {
            return what_if_line(*now, line, stop);
        },
        [this](const Result<WhatIf>& found) {
            answer_->setText(found ? what_if_sentence(desk_.session().analysis().timing(), found.value())
                                   : q(found.first().text));
        });
}

QString what_if_sentence(const TimingReport& now, const WhatIf& then) {
    const auto moved = [](const CheckSummary& a, const CheckSummary& b) {
        if (!a.wns || !b.wns) return QString();
        const double d = *b.wns - *a.wns;
        return d == 0 ? QObject::tr(" (as now)")
                      : QStringLiteral(" (%1%2 ns)")
                            .arg(d > 0 ? QStringLiteral("+") : QStringLiteral("\u2212"), slack_ns(std::abs(d)));
    };
    return QObject::tr("With this line: ") + one_check(QObject::tr("setup"), then.setup) +
           moved(now.setup, then.setup) + QStringLiteral("; ") + one_check(QObject::tr("hold"), then.hold) +
           moved(now.hold, then.hold) + QStringLiteral(".");
}

void SlackStation::refresh() {
    forget_answer();
    const auto& a = desk_.session().analysis();
    for (QWidget* w : std::initializer_list<QWidget*>{spread_, card_, below_}) w->show();
    for (auto* button : below_buttons_) button->show();
    missing_->setVisible(!a.timing().coverage.untimed.empty());
    sentence_->setText(summary_sentence(a.timing()));
    const auto causes = common_causes(a.timing());
    const auto more =
        causes.empty()
            ? tr("%1 in %2 ms")
                  .arg(counted(static_cast<int>(a.timing().arcs), "arc"))
                  .arg(q(fixed(
                      1000 * (a.timing().seconds_build + a.timing().seconds_update + a.timing().seconds_report), 1)))
            : tr("failing by %1").arg(q(causes));
    under_->setText(tr("%1 · delays from %2 · %3")
                        .arg(how_clocks(a.constraints(), desk_.session().deriver().grounds()->options.propagated))
                        .arg(desk_.session().project().delays.empty() ? tr("the cell library")
                                                                      : q(desk_.session().project().delays))
                        .arg(more));
    fill_list();
    show_below(static_cast<Below>(below_->currentIndex()));
}

namespace {
/// Why a filter shows nothing.
QString filter_says(const QString& text) {
    const auto parsed = PathQuery::parse(text.toStdString());
    return parsed ? QObject::tr("No endpoint matches.") : q(parsed.first().text);
}
}  // namespace

/// The path that is shown, as a table of text.
void SlackStation::copy_path() {
    if (!desk_.has_session()) return;
    if (details_.empty()) return desk_.say(tr("Choose an endpoint with a path first."), true);
    const auto& d = details_[detail_];
    QApplication::clipboard()->setText(
        tr("%1 %2 -> %3, slack %4 ns\n")
            .arg(q(d.path.check), q(d.path.startpoint), q(d.path.endpoint), slack_ns(d.path.slack)) +
        table_->as_text());
    desk_.say(tr("The path is on the clipboard, as a table."));
}

/// Beside the project, under the names of its ends.
void SlackStation::save_path() {
    if (details_.empty()) return desk_.say(tr("Choose an endpoint with a path first."), true);
    const auto& d = details_[detail_];
    std::string name = d.path.check + "-" + d.path.endpoint;
    for (char& c : name)
        if (!std::isalnum(static_cast<unsigned char>(c)) && c != '-' && c != '_') c = '_';
    const auto where = desk_.session().document().folder() + "/" + name + ".svg";
    const auto file = ask_where_to_save(this, tr("Save the path as a drawing"), q(where), tr("SVG (*.svg)"));
    if (file.isEmpty()) return;
    const auto text = svg_of(path_drawing(d.path, desk_.session().analysis().timing().clocks));
    const auto status = replace_file(real_disk(), file.toStdString(), text);
    desk_.say(status ? tr("The path is in %1.").arg(file) : q(status.first().sentence()), !status);
}

std::string SlackStation::listed_check() const {
    return setup_->isChecked() ? "setup" : hold_->isChecked() ? "hold" : "";
}

void SlackStation::fill_list() {
    using Kind = EndpointModel::Kind;
    const auto& a = desk_.session().analysis();
    const bool others = others_->isChecked();
    const std::string check = hold_->isChecked() ? "hold" : "setup";
    const Kind kind = free_->isChecked()   ? Kind::unconstrained
                      : others             ? Kind::others
                      : hold_->isChecked() ? Kind::hold
                                           : Kind::setup;
    filling_ = true;
    const int place = list_->currentIndex().row();
    const bool other_list = kind != listed_;
    listed_ = kind;
    model_->show(a.report, a.report_index, kind, filter_->text());
    // Another list begins at its worst; in the same one the row that was current stays, or the one in its place.
    if (other_list || place < 0)
        list_->setCurrentIndex(model_->index(0, 0));
    else if (!list_->currentIndex().isValid())
        list_->setCurrentIndex(model_->index(std::min(place, model_->rowCount() - 1), 0));
    auto slacks = model_->slacks();
    spread_->show_slacks(
        std::move(slacks),
        free_->isChecked()
            ? tr("unconstrained paths have a delay, but no slack")
            : tr("endpoints by %1 slack, ns").arg(others ? tr("recovery, removal, pulse width and period") : q(check)));
    ribbon_->say(model_->rowCount() > 0       ? tr("Choose an endpoint above to see its worst path.")
                 : !filter_->text().isEmpty() ? filter_says(filter_->text())
                 : free_->isChecked()
                     ? tr("Every path is constrained.")
                     : tr("Nothing has %1 check yet. Tempo (Alt+4) proposes a line for each gap under Coverage.")
                           .arg(others ? tr("a recovery, removal, pulse-width or period") : tr("a ") + q(check)));
    show_path();
    filling_ = false;
}

namespace {

/// The first and the last wave of a path.
std::pair<const ClockReport*, const ClockReport*> clocks_of(const TimingReport& report, const TimingPath& path) {
    std::pair<const ClockReport*, const ClockReport*> out{nullptr, nullptr};
    for (const auto& c : report.clocks) {
        if (c.name == path.launch_clock) out.first = &c;
        if (c.name == path.capture_clock) out.second = &c;
    }
    return out;
}

}  // namespace

void SlackStation::show_path() {
    details_.clear();
    detail_ = 0;
    which_->clear();
    table_->clear();
    if (!desk_.has_session()) return;
    const auto& r = desk_.session().analysis().timing();
    const int row = list_->currentIndex().row();
    const int at = model_->path_at(row);
    const auto* path = at < 0 || at >= static_cast<int>(r.paths.size()) ? nullptr : &r.paths[static_cast<size_t>(at)];
    const auto [launch, capture] = path ? clocks_of(r, *path) : clocks_of(r, {});
    ribbon_->show_path(path, launch, capture,
                       path && path->slack < 0 ? q(why_failing(*path, r.clocks).text) : QString());
    cures_->show_path(path);
    if (row >= 0) ask_detail();
    // Only who goes to a path selects its port; a list that is filled again does not touch the selection and its
    // history.
    if (!filling_) select_row(row);
}

/// An endpoint that is a port is selected as that, since all pages know ports.
void SlackStation::select_row(int row) {
    const auto* e = model_->endpoint_at(row);
    const auto* free = model_->free_at(row);
    if (!e && !free) return;
    const auto& end = e ? e->endpoint : free->endpoint;
    if (desk_.session().plan().port(end)) return desk_.select({QStringLiteral("port"), q(end)});
    desk_.select({QStringLiteral("endpoint"), q((e ? e->check : "unconstrained") + " " + end)});
}

/// The report lists the worst paths; the engine is asked for the others of this endpoint, for the ways of its clocks,
/// and for what no path of the report shows.
void SlackStation::ask_detail() {
    const int row = list_->currentIndex().row();
    const auto* e = model_->endpoint_at(row);
    const auto* free = model_->free_at(row);
    if (!e && !free) return;
    const auto slack = e ? *e : EndpointSlack{};
    const auto unconstrained = free ? *free : UnconstrainedPath{};
    desk_.later<PathAnswer>(
        "path", this,
        [slack, unconstrained, is_free = free != nullptr](const std::shared_ptr<const Snapshot>& now,
                                                          const std::stop_token&) {
            return is_free ? paths_of(*now, unconstrained) : paths_of(*now, slack);
        },
        [this](const PathAnswer& answer) { show_detail(answer); });
}

/// The same endpoint by its other checks and in the other corners.
QString SlackStation::beside(const PathAnswer& asked) const {
    QStringList out;
    const auto& path = asked.paths.front().path;
    for (const auto& e : desk_.session().analysis().timing().endpoints)
        if (e.endpoint == path.endpoint && e.check != path.check)
            out << tr("%1 here %2").arg(q(words_of_check(e.check)), slack_ns(e.slack));
    for (const auto& [corner, slack] : asked.corners) out << tr("%1 %2").arg(q(corner), slack_ns(slack));
    return out.isEmpty() ? QString() : tr("other checks and corners, ns: %1").arg(out.join(QStringLiteral(" · ")));
}

void SlackStation::show_detail(const PathAnswer& asked) {
    if (asked.paths.empty() || !desk_.has_session()) return;
    const size_t before = detail_;
    details_ = asked.paths;
    beside_ = beside(asked);
    detail_ = std::min(before, details_.size() - 1);
    step_path(0);
}

void SlackStation::step_path(int by) {
    if (details_.empty()) return;
    const auto count = static_cast<int>(details_.size());
    detail_ = static_cast<size_t>(std::clamp(static_cast<int>(detail_) + by, 0, count - 1));
    const auto& d = details_[detail_];
    const auto& r = desk_.session().analysis().timing();
    const auto [launch, capture] = clocks_of(r, d.path);
    ribbon_->show_detail(d, launch, capture, d.path.slack < 0 ? q(why_failing(d.path, r.clocks).text) : QString(),
                         beside_);
    table_->show_path(d);
    which_->setText(count < 2 ? QString()
                              : tr("path %1 of the worst %2 here (Alt+, and Alt+.)").arg(detail_ + 1).arg(count));
    if (by != 0) cures_->show_path(&d.path);
    if (below_->currentIndex() == static_cast<int>(Below::cells)) ask_cells();
}

KnotState SlackStation::standing() const {
    const auto& r = desk_.session().analysis().timing();
    const auto v = verdict_of(r);
    if (!v.worst) return {tr("Slack"), tr("nothing timed"), Standing::open};
    const double worst = *v.worst;
    return {tr("Slack"), (worst >= 0 ? QStringLiteral("+") : QString()) + slack_ns(worst) + QStringLiteral(" ns"),
            worst < 0                                        ? Standing::stop
            : r.coverage.constrained == r.coverage.endpoints ? Standing::good
                                                             : Standing::open};
}

QString SlackStation::status() const {
    const auto& r = desk_.session().analysis().timing();
    return tr("analysed %1, %2 in %3 ms")
        .arg(counted(r.coverage.endpoints, "endpoint"), counted(static_cast<int>(r.arcs), "arc"))
        .arg(q(fixed(1000 * (r.seconds_build + r.seconds_update), 2)));
}

}  // namespace kp::app
