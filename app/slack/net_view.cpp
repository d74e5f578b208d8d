// SPDX-License-Identifier: GPL-3.0-or-later
// The cells of a path in a row, their neighbours above and below, as far as they fit. State: scroll.
#include "app/slack/net_view.hpp"
#include "app/shell/counted.hpp"
#include "app/theme/text.hpp"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainterPath>
#include <algorithm>

namespace kp::app {

namespace {
constexpr double wide = 150, high = 40, gap_x = 44, gap_y = 12, edge = 12, top = 26;

}  // namespace

NetView::NetView(QWidget* parent) : Canvas(parent) {
    setObjectName("slack.cells");
    setAccessibleName(tr("Cells around the path"));
    setFocusPolicy(Qt::StrongFocus);
}

void NetView::show_surroundings(Surroundings around) {
    around_ = std::move(around);
    chosen_ = hovered_ = -1;
    int columns = 0, rows = 0;
    first_column_ = 0;
    for (const auto& c : around_.cells) first_column_ = std::min(first_column_, c.column);
    for (const auto& c : around_.cells) {
        columns = std::max(columns, c.column - first_column_ + 1);
        rows = std::max(rows, c.row + 1);
    }
    setMinimumSize(static_cast<int>(2 * edge + columns * (wide + gap_x)),
                   static_cast<int>(top + 2 * edge + rows * (high + gap_y)));
    update();
}

QRectF NetView::box(const DrawnCell& c) const {
    return {edge + (c.column - first_column_) * (wide + gap_x), top + c.row * (high + gap_y), wide, high};
}

int NetView::cell_at(const QPointF& at) const {
    for (size_t i = 0; i < around_.cells.size(); ++i)
        if (box(around_.cells[i]).contains(at)) return static_cast<int>(i);
    return -1;
}

void NetView::draw(QPainter& p) {
    const auto& t = theme();
    p.fillRect(rect(), t.bright);
    text(p, {edge, 4, 900, 18}, Qt::AlignVCenter,
         around_.cells.empty() ? tr("Choose a path above.")
                               : tr("%1 around the path; + and - for more and fewer, arrows step to source, "
                                    "loads and neighbours")
                                     .arg(counted(levels_, "level")),
         words(11.5), t.second, true);
    for (const auto& w : around_.wires) {
        const auto a = box(around_.cells[w.from]), b = box(around_.cells[w.to]);
        const bool lit = static_cast<int>(w.from) == chosen_ || static_cast<int>(w.to) == chosen_;
        p.setPen(QPen(lit ? t.select : w.on_path ? t.ink : t.second, w.on_path || lit ? 2 : 1));
        p.setBrush(Qt::NoBrush);
        const QPointF from(a.right(), a.center().y()), to(b.left(), b.center().y());
        QPainterPath path(from);
        const double bend = gap_x * (to.x() < from.x() ? 2 : 0.6);
        path.cubicTo(from + QPointF(bend, 0), to - QPointF(bend, 0), to);
        p.drawPath(path);
    }
    for (size_t i = 0; i < around_.cells.size(); ++i) {
        const auto& c = around_.cells[i];
        const auto r = box(c);
        if (!r.adjusted(-4, -4, 4, 4).intersects(dirty())) continue;
        p.setPen(QPen(static_cast<int>(i) == chosen_ ? t.select : c.on_path ? t.ink : t.hairline, c.on_path ? 1.6 : 1));
        p.setBrush(c.on_path ? t.select_fill : t.sheet);
        p.drawRoundedRect(r, c.port ? high / 2 : 3, c.port ? high / 2 : 3);
        item(r, c.name);
        text(p, r.adjusted(7, 2, -5, -high / 2), Qt::AlignVCenter, q(c.name), mono(11, c.on_path), t.ink, true);
        const auto says = c.port ? tr("port") : c.equation.empty() ? q(c.type) : q(c.equation);
        text(p, r.adjusted(7, high / 2 - 2, -5, -2), Qt::AlignVCenter, says, words(11), t.second, true);
        if (c.hidden > 0)
            text(p, {r.right() - 44, r.bottom() - 2, 60, 13}, Qt::AlignLeft, tr("+%1").arg(c.hidden), words(10),
                 t.second, true);
    }
    const int told = hovered_ >= 0 ? hovered_ : chosen_;
    if (told < 0) return;
    const auto& c = around_.cells[static_cast<size_t>(told)];
    QString says = q(c.name) + (c.type.empty() ? QString() : QStringLiteral(", ") + q(c.type)) +
                   (c.equation.empty() ? QString() : QStringLiteral(": ") + q(c.equation));
    if (!c.table.empty()) says += tr(" · %1").arg(q(c.table.front()));
    for (size_t i = 1; i < c.table.size(); ++i) says += QStringLiteral("  ") + q(c.table[i]);
    draw_bubble(p, {box(c).left(), box(c).bottom() + 4}, says, t.hairline);
}

void NetView::choose(int cell) {
    chosen_ = cell;
    update();
}

void NetView::mousePressEvent(QMouseEvent* event) {
    setFocus();
    choose(cell_at(event->position()));
}

void NetView::mouseMoveEvent(QMouseEvent* event) {
    const int now = cell_at(event->position());
    if (now == hovered_) return;
    hovered_ = now;
    update();
}

/// Along a wire to the left or right, else to the neighbour above or below.
void NetView::step(int dx, int dy) {
    if (around_.cells.empty()) return;
    if (chosen_ < 0) return choose(0);
    if (dx != 0) {
        const DrawnWire* best = nullptr;
        for (const auto& w : around_.wires)
            if ((dx > 0 ? w.from : w.to) == static_cast<size_t>(chosen_) && (!best || w.on_path)) best = &w;
        if (best) choose(static_cast<int>(dx > 0 ? best->to : best->from));
        return;
    }
    const auto& c = around_.cells[static_cast<size_t>(chosen_)];
    for (size_t i = 0; i < around_.cells.size(); ++i)
        if (around_.cells[i].column == c.column && around_.cells[i].row == c.row + dy)
            return choose(static_cast<int>(i));
}

void NetView::keyPressEvent(QKeyEvent* event) {
    constexpr int most = 4;
    switch (event->key()) {
        case Qt::Key_Left: return step(-1, 0);
        case Qt::Key_Right: return step(1, 0);
        case Qt::Key_Up: return step(0, -1);
        case Qt::Key_Down: return step(0, 1);
        case Qt::Key_Plus:
        case Qt::Key_Minus:
            levels_ = std::clamp(levels_ + (event->key() == Qt::Key_Plus ? 1 : -1), 0, most);
            emit levels_wanted(levels_);
            return;
        default: Canvas::keyPressEvent(event);
    }
}

}  // namespace kp::app
