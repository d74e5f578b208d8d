// SPDX-License-Identifier: GPL-3.0-or-later
// A row for each point, made when a path is chosen; loads and transitions come from the engine with the path.
#include "app/slack/path_table.hpp"

#include "app/theme/text.hpp"
#include "app/theme/theme.hpp"
#include "core/base/text.hpp"

#include <QHeaderView>
#include <cmath>

namespace kp::app {

namespace {

QString number(double v, int decimals = 3) {
    return std::isnan(v) ? QString() : q(fixed(v, decimals));
}

void add_row(QTreeWidget* table, const QString& part, const PathPoint& p, const PointLoad* load, double zero) {
    const bool delays = p.kind == PointKind::cell || p.kind == PointKind::wire || p.kind == PointKind::launch ||
                        p.kind == PointKind::source || p.kind == PointKind::input_delay;
    auto* row =
        new QTreeWidgetItem(table, {part, q(p.pin), q(p.cell_type), p.rise ? QObject::tr("rise") : QObject::tr("fall"),
                                    q(word_of(p.kind)).replace(QLatin1Char('_'), QLatin1Char(' ')), number(p.delay),
                                    number(p.arrival - zero), load && delays ? number(load->transition) : QString(),
                                    load && load->fan_out > 0 ? number(load->capacitance) : QString(),
                                    load && load->fan_out > 0 ? QString::number(load->fan_out) : QString()});
    for (int c = 5; c < 10; ++c) row->setTextAlignment(c, Qt::AlignRight | Qt::AlignVCenter);
    for (const int c : {1, 5, 6, 7, 8, 9}) row->setFont(c, mono(12));
    row->setToolTip(1, q(p.pin));
}

void add_way(QTreeWidget* table, const std::vector<PathPoint>& way, size_t shared, const QString& name) {
    for (size_t i = 0; i < way.size(); ++i)
        add_row(table, i < shared ? QObject::tr("%1, shared").arg(name) : name, way[i], nullptr, 0);
}

void add_sum(QTreeWidget* table, const QString& what, double value, const QString& why = {}) {
    auto* row = new QTreeWidgetItem(table, {QObject::tr("sum"), what, {}, {}, why, {}, number(value)});
    row->setTextAlignment(6, Qt::AlignRight | Qt::AlignVCenter);
    row->setFont(6, mono(12, true));
}

}  // namespace

PathTable::PathTable(QWidget* parent) : QTreeWidget(parent) {
    setObjectName("slack.table");
    setAccessibleName(tr("The path as a table"));
    setHeaderLabels({tr("part"), tr("pin"), tr("cell"), tr("edge"), tr("by"), tr("delay, ns"), tr("arrival, ns"),
                     tr("transition, ns"), tr("load, pF"), tr("fan-out")});
    setRootIsDecorated(false);
    setUniformRowHeights(true);
    const int widths[] = {98, 178, 84, 42, 70, 70, 78, 92, 68, 58};
    for (int i = 0; i < 10; ++i) setColumnWidth(i, widths[i]);
    header()->setStretchLastSection(false);
    connect(this, &QTreeWidget::itemActivated, this, [this](QTreeWidgetItem* item) { emit pin_chosen(item->text(1)); });
}

void PathTable::show_path(const PathDetail& d) {
    clear();
    const auto& p = d.path;
    add_way(this, d.launch_way, d.shared, tr("launch clock"));
    for (size_t i = 0; i < p.points.size(); ++i)
        add_row(this, tr("data"), p.points[i], i < d.loads.size() ? &d.loads[i] : nullptr, p.launch_edge);
    add_way(this, d.capture_way, d.shared, tr("capture clock"));
    if (p.check == "unconstrained") return;
    if (p.check == "pulse_width" || p.check == "period") return;
    add_sum(this, tr("capture edge"), p.capture_edge - p.launch_edge);
    add_sum(this, tr("clock there"), d.capture_latency, d.capture_way.empty() ? tr("ideal") : tr("propagated"));
    if (p.credit != 0) add_sum(this, tr("credit for what both clocks share"), p.credit);
    if (p.uncertainty != 0) add_sum(this, tr("uncertainty"), p.uncertainty);
    add_sum(this, tr("check or output delay"), p.check_time);
    add_sum(this, tr("required"), p.required - p.launch_edge);
    add_sum(this, tr("slack"), p.slack);
}

QString PathTable::as_text() const {
    QString out;
    const auto line = [&](const auto& cell) {
        for (int c = 0; c < columnCount(); ++c) out += (c ? QStringLiteral("\t") : QString()) + cell(c);
        out += QLatin1Char('\n');
    };
    line([&](int c) { return headerItem()->text(c); });
    for (int i = 0; i < topLevelItemCount(); ++i) line([&](int c) { return topLevelItem(i)->text(c); });
    return out;
}

}  // namespace kp::app
