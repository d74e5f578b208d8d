// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/slack/slack_station.hpp"

#include "app/slack/charts.hpp"
#include "app/shell/counted.hpp"
#include "core/base/text.hpp"
#include "core/model/timing_words.hpp"
#include "core/session/what_if.hpp"
#include "core/timing/clocks.hpp"

#include <QButtonGroup>
#include <QFrame>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTreeWidget>
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
      list_(new QTreeWidget) {
    sentence_->setProperty("role", "heading");
    sentence_->setWordWrap(true);
    sentence_->setObjectName("slack.sentence");
    under_->setProperty("role", "second");
    filter_->setPlaceholderText(tr("filter endpoints"));
    filter_->setAccessibleName(tr("Filter endpoints"));
    filter_->setMaximumWidth(190);
    filter_->setObjectName("slack.filter");
    list_->setObjectName("slack.list");
    list_->setHeaderLabels({tr("slack, ns"), tr("from"), tr("to"), tr("clocks"), tr("delay, ns"), tr("dominated by")});
    list_->setRootIsDecorated(false);
    list_->setUniformRowHeights(true);
    list_->headerItem()->setTextAlignment(0, Qt::AlignRight | Qt::AlignVCenter);
    list_->headerItem()->setTextAlignment(4, Qt::AlignRight | Qt::AlignVCenter);
    const int widths[] = {84, 190, 190, 150, 84};
    for (int i = 0; i < 5; ++i) list_->setColumnWidth(i, widths[i]);
    spread_->setFixedHeight(118);
    ribbon_->setFixedHeight(222);
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
    connect(what_if_, &QLineEdit::returnPressed, this, [this] { ask_what_if(); });
    connect(what_if_, &QLineEdit::textEdited, this, [this] { forget_answer(); });
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(20, 10, 16, 10);
    all->setSpacing(8);
    missing_->setObjectName("slack.missing");
    connect(missing_, &QPushButton::clicked, this, [this] {
        if (auto* coverage = window()->findChild<QAction*>(QStringLiteral("tempo.coverage"))) coverage->trigger();
    });
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
    connect(filter_, &QLineEdit::textChanged, this, [this] {
        if (desk_.has_session()) fill_list();
    });
    connect(list_, &QTreeWidget::currentItemChanged, this, [this] { show_path(); });
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
    under_->setText(
        tr("%1 · delays from %2 · %3 in %4 ms")
            .arg(how_clocks(a.constraints(), desk_.session().deriver().grounds()->options.propagated))
            .arg(desk_.session().project().delays.empty() ? tr("the cell library")
                                                          : q(desk_.session().project().delays))
            .arg(counted(static_cast<int>(a.timing().arcs), "arc"))
            .arg(q(
                fixed(1000 * (a.timing().seconds_build + a.timing().seconds_update + a.timing().seconds_report), 1))));
    fill_list();
}

namespace {

void dress_row(QTreeWidgetItem* item) {
    for (const int c : {0, 4}) item->setTextAlignment(c, Qt::AlignRight | Qt::AlignVCenter);
    for (const int c : {0, 1, 2, 3, 4}) item->setFont(c, mono(12));
}

Row free_row(const UnconstrainedPath& u) {
    Row row{q("free " + u.startpoint + " " + u.endpoint),
            {QObject::tr("none"), q(u.startpoint), q(u.endpoint), QObject::tr("none"), ns(u.max_delay),
             QObject::tr("shortest %1 ns").arg(ns(u.min_delay))}};
    row.dress = [](QTreeWidgetItem* item) {
        item->setData(0, Qt::UserRole, -1);
        dress_row(item);
    };
    return row;
}

QString mostly_words(const TimingPath& path) {
    const auto share = share_of(path);
    const auto& [name, most] = std::max({std::pair{QObject::tr("wire"), share.wire},
                                         {QObject::tr("cells"), share.cell},
                                         {QObject::tr("outside"), share.outside}},
                                        [](const auto& a, const auto& b) { return a.second < b.second; });
    return QObject::tr("%1 %2").arg(name, ns(most));
}

Row endpoint_row(const TimingReport& r, const TimingIndex& index, const EndpointSlack& e, bool others) {
    const int at = index.path_of(e);
    QString from, delay, mostly;
    if (at >= 0) {
        const auto& path = r.paths[static_cast<size_t>(at)];
        from = q(path.startpoint);
        delay = ns(path.arrival - path.launch_edge);
        mostly = mostly_words(path);
    }
    if (others && at < 0) from = q(words_of_check(e.check));
    const auto clocks = e.launch_clock == e.capture_clock
                            ? q(e.launch_clock)
                            : QStringLiteral("%1 → %2").arg(q(e.launch_clock), q(e.capture_clock));
    Row row{q(e.check + " " + e.endpoint), {ns(e.slack), from, q(e.endpoint), clocks, delay, mostly}};
    row.dress = [at, ink = e.slack < 0 ? theme().stop : theme().ink](QTreeWidgetItem* item) {
        item->setData(0, Qt::UserRole, at);
        item->setForeground(0, ink);
        dress_row(item);
    };
    return row;
}

}  // namespace

void SlackStation::fill_list() {
    const auto& r = desk_.session().analysis().timing();
    const bool others = others_->isChecked();
    const std::string check = hold_->isChecked() ? "hold" : "setup";
    const auto listed = [&](const std::string& kind) {
        return others ? kind != "setup" && kind != "hold" : kind == check;
    };
    const auto& index = desk_.session().analysis().timing_index();
    std::vector<Row> rows;
    std::vector<double> slacks;
    if (free_->isChecked())
        for (const auto& u : r.unconstrained) rows.push_back(free_row(u));
    else
        for (const auto& e : r.endpoints) {
            if (!listed(e.check)) continue;
            slacks.push_back(e.slack);
            auto row = endpoint_row(r, index, e, others);
            if ((row.cells[1] + row.cells[2]).contains(filter_->text(), Qt::CaseInsensitive))
                rows.push_back(std::move(row));
        }
    filling_ = true;
    const bool other_list = listed_ != check + (free_->isChecked() ? " free" : others ? " others" : "");
    listed_ = check + (free_->isChecked() ? " free" : others ? " others" : "");
    sync_rows(list_, rows);
    // Another list begins at its worst; the same one stays where the user is.
    if (other_list || !list_->currentItem()) list_->setCurrentItem(list_->topLevelItem(0));
    spread_->show_slacks(
        std::move(slacks),
        free_->isChecked()
            ? tr("unconstrained paths have a delay, but no slack")
            : tr("endpoints by %1 slack, ns").arg(others ? tr("recovery, removal, pulse width and period") : q(check)));
    ribbon_->say(list_->topLevelItemCount() > 0 ? tr("Choose an endpoint above to see its worst path.")
                 : !filter_->text().isEmpty()   ? tr("No endpoint is named so.")
                 : free_->isChecked()
                     ? tr("Every path is constrained.")
                     : tr("Nothing has %1 check yet. Tempo (Alt+4) proposes a line for each gap under Coverage.")
                           .arg(others ? tr("a recovery, removal, pulse-width or period") : tr("a ") + q(check)));
    show_path();
    filling_ = false;
}

void SlackStation::show_path() {
    if (!desk_.has_session()) return;
    const auto* item = list_->currentItem();
    const auto& r = desk_.session().analysis().timing();
    const int at = item ? item->data(0, Qt::UserRole).toInt() : -1;
    if (at < 0 || at >= static_cast<int>(r.paths.size())) return ribbon_->show_path(nullptr, nullptr, nullptr);
    const auto& path = r.paths[static_cast<size_t>(at)];
    const ClockReport *launch = nullptr, *capture = nullptr;
    for (const auto& c : r.clocks) {
        if (c.name == path.launch_clock) launch = &c;
        if (c.name == path.capture_clock) capture = &c;
    }
    ribbon_->show_path(&path, launch, capture);
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
