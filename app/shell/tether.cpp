// SPDX-License-Identifier: GPL-3.0-or-later
// Each knot asks its station how it stands; nothing is computed here.
#include "app/shell/tether.hpp"

#include <QMouseEvent>

namespace kp::app {

namespace {
constexpr double left_edge = 222, kite_room = 96;
}

Tether::Tether(QWidget* parent) : Canvas(parent) {
    setFixedHeight(63);
    setAccessibleName(tr("Stations and how each stands"));
}

QRectF Tether::place(int station) const {
    const double step = (width() - left_edge - kite_room) / 7.0;
    return {left_edge + station * step, 0, step - 12, 62};
}

QPointF Tether::knot(int station) const {
    // The line rises slightly from left to right.
    return {place(station).left() + 14, 53.0 - station * 1.1};
}

void Tether::draw(QPainter& p) {
    const auto& t = theme();
    p.fillRect(rect(), t.sheet);
    p.fillRect(place(current_), t.select_fill);
    p.fillRect(QRectF(0, 61, width(), 2), t.hairline);
    text(p, {16, 10, left_edge - 30, 20}, Qt::AlignVCenter, name_, words(15, true), t.ink, true);
    text(p, {16, 31, left_edge - 30, 18}, Qt::AlignVCenter, under_, words(11.5), t.second, true);
    int good = 0;
    while (good < 7 && states_[static_cast<size_t>(good)].standing == Standing::good) ++good;
    const QPointF start(left_edge - 6, 54.2), end(width() - kite_room + 26, 45.0);
    const QPointF turn = good >= 7 ? end : knot(good);
    p.setPen(QPen(t.good, 2));
    p.drawLine(start, turn);
    p.setPen(QPen(t.second, 1, Qt::DashLine));
    p.drawLine(turn, end);
    for (int i = 0; i < 7; ++i) {
        const auto& s = states_[static_cast<size_t>(i)];
        const auto area = place(i);
        const QColor color = s.standing == Standing::stop      ? t.stop
                             : s.standing == Standing::caution ? t.caution
                             : s.standing == Standing::good    ? t.good
                                                               : t.second;
        text(p, {area.left() + 9, 5, area.width() - 12, 18}, Qt::AlignVCenter, s.name, words(13, i == current_),
             i == current_ ? t.select : t.ink);
        text(p, {area.left() + 9, 23, area.width() - 4, 18}, Qt::AlignVCenter, s.standing_text, words(11),
             s.standing == Standing::stop ? t.stop : t.second, true);
        p.setPen(QPen(color, 1.4));
        p.setBrush(s.standing == Standing::good || s.standing == Standing::stop ? QBrush(color) : QBrush(t.sheet));
        if (s.standing == Standing::stop)
            p.drawRect(QRectF(knot(i).x() - 4.5, knot(i).y() - 4.5, 9, 9));
        else
            p.drawEllipse(knot(i), 4.5, 4.5);
    }
    draw_kite(p);
}

/// Upright when the handoff is clear; hanging to the side when stops hold it.
void Tether::draw_kite(QPainter& p) const {
    const auto& t = theme();
    p.save();
    p.translate(width() - kite_room + 40, 28);
    p.rotate(clear_ ? 0 : stops_ ? 152 : 24);
    p.setPen(QPen(t.ink, 1.3));
    p.setBrush(clear_ ? t.wash_good : t.wire);
    p.drawPolygon(QPolygonF{{0, -20}, {17, -4}, {0, 20}, {-17, -4}});
    p.drawLine(QPointF(0, -20), QPointF(0, 20));
    p.drawLine(QPointF(-17, -4), QPointF(17, -4));
    p.restore();
}

void Tether::mousePressEvent(QMouseEvent* event) {
    for (int i = 0; i < 7; ++i)
        if (place(i).contains(event->position())) emit chosen(i);
}

}  // namespace kp::app
