// SPDX-License-Identifier: GPL-3.0-or-later
// Draws what LoomLayout placed; what follows the mouse is drawn over it, so that dragging never lays anything out.
// State: scroll, hover and drag.
#include "app/pegs/loom.hpp"

#include "app/theme/text.hpp"

#include "core/base/text.hpp"
#include "core/model/ports.hpp"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainterPath>
#include <algorithm>

namespace kp::app {

namespace {
/// "SSTL 1.5 V differential" takes too much of a row; the volts are what the eye looks for.
QString volts_of(const std::string& standard) {
    const auto at = standard.find(' '), end = standard.find(" V", at == std::string::npos ? 0 : at);
    return at == std::string::npos || end == std::string::npos ? q(standard) : q(standard.substr(at + 1, end + 1 - at));
}

/// A thread from a to b, only as far as it lies between two heights: long threads cost what is seen of them.
QPainterPath thread_path(const QPointF& a, const QPointF& b, double top, double bottom) {
    const double bend = (b.x() - a.x()) * 0.45;
    QPointF c[4] = {a, {a.x() + bend, a.y()}, {b.x() - bend, b.y()}, b};
    // The height only grows or only falls along it: y = a + (b - a) (3 t² - 2 t³).
    const auto where = [&](double y) {
        double low = 0, high = 1;
        for (int i = 0; i < 24; ++i) {
            const double t = (low + high) / 2, now = a.y() + (b.y() - a.y()) * t * t * (3 - 2 * t);
            ((now < y) == (b.y() > a.y()) ? low : high) = t;
        }
        return (low + high) / 2;
    };
    double from = 0, to = 1;
    for (const double y : {top, bottom})
        if ((a.y() - y) * (b.y() - y) < 0) ((a.y() < y) == (y == top) ? from : to) = where(y);
    if (from > 0 || to < 1) {
        // Control points of the part between two parameters, by blossoming (de Casteljau).
        const auto blossom = [&](double u, double v, double w) {
            const auto mix = [](const QPointF& p, const QPointF& q, double t) { return p + (q - p) * t; };
            const QPointF p[3] = {mix(c[0], c[1], u), mix(c[1], c[2], u), mix(c[2], c[3], u)};
            return mix(mix(p[0], p[1], v), mix(p[1], p[2], v), w);
        };
        const QPointF part[4] = {blossom(from, from, from), blossom(from, from, to), blossom(from, to, to),
                                 blossom(to, to, to)};
        std::copy(part, part + 4, c);
    }
    QPainterPath path(c[0]);
    path.cubicTo(c[1], c[2], c[3]);
    return path;
}

bool apart(const QRectF& a, const QRectF& b) {
    return a.bottom() < b.top() || a.top() > b.bottom();
}
}  // namespace

Loom::Loom(Desk& desk) : desk_(desk), drag_(desk) {
    setFocusPolicy(Qt::StrongFocus);
    setObjectName("loom");
    setAccessibleName(tr("Loom: ports, pins and board terminals"));
}

void Loom::refresh(const QString& filter) {
    filter_ = filter;
    laid_width_ = -1;
    tiles_.clear();
    setMinimumHeight(static_cast<int>(layout_now().height));
    update();
}

const LoomLayout& Loom::layout_now() const {
    if (laid_width_ != width()) {
        layout_ = LoomLayout(desk_.session(), width(), filter_.toStdString());
        laid_width_ = width();
    }
    return layout_;
}

/// Brings what is selected elsewhere into sight.
void Loom::show_selected() {
    if (!desk_.has_session()) return;
    const auto& l = layout_now();
    for (const auto& port : desk_.chosen_ports())
        if (const auto* row = l.port(port)) {
            emit wants_visible(row->rect);
            return;
        }
    if (const auto* pin = l.pin(desk_.selection().name.toStdString())) emit wants_visible(pin->rect);
}

void Loom::draw(QPainter& p) {
    if (!desk_.has_session()) return;
    if (laid_width_ != width()) tiles_.clear();
    const auto& l = layout_now();
    const auto& t = theme();
    if (!l.ports.empty())
        text(p, {l.ports.front().rect.left(), 6, 160, 18}, Qt::AlignVCenter, tr("PORTS"), words(11.5), t.second);
    if (!l.banks.empty())
        text(p, {l.banks.front().rect.left(), 6, 180, 18}, Qt::AlignVCenter, tr("PINS, BY BANK"), words(11.5),
             t.second);
    if (!l.parts.empty())
        text(p, {l.parts.front().rect.left(), 6, 200, 18}, Qt::AlignVCenter,
             q(desk_.session().world().board.name).toUpper(), words(11.5), t.second);
    show_tiles(p, l);
    draw_lit(p, l);
    if (drag_.moving()) draw_drag(p, l);
}

/// All that neither mouse nor selection change. Sheets below, threads over them, words on top of all: a thread never
/// runs through a word.
void Loom::draw_still(QPainter& p, const LoomLayout& l) {
    draw_bank_sheets(p, l);
    draw_parts(p, l);
    draw_threads(p, l);
    draw_banks(p, l);
    draw_ports(p, l);
}

void Loom::show_tiles(QPainter& p, const LoomLayout& l) {
    if (tiles_dark_ != theme().dark || tiles_.size() > 40) tiles_.clear();
    tiles_dark_ = theme().dark;
    const QRectF seen = dirty();
    const double ratio = devicePixelRatioF();
    for (int i = std::max(0, static_cast<int>(seen.top()) / strip); i * strip < seen.bottom(); ++i) {
        auto [at, fresh] = tiles_.try_emplace(i);
        auto& tile = at->second;
        if (fresh || tile.map.devicePixelRatio() != ratio) {
            tile.map = QPixmap(QSize(width(), strip) * ratio);
            tile.map.setDevicePixelRatio(ratio);
            tile.map.fill(Qt::transparent);
            QPainter one(&tile.map);
            one.setRenderHint(QPainter::Antialiasing);
            one.translate(0, -i * strip);
            set_dirty(QRectF(0, i * strip, width(), strip));
            const auto before = texts().size();
            draw_still(one, l);
            tile.texts.assign(texts().begin() + static_cast<long>(before), texts().end());
            texts().resize(before);
            for (auto& text : tile.texts) text.rect.translate(0, i * strip);
            // A word on the border of two strips is drawn in both and told by the one that has its middle.
            std::erase_if(tile.texts, [&](const DrawnText& text) {
                return text.rect.center().y() < i * strip || text.rect.center().y() >= (i + 1) * strip;
            });
        }
        p.drawPixmap(QPointF(0, i * strip), tile.map);
        texts().insert(texts().end(), tile.texts.begin(), tile.texts.end());
    }
    set_dirty(seen);
}

/// What is selected or under the mouse, once more and brighter.
void Loom::draw_lit(QPainter& p, const LoomLayout& l) {
    const auto& t = theme();
    const auto& chosen = desk_.selection();
    std::vector<const LoomLayout::PortRow*> rows;
    for (const auto& port : desk_.chosen_ports())
        if (const auto* row = l.port(port)) rows.push_back(row);
    if (const auto* row = l.port(hovered_); row && std::find(rows.begin(), rows.end(), row) == rows.end())
        rows.push_back(row);
    const auto before = texts().size();
    for (const auto* row : rows) draw_thread(p, l, *row, true);
    for (const auto* row : rows) {
        if (!apart(row->rect, dirty()))
            draw_port(p, *row, row->port != hovered_ || chosen.has(QStringLiteral("port"), q(row->port)));
        if (row->pin_box >= 0 && !apart(l.pins[static_cast<size_t>(row->pin_box)].rect, dirty()))
            draw_pin(p, l.pins[static_cast<size_t>(row->pin_box)], chosen.name == q(row->pin));
    }
    if (const auto* pin = chosen.kind == QLatin1String("pin") ? l.pin(chosen.name.toStdString()) : nullptr)
        draw_pin(p, *pin, true);
    if (chosen.kind == QLatin1String("bus"))
        for (const auto& h : l.headings)
            if (q(h.bus) == chosen.name) text(p, h.rect, Qt::AlignVCenter, h.text, words(12, true), t.select, true);
    texts().resize(before);  // the words are those of the strips
}

void Loom::draw_thread(QPainter& p, const LoomLayout& l, const LoomLayout::PortRow& port, bool lit) {
    if (port.pin_box < 0) return;
    const auto& pin = l.pins[static_cast<size_t>(port.pin_box)];
    const QRectF seen = dirty();
    const auto thread = [&](const QPointF& a, const QPointF& b) {
        if (std::max(a.y(), b.y()) < seen.top() - 2 || std::min(a.y(), b.y()) > seen.bottom() + 2) return;
        p.drawPath(thread_path(a, b, seen.top() - 4, seen.bottom() + 4));
    };
    p.setBrush(Qt::NoBrush);
    // Where hundreds cross, thin ones tell more; and they are painted in half the time.
    p.setPen(QPen(lit ? theme().select : theme().bank(pin.bank),
                  lit                    ? 2.4
                  : l.ports.size() > 300 ? 1.0
                                         : 1.4,
                  port.state == 1 ? Qt::DashLine : Qt::SolidLine));
    thread({port.rect.right() + 2, port.rect.center().y()}, {pin.rect.left(), pin.rect.center().y()});
    if (pin.terminal < 0) return;
    const auto& r = l.terminals[static_cast<size_t>(pin.terminal)].rect;
    thread({pin.rect.right(), pin.rect.center().y()}, {r.left(), r.center().y()});
}

void Loom::draw_threads(QPainter& p, const LoomLayout& l) {
    const QRectF seen = dirty();
    // A wire of the board that no port uses: thin, so that it is known.
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(theme().hairline, 1));
    for (const auto& pin : l.pins) {
        if (pin.used || pin.terminal < 0) continue;
        const auto& r = l.terminals[static_cast<size_t>(pin.terminal)].rect;
        if (std::max(pin.rect.bottom(), r.bottom()) < seen.top() || std::min(pin.rect.top(), r.top()) > seen.bottom())
            continue;
        p.drawPath(thread_path({pin.rect.right(), pin.rect.center().y()}, {r.left(), r.center().y()}, seen.top() - 4,
                               seen.bottom() + 4));
    }
    for (const auto& port : l.ports) draw_thread(p, l, port, false);
}

void Loom::draw_port(QPainter& p, const LoomLayout::PortRow& port, bool chosen) {
    const auto& t = theme();
    const auto& r = port.rect;
    if (chosen)
        draw_sheet(p, r.adjusted(-4, 0, 4, 0), t.select_fill, t.select);
    else if (hovered_ == port.port)
        draw_sheet(p, r.adjusted(-4, 0, 4, 0), t.sheet, t.hairline);
    text(p, {r.left() + 12, r.top(), r.width() - 140, r.height()}, Qt::AlignVCenter, q(port.port), mono(12.5, chosen),
         t.ink, true);
    text(p, {r.right() - 124, r.top(), 44, r.height()}, Qt::AlignVCenter,
         port.direction == Direction::inout ? tr("↔ both")
         : port.direction == Direction::out ? tr("→ out")
                                            : tr("← in"),
         words(11.5), t.second);
    text(p, {r.right() - 78, r.top(), 56, r.height()}, Qt::AlignVCenter | Qt::AlignRight,
         port.standard.empty() ? tr("no standard") : volts_of(port.standard), words(11.5),
         port.standard.empty() ? t.stop : t.second, true);
    draw_peg(p, {r.right() - 8, r.center().y()}, static_cast<PegMark>(port.state), t.ink);
}

void Loom::draw_ports(QPainter& p, const LoomLayout& l) {
    const QRectF seen = dirty();
    for (const auto& h : l.headings)
        if (!apart(h.rect, seen)) text(p, h.rect, Qt::AlignVCenter, h.text, words(12, true), theme().second, true);
    for (const auto& port : l.ports)
        if (!apart(port.rect, seen)) draw_port(p, port, false);
}

void Loom::draw_pin(QPainter& p, const LoomLayout::PinBox& pin, bool chosen) {
    const auto& t = theme();
    draw_sheet(p, pin.rect, chosen ? t.select_fill : t.sheet, chosen ? t.select : t.hairline);
    text(p, pin.rect, Qt::AlignCenter, q(pin.pin), mono(11.5, chosen), t.ink);
}

void Loom::draw_bank_sheets(QPainter& p, const LoomLayout& l) {
    for (const auto& b : l.banks) {
        if (apart(b.rect, dirty())) continue;
        draw_sheet(p, b.rect, theme().bright, theme().hairline);
        p.fillRect(QRectF(b.rect.left(), b.rect.top(), 5, b.rect.height()), theme().bank(b.position));
    }
}

void Loom::draw_banks(QPainter& p, const LoomLayout& l) {
    const auto& t = theme();
    const QRectF seen = dirty();
    for (const auto& b : l.banks) {
        if (apart({b.rect.left(), b.rect.top(), b.rect.width(), 24}, seen)) continue;
        p.fillRect(QRectF(b.rect.left() + 6, b.rect.top() + 2, b.rect.width() - 8, 19), t.bright);
        const double y = b.rect.top() + 3;
        text(p, {b.rect.left() + 14, y, 56, 18}, Qt::AlignVCenter, tr("bank %1").arg(q(b.bank)), words(12.5, true),
             t.ink);
        text(p, {b.rect.left() + 72, y, 46, 18}, Qt::AlignVCenter,
             b.volts > 0 ? q(shortest(b.volts)) + QStringLiteral(" V") : tr("no rail"), words(11.5),
             t.bank(b.position));
        const QRectF bar(b.rect.left() + 120, y + 6, b.rect.width() - 120 - 64, 6);
        p.fillRect(bar, t.paper);
        if (b.usable > 0)
            p.fillRect(QRectF(bar.left(), bar.top(), bar.width() * b.used / b.usable, bar.height()),
                       t.bank(b.position));
        text(p, {b.rect.right() - 60, y, 54, 18}, Qt::AlignVCenter | Qt::AlignRight,
             QStringLiteral("%1/%2").arg(b.used).arg(b.usable), mono(11.5), t.second);
    }
    for (const auto& pin : l.pins)
        if (!apart(pin.rect, seen)) draw_pin(p, pin, false);
}

void Loom::draw_parts(QPainter& p, const LoomLayout& l) {
    const auto& t = theme();
    const QRectF seen = dirty();
    for (const auto& part : l.parts) {
        if (apart(part.rect, seen)) continue;
        draw_sheet(p, part.rect, t.bright, t.hairline);
        text(p, {part.rect.left() + 12, part.rect.top() + 3, part.rect.width() - 20, 18}, Qt::AlignVCenter, part.title,
             words(12.5, true), t.ink, true);
    }
    for (const auto& terminal : l.terminals) {
        const auto& r = terminal.rect;
        if (apart(r, seen)) continue;
        p.setPen(QPen(t.ink, 1.1));
        p.setBrush(t.bright);
        p.drawEllipse(QPointF(r.left(), r.center().y()), 3.6, 3.6);
        text(p, {r.left() + 14, r.top(), r.width() - 50, r.height()}, Qt::AlignVCenter, terminal.name, mono(12), t.ink,
             true);
        if (terminal.active_low)
            text(p, {r.right() - 40, r.top(), 34, r.height()}, Qt::AlignVCenter | Qt::AlignRight, tr("low"), words(11),
                 t.second);
    }
}

/// Legal places stay bright, the others fade; the place under the mouse says why not.
void Loom::draw_drag(QPainter& p, const LoomLayout& l) {
    const auto& t = theme();
    const QRectF seen = dirty();
    QColor veil = t.paper;
    veil.setAlpha(185);
    for (const auto& pin : l.pins) {
        if (apart(pin.rect, seen)) continue;
        if (!drag_.trouble(pin.pin).empty())
            p.fillRect(pin.rect, veil);
        else
            draw_sheet(p, pin.rect.adjusted(-1, -1, 1, 1), Qt::transparent, t.good);
    }
    for (const auto& terminal : l.terminals)
        if (!apart(terminal.rect, seen) && (terminal.pin.empty() || !drag_.trouble(terminal.pin).empty()))
            p.fillRect(terminal.rect.adjusted(4, 0, -4, 0), veil);
    const auto target = l.target_at(drag_.now());
    if (const auto* from = l.port(drag_.ports().front())) {
        p.setPen(QPen(t.select, 1.6, Qt::DotLine));
        p.drawLine(QPointF(from->rect.right(), from->rect.center().y()), drag_.now());
    }
    QString says = q(drag_.ports().front());
    bool good = false;
    if (target) {
        says = drag_.sentence(*target);
        good = drag_.answer(*target).why.empty();
    }
    draw_bubble(p, drag_.now(), says, target ? (good ? t.good : t.stop) : t.hairline);
}

void Loom::press_port(const std::string& port, QMouseEvent* event) {
    const auto mods = event->modifiers();
    Selection now = desk_.selection();
    if (mods & Qt::ControlModifier) {
        desk_.select(now.toggled(QStringLiteral("port"), q(port)));
    } else if ((mods & Qt::ShiftModifier) && now.kind == QLatin1String("port")) {
        Selection range{QStringLiteral("port"), now.name, {}};
        bool inside = false;
        for (const auto& row : layout_now().ports) {
            const bool end = q(row.port) == now.name || row.port == port;
            if (end || inside)
                if (q(row.port) != now.name) range.also << q(row.port);
            if (end && now.name != q(port)) inside = !inside;
        }
        desk_.select(range);
    } else if (!now.has(QStringLiteral("port"), q(port)) || now.also.isEmpty()) {
        desk_.select({QStringLiteral("port"), q(port), {}});
    }
    if (event->button() == Qt::LeftButton)
        drag_.press(desk_.selection().has(QStringLiteral("port"), q(port)) ? desk_.chosen_ports() : std::vector{port},
                    event->position());
}

void Loom::mousePressEvent(QMouseEvent* event) {
    if (!desk_.has_session()) return;
    setFocus();
    const auto& l = layout_now();
    const auto at = event->position();
    if (const auto* port = l.port_at(at)) {
        press_port(port->port, event);
    } else if (const auto* h = l.heading_at(at); h && !h->bus.empty()) {
        desk_.select({QStringLiteral("bus"), q(h->bus), {}});
        if (event->button() == Qt::LeftButton) drag_.press(desk_.chosen_ports(), at);
    } else if (const auto* pin = l.pin_at(at)) {
        desk_.select({QStringLiteral("pin"), q(pin->pin), {}});
    } else if (const auto* terminal = l.terminal_at(at)) {
        desk_.select({QStringLiteral("terminal"), q(terminal->terminal), {}});
    }
    update();
}

void Loom::mouseMoveEvent(QMouseEvent* event) {
    drag_.turn(event->modifiers() & Qt::ShiftModifier);
    if (drag_.move(event->position())) return update();
    if (!desk_.has_session() || event->buttons() != Qt::NoButton) return;
    const auto* port = layout_now().port_at(event->position());
    const std::string now = port ? port->port : "";
    if (now == hovered_) return;
    hovered_ = now;
    setToolTip(q(now));
    update();
}

void Loom::leaveEvent(QEvent*) {
    hovered_.clear();
    update();
}

void Loom::mouseReleaseEvent(QMouseEvent* event) {
    if (!drag_.moving()) {
        // A plain click on one of several selected rows leaves that one.
        if (const auto* port = desk_.has_session() ? layout_now().port_at(event->position()) : nullptr;
            port && event->modifiers() == Qt::NoModifier && !desk_.selection().also.isEmpty())
            desk_.select({QStringLiteral("port"), q(port->port), {}});
        return drag_.end();
    }
    const auto target = layout_now().target_at(event->position());
    if (target)
        drag_.drop(*target);
    else
        drag_.end();
    update();
}

void Loom::step(int by, bool extend) {
    const auto& l = layout_now();
    if (l.ports.empty()) return;
    const auto now = desk_.selection();
    const QString last = now.also.isEmpty() ? now.name : now.also.back();
    int at = -1;
    for (size_t i = 0; i < l.ports.size(); ++i)
        if (q(l.ports[i].port) == last) at = static_cast<int>(i);
    at = std::clamp(at + by, 0, static_cast<int>(l.ports.size()) - 1);
    const auto name = q(l.ports[static_cast<size_t>(at)].port);
    if (extend && now.kind == QLatin1String("port"))
        desk_.select(now.extended(name));
    else
        desk_.select({QStringLiteral("port"), name, {}});
    emit wants_visible(l.ports[static_cast<size_t>(at)].rect);
    update();
}

void Loom::keyPressEvent(QKeyEvent* event) {
    if (!desk_.has_session()) return;
    const int by = event->key() == Qt::Key_Down       ? 1
                   : event->key() == Qt::Key_Up       ? -1
                   : event->key() == Qt::Key_PageDown ? 20
                   : event->key() == Qt::Key_PageUp   ? -20
                                                      : 0;
    if (by != 0) {
        step(by, event->modifiers() & Qt::ShiftModifier);
    } else if (event->key() == Qt::Key_Escape) {
        drag_.end();
        update();
    } else if (event->key() == Qt::Key_Shift && drag_.moving()) {
        drag_.turn(true);
        update();
    } else {
        Canvas::keyPressEvent(event);
    }
}

void Loom::keyReleaseEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Shift && drag_.moving()) {
        drag_.turn(false);
        update();
    }
    Canvas::keyReleaseEvent(event);
}

}  // namespace kp::app
