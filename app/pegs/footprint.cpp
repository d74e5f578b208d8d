// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/pegs/footprint.hpp"

#include "core/base/text.hpp"

#include <QMouseEvent>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

namespace kp::app {

namespace {
QString q(const std::string& s) { return QString::fromStdString(s); }
constexpr double side_width = 250;

/// A small wave: a pin that can take a clock.
void draw_wave(QPainter& p, const QPointF& c, double r, const QColor& color) {
    QPainterPath path(QPointF(c.x() - r, c.y()));
    path.cubicTo(c.x() - r * 0.3, c.y() - r * 1.6, c.x() + r * 0.3, c.y() + r * 1.6, c.x() + r, c.y());
    p.setPen(QPen(color, 1.4));
    p.setBrush(Qt::NoBrush);
    p.drawPath(path);
}
}  // namespace

Footprint::Footprint(Desk& desk) : desk_(desk), drag_(desk) {
    setObjectName("footprint");
    setAccessibleName(tr("Footprint: the package with its pins"));
    setFocusPolicy(Qt::StrongFocus);
}

FootprintMap Footprint::map_now() const { return FootprintMap(part(), QRectF(22, 8, width() - side_width - 60, height() - 18.0), below_); }

std::string Footprint::port_at_pin(const std::string& pin) const {
    for (const auto& [port, peg] : desk_.session().project().pegs)
        if (peg.pin == pin) return port;
    return {};
}

std::vector<std::string> Footprint::tray() const {
    std::vector<std::string> out;
    for (const auto& port : desk_.session().world().netlist.ports)
        if (!desk_.session().project().pegs.contains(port.name)) out.push_back(port.name);
    return out;
}

double Footprint::tray_top() const { return 30 + 46.0 * static_cast<double>(part().banks.size()) + 118; }

QRectF Footprint::tray_place(const std::string& port) const {
    const auto list = tray();
    const auto at = std::find(list.begin(), list.end(), port);
    if (at == list.end()) return {};
    const auto i = at - list.begin();
    const QRectF r(side_left() + static_cast<double>(i % 2) * 122, tray_top() + 24 + static_cast<double>(i / 2) * 23, 116, 20);
    return r.bottom() < height() - 4 ? r : QRectF();
}

void Footprint::draw(QPainter& p) {
    if (!desk_.has_session()) return;
    const auto& t = theme();
    const auto m = map_now();
    draw_sheet(p, m.body, t.bright, t.second);
    // The first pin is at the cut corner.
    const QPointF corner = below_ ? m.body.topRight() : m.body.topLeft();
    const double c = below_ ? -20 : 20;
    p.setPen(QPen(t.second, 1));
    p.setBrush(t.paper);
    p.drawPolygon(QPolygonF{corner, corner + QPointF(c, 0), corner + QPointF(0, 20)});
    if (m.ball_grid) draw_coordinates(p, m);
    draw_pairs(p, m);
    for (size_t i = 0; i < part().pins.size(); ++i) draw_pin(p, part().pins[i], m.pins[i]);
    if (!m.ball_grid) {
        draw_names(p, m);
        text(p, {m.body.left(), m.body.center().y() - 22, m.body.width(), 20}, Qt::AlignCenter, q(part().name), words(15, true), t.ink);
        text(p, {m.body.left(), m.body.center().y() + 2, m.body.width(), 18}, Qt::AlignCenter, below_ ? tr("seen from below") : tr("seen from above, first pin at the cut corner"), words(11.5), t.second);
    }
    draw_side(p);
    if (!drag_.moving()) return;
    const int under = m.at(drag_.now());
    QString what = q(drag_.port());
    if (under >= 0) {
        const auto& pin = part().pins[static_cast<size_t>(under)].name;
        what += drag_.trouble(pin).empty() ? tr(": yes, pin %1").arg(q(pin)) : QStringLiteral(": ") + q(drag_.trouble(pin));
    }
    const QFontMetricsF f(words(12));
    QRectF box(drag_.now() + QPointF(14, 12), QSizeF(320, f.boundingRect(QRectF(0, 0, 304, 500), Qt::TextWordWrap, what).height() + 10));
    if (box.right() > width()) box.moveRight(width() - 4);
    if (box.bottom() > height()) box.moveBottom(height() - 4);
    draw_sheet(p, box, t.sheet, t.select);
    p.setPen(t.ink);
    p.setFont(words(12));
    p.drawText(box.adjusted(8, 5, -8, -5), Qt::TextWordWrap, what);
}

void Footprint::draw_coordinates(QPainter& p, const FootprintMap& m) {
    const auto& t = theme();
    for (size_t i = 0; i < part().pins.size(); ++i) {
        const auto& pin = part().pins[i];
        const auto& r = m.pins[i];
        if (pin.row == 0) text(p, {r.left() - 6, m.body.top() + 6, r.width() + 12, 16}, Qt::AlignCenter, QString::number(pin.column + 1), words(11), t.second);
        if (pin.column == 0) {
            QString letters = q(pin.name);
            while (!letters.isEmpty() && letters.back().isDigit()) letters.chop(1);
            const double x = below_ ? m.body.right() - 24 : m.body.left() + 4;
            text(p, {x, r.top(), 20, r.height()}, Qt::AlignCenter, letters, words(11), t.second);
        }
    }
}

/// Beside each pin of a quad flat package, inside its body: the port, or every sixth pin's number.
void Footprint::draw_names(QPainter& p, const FootprintMap& m) {
    const auto& t = theme();
    const bool room = m.body.height() > 420;
    for (size_t i = 0; i < part().pins.size(); ++i) {
        const auto& pin = part().pins[i];
        const auto port = other_ ? std::string() : port_at_pin(pin.name);
        const bool upright = pin.side == 0 || pin.side == 2;  // at the corners two numbers would meet
        const bool numbered = (pin.slot == 0 && upright) || (pin.slot % 6 == 5 && (upright || pin.slot + 1 < part().package.per_side));
        if (!room || (port.empty() && !numbered)) continue;
        const QString words_here = port.empty() ? q(pin.name) : q(port) + QStringLiteral(" · ") + q(pin.name);
        const auto& r = m.pins[i];
        const QFont font = mono(10.5);
        const QColor color = port.empty() ? t.second : t.ink;
        const double reach = 100;
        if (pin.side == 0 || pin.side == 2) {
            const bool left = (pin.side == 0) != below_;
            text(p, {left ? m.body.left() + 6 : m.body.right() - reach - 6, r.center().y() - 7, reach, 14}, (left ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter, words_here, font, color, true);
        } else {
            p.save();
            p.translate(r.center().x(), pin.side == 1 ? m.body.bottom() - 6 : m.body.top() + 6 + reach);
            p.rotate(-90);
            p.setFont(font);
            p.setPen(color);
            p.drawText(QRectF(0, -7, reach, 14), (pin.side == 1 ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter | Qt::TextSingleLine, words_here);
            p.restore();
        }
    }
}

void Footprint::draw_pairs(QPainter& p, const FootprintMap& m) {
    // Only the pair of what is selected: all of them at once would be a mesh.
    const auto name = desk_.selection().name.toStdString();
    const auto* pin = part().pin(name);
    if (!pin)
        if (const auto peg = desk_.session().project().pegs.find(name); peg != desk_.session().project().pegs.end()) pin = part().pin(peg->second.pin);
    if (!pin || pin->pair.empty()) return;
    const auto a = m.pins[part().by_name.at(pin->name)].center(), b = m.pins[part().by_name.at(pin->pair)].center();
    p.setPen(QPen(theme().ink, 3));
    p.drawLine(a, b);
}

void Footprint::draw_pin(QPainter& p, const Pin& pin, const QRectF& r) {
    const auto& t = theme();
    const auto port = other_ ? std::string() : port_at_pin(pin.name);
    const int bank = part().bank_position(pin.bank);
    const bool loose = !port.empty() && desk_.session().project().pegs.at(port).state == PegState::loose;
    QColor color = t.bank(bank);
    int worst = 9;
    if (!other_)
        for (const auto& f : desk_.session().findings())
            for (const auto& o : f.objects)
                if (o.kind == "pin" && o.name == pin.name && !f.waived) worst = std::min(worst, static_cast<int>(f.severity));
    if (shade_ == Shade::finding) color = worst == 0 ? t.stop : worst == 1 ? t.caution : t.hairline;
    if (shade_ == Shade::kind) color = pin.kind == PinKind::clock ? t.select : pin.usable() ? t.cell : t.second;
    const bool faded = drag_.moving() && (!pin.usable() || !drag_.trouble(pin.name).empty());
    p.setOpacity(faded ? 0.22 : 1);
    if (!pin.usable()) {
        const QPointF c = r.center();
        const double s = std::min(r.width(), r.height()) * 0.42;
        p.setPen(QPen(t.second, 1.1));
        p.setBrush(Qt::NoBrush);
        if (pin.kind == PinKind::ground) {
            p.drawLine(c + QPointF(-s, -s * 0.3), c + QPointF(s, -s * 0.3));
            p.drawLine(c + QPointF(-s * 0.5, s * 0.3), c + QPointF(s * 0.5, s * 0.3));
        } else if (pin.kind == PinKind::configuration) {
            p.drawRect(QRectF(c.x() - s, c.y() - s, 2 * s, 2 * s));
        } else {
            p.drawPolygon(QPolygonF{{c.x(), c.y() - s}, {c.x() + s, c.y() + s * 0.8}, {c.x() - s, c.y() + s * 0.8}});
        }
    } else {
        p.setPen(QPen(color, loose ? 1.4 : 1.1, loose ? Qt::DotLine : Qt::SolidLine));
        QColor fill = t.bright;
        if (!port.empty()) fill = color, fill.setAlphaF(loose ? 0.25f : 1.0f);
        p.setBrush(fill);
        if (part().package.ball_grid) p.drawEllipse(r);
        else p.drawRoundedRect(r, 2, 2);
        if (pin.kind == PinKind::clock) draw_wave(p, r.center(), std::min(r.width(), r.height()) * 0.36, port.empty() ? color : t.bright);
    }
    p.setOpacity(1);
    const auto& chosen = desk_.selection().name;
    if (chosen == q(pin.name) || (!port.empty() && chosen == q(port))) {
        p.setPen(QPen(t.select, 2.2));
        p.setBrush(Qt::NoBrush);
        if (part().package.ball_grid) p.drawEllipse(r.adjusted(-4, -4, 4, 4));
        else p.drawRoundedRect(r.adjusted(-3, -3, 3, 3), 3, 3);
    }
    if (worst < 2) draw_severity(p, r.topRight() + QPointF(1, -1), static_cast<Severity>(worst), 7);
}

void Footprint::draw_side(QPainter& p) {
    const auto& t = theme();
    const auto& s = desk_.session();
    const double x = side_left();
    double y = 8;
    text(p, {x, y, 120, 16}, Qt::AlignVCenter, tr("BANKS"), words(11.5), t.second);
    y += 22;
    for (size_t i = 0; i < part().banks.size(); ++i) {
        const auto& bank = part().banks[i];
        int usable = 0, used = 0;
        for (const auto& pin : part().pins) {
            if (pin.bank != bank.name || !pin.usable()) continue;
            ++usable;
            used += !other_ && !port_at_pin(pin.name).empty();
        }
        draw_sheet(p, {x, y, side_width - 12, 40}, t.bright, t.hairline);
        p.fillRect(QRectF(x, y, 5, 40), t.bank(static_cast<int>(i)));
        const auto rail = s.world().board.rail(bank.name);
        text(p, {x + 16, y + 3, 60, 17}, Qt::AlignVCenter, tr("bank %1").arg(q(bank.name)), words(12.5, true), t.ink);
        text(p, {x + 78, y + 3, 60, 17}, Qt::AlignVCenter, rail ? q(shortest(*rail)) + QStringLiteral(" V") : tr("no rail"), words(12), t.bank(static_cast<int>(i)));
        text(p, {x + 140, y + 3, side_width - 162, 17}, Qt::AlignVCenter | Qt::AlignRight, tr("%1 of %2").arg(used).arg(usable), words(12), t.ink);
        p.fillRect(QRectF(x + 16, y + 26, side_width - 38, 5), t.paper);
        if (usable > 0) p.fillRect(QRectF(x + 16, y + 26, (side_width - 38) * used / usable, 5), t.bank(static_cast<int>(i)));
        y += 46;
    }
    draw_legend(p, x, y + 2);
    const auto list = tray();
    text(p, {x, tray_top(), side_width - 12, 16}, Qt::AlignVCenter, list.empty() ? tr("NO PORT IS ADRIFT") : tr("ADRIFT: %1, DRAG ONE TO A PIN").arg(list.size()), words(11.5), list.empty() ? t.good : t.second);
    for (const auto& port : list) {
        const auto r = tray_place(port);
        if (r.isEmpty()) continue;
        const bool chosen = desk_.selection().name == q(port);
        draw_sheet(p, r, chosen ? t.select_fill : t.bright, chosen ? t.select : t.hairline);
        draw_peg(p, {r.left() + 10, r.center().y()}, PegMark::adrift, t.ink);
        text(p, r.adjusted(22, 0, -4, 0), Qt::AlignVCenter, q(port), mono(11.5), t.ink, true);
    }
}

void Footprint::draw_legend(QPainter& p, double x, double y) {
    const auto& t = theme();
    const QColor color = t.bank(0);
    const auto entry = [&](int column, int row, const QString& name) {
        const QPointF c(x + 10 + column * 122, y + 34 + row * 22);
        text(p, {c.x() + 16, c.y() - 9, 104, 18}, Qt::AlignVCenter, name, words(11.5), t.ink);
        return c;
    };
    text(p, {x, y, 120, 16}, Qt::AlignVCenter, tr("MARKS"), words(11.5), t.second);
    const auto dot = [&](const QPointF& c, const QColor& fill, Qt::PenStyle style) {
        p.setPen(QPen(color, 1.2, style));
        p.setBrush(fill);
        p.drawEllipse(c, 7, 7);
    };
    auto at = entry(0, 0, tr("pegged"));
    dot(at, color, Qt::SolidLine);
    at = entry(1, 0, tr("loose"));
    QColor pale = color;
    pale.setAlphaF(0.25f);
    dot(at, pale, Qt::DotLine);
    at = entry(0, 1, tr("free"));
    dot(at, t.bright, Qt::SolidLine);
    at = entry(1, 1, tr("clock pin"));
    dot(at, t.bright, Qt::SolidLine);
    draw_wave(p, at, 4, color);
    p.setPen(QPen(t.second, 1.1));
    p.setBrush(Qt::NoBrush);
    at = entry(0, 2, tr("set-up pin"));
    p.setPen(QPen(t.second, 1.1));
    p.drawRect(QRectF(at.x() - 5, at.y() - 5, 10, 10));
    at = entry(1, 2, tr("supply, ground"));
    p.setPen(QPen(t.second, 1.1));
    p.drawPolygon(QPolygonF{{at.x() - 4, at.y() - 5}, {at.x(), at.y() + 4}, {at.x() - 8, at.y() + 4}});
    p.drawLine(at + QPointF(2, -2), at + QPointF(10, -2));
    p.drawLine(at + QPointF(4, 2), at + QPointF(8, 2));
}

void Footprint::mousePressEvent(QMouseEvent* event) {
    if (!desk_.has_session() || other_) return;
    setFocus();
    for (const auto& port : tray())
        if (tray_place(port).contains(event->position())) {
            desk_.select({QStringLiteral("port"), q(port)});
            drag_.press(port, event->position());
            return update();
        }
    const int at = map_now().at(event->position());
    if (at < 0) return;
    const auto& pin = part().pins[static_cast<size_t>(at)].name;
    const auto port = port_at_pin(pin);
    // A second click on the same pin goes from the port to the pin itself.
    if (port.empty() || desk_.selection() == Selection{QStringLiteral("port"), q(port)}) desk_.select({QStringLiteral("pin"), q(pin)});
    else desk_.select({QStringLiteral("port"), q(port)});
    if (!port.empty()) drag_.press(port, event->position());
    update();
}

void Footprint::mouseMoveEvent(QMouseEvent* event) {
    if (drag_.move(event->position())) return update();
    if (!desk_.has_session()) return;
    const int at = map_now().at(event->position());
    const auto port = at < 0 || other_ ? std::string() : port_at_pin(part().pins[static_cast<size_t>(at)].name);
    setToolTip(at < 0 ? QString() : tr("pin %1%2").arg(q(part().pins[static_cast<size_t>(at)].name), port.empty() ? QString() : QStringLiteral(": ") + q(port)));
}

void Footprint::mouseReleaseEvent(QMouseEvent* event) {
    if (!drag_.moving()) return drag_.end();
    const int at = map_now().at(event->position());
    if (at < 0) drag_.end();
    else drag_.drop(part().pins[static_cast<size_t>(at)].name);
    update();
}

}  // namespace kp::app
