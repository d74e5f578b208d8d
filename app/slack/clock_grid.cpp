// SPDX-License-Identifier: GPL-3.0-or-later
// Cells are asked of the report once and kept until the next; a click selects the pair.
#include "app/slack/clock_grid.hpp"

#include "app/theme/text.hpp"
#include "app/theme/theme.hpp"
#include "core/base/text.hpp"

#include <QHeaderView>
#include <algorithm>
#include <map>
#include <set>

namespace kp::app {

namespace {
struct Pair {
    double worst = 0;
    int count = 0, failing = 0;
};
}  // namespace

ClockGrid::ClockGrid(QWidget* parent) : QTableWidget(parent) {
    setObjectName("slack.grid");
    setAccessibleName(tr("Slack from clock to clock"));
    setEditTriggers(QAbstractItemView::NoEditTriggers);
    setSelectionMode(QAbstractItemView::SingleSelection);
    verticalHeader()->setDefaultSectionSize(38);
    const auto choose = [this](int row, int column) {
        const auto* cell = item(row, column);
        if (cell && cell->data(Qt::UserRole).isValid()) emit pair_chosen(cell->data(Qt::UserRole).toString());
    };
    connect(this, &QTableWidget::cellActivated, this, choose);
    connect(this, &QTableWidget::cellClicked, this, choose);
}

void ClockGrid::show_report(const TimingReport& report, const std::string& check) {
    std::map<std::pair<std::string, std::string>, Pair> pairs;
    std::set<std::string> from, to;
    for (const auto& e : report.endpoints) {
        if (!check.empty() && e.check != check) continue;
        auto& p = pairs[{e.launch_clock, e.capture_clock}];
        p.worst = p.count == 0 ? e.slack : std::min(p.worst, e.slack);
        ++p.count;
        p.failing += e.slack < 0;
        from.insert(e.launch_clock);
        to.insert(e.capture_clock);
    }
    const auto named = [](const std::string& clock) { return clock.empty() ? tr("no clock") : q(clock); };
    clear();
    setRowCount(static_cast<int>(from.size()));
    setColumnCount(static_cast<int>(to.size()));
    QStringList rows, columns;
    for (const auto& f : from) rows << tr("from %1").arg(named(f));
    for (const auto& t : to) columns << tr("to %1").arg(named(t));
    setVerticalHeaderLabels(rows);
    setHorizontalHeaderLabels(columns);
    int r = 0;
    for (const auto& f : from) {
        int c = 0;
        for (const auto& t : to) {
            const auto at = pairs.find({f, t});
            auto* cell = new QTableWidgetItem;
            setItem(r, c++, cell);
            if (at == pairs.end()) continue;
            const auto& p = at->second;
            cell->setText(tr("%1 ns\n%2")
                              .arg(q(fixed(p.worst, 3)), p.failing > 0 ? tr("%1 of %2 fail").arg(p.failing).arg(p.count)
                                                                       : tr("%1 met").arg(p.count)));
            cell->setForeground(p.failing > 0 ? theme().stop : theme().good);
            cell->setTextAlignment(Qt::AlignCenter);
            cell->setData(Qt::UserRole,
                          QStringLiteral("launch:%1 capture:%2").arg(q(f), q(t)).remove(QStringLiteral("launch: ")));
            cell->setToolTip(tr("Shows these endpoints in the list"));
        }
        ++r;
    }
    horizontalHeader()->setDefaultSectionSize(std::clamp(900 / std::max(1, columnCount()), 96, 150));
}

}  // namespace kp::app
