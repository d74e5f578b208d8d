// SPDX-License-Identifier: GPL-3.0-or-later
// How the footprint is drawn: the same strokes on the screen (pins that look the same as stamps), in files and on
// paper.
#include "app/pegs/footprint.hpp"

#include "app/paint/marks.hpp"
#include "app/theme/text.hpp"

#include "core/base/text.hpp"

#include <QPainterPath>
#include <QTimer>
#include <algorithm>
#include <cmath>
#include <map>

namespace kp::app {

namespace {

constexpr double named_from = 30, port_from = 44;  // px of a ball that has room for its name, and for the port's

FixedPin fixed_of(PinKind kind) {
    switch (kind) {
        case PinKind::ground: return FixedPin::ground;
        case PinKind::configuration: return FixedPin::configuration;
        case PinKind::not_connected: return FixedPin::not_connected;
        case PinKind::lane:
        case PinKind::lane_clock: return FixedPin::transceiver;
        case PinKind::bank_supply: return FixedPin::bank_supply;
        default: return FixedPin::supply;
    }
}

/// Of a lead: the end away from the body.
WideEnd wide_end(const QRectF& lead, const QRectF& body) {
    if (lead.width() > lead.height()) return lead.center().x() < body.center().x() ? WideEnd::left : WideEnd::right;
    return lead.center().y() < body.center().y() ? WideEnd::above : WideEnd::below;
}

PinTrait trait_of(const Pin& pin) {
    if (pin.kind == PinKind::clock) return PinTrait::clock;
    if (pin.reference) return PinTrait::reference;
    return pin.job.empty() ? PinTrait::none : PinTrait::dual_purpose;
}

}  // namespace

Footprint::PinLook Footprint::look_of(size_t i) {
    const auto& t = theme();
    const auto& pin = part().pins[i];
    const PlanView::PinState state = i < plan_.pins.size() ? plan_.pins[i] : PlanView::PinState{};
    PinLook look;
    const int entry = i < shading_.of_pin.size() ? shading_.of_pin[i] : -1;
    look.line = entry < 0 ? t.second : shading_.entries[static_cast<size_t>(entry)].color;
    if (look.line == t.hairline) look.line = t.second;
    look.loose = state.loose;
    look.used = state.port >= 0;
    look.wired = state.locked;
    look.fill = t.bright;
    if (look.used) {
        look.fill = entry < 0 ? look.line : shading_.entries[static_cast<size_t>(entry)].color;
        if (look.loose) look.fill.setAlphaF(0.25f);
    }
    look.faded = (entry >= 0 && hidden_.contains(shading_.entries[static_cast<size_t>(entry)].name)) ||
                 (drag_.moving() && (!pin.usable() || drag_.fades(pin.name)));
    return look;
}

void Footprint::draw_pin(QPainter& p, const Pin& pin, const QRectF& r, const PinLook& look) const {
    const double small = std::min(r.width(), r.height());
    p.setOpacity(look.faded ? 0.18 : 1);
    if (!pin.usable()) {
        draw_fixed_pin(p, r.center(), small * 0.36, fixed_of(pin.kind), look.line);
    } else {
        draw_user_pin(p, r, {look.line, look.fill, look.loose, look.wired, look.wide});
        const QColor mark = look.used && !look.loose ? theme().bright : look.line;
        // Where names take the middle the mark goes below them.
        const bool named = part().package.ball_grid && small >= named_from;
        const QPointF c = r.center() + QPointF(0, named ? small * 0.3 : -small * 0.08);
        if (small > 6 || pin.kind == PinKind::clock)
            draw_trait(p, c, named ? small * 0.4 : small * 0.72, trait_of(pin), mark);
    }
    p.setOpacity(1);
}

void Footprint::draw_pins(QPainter& p, const FootprintMap& m, bool vectors) {
    const bool stamps = part().package.ball_grid && !vectors;
    const double size = m.pins.empty() ? 0 : m.pins[0].width();
    if (std::abs(size - stamp_size_) > 0.01) {
        stamps_.clear();
        stamp_size_ = size;
    }
    const double ratio = devicePixelRatioF();
    const int side = static_cast<int>(std::ceil(size)) + 4;
    for (size_t i = 0; i < part().pins.size(); ++i) {
        const auto& r = m.pins[i];
        if (!vectors && !r.intersects(dirty())) continue;
        auto look = look_of(i);
        const auto& pin = part().pins[i];
        if (!m.ball_grid) look.wide = wide_end(r, m.body);
        if (!stamps) {
            draw_pin(p, pin, r, look);
            continue;
        }
        const QString key =
            QString::number(look.line.rgba(), 16) + QString::number(look.fill.rgba(), 16) +
            QChar('a' + look.loose + 2 * look.faded + 4 * look.used + 8 * pin.reference + 16 * look.wired) +
            QChar('0' + static_cast<int>(pin.kind)) + (pin.job.empty() ? QString() : QStringLiteral("j"));
        auto stamp = stamps_.find(key);
        if (stamp == stamps_.end()) {
            QPixmap map(QSize(side, side) * ratio);
            map.setDevicePixelRatio(ratio);
            map.fill(Qt::transparent);
            QPainter one(&map);
            one.setRenderHint(QPainter::Antialiasing);
            draw_pin(one, pin, QRectF(2, 2, r.width(), r.height()), look);
            stamp = stamps_.insert(key, map);
        }
        p.drawPixmap(r.topLeft() - QPointF(2, 2), *stamp);
    }
}

void Footprint::draw_coordinates(QPainter& p, const FootprintMap& m) {
    const auto& t = theme();
    const auto& package = part().package;
    const double pitch = pitch_mm(part()), out_x = -body_mm(part()) / 2 - pitch * 0.55, out_y = out_x;
    const double px = std::clamp(m.pitch * 0.5, 6.0, 12.0);
    const int every = m.pitch < 13 ? 5 : 1;  // where all of them would touch, every fifth
    std::map<int, QString> letters;
    for (const auto& pin : part().pins)
        if (letters.find(pin.row) == letters.end()) {
            QString name = q(pin.name);
            while (!name.isEmpty() && name.back().isDigit()) name.chop(1);
            letters[pin.row] = name;
        }
    const auto put = [&](const QPointF& mm, const QString& what) {
        const QPointF c = m.from_mm.map(mm);
        text(p, {c.x() - 14, c.y() - 8, 28, 16}, Qt::AlignCenter, what, words(px), t.second);
    };
    for (int c = 0; c < package.columns; ++c)
        if (c == 0 || (c + 1) % every == 0)
            put({(c - (package.columns - 1) / 2.0) * pitch, out_y}, QString::number(c + 1));
    for (const auto& [row, name] : letters)
        if (row == 0 || (row + 1) % every == 0) put({out_x, (row - (package.rows - 1) / 2.0) * pitch}, name);
}

/// Beside each pin of a quad flat package, inside its body: the port, or every sixth pin's number.
void Footprint::draw_names(QPainter& p, const FootprintMap& m) {
    const auto& t = theme();
    if (m.pitch < 11) return;
    for (size_t i = 0; i < part().pins.size(); ++i) {
        const auto& pin = part().pins[i];
        const auto port = other_ ? std::string() : port_at(static_cast<int>(i));
        const auto& r = m.pins[i];
        const bool lies = r.width() > r.height();  // the lead lies, so its name does
        const bool numbered =
            (pin.slot == 0 && lies) || (pin.slot % 6 == 5 && (lies || pin.slot + 1 < part().package.per_side));
        if (port.empty() && !numbered) continue;
        const QString words_here = port.empty() ? q(pin.name) : q(port) + QStringLiteral(" · ") + q(pin.name);
        const QFont font = mono(10.5);
        const QColor color = port.empty() ? t.second : t.ink;
        const double reach = 108, in = m.pitch * 0.75;
        if (lies) {
            const bool left = r.center().x() < m.body.center().x();
            text(p, {left ? m.body.left() + in : m.body.right() - reach - in, r.center().y() - 7, reach, 14},
                 (left ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter, words_here, font, color, true);
        } else {
            const bool low = r.center().y() > m.body.center().y();
            p.save();
            p.translate(r.center().x(), low ? m.body.bottom() - in : m.body.top() + in + reach);
            p.rotate(-90);
            p.setFont(font);
            p.setPen(color);
            p.drawText(QRectF(0, -7, reach, 14),
                       (low ? Qt::AlignLeft : Qt::AlignRight) | Qt::AlignVCenter | Qt::TextSingleLine, words_here);
            p.restore();
        }
    }
}

/// Inside the balls, once they are large enough: the pin, and below it the port.
void Footprint::draw_ball_names(QPainter& p, const FootprintMap& m) {
    const auto& t = theme();
    if (m.pins.empty() || m.pins[0].width() < named_from) return;
    for (size_t i = 0; i < m.pins.size(); ++i) {
        const auto& r = m.pins[i];
        if (!r.intersects(dirty()) || !part().pins[i].usable()) continue;
        const auto port = port_at(static_cast<int>(i));
        const bool filled = !port.empty() && !plan_.pins[i].loose;
        const auto& pin = part().pins[i];
        const bool marked = pin.kind == PinKind::clock || pin.reference || !pin.job.empty(),
                   both = !port.empty() && r.width() >= port_from;
        const double up = (marked ? 0.12 : 0) + (both ? 0.14 : 0);
        const QColor ink = filled ? t.bright : t.ink;
        text(p, {r.left() + 1, r.center().y() - r.height() * up - 7, r.width() - 2, 14}, Qt::AlignCenter, q(pin.name),
             mono(10.5, true), ink, true);
        if (both)
            text(p, {r.left() + 3, r.center().y() - r.height() * (up - 0.25) - 7, r.width() - 6, 14}, Qt::AlignCenter,
                 q(port), mono(10), ink, true);
    }
}

void Footprint::draw_groups(QPainter& p, const FootprintMap& m) {
    const auto& t = theme();
    std::map<std::string, int> groups;
    for (const auto& pin : part().pins)
        if (!pin.strobe_group.empty()) groups.emplace(pin.strobe_group, static_cast<int>(groups.size()));
    for (size_t i = 0; i < part().pins.size(); ++i) {
        const auto& pin = part().pins[i];
        if (pin.strobe_group.empty()) continue;
        const QColor color = t.bank(groups[pin.strobe_group] + 3);
        const double out = m.pitch * 0.12;
        p.setPen(QPen(color, std::max(1.0, m.pitch * 0.07)));
        p.setBrush(Qt::NoBrush);
        p.drawRoundedRect(m.pins[i].adjusted(-out, -out, out, out), 3, 3);
        if (pin.strobe) p.drawRoundedRect(m.pins[i].adjusted(-2.2 * out, -2.2 * out, 2.2 * out, 2.2 * out), 3, 3);
    }
}

/// The name of each strobe group at its first pin, over everything.
void Footprint::draw_group_names(QPainter& p, const FootprintMap& m) {
    if (m.pitch < 20) return;
    const auto& t = theme();
    std::map<std::string, int> seen;
    for (size_t i = 0; i < part().pins.size(); ++i) {
        const auto& group = part().pins[i].strobe_group;
        if (group.empty() || !seen.emplace(group, static_cast<int>(seen.size())).second) continue;
        const QRectF at(m.pins[i].left() - m.pitch * 0.2, m.pins[i].top() - m.pitch * 0.32, 18, 12);
        p.fillRect(at, t.bright);
        text(p, at, Qt::AlignCenter, q(group), words(10, true), t.bank(seen[group] + 3), true);
    }
}

/// Where a selected clock pin gets to without general routing: the pins whose regions it reaches, and the PLLs by name.
void Footprint::draw_reach(QPainter& p, const FootprintMap& m) {
    const auto chosen = chosen_pins();
    if (chosen.empty()) return;
    const auto& from = part().pins[static_cast<size_t>(chosen[0])];
    if (from.reaches.empty()) return;
    const auto& t = theme();
    const bool all = std::find(from.reaches.begin(), from.reaches.end(), "part") != from.reaches.end();
    QColor wash = t.select;
    wash.setAlphaF(0.10f);
    p.setPen(Qt::NoPen);
    p.setBrush(wash);
    const double grow = m.pitch * 0.16;
    for (size_t i = 0; i < part().pins.size(); ++i)
        if (part().pins[i].usable() && (all || part().pins[i].region == from.region))
            p.drawRect(m.pins[i].adjusted(-grow, -grow, grow, grow));
    std::vector<std::string> plls;
    for (const auto& r : from.reaches)
        if (r != "part" && r != "regions") plls.push_back(r);
    const QString says = tr("%1 reaches %2%3")
                             .arg(q(from.name), all ? tr("the whole part") : tr("region %1").arg(q(from.region)),
                                  plls.empty() ? QString() : tr(" and %1").arg(q(list_names(plls, 4))));
    draw_bubble(p, {0, height() - 46.0}, says, t.select);
}

void Footprint::draw_extras(QPainter& p, const FootprintMap& m) {
    const auto& t = theme();
    const auto lines = [&](const std::vector<QLineF>& list, const QPen& pen) {
        std::vector<QLineF> out;
        out.reserve(list.size());
        for (const auto& line : list) out.push_back(m.from_mm.map(line));
        p.setPen(pen);
        p.drawLines(out.data(), static_cast<int>(out.size()));
    };
    if (extras_ & banks) lines(bank_lines_, QPen(t.hairline, 1));
    if (extras_ & regions) lines(region_lines_, QPen(t.select, 1.2, Qt::DashLine));
    if (extras_ & pairs) {
        p.setPen(QPen(t.second, std::clamp(m.pitch * 0.08, 0.8, 3.0)));
        for (size_t i = 0; i < part().pins.size(); ++i) {
            const auto& pin = part().pins[i];
            if (!pin.pair_true || pin.pair.empty()) continue;
            const QPointF a = m.pins[i].center(), b = m.pins[part().by_name.at(pin.pair)].center();
            const QPointF d = (b - a) * 0.28;
            p.drawLine(a + d, b - d);
        }
    }
    if (extras_ & bytes) draw_groups(p, m);
}

void Footprint::draw_chosen(QPainter& p, const FootprintMap& m) {
    const auto& t = theme();
    const double out = std::clamp(m.pitch * 0.16, 1.5, 4.0);
    const auto ring = [&](int pin, const QColor& color, double width) {
        const auto r = m.pins[static_cast<size_t>(pin)].adjusted(-out, -out, out, out);
        p.setPen(QPen(color, width));
        p.setBrush(Qt::NoBrush);
        p.drawRoundedRect(r, 3, 3);
    };
    const auto chosen = chosen_pins();
    if (chosen.size() == 1) {
        const auto& pin = part().pins[static_cast<size_t>(chosen[0])];
        if (!pin.pair.empty()) {
            p.setPen(QPen(t.ink, 3));
            const QPointF a = m.pins[static_cast<size_t>(chosen[0])].center(),
                          b = m.pins[part().by_name.at(pin.pair)].center(), d = (b - a) * 0.34;
            p.drawLine(a + d, b - d);
        }
    }
    for (const int pin : chosen) ring(pin, t.select, 2.2);
    if (hovered_ >= 0 && static_cast<size_t>(hovered_) < m.pins.size()) ring(hovered_, t.second, 1.2);
}

void Footprint::draw_package(QPainter& p, const FootprintMap& m, bool vectors) {
    const auto& t = theme();
    draw_sheet(p, m.body, t.bright, t.second);
    // The first pin is at the cut corner.
    const double half = body_mm(part()) / 2, cut = body_mm(part()) * 0.032;
    p.setPen(QPen(t.second, 1));
    p.setBrush(vectors ? t.bright : t.paper);
    p.drawPolygon(
        m.from_mm.map(QPolygonF{QPointF(-half, -half), QPointF(-half + cut, -half), QPointF(-half, -half + cut)}));
    draw_extras(p, m);
    if (m.ball_grid) draw_coordinates(p, m);
    draw_pins(p, m, vectors);
    if (extras_ & bytes) draw_group_names(p, m);
    if (m.ball_grid) {
        draw_ball_names(p, m);
    } else {
        draw_names(p, m);
        text(p, {m.body.left(), m.body.center().y() - 22, m.body.width(), 20}, Qt::AlignCenter, q(part().name),
             words(15, true), t.ink);
        text(p, {m.body.left(), m.body.center().y() + 2, m.body.width(), 18}, Qt::AlignCenter,
             look_.below ? tr("seen from below, first pin at the cut corner")
                         : tr("seen from above, first pin at the cut corner"),
             words(11.5), t.second);
    }
    for (size_t i = 0; i < plan_.pins.size() && i < m.pins.size(); ++i)
        if (plan_.pins[i].severity < 2)
            draw_severity(p, m.pins[i].topRight() + QPointF(1, -1), static_cast<Severity>(plan_.pins[i].severity),
                          std::clamp(m.pitch * 0.3, 5.0, 8.0));
}

void Footprint::draw(QPainter& p) {
    if (!desk_.has_session()) return;
    if (part().pins.empty())
        return text(p, QRectF(rect()), Qt::AlignCenter,
                    tr("No part is chosen yet; Site has a place for its ordering code."), words(13), theme().second);
    const auto m = map_now();
    if (drag_.moving()) drag_.begin_frame();
    draw_package(p, m, false);
    if (drag_.moving() && drag_.unfinished()) QTimer::singleShot(0, this, [this] { update(); });
    if (extras_ & reach) draw_reach(p, m);
    draw_chosen(p, m);
    if (!drag_.moving()) return;
    const int under = m.at(drag_.now());
    if (under < 0) return draw_bubble(p, drag_.now(), q(drag_.ports().front()), theme().hairline);
    const DropTarget target{DropTarget::Kind::pin, part().pins[static_cast<size_t>(under)].name};
    draw_bubble(p, drag_.now(), drag_.sentence(target), drag_.answer(target).why.empty() ? theme().good : theme().stop);
}

void Footprint::draw_for_file(QPainter& p, double px_per_mm) {
    const double middle = size_mm() * px_per_mm / 2;
    set_dirty({0, 0, 2 * middle, 2 * middle});
    draw_package(p, FootprintMap(part(), {middle, middle}, px_per_mm, {look_.below, look_.turns, 1, {}}), true);
}

}  // namespace kp::app
