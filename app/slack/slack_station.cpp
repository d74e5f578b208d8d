// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/slack/slack_station.hpp"

#include "app/slack/charts.hpp"
#include "app/shell/counted.hpp"
#include "core/base/text.hpp"
#include "core/model/path_cause.hpp"
#include "core/model/path_query.hpp"
#include "core/model/timing_words.hpp"
#include "core/session/what_if.hpp"
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
#include <QItemSelectionModel>
#include <QTreeView>
#include <QVBoxLayout>
#include <algorithm>
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

QString q(const std::string& s) {
    return QString::fromStdString(s);
}
QString ns(double v) {
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
      free_(new QPushButton(tr("not constrained"))),
      list_(new QTreeView),
      model_(new EndpointModel(this)) {
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
    filter_->setMaximumWidth(230);
    filter_->setToolTip(tr("Words, and from: to: through: clock: cause: slack<0 slack>1 levels>8, with * and ?"));
    filter_->setObjectName("slack.filter");
    list_->setObjectName("slack.list");
    list_->setModel(model_);
    list_->setRootIsDecorated(false);
    list_->setUniformRowHeights(true);
    const int widths[] = {84, 190, 190, 150, 84};
    for (int i = 0; i < 5; ++i) list_->setColumnWidth(i, widths[i]);
    spread_->setFixedHeight(118);
    ribbon_->setFixedHeight(222);
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
    all->addWidget(ribbon_);
    all->addStretch(0);
    sentence_->setText(tr("No project is open."));
    under_->setText(tr("What the paths of one have to spare is told here. Ctrl+O opens a project."));
    for (QWidget* w :
         {static_cast<QWidget*>(spread_), card_, static_cast<QWidget*>(ribbon_), static_cast<QWidget*>(missing_)})
        w->hide();
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

void SlackStation::connect_all() {
    add_action("slack.copy", tr("Copy the path as a table of text"), {}, [this] { copy_path(); });
    connect(what_if_, &QLineEdit::returnPressed, this, [this] { ask_what_if(); });
    connect(what_if_, &QLineEdit::textEdited, this, [this] { forget_answer(); });
    connect(missing_, &QPushButton::clicked, this, [this] {
        if (auto* coverage = window()->findChild<QAction*>(QStringLiteral("tempo.coverage"))) coverage->trigger();
    });
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
                            .arg(d > 0 ? QStringLiteral("+") : QStringLiteral("\u2212"), ns(std::abs(d)));
    };
    return QObject::tr("With this line: ") + one_check(QObject::tr("setup"), then.setup) +
           moved(now.setup, then.setup) + QStringLiteral("; ") + one_check(QObject::tr("hold"), then.hold) +
           moved(now.hold, then.hold) + QStringLiteral(".");
}

void SlackStation::refresh() {
    forget_answer();
    const auto& a = desk_.session().analysis();
    for (QWidget* w : {static_cast<QWidget*>(spread_), card_, static_cast<QWidget*>(ribbon_)}) w->show();
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
}

namespace {
/// Why a filter shows nothing.
QString filter_says(const QString& text) {
    const auto parsed = PathQuery::parse(text.toStdString());
    return parsed ? QObject::tr("No endpoint is like that.") : q(parsed.first().text);
}
}  // namespace

/// The path that is shown, as a table of text.
void SlackStation::copy_path() {
    if (!desk_.has_session()) return;
    const auto& r = desk_.session().analysis().timing();
    const int at = model_->path_at(list_->currentIndex().row());
    if (at < 0) return desk_.say(tr("Choose an endpoint with a path first."), true);
    QApplication::clipboard()->setText(q(path_table(r.paths[static_cast<size_t>(at)])));
    desk_.say(tr("The path is on the clipboard, as a table."));
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

void SlackStation::show_path() {
    if (!desk_.has_session()) return;
    const auto& r = desk_.session().analysis().timing();
    const int at = model_->path_at(list_->currentIndex().row());
    if (at < 0 || at >= static_cast<int>(r.paths.size())) return ribbon_->show_path(nullptr, nullptr, nullptr);
    const auto& path = r.paths[static_cast<size_t>(at)];
    const ClockReport *launch = nullptr, *capture = nullptr;
    for (const auto& c : r.clocks) {
        if (c.name == path.launch_clock) launch = &c;
        if (c.name == path.capture_clock) capture = &c;
    }
    ribbon_->show_path(&path, launch, capture, path.slack < 0 ? q(why_failing(path, r.clocks).text) : QString());
    // Only who goes to a path selects its port; a list that is filled again does not touch the selection and its
    // history.
    if (!filling_ && desk_.session().plan().port(path.endpoint))
        desk_.select({QStringLiteral("port"), q(path.endpoint)});
}

KnotState SlackStation::standing() const {
    const auto& r = desk_.session().analysis().timing();
    const auto v = verdict_of(r);
    if (!v.worst) return {tr("Slack"), tr("nothing timed"), Standing::open};
    const double worst = *v.worst;
    return {tr("Slack"), (worst >= 0 ? QStringLiteral("+") : QString()) + ns(worst) + QStringLiteral(" ns"),
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
