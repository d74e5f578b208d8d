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
    return n == static_cast<std::ptrdiff_t>(propagated.size()) ? SlackStation::tr("propagated clocks") : SlackStation::tr("%1 of %2 clocks propagated").arg(n).arg(propagated.size());
}

QString q(const std::string& s) { return QString::fromStdString(s); }
QString ns(double v) { return q(fixed(v, 3)); }

QString one_check(const QString& name, const CheckSummary& s) { return q(kind_sentence(name.toStdString(), s)); }
}  // namespace

QString summary_sentence(const TimingReport& r) { return q(timing_sentence(r)); }

SlackStation::SlackStation(Desk& desk, QWidget* parent)
    : Station(desk, parent), sentence_(new QLabel), under_(new QLabel), answer_(new QLabel), spread_(new SpreadChart), ribbon_(new PathRibbon), filter_(new QLineEdit), what_if_(new QLineEdit), missing_(new QPushButton(tr("see what is missing"))), card_(new QFrame), setup_(new QPushButton(tr("setup"))), hold_(new QPushButton(tr("hold"))), others_(new QPushButton(tr("other checks"))), free_(new QPushButton(tr("not constrained"))), list_(new QTreeWidget) {
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
    what_if_->setPlaceholderText(tr("what if … a line of SDC, such as set_multicycle_path 2 -to r1/D; nothing is edited"));
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
    for (QWidget* w : {static_cast<QWidget*>(spread_), card_, static_cast<QWidget*>(ribbon_), static_cast<QWidget*>(missing_)}) w->hide();
    connect(filter_, &QLineEdit::textChanged, this, [this] {
        if (desk_.has_session()) fill_list();
    });
    connect(list_, &QTreeWidget::currentItemChanged, this, [this] { show_path(); });
    add_action("slack.setup", tr("Show setup slack"), {}, [this] {
        desk_.go_to(4);
        setup_->click();
    });
    add_action("slack.whatif.ask", tr("Ask what if"), {}, [this] {
        desk_.go_to(4);
        what_if_->setFocus();
    });
    add_action("slack.hold", tr("Show hold slack"), {}, [this] {
        desk_.go_to(4);
        hold_->click();
    });
}

void SlackStation::forget_answer() {
    asking_ = {};
    answer_->hide();
}

/// The line is run beside the window; the answer is dropped when another line was typed or the plan moved on.
void SlackStation::ask_what_if() {
    forget_answer();
    const auto line = what_if_->text().trimmed().toStdString();
    if (line.empty() || !desk_.has_session()) return;
    answer_->setText(tr("asking …"));
    answer_->show();
    auto& session = desk_.session();
    asking_ = std::jthread([this, line, world = session.world_ptr(), project = session.project(), folder = session.folder(), keeper = session.timekeeper()](std::stop_token stop) {
        auto found = what_if_line(*world, project, folder, *keeper, line, stop);
        if (stop.stop_requested()) return;
        const auto text = std::make_shared<Result<WhatIf>>(std::move(found));
        QMetaObject::invokeMethod(this, [this, text, stop] {
            if (stop.stop_requested() || !desk_.has_session()) return;
            answer_->setText(*text ? what_if_sentence(desk_.session().analysis().timing, text->value()) : q(text->first().text));
        });
    });
}

QString what_if_sentence(const TimingReport& now, const WhatIf& then) {
    const auto moved = [](const CheckSummary& a, const CheckSummary& b) {
        if (!a.wns || !b.wns) return QString();
        const double d = *b.wns - *a.wns;
        return d == 0 ? QObject::tr(" (as now)") : QStringLiteral(" (%1%2 ns)").arg(d > 0 ? QStringLiteral("+") : QStringLiteral("\u2212"), ns(std::abs(d)));
    };
    return QObject::tr("With this line: ") + one_check(QObject::tr("setup"), then.setup) + moved(now.setup, then.setup) + QStringLiteral("; ") + one_check(QObject::tr("hold"), then.hold) + moved(now.hold, then.hold) + QStringLiteral(".");
}

void SlackStation::refresh() {
    forget_answer();
    const auto& a = desk_.session().analysis();
    for (QWidget* w : {static_cast<QWidget*>(spread_), card_, static_cast<QWidget*>(ribbon_)}) w->show();
    missing_->setVisible(!a.timing.coverage.untimed.empty());
    sentence_->setText(summary_sentence(a.timing));
    under_->setText(tr("%1 · delays from %2 · %3 in %4 ms").arg(how_clocks(a.constraints, desk_.session().timing_options().propagated)).arg(desk_.session().project().delays.empty() ? tr("the cell library") : q(desk_.session().project().delays)).arg(counted(static_cast<int>(a.timing.arcs), "arc")).arg(q(fixed(1000 * (a.timing.seconds_build + a.timing.seconds_update + a.timing.seconds_report), 1))));
    fill_list();
}

void SlackStation::fill_list() {
    const auto& r = desk_.session().analysis().timing;
    const bool others = others_->isChecked();
    const std::string check = hold_->isChecked() ? "hold" : "setup";
    const auto listed = [&](const std::string& kind) { return others ? kind != "setup" && kind != "hold" : kind == check; };
    // The worst path of each endpoint, looked up once.
    std::unordered_map<std::string, int> path_of;
    for (size_t k = 0; k < r.paths.size(); ++k) path_of.try_emplace(r.paths[k].check + " " + r.paths[k].endpoint, static_cast<int>(k));
    list_->clear();
    std::vector<double> slacks;
    if (free_->isChecked()) {
        for (const auto& u : r.unconstrained) {
            auto* item = new QTreeWidgetItem(list_, {tr("none"), q(u.startpoint), q(u.endpoint), tr("none"), ns(u.max_delay), tr("shortest %1 ns").arg(ns(u.min_delay))});
            item->setData(0, Qt::UserRole, -1);
        }
    } else {
        for (size_t i = 0; i < r.endpoints.size(); ++i) {
            const auto& e = r.endpoints[i];
            if (!listed(e.check)) continue;
            slacks.push_back(e.slack);
            const auto path_at = path_of.find(e.check + " " + e.endpoint);
            const int at = path_at == path_of.end() ? -1 : path_at->second;
            QString from, delay, mostly;
            if (at >= 0) {
                const auto& path = r.paths[static_cast<size_t>(at)];
                from = q(path.startpoint);
                delay = ns(path.arrival - path.launch_edge);
                std::pair<double, QString> worst{-1, {}};
                double wire = 0, cell = 0, outside = 0;
                for (const auto& point : path.points) (point.kind == "wire" ? wire : point.kind == "cell" ? cell : outside) += point.kind == "check" || point.kind == "output_delay" ? 0 : point.delay;
                for (const auto& one : {std::pair{wire, tr("wire")}, {cell, tr("cells")}, {outside, tr("outside")}})
                    if (one.first > worst.first) worst = one;
                mostly = tr("%1 %2").arg(worst.second, ns(worst.first));
            }
            if (others && at < 0) from = q(words_of_check(e.check));
            const QString name = q(e.endpoint);
            if (!(name + from).contains(filter_->text(), Qt::CaseInsensitive)) continue;
            auto* item = new QTreeWidgetItem(list_, {ns(e.slack), from, name, e.launch_clock == e.capture_clock ? q(e.launch_clock) : QStringLiteral("%1 → %2").arg(q(e.launch_clock), q(e.capture_clock)), delay, mostly});
            item->setData(0, Qt::UserRole, at);
            if (e.slack < 0) item->setForeground(0, theme().stop);
        }
    }
    for (int i = 0; i < list_->topLevelItemCount(); ++i) {
        auto* item = list_->topLevelItem(i);
        for (const int c : {0, 4}) item->setTextAlignment(c, Qt::AlignRight | Qt::AlignVCenter);
        for (const int c : {0, 1, 2, 3, 4}) item->setFont(c, mono(12));
    }
    spread_->show_slacks(std::move(slacks), free_->isChecked() ? tr("unconstrained paths have a delay, but no slack") : tr("endpoints by %1 slack, ns").arg(others ? tr("recovery, removal, pulse width and period") : q(check)));
    ribbon_->say(list_->topLevelItemCount() > 0 ? tr("Choose an endpoint above to see its worst path.")
                 : !filter_->text().isEmpty()     ? tr("No endpoint is named so.")
                 : free_->isChecked()             ? tr("Every path is constrained.")
                                                  : tr("Nothing has %1 check yet. Tempo (Alt+4) proposes a line for each gap under Coverage.").arg(others ? tr("a recovery, removal, pulse-width or period") : tr("a ") + q(check)));
    list_->setCurrentItem(list_->topLevelItem(0));
    show_path();
}

void SlackStation::show_path() {
    if (!desk_.has_session()) return;
    const auto* item = list_->currentItem();
    const auto& r = desk_.session().analysis().timing;
    const int at = item ? item->data(0, Qt::UserRole).toInt() : -1;
    if (at < 0 || at >= static_cast<int>(r.paths.size())) return ribbon_->show_path(nullptr, nullptr, nullptr);
    const auto& path = r.paths[static_cast<size_t>(at)];
    const ClockReport *launch = nullptr, *capture = nullptr;
    for (const auto& c : r.clocks) {
        if (c.name == path.launch_clock) launch = &c;
        if (c.name == path.capture_clock) capture = &c;
    }
    ribbon_->show_path(&path, launch, capture);
    for (const auto& port : desk_.session().world().netlist.ports)
        if (port.name == path.endpoint) desk_.select({QStringLiteral("port"), q(path.endpoint)});
}

KnotState SlackStation::standing() const {
    const auto& r = desk_.session().analysis().timing;
    const auto v = verdict_of(r);
    if (!v.worst) return {tr("Slack"), tr("nothing timed"), Standing::open};
    const double worst = *v.worst;
    return {tr("Slack"), (worst >= 0 ? QStringLiteral("+") : QString()) + ns(worst) + QStringLiteral(" ns"), worst < 0 ? Standing::stop : r.coverage.constrained == r.coverage.endpoints ? Standing::good : Standing::open};
}

QString SlackStation::status() const {
    const auto& r = desk_.session().analysis().timing;
    return tr("analysed %1, %2 in %3 ms").arg(counted(r.coverage.endpoints, "endpoint"), counted(static_cast<int>(r.arcs), "arc")).arg(q(fixed(1000 * (r.seconds_build + r.seconds_update), 2)));
}

}  // namespace kp::app
