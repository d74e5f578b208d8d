// SPDX-License-Identifier: GPL-3.0-or-later
// All marks are the wedge, turned, filled or struck; sizes are those of a 16 px square, scaled.
#include "app/paint/marks.hpp"

#include <QPolygonF>
#include <algorithm>

namespace kp::app {

QPolygonF wedge_in(const QRectF& r, WideEnd wide) {
    const double across = r.width() * 0.24, up = r.height() * 0.24, x = r.center().x(), y = r.center().y();
    switch (wide) {
        case WideEnd::left: return QPolygonF{r.topLeft(), {r.right(), y - up}, {r.right(), y + up}, r.bottomLeft()};
        case WideEnd::right: return QPolygonF{{r.left(), y - up}, r.topRight(), r.bottomRight(), {r.left(), y + up}};
        case WideEnd::below:
            return QPolygonF{{x - across, r.top()}, {x + across, r.top()}, r.bottomRight(), r.bottomLeft()};
        case WideEnd::above: break;
    }
    return QPolygonF{r.topLeft(), r.topRight(), {x + across, r.bottom()}, {x - across, r.bottom()}};
}

void draw_user_pin(QPainter& p, const QRectF& r, const UserPin& look) {
    const double small = std::min(r.width(), r.height());
    p.setPen(QPen(look.line, std::clamp(small * 0.09, 0.6, 1.6), look.loose ? Qt::DotLine : Qt::SolidLine));
    p.setBrush(look.fill);
    const double in = small * 0.06;
    p.drawPolygon(wedge_in(r.adjusted(in, in, -in, -in), look.wide));
    if (!look.wired) return;
    p.setPen(QPen(look.line, std::clamp(small * 0.16, 1.0, 2.6)));
    p.drawLine(QPointF(r.left() - in, r.top()), QPointF(r.right() + in, r.top()));
}

void draw_trait(QPainter& p, const QPointF& c, double s, PinTrait trait, const QColor& color) {
    if (trait == PinTrait::none) return;
    p.setPen(QPen(color, std::max(0.8, s * 0.12), Qt::SolidLine, Qt::FlatCap, Qt::MiterJoin));
    p.setBrush(Qt::NoBrush);
    if (trait == PinTrait::clock) {
        const QPointF edge[] = {c + QPointF(-s * 0.34, s * 0.2), c + QPointF(0, s * 0.2), c + QPointF(0, -s * 0.3),
                                c + QPointF(s * 0.34, -s * 0.3)};
        p.drawPolyline(edge, 4);
    } else if (trait == PinTrait::reference) {
        p.drawLine(c + QPointF(-s * 0.62, 0), c + QPointF(s * 0.62, 0));
    } else {
        p.drawLine(c + QPointF(0, -s * 0.3), c + QPointF(0, s * 0.3));
    }
}

void draw_fixed_pin(QPainter& p, const QPointF& c, double s, FixedPin kind, const QColor& color) {
    p.setPen(QPen(color, std::max(0.7, s * 0.2)));
    p.setBrush(Qt::NoBrush);
    const auto line = [&](double x1, double y1, double x2, double y2) {
        p.drawLine(c + QPointF(x1 * s, y1 * s), c + QPointF(x2 * s, y2 * s));
    };
    switch (kind) {
        case FixedPin::configuration: {
            QPolygonF up = wedge_in(QRectF(c.x() - s, c.y() - s, 2 * s, 2 * s));
            for (auto& point : up) point.setY(2 * c.y() - point.y());
            p.drawPolygon(up);
            return;
        }
        case FixedPin::supply:
        case FixedPin::bank_supply:
            line(0, -0.9, 0, 1);
            line(-0.8, -0.9, 0.8, -0.9);
            if (kind == FixedPin::bank_supply) line(-0.8, -0.2, 0.8, -0.2);
            return;
        case FixedPin::ground:
            line(0, -1, 0, 0.8);
            line(-0.8, 0.8, 0.8, 0.8);
            return;
        case FixedPin::transceiver:
            p.drawPolygon(wedge_in(QRectF(c.x() - s, c.y() - s, s * 0.8, 2 * s)));
            p.drawPolygon(wedge_in(QRectF(c.x() + s * 0.2, c.y() - s, s * 0.8, 2 * s)));
            return;
        case FixedPin::not_connected: line(-0.5, 0, 0.5, 0); return;
    }
}

}  // namespace kp::app
