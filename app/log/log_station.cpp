// SPDX-License-Identifier: GPL-3.0-or-later
// Rows come from the run log; comparing is a job. State: which two runs are compared, and the handoff's answer
// until the plan changes.
#include "app/log/log_station.hpp"

#include "app/log/build_page.hpp"
#include "app/shell/counted.hpp"
#include "app/theme/text.hpp"
#include "core/base/text.hpp"
#include "core/model/timing_words.hpp"
#include "core/handoff/compare_states.hpp"
#include "core/handoff/handoff.hpp"
#include "core/closing/preview.hpp"

#include <QFrame>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QStackedWidget>
#include <QTabBar>
#include <QTreeWidget>
#include <QVBoxLayout>
#include <algorithm>

namespace kp::app {

namespace {
QString ns(const std::optional<double>& v) {
    return v ? q(fixed(*v, 3)) : QStringLiteral("none");
}
}  // namespace

/// Worst setup slack and stops over the runs.
class RunChart : public Canvas {
public:
    void show_runs(const std::vector<kp::Run>& runs) {
        runs_.clear();
        for (const auto& r : runs) runs_.push_back({r.number, r.findings.stops, r.worst ? r.worst : r.setup_wns});
        update();
    }

protected:
    void draw(QPainter& p) override {
        const auto& t = theme();
        draw_sheet(p, rect(), t.bright, t.hairline);
        text(p, {14, 6, width() - 28.0, 18}, Qt::AlignVCenter,
             tr("over the runs: worst slack of all checks, ns (line) and stops (bars)"), words(11.5), t.second, true);
        if (runs_.empty()) return;
        const size_t shown = std::min<size_t>(runs_.size(), 60), from = runs_.size() - shown;
        double low = 0, high = 1;
        int most = 1;
        for (size_t i = from; i < runs_.size(); ++i) {
            const auto& r = runs_[i];
            if (r.worst) {
                low = std::min(low, *r.worst);
                high = std::max(high, *r.worst);
            }
            most = std::max(most, r.stops);
        }
        const double left = 60, right = width() - 24.0, top = 34, bottom = height() - 26.0;
        const auto x = [&](size_t i) {
            return shown < 2 ? (left + right) / 2
                             : left + 14 +
                                   (right - left - 28) * static_cast<double>(i - from) / static_cast<double>(shown - 1);
        };
        const auto y = [&](double v) { return bottom - (bottom - top) * (v - low) / (high - low); };
        for (size_t i = from; i < runs_.size(); ++i) {
            const auto& r = runs_[i];
            const double h = (bottom - top) * 0.5 * r.stops / most;
            p.fillRect(QRectF(x(i) - 5, bottom - h, 10, h), t.wash_stop);
            if (r.stops > 0 && shown < 30)
                text(p, {x(i) - 12, bottom - h - 16, 24, 15}, Qt::AlignCenter, QString::number(r.stops), words(11),
                     t.stop);
            if (shown < 20 || i + 1 == runs_.size())
                text(p, {x(i) - 16, bottom + 4, 32, 15}, Qt::AlignCenter, QString::number(r.number), mono(11),
                     t.second);
        }
        p.setPen(QPen(t.second, 1));
        p.drawLine(QPointF(left, y(0)), QPointF(right, y(0)));
        text(p, {4, y(high) - 8, 52, 16}, Qt::AlignRight | Qt::AlignVCenter, q(fixed(high, 1)), mono(11), t.second);
        text(p, {4, y(0) - 8, 52, 16}, Qt::AlignRight | Qt::AlignVCenter, QStringLiteral("0"), mono(11), t.second);
        QPolygonF line;
        for (size_t i = from; i < runs_.size(); ++i)
            if (runs_[i].worst) line << QPointF(x(i), y(*runs_[i].worst));
        p.setPen(QPen(t.good, 1.8));
        p.setBrush(Qt::NoBrush);
        p.drawPolyline(line);
        p.setBrush(t.good);
        for (const auto& point : line) p.drawEllipse(point, 3, 3);
    }

private:
    struct Point {
        int number, stops;
        std::optional<double> worst;
    };
    std::vector<Point> runs_;
};

LogStation::LogStation(Desk& desk, QWidget* parent)
    : Station(desk, parent),
      chart_(new RunChart),
      build_(new BuildPage(desk)),
      tabs_(new QTabBar),
      views_(new QStackedWidget),
      runs_(new QTreeWidget),
      difference_(new QTreeWidget),
      compared_(new QLabel),
      gate_(new QLabel),
      folder_(new QLineEdit),
      note_(new QLineEdit),
      restore_(new QPushButton(tr("Restore the run chosen"))),
      write_(new QPushButton(tr("Write the handoff"))),
      despite_(new QPushButton(tr("Write it with stops open"))),
      slack_(new QPushButton(tr("Slack of both, endpoint by endpoint"))) {
    runs_->setObjectName("log.runs");
    runs_->setHeaderLabels(
        {tr("run"), tr("after"), tr("worst, ns"), tr("failing"), tr("stops"), tr("cautions"), tr("constrained")});
    runs_->setRootIsDecorated(false);
    runs_->setSelectionMode(QAbstractItemView::ExtendedSelection);
    const int widths[] = {40, 138, 76, 62, 48, 66};
    for (int i = 0; i < 6; ++i) runs_->setColumnWidth(i, widths[i]);
    difference_->setObjectName("log.difference");
    difference_->setHeaderLabels({tr("what"), tr("before"), tr("after")});
    difference_->setRootIsDecorated(false);
    difference_->setColumnWidth(0, 130);
    difference_->setColumnWidth(1, 120);
    compared_->setProperty("role", "second");
    folder_->setObjectName("log.folder");
    folder_->setPlaceholderText(tr("folder, seen from the project"));
    folder_->setAccessibleName(tr("Folder for the handoff"));
    note_->setObjectName("log.note");
    note_->setAccessibleName(tr("Note beside the run"));
    note_->setPlaceholderText(tr("a note beside the run that is chosen"));
    slack_->setObjectName("log.slack");
    restore_->setObjectName("log.restore");
    write_->setObjectName("log.write");
    write_->setProperty("primary", true);
    despite_->setObjectName("log.despite");
    gate_->setWordWrap(true);
    chart_->setFixedHeight(170);
    lay_out();
    connect_all();
}

void LogStation::lay_out() {
    const auto card = [](std::initializer_list<QWidget*> widgets, int stretch) {
        auto* frame = new QFrame;
        frame->setProperty("card", true);
        auto* box = new QVBoxLayout(frame);
        box->setContentsMargins(8, 8, 8, 8);
        int i = 0;
        for (auto* w : widgets) box->addWidget(w, i++ == stretch ? 1 : 0);
        return frame;
    };
    auto* title = new QLabel(tr("Handoff"));
    title->setProperty("role", "heading");
    auto* left = new QVBoxLayout;
    left->setSpacing(12);
    left->addWidget(chart_);
    left->addWidget(card({runs_, note_, restore_}, 0), 1);
    auto* right = new QVBoxLayout;
    right->setSpacing(12);
    right->addWidget(card({compared_, difference_, slack_}, 1), 1);
    right->addWidget(card({title, gate_, folder_, write_, despite_}, -1));
    auto* page = new QWidget;
    auto* both = new QHBoxLayout(page);
    both->setContentsMargins(20, 6, 16, 10);
    both->setSpacing(12);
    both->addLayout(left, 6);
    both->addLayout(right, 4);
    tabs_->setObjectName("log.views");
    tabs_->setAccessibleName(tr("Views of the log"));
    tabs_->setExpanding(false);
    tabs_->addTab(tr("Runs"));
    tabs_->addTab(tr("Build"));
    views_->addWidget(page);
    views_->addWidget(build_);
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(0, 6, 0, 0);
    all->setSpacing(2);
    all->addWidget(tabs_);
    all->addWidget(views_, 1);
}

void LogStation::show_build() {
    desk_.go_to(Place::log);
    tabs_->setCurrentIndex(1);
}

void LogStation::connect_all() {
    connect(runs_, &QTreeWidget::itemSelectionChanged, this, [this] {
        chose_ = !runs_->selectedItems().empty();
        show_difference();
        show_note();
    });
    connect(&desk_, &Desk::opened, this, [this] { chose_ = false; });
    connect(tabs_, &QTabBar::currentChanged, this, [this](int i) {
        views_->setCurrentIndex(i);
        if (desk_.has_session()) refresh();
    });
    add_action("build.start", tr("Build with the stand-in builder"), QKeySequence(QStringLiteral("Ctrl+Shift+B")),
               [this] {
                   show_build();
                   build_->start();
               });
    add_action("build.show", tr("Show the builder and the die"), {}, [this] { show_build(); });
    add_action("build.cancel", tr("Cancel the build"), {}, [this] { build_->cancel(); });
    add_action("build.take", tr("Use the chosen build in the project"), {}, [this] { build_->take(); });
    connect(restore_, &QPushButton::clicked, this, &LogStation::restore);
    connect(write_, &QPushButton::clicked, this, [this] { write(false); });
    connect(despite_, &QPushButton::clicked, this, [this] { write(true); });
    connect(note_, &QLineEdit::editingFinished, this, &LogStation::keep_note);
    connect(slack_, &QPushButton::clicked, this, &LogStation::compare_slack);
    add_action("log.slack", tr("Compare the slack of two runs, endpoint by endpoint"), {}, [this] { compare_slack(); });
    add_action("log.note", tr("Write a note beside the run"), {}, [this] {
        desk_.go_to(Place::log);
        note_->setFocus();
    });
    add_action("log.handoff", tr("Write the handoff"), QKeySequence(QStringLiteral("Ctrl+H")), [this] {
        desk_.go_to(Place::log);
        write(false);
    });
    add_action("log.restore", tr("Restore the run chosen in the log"), {}, [this] { restore(); });
}

namespace {

/// Inputs that are other files now than when a run was made; empty when its results hold.
QString why_old(const Run& run, const Run& latest) {
    if (run.inputs.empty() || latest.inputs.empty()) return {};
    QStringList changed;
    for (const auto& [path, digest] : run.inputs) {
        const auto now = latest.inputs.find(path);
        if (now == latest.inputs.end() || now->second != digest) changed << q(path);
    }
    return changed.isEmpty() ? QString() : changed.join(QStringLiteral(", "));
}

Row row_of(const Run& run, const Run& latest) {
    const int percent = run.endpoints == 0 ? 0 : 100 * run.constrained / run.endpoints;
    const auto worst = run.worst ? run.worst : run.setup_wns;
    Row row{QString::number(run.number),
            {QString::number(run.number), q(run.title), ns(worst), QString::number(run.failing),
             QString::number(run.findings.stops), QString::number(run.findings.cautions),
             QStringLiteral("%1 %").arg(percent)}};
    if (!run.note.empty()) row.cells[1] += QStringLiteral(" · ") + q(run.note);
    row.dress = [&run, old = why_old(run, latest)](QTreeWidgetItem* item) {
        for (const int c : {2, 3, 4, 5, 6}) {
            item->setTextAlignment(c, Qt::AlignRight | Qt::AlignVCenter);
            item->setFont(c, mono(12));
        }
        item->setToolTip(
            1,
            q(run.time + ", " + run.title) +
                (old.isEmpty() ? QString() : QObject::tr("; its results are out of date: %1 changed since").arg(old)));
        item->setForeground(1, old.isEmpty() ? theme().ink : theme().second);
        if (run.worst)
            item->setToolTip(2, QObject::tr("the worst check is of %1").arg(q(words_of_check(run.worst_kind))));
        item->setForeground(4, run.findings.stops > 0 ? theme().stop : theme().ink);
    };
    return row;
}

}  // namespace

void LogStation::refresh() {
    if (views_->currentIndex() == 1) build_->refresh();
    const auto& entries = desk_.session().log().runs();
    std::vector<Row> rows;
    for (auto at = entries.rbegin(); at != entries.rend(); ++at) rows.push_back(row_of(*at, entries.back()));
    sync_rows(runs_, rows);
    // Without a choice of the user's: the last run against the one before.
    if (!chose_) {
        const QSignalBlocker quiet(runs_);
        runs_->clearSelection();
        for (int i = 0; i < std::min(2, runs_->topLevelItemCount()); ++i) runs_->topLevelItem(i)->setSelected(true);
    }
    chart_->show_runs(entries);
    if (folder_->text().isEmpty()) folder_->setText(QStringLiteral("handoff"));
    const auto c = count(desk_.session().findings());
    const bool stale = desk_.session().stale();
    gate_->setText(
        stale ? tr("What was edited last is being analysed.")
        : c.stops > 0
            ? tr("%1 the handoff. Fix or waive in Findings.").arg(counted(c.stops, "stop holds", "stops hold"))
            : tr("Nothing holds the handoff: constraints, pin sheet, report and manifest can be written."));
    gate_->setStyleSheet(QStringLiteral("color: %1")
                             .arg((stale         ? theme().second
                                   : c.stops > 0 ? theme().stop
                                                 : theme().good)
                                      .name()));
    write_->setEnabled(c.stops == 0 && !stale);
    despite_->setVisible(c.stops > 0);
    show_difference();
}

std::vector<int> LogStation::chosen() const {
    std::vector<int> out;
    for (const auto* item : runs_->selectedItems()) out.push_back(item->text(0).toInt());
    std::sort(out.begin(), out.end());
    return out;
}

void LogStation::show_difference() {
    difference_->clear();
    if (!desk_.has_session()) return;
    const auto two = chosen();
    restore_->setEnabled(two.size() == 1);
    restore_->setText(two.size() == 1 ? tr("Restore run %1").arg(two[0]) : tr("Choose one run to restore it"));
    if (two.size() != 2) {
        compared_->setText(tr("choose two runs to compare them"));
        return;
    }
    auto& log = desk_.session().log();
    const auto before = log.entry(two[0]), after = log.entry(two[1]);
    if (!before || !after) return compared_->setText(q((before ? after : before).first().text));
    const auto list = compare(before.value(), after.value());
    compared_->setText(tr("run %1 against run %2: %3")
                           .arg(two[0])
                           .arg(two[1])
                           .arg(counted(static_cast<int>(list.size()), "difference")));
    for (const auto& d : list) {
        auto* item = new QTreeWidgetItem(difference_, {q(d.what), q(d.before), q(d.after)});
        for (int c = 0; c < 3; ++c) item->setToolTip(c, item->text(c));
        for (const int c : {1, 2}) item->setFont(c, mono(12));
    }
}

void LogStation::show_note() {
    const auto list = chosen();
    note_->setEnabled(list.size() == 1);
    if (note_->hasFocus()) return;
    QString text;
    if (list.size() == 1)
        for (const auto& run : desk_.session().log().runs())
            if (run.number == list[0]) text = q(run.note);
    note_->setText(text);
}

void LogStation::keep_note() {
    const auto list = chosen();
    if (!desk_.has_session() || list.size() != 1) return;
    const auto status = desk_.session().log().annotate(list[0], note_->text().trimmed().toStdString());
    if (!status) return desk_.say(q(status.first().sentence()), true);
    refresh();
}

void LogStation::compare_slack() {
    const auto two = chosen();
    if (two.size() != 2) return desk_.say(tr("Choose two runs to compare them."), true);
    auto& log = desk_.session().log();
    const auto a = log.entry(two[0]), b = log.entry(two[1]);
    if (!a || !b) return desk_.say(q((a ? b : a).first().text), true);
    compared_->setText(tr("analysing both runs …"));
    desk_.later<Result<StateDifference>>(
        "compare runs", this,
        [a = a.value(), b = b.value()](const std::shared_ptr<const Snapshot>& now,
                                       const std::stop_token& stop) -> Result<StateDifference> {
            const auto state = [&](const LogEntry& entry) -> Result<ComparedState> {
                auto then = preview(*now, restore_edit(*now->project, entry), stop);
                if (!then) return then.messages();
                return state_of(*then.value().project, then.value().analysis, *then.value().findings);
            };
            auto x = state(a), y = state(b);
            if (!x) return x.messages();
            if (!y) return y.messages();
            return compare_states(x.value(), y.value());
        },
        [this, two](const Result<StateDifference>& found) {
            if (!found) return compared_->setText(q(found.first().sentence()));
            constexpr int most = 500;
            int n = 0;
            for (const auto& s : found.value().slack) {
                if (n++ >= most) break;
                const auto text = [](const std::optional<double>& v) { return v ? ns(v) : tr("not checked"); };
                auto* item = new QTreeWidgetItem(difference_,
                                                 {q(words_of_check(s.check) + " " + s.endpoint), text(s.a), text(s.b)});
                item->setToolTip(0, item->text(0));
                for (const int c : {1, 2}) item->setFont(c, mono(12));
            }
            compared_->setText(
                tr("run %1 against run %2, analysed on the inputs as they are now: %3 with different slack")
                    .arg(two[0])
                    .arg(two[1])
                    .arg(counted(static_cast<int>(found.value().slack.size()), "endpoint")));
        });
}

void LogStation::restore() {
    const auto list = chosen();
    if (list.size() != 1) return desk_.say(tr("Choose one run to restore it."), true);
    const auto entry = desk_.session().log().entry(list[0]);
    if (!entry) return desk_.say(q(entry.first().text), true);
    const auto edit = restore_edit(desk_.session().project(), entry.value());
    if (edit.empty()) return desk_.say(tr("The project is as it was in run %1 already.").arg(list[0]));
    desk_.apply(edit);
}

bool LogStation::write(bool despite_stops) {
    desk_.settle();
    if (desk_.session().stale()) {
        desk_.say(tr("The analysis is of an older text; the handoff is written when it is done."));
        desk_.when_analysed([this, despite_stops] { write(despite_stops); });
        return false;
    }
    const auto folder = join_path(desk_.session().document().folder(),
                                  folder_->text().isEmpty() ? "handoff" : folder_->text().toStdString());
    const auto status = write_handoff(real_disk(), desk_.session(), folder, despite_stops);
    if (!status && status.first().code == Code::outside) {
        const auto which = status.first().file;
        const auto asks = which == folder
                              ? tr("The handoff folder %1 lies outside the project's folder. Nothing was written. To "
                                   "write there, allow it; that is remembered for this project and for you alone.")
                              : tr("The project names %1, which lies outside its folder and would be copied into the "
                                   "handoff. Nothing was written. To let it go along, allow it; that is remembered for "
                                   "this project and for you alone.");
        desk_.ask({asks.arg(q(real_disk().real_path(which))), tr("Allow and write"), [this, which, despite_stops] {
                       if (desk_.allow({which})) write(despite_stops);
                   }});
    }
    if (!status) {
        desk_.say(q(status.first().sentence()), true);
        return false;
    }
    desk_.say(tr("the handoff is in %1").arg(q(folder)));
    return true;
}

KnotState LogStation::standing() const {
    const auto& entries = desk_.session().log().runs();
    return {tr("Log"), entries.empty() ? tr("no run") : tr("run %1").arg(entries.back().number),
            desk_.session().document().unsaved() ? Standing::open : Standing::good};
}

QString LogStation::status() const {
    return tr("%1 in the log").arg(counted(static_cast<int>(desk_.session().log().runs().size()), "run"));
}

}  // namespace kp::app
