// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/pegs/loom.hpp"

#include "core/base/text.hpp"
#include "core/pegs/place.hpp"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainterPath>

namespace kp::app {

namespace {
QString q(const std::string& s) { return QString::fromStdString(s); }

/// "LVCMOS 3.3 V" takes too much of a row; the volts are what the eye looks for.
QString volts_of(const std::string& standard) {
    const auto at = standard.find(' ');
    return at == std::string::npos ? q(standard) : q(standard.substr(at + 1));
}
}  // namespace

Loom::Loom(Desk& desk) : desk_(desk), drag_(desk) {
    setFocusPolicy(Qt::StrongFocus);
    setObjectName("loom");
    setAccessibleName(tr("Loom: ports, pins and board terminals"));
}

void Loom::refresh(const QString& filter) {
    filter_ = filter;
    setMinimumHeight(static_cast<int>(layout_now().height));
    update();
}

void Loom::draw(QPainter& p) {
    if (!desk_.has_session()) return;
    const auto l = layout_now();
    const auto& t = theme();
    if (!l.ports.empty()) text(p, {l.ports.front().rect.left(), 6, 160, 18}, Qt::AlignVCenter, tr("PORTS"), words(11.5), t.second);
    if (!l.banks.empty()) text(p, {l.banks.front().rect.left(), 6, 180, 18}, Qt::AlignVCenter, tr("PINS, BY BANK"), words(11.5), t.second);
    if (!l.parts.empty()) text(p, {l.parts.front().rect.left(), 6, 200, 18}, Qt::AlignVCenter, q(desk_.session().world().board.name).toUpper(), words(11.5), t.second);
    // Sheets below, threads over them, words on top of all: a thread never runs through a word.
    draw_bank_sheets(p, l);
    draw_parts(p, l);
    draw_threads(p, l);
    draw_banks(p, l);
    draw_ports(p, l);
    if (drag_.moving()) draw_drag(p, l);
}

void Loom::draw_threads(QPainter& p, const LoomLayout& l) {
    const auto& t = theme();
    const auto thread = [&](const QPointF& a, const QPointF& b) {
        QPainterPath path(a);
        const double bend = (b.x() - a.x()) * 0.45;
        path.cubicTo(a.x() + bend, a.y(), b.x() - bend, b.y(), b.x(), b.y());
        p.drawPath(path);
    };
    p.setBrush(Qt::NoBrush);
    const auto& chosen = desk_.selection();
    for (const auto& port : l.ports) {
        const auto* pin = l.pin(port.pin);
        if (!pin) continue;
        const bool bright = chosen.name == q(port.port) || chosen.name == q(port.pin);
        p.setPen(QPen(bright ? t.select : t.bank(pin->bank), bright ? 2.4 : 1.4, port.state == 1 ? Qt::DashLine : Qt::SolidLine));
        thread({port.rect.right() + 2, port.rect.center().y()}, {pin->rect.left(), pin->rect.center().y()});
        for (const auto& terminal : l.terminals)
            if (terminal.pin == port.pin) thread({pin->rect.right(), pin->rect.center().y()}, {terminal.rect.left(), terminal.rect.center().y()});
    }
    // A wire of the board that no port uses: thin, so that it is known.
    for (const auto& terminal : l.terminals) {
        const auto* pin = l.pin(terminal.pin);
        const bool used = std::any_of(l.ports.begin(), l.ports.end(), [&](const auto& port) { return port.pin == terminal.pin; });
        if (!pin || used) continue;
        p.setPen(QPen(t.hairline, 1));
        thread({pin->rect.right(), pin->rect.center().y()}, {terminal.rect.left(), terminal.rect.center().y()});
    }
}

void Loom::draw_ports(QPainter& p, const LoomLayout& l) {
    const auto& t = theme();
    for (const auto& h : l.headings) text(p, h.rect, Qt::AlignVCenter, h.text, words(12, true), t.second, true);
    for (const auto& port : l.ports) {
        const auto& r = port.rect;
        const bool chosen = desk_.selection() == Selection{QStringLiteral("port"), q(port.port)};
        if (chosen) draw_sheet(p, r.adjusted(-4, 0, 4, 0), t.select_fill, t.select);
        text(p, {r.left() + 12, r.top(), r.width() - 140, r.height()}, Qt::AlignVCenter, q(port.port), mono(12.5, chosen), t.ink, true);
        text(p, {r.right() - 124, r.top(), 44, r.height()}, Qt::AlignVCenter, port.both ? tr("↔ both") : port.output ? tr("→ out") : tr("← in"), words(11.5), t.second);
        text(p, {r.right() - 78, r.top(), 56, r.height()}, Qt::AlignVCenter | Qt::AlignRight, port.standard.empty() ? tr("no level") : volts_of(port.standard), words(11.5), port.standard.empty() ? t.stop : t.second);
        draw_peg(p, {r.right() - 8, r.center().y()}, static_cast<PegMark>(port.state), t.ink);
    }
}

void Loom::draw_bank_sheets(QPainter& p, const LoomLayout& l) {
    for (const auto& b : l.banks) {
        draw_sheet(p, b.rect, theme().bright, theme().hairline);
        p.fillRect(QRectF(b.rect.left(), b.rect.top(), 5, b.rect.height()), theme().bank(b.position));
    }
}

void Loom::draw_banks(QPainter& p, const LoomLayout& l) {
    const auto& t = theme();
    for (const auto& b : l.banks) {
        p.fillRect(QRectF(b.rect.left() + 6, b.rect.top() + 2, b.rect.width() - 8, 19), t.bright);
        const double y = b.rect.top() + 3;
        text(p, {b.rect.left() + 14, y, 56, 18}, Qt::AlignVCenter, tr("bank %1").arg(q(b.bank)), words(12.5, true), t.ink);
        text(p, {b.rect.left() + 72, y, 46, 18}, Qt::AlignVCenter, b.volts > 0 ? q(shortest(b.volts)) + QStringLiteral(" V") : tr("no rail"), words(11.5), t.bank(b.position));
        const QRectF bar(b.rect.left() + 120, y + 6, b.rect.width() - 120 - 58, 6);
        p.fillRect(bar, t.paper);
        if (b.usable > 0) p.fillRect(QRectF(bar.left(), bar.top(), bar.width() * b.used / b.usable, bar.height()), t.bank(b.position));
        text(p, {b.rect.right() - 54, y, 46, 18}, Qt::AlignVCenter | Qt::AlignRight, QStringLiteral("%1/%2").arg(b.used).arg(b.usable), mono(11.5), t.second);
    }
    for (const auto& pin : l.pins) {
        const bool chosen = desk_.selection().name == q(pin.pin);
        draw_sheet(p, pin.rect, chosen ? t.select_fill : t.sheet, chosen ? t.select : t.hairline);
        text(p, pin.rect, Qt::AlignCenter, q(pin.pin), mono(11.5, chosen), t.ink);
    }
}

void Loom::draw_parts(QPainter& p, const LoomLayout& l) {
    const auto& t = theme();
    for (const auto& part : l.parts) {
        draw_sheet(p, part.rect, t.bright, t.hairline);
        text(p, {part.rect.left() + 12, part.rect.top() + 3, part.rect.width() - 20, 18}, Qt::AlignVCenter, part.title, words(12.5, true), t.ink, true);
    }
    for (const auto& terminal : l.terminals) {
        const auto& r = terminal.rect;
        p.setPen(QPen(t.ink, 1.1));
        p.setBrush(t.bright);
        p.drawEllipse(QPointF(r.left(), r.center().y()), 3.6, 3.6);
        text(p, {r.left() + 14, r.top(), r.width() - 50, r.height()}, Qt::AlignVCenter, terminal.name, mono(12), t.ink, true);
        const auto found = desk_.session().world().board.at_terminal(terminal.terminal);
        if (found && found.terminal->active_low) text(p, {r.right() - 40, r.top(), 34, r.height()}, Qt::AlignVCenter | Qt::AlignRight, tr("low"), words(11), t.second);
    }
}

/// Legal places stay bright, the others fade; the place under the mouse says why not.
void Loom::draw_drag(QPainter& p, const LoomLayout& l) {
    const auto& t = theme();
    QColor veil = t.paper;
    veil.setAlpha(185);
    for (const auto& pin : l.pins) {
        if (!drag_.trouble(pin.pin).empty()) p.fillRect(pin.rect, veil);
        else draw_sheet(p, pin.rect.adjusted(-1, -1, 1, 1), Qt::transparent, t.good);
    }
    for (const auto& terminal : l.terminals)
        if (terminal.pin.empty() || !drag_.trouble(terminal.pin).empty()) p.fillRect(terminal.rect.adjusted(4, 0, -4, 0), veil);
    const auto* pin = l.pin_at(drag_.now());
    const auto* terminal = l.terminal_at(drag_.now());
    const std::string at = pin ? pin->pin : terminal ? terminal->pin : "";
    const auto from = std::find_if(l.ports.begin(), l.ports.end(), [&](const auto& row) { return row.port == drag_.port(); });
    if (from != l.ports.end()) {
        p.setPen(QPen(t.select, 1.6, Qt::DotLine));
        p.drawLine(QPointF(from->rect.right(), from->rect.center().y()), drag_.now());
    }
    QString words_here = q(drag_.port());
    if (!at.empty()) words_here += drag_.trouble(at).empty() ? tr(": yes, pin %1").arg(q(at)) : QStringLiteral(": ") + q(drag_.trouble(at));
    const double w = 330;
    const QFontMetricsF m(words(12));
    const double h = m.boundingRect(QRectF(0, 0, w - 16, 500), Qt::TextWordWrap, words_here).height() + 10;
    QRectF box(drag_.now() + QPointF(14, 12), QSizeF(w, h));
    if (box.right() > width()) box.moveRight(width() - 4);
    draw_sheet(p, box, t.sheet, at.empty() ? t.hairline : drag_.trouble(at).empty() ? t.good : t.stop);
    p.setPen(t.ink);
    p.setFont(words(12));
    p.drawText(box.adjusted(8, 5, -8, -5), Qt::TextWordWrap, words_here);
}

void Loom::mousePressEvent(QMouseEvent* event) {
    if (!desk_.has_session()) return;
    setFocus();
    const auto l = layout_now();
    if (const auto* port = l.port_at(event->position())) {
        desk_.select({QStringLiteral("port"), q(port->port)});
        if (event->button() == Qt::LeftButton) drag_.press(port->port, event->position());
    } else if (const auto* pin = l.pin_at(event->position())) {
        desk_.select({QStringLiteral("pin"), q(pin->pin)});
    } else if (const auto* terminal = l.terminal_at(event->position())) {
        desk_.select({QStringLiteral("terminal"), q(terminal->terminal)});
    }
    update();
}

void Loom::mouseMoveEvent(QMouseEvent* event) {
    if (drag_.move(event->position())) update();
}

void Loom::mouseReleaseEvent(QMouseEvent* event) {
    if (!drag_.moving()) return drag_.end();
    const auto l = layout_now();
    const auto* pin = l.pin_at(event->position());
    const auto* terminal = l.terminal_at(event->position());
    const std::string at = pin ? pin->pin : terminal ? terminal->pin : "";
    if (at.empty()) drag_.end();
    else drag_.drop(at);
    update();
}

void Loom::keyPressEvent(QKeyEvent* event) {
    const auto l = layout_now();
    const int step = event->key() == Qt::Key_Down ? 1 : event->key() == Qt::Key_Up ? -1 : 0;
    if (step != 0 && !l.ports.empty()) {
        int at = -1;
        for (size_t i = 0; i < l.ports.size(); ++i)
            if (q(l.ports[i].port) == desk_.selection().name) at = static_cast<int>(i);
        at = std::clamp(at + step, 0, static_cast<int>(l.ports.size()) - 1);
        desk_.select({QStringLiteral("port"), q(l.ports[static_cast<size_t>(at)].port)});
        update();
    } else if (event->key() == Qt::Key_Escape) {
        drag_.end();
        update();
    } else {
        Canvas::keyPressEvent(event);
    }
}

}  // namespace kp::app
