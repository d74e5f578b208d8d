// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/bench/bench_board.hpp"

#include "core/base/text.hpp"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainterPath>
#include <QWheelEvent>
#include <cmath>

namespace kp::app {

namespace {
QString q(const std::string& s) {
    return QString::fromStdString(s);
}

constexpr double lamps_left = 44, keys_column = 140;
}  // namespace

BenchBoard::Circle BenchBoard::vane_circle() const {
    // Vane and rose share what the column of keys leaves; a lit lamp reaches 22 px beyond its circle.
    const double half = (width() - keys_column - 20) / 2,
                 r = std::max(20.0, std::min(half / 2 - 24, (height() - 130) * 0.30));
    return {20 + half / 2, 66 + r, r};
}

const BoardPart* BenchBoard::of_kind(const char* kind) const {
    for (const auto& part : desk_.session().world().board.parts)
        if (part.kind == kind) return &part;
    return nullptr;
}

void BenchBoard::turn_vane(int steps) {
    const auto* part = desk_.has_session() ? of_kind("vane") : nullptr;
    if (!part) return;
    const unsigned positions = 1u << std::min<size_t>(8, part->terminals.size());
    hand_.vane = (hand_.vane + static_cast<unsigned>(steps + static_cast<int>(positions))) % positions;
    give_vane();
    update();
}

void BenchBoard::give_vane() {
    const auto* part = of_kind("vane");
    if (!part || !bench_) return;
    for (size_t k = 0; k < part->terminals.size(); ++k)
        bench_->drive(part->ref + "." + part->terminals[k].name, (to_gray(hand_.vane) >> k) & 1);
}

void BenchBoard::press(const std::string& terminal, bool down) {
    if (down)
        hand_.down.insert(terminal);
    else
        hand_.down.erase(terminal);
    const auto found = desk_.session().world().board.at_terminal(terminal);
    if (bench_ && found) bench_->drive(terminal, down != found.terminal->active_low);
    update();
}

void BenchBoard::give_all() {
    give_vane();
    for (const auto& terminal : hand_.down) press(terminal, true);
}

QRectF BenchBoard::key_place(const std::string& terminal) const {
    int i = 0;
    for (const auto& part : desk_.session().world().board.parts) {
        if (part.kind != "key") continue;
        for (const auto& t : part.terminals) {
            if (part.ref + "." + t.name == terminal) return {width() - 118.0, 34 + i * 50.0, 92, 38};
            ++i;
        }
    }
    return {};
}

/// Rockers stand below the lamps of a board without a vane, in as many columns as there is room for.
QRectF BenchBoard::rocker_place(const std::string& terminal) const {
    int i = 0;
    for (const auto& part : desk_.session().world().board.parts) {
        if (part.kind != "rocker") continue;
        for (const auto& t : part.terminals) {
            const int columns = std::max(1, static_cast<int>((width() - keys_column - 24) / 138));
            if (part.ref + "." + t.name == terminal)
                return {24.0 + (i % columns) * 138.0, lamps_bottom() + (i / columns) * 42.0, 126, 30};
            ++i;
        }
    }
    return {};
}

void BenchBoard::draw_rockers(QPainter& p) {
    const auto& t = theme();
    for (const auto& part : desk_.session().world().board.parts) {
        if (part.kind != "rocker") continue;
        for (const auto& terminal : part.terminals) {
            const auto name = part.ref + "." + terminal.name;
            const auto r = rocker_place(name);
            if (r.bottom() > height() - 90) continue;
            item(r, name);
            const bool on = hand_.down.contains(name);
            const QRectF body(r.left(), r.top() + 4, 44, 22);
            p.setPen(QPen(on ? t.select : t.ink, 1.2));
            p.setBrush(on ? t.select_fill : t.bright);
            p.drawRoundedRect(body, 3, 3);
            p.setBrush(on ? t.select : t.second);
            p.drawRect(QRectF(on ? body.right() - 20 : body.left() + 4, body.top() + 4, 16, 14));
            text(p, {r.left() + 50, r.top(), 76, 30}, Qt::AlignVCenter, q(terminal.name), words(12, on), t.ink, true);
        }
    }
}

void BenchBoard::draw(QPainter& p) {
    const auto& t = theme();
    draw_sheet(p, rect(), t.board, t.second);
    if (!desk_.has_session()) return;
    text(p, {16, 8, 240, 20}, Qt::AlignVCenter, tr("%1, simulated").arg(q(desk_.session().world().board.name)),
         words(15, true), t.ink);
    if (const auto* part = of_kind("vane"))
        draw_vane(p, *part);
    else
        draw_rockers(p);
    if (const auto* part = of_kind("lamp")) draw_lamps(p, *part);
    draw_keys(p);
    draw_probes(p);
    draw_cards(p);
    if (const auto* part = of_kind("sounder")) draw_sounder(p, *part);
    if (const auto* part = of_kind("header")) draw_header(p, *part);
    text(p, {210, height() - 30.0, width() - 370.0, 18}, Qt::AlignVCenter,
         bench_
             ? tr("%1 ms of board time; probes show %2 ms")
                   .arg(q(fixed(bench_->seconds() * 1000, 1)))
                   .arg(bench_->cycles() ? std::lround(bench_->seconds() * 1000 /
                                                       static_cast<double>(bench_->cycles()) * 400 * cycles_per_sample)
                                         : 0)
             : QString(),
         words(12), t.second);
    if (!bench_)
        text(p, {210, height() - 30.0, std::max(40.0, width() - 370.0), 18}, Qt::AlignVCenter,
             tr("Not loaded: the lamps are dark."), words(12), t.second, true);
}

void BenchBoard::draw_vane(QPainter& p, const BoardPart& part) {
    const auto& t = theme();
    const auto [vane_x, vane_y, vane_r] = vane_circle();
    const unsigned positions = 1u << std::min<size_t>(8, part.terminals.size());
    p.setPen(QPen(t.ink, 1.2));
    p.setBrush(t.bright);
    p.drawEllipse(QPointF(vane_x, vane_y), vane_r, vane_r);
    item({vane_x - vane_r, vane_y - vane_r, 2 * vane_r, 2 * vane_r}, part.ref);
    for (unsigned i = 0; i < positions; ++i) {
        const double a = 2 * M_PI * i / positions, in = vane_r - (i % 4 == 0 ? 12 : 6);
        p.drawLine(QPointF(vane_x + in * std::sin(a), vane_y - in * std::cos(a)),
                   QPointF(vane_x + (vane_r - 2) * std::sin(a), vane_y - (vane_r - 2) * std::cos(a)));
    }
    p.save();
    p.translate(vane_x, vane_y);
    p.rotate(360.0 * hand_.vane / positions);
    p.setBrush(t.bank(0));
    p.drawPolygon(QPolygonF{{0, -vane_r + 16}, {7, 34}, {-7, 34}});
    p.restore();
    QString bits;
    for (size_t k = part.terminals.size(); k-- > 0;)
        bits += ((to_gray(hand_.vane) >> k) & 1) ? QStringLiteral("1") : QStringLiteral("0");
    const double half = std::min(140.0, vane_x - 8);
    text(p, {vane_x - half, vane_y + vane_r + 8, 2 * half, 18}, Qt::AlignCenter,
         tr("%1 %2: wheel or arrow keys").arg(q(part.label), q(part.ref)), words(11.5), t.second, true);
    text(p, {vane_x - 120, vane_y + vane_r + 26, 240, 20}, Qt::AlignCenter,
         tr("gray %1 = %2").arg(bits).arg(hand_.vane), mono(13), t.ink);
}

QPointF BenchBoard::lamp_row_place(size_t i) const {
    constexpr double step = 44;
    const auto in_row = static_cast<size_t>(std::max(1.0, std::floor((width() - keys_column - lamps_left) / step)));
    return {lamps_left + step * static_cast<double>(i % in_row), 76 + 48.0 * static_cast<double>(i / in_row)};
}

double BenchBoard::lamps_bottom() const {
    const auto* lamps = of_kind("lamp");
    return lamps && !lamps->terminals.empty() ? lamp_row_place(lamps->terminals.size() - 1).y() + 48 : 56;
}

/// Where the probes begin: below the vane, or below the rockers of a board without one.
double BenchBoard::probes_top() const {
    const auto circle = vane_circle();
    if (of_kind("vane")) return circle.y + circle.r + 62;
    double bottom = lamps_bottom();
    for (const auto& part : desk_.session().world().board.parts)
        if (part.kind == "rocker")
            for (const auto& t : part.terminals)
                bottom = std::max(bottom, rocker_place(part.ref + "." + t.name).bottom() + 12);
    return bottom;
}

void BenchBoard::draw_lamps(QPainter& p, const BoardPart& part) {
    const auto& t = theme();
    const auto [vane_x, vane_y, vane_r] = vane_circle();
    const double rose_x = vane_x + (width() - keys_column - 20) / 2, rose_y = vane_y, rose_r = vane_r;
    const auto n = part.terminals.size();
    for (size_t i = 0; i < n; ++i) {
        const double a = 2 * M_PI * static_cast<double>(i) / static_cast<double>(n);
        // Around a vane the lamps are a rose; elsewhere they stand in rows between rockers and keys, the first one at
        // the left.
        const bool rose = of_kind("vane") != nullptr;
        const QPointF c =
            rose ? QPointF(rose_x + rose_r * std::sin(a), rose_y - rose_r * std::cos(a)) : lamp_row_place(i);
        item({c.x() - 15, c.y() - 15, 30, 30}, part.ref + "." + part.terminals[i].name);
        // As bright as the share of time in which it was lit of late.
        const auto name = part.ref + "." + part.terminals[i].name;
        const auto share = duty_.find(name);
        const double bright = !bench_ ? 0 : share == duty_.end() ? bench_->active(name) : share->second;
        const bool on = bright > 0.04;
        p.setPen(QPen(t.ink, 1.2));
        auto glow = t.lamp;
        glow.setAlphaF(static_cast<float>(0.2 + 0.8 * std::min(1.0, bright)));
        p.setBrush(on ? glow : t.bright);
        p.drawEllipse(c, 15, 15);
        if (on) {
            // A lit lamp has rays too, so that colour does not stand alone.
            for (int k = 0; k < 8; ++k)
                p.drawLine(c + QPointF(18 * std::cos(k * M_PI / 4), 18 * std::sin(k * M_PI / 4)),
                           c + QPointF(22 * std::cos(k * M_PI / 4), 22 * std::sin(k * M_PI / 4)));
        }
        text(p, {c.x() - 12, c.y() - 9, 24, 18}, Qt::AlignCenter, QString::number(i), words(12),
             on ? QColor("#1F2A33") : t.second);
    }
    if (!of_kind("vane")) {
        const auto last = n == 0 ? QPointF(lamps_left, 76) : lamp_row_place(n - 1);
        return text(p, {lamps_left - 10, last.y() + 24, 200, 18}, Qt::AlignVCenter,
                    tr("%1 %2").arg(q(part.label), q(part.ref)), words(11.5), t.second);
    }
    if (rose_r > 64)  // else there is no room between the lamps
        text(p, {rose_x - 60, rose_y - 9, 120, 18}, Qt::AlignCenter, q(part.label), words(12), t.second, true);
    text(p, {rose_x - 90, vane_y + vane_r + 30, 180, 18}, Qt::AlignCenter,
         part.terminals.empty() || !part.terminals[0].active_low ? tr("lamps") : tr("lamps, active low"), words(11.5),
         t.second);
}

void BenchBoard::draw_keys(QPainter& p) {
    const auto& t = theme();
    for (const auto& part : desk_.session().world().board.parts) {
        if (part.kind != "key") continue;
        for (const auto& terminal : part.terminals) {
            const auto name = part.ref + "." + terminal.name;
            const bool down = hand_.down.contains(name);
            const auto r = key_place(name);
            item(r, name);
            p.setPen(QPen(down ? t.select : t.ink, down ? 2 : 1.2));
            p.setBrush(down ? t.select_fill : t.bright);
            p.drawRoundedRect(r, 18, 18);
            text(p, r, Qt::AlignCenter, q(terminal.name), words(13, down), t.ink);
        }
    }
}

void BenchBoard::draw_sounder(QPainter& p, const BoardPart& part) {
    const auto& t = theme();
    if (part.terminals.empty()) return;
    const double hz = bench_ ? bench_->frequency_hz(part.ref + "." + part.terminals[0].name) : 0;
    const QRectF r(20, height() - 76.0, 170, 50);
    item(r, part.ref);
    text(p, {r.left(), r.top(), r.width(), 18}, Qt::AlignCenter,
         hz > 0 ? tr("%1 %2 Hz").arg(q(part.label), q(fixed(hz, 1))) : tr("%1 silent").arg(q(part.label)), words(12),
         t.ink);
    QPainterPath wave(QPointF(r.left() + 20, r.top() + 38));
    for (int i = 0; i < 5; ++i) {
        const double x = r.left() + 20 + i * 20;
        if (hz > 0) {
            wave.lineTo(x, r.top() + 24);
            wave.lineTo(x + 10, r.top() + 24);
            wave.lineTo(x + 10, r.top() + 38);
        }
        wave.lineTo(x + 20, r.top() + 38);
    }
    p.setPen(QPen(t.pad, 1.4));
    p.setBrush(Qt::NoBrush);
    p.drawPath(wave);
}

/// The sounder, the two lowest lines of the vane and the first lamp: what changes at different speeds.
std::vector<std::string> BenchBoard::probed() const {
    std::vector<std::string> out;
    const auto add = [&](const BoardPart* part, size_t terminals) {
        for (size_t i = 0; part && i < std::min(terminals, part->terminals.size()); ++i)
            out.push_back(part->ref + "." + part->terminals[i].name);
    };
    add(of_kind("sounder"), 1);
    add(of_kind("vane"), 2);
    add(of_kind("lamp"), 2);
    return out;
}

void BenchBoard::sample() {
    constexpr size_t kept = 400;  // 20 ms at 20 MHz
    std::vector<Level> now;
    for (const auto& terminal : probed()) now.push_back(bench_->level(terminal));
    samples_.push_back(std::move(now));
    while (samples_.size() > kept) samples_.pop_front();
    sample_parts();
}

void BenchBoard::draw_probes(QPainter& p) {
    const auto& t = theme();
    const auto names = probed();
    const double top = probes_top(), left = 110, right = width() - 170.0,
                 row = std::min(30.0, (height() - 96 - top) / static_cast<double>(names.size()));
    if (row < 16) return;
    for (size_t k = 0; k < names.size(); ++k) {
        const double y = top + row * static_cast<double>(k), high = y + 3, low = y + row - 6;
        text(p, {20, y, 86, row}, Qt::AlignVCenter, q(names[k]), mono(11.5), t.ink, true);
        p.setPen(QPen(t.hairline, 1));
        p.drawLine(QPointF(left, low + 3), QPointF(right, low + 3));
        QPolygonF wave;
        for (size_t i = 0; i < samples_.size(); ++i) {
            if (samples_[i].size() != names.size()) continue;
            const double x = right - (right - left) * static_cast<double>(samples_.size() - i) / 400.0;
            const auto level = samples_[i][k];
            const double at = level == Level::high ? high : level == Level::low ? low : (high + low) / 2;
            if (!wave.isEmpty() && wave.last().y() != at) wave << QPointF(x, wave.last().y());
            wave << QPointF(x, at);
        }
        p.setPen(QPen(t.bank(static_cast<int>(k)), 1.4));
        p.drawPolyline(wave);
    }
}

void BenchBoard::draw_header(QPainter& p, const BoardPart& part) {
    const auto& t = theme();
    const double w = 128, h = 26 + 16.0 * static_cast<double>(part.terminals.size());
    const QRectF r(width() - w - 16, height() - h - 10, w, h);
    item(r, part.ref);
    draw_sheet(p, r, t.bright, t.hairline);
    text(p, {r.left() + 10, r.top() + 3, w - 16, 18}, Qt::AlignVCenter, tr("%1 %2").arg(q(part.label), q(part.ref)),
         words(12, true), t.ink);
    for (size_t i = 0; i < part.terminals.size(); ++i) {
        const double y = r.top() + 22 + 16.0 * static_cast<double>(i);
        const auto level = bench_ ? bench_->level(part.ref + "." + part.terminals[i].name) : Level::floating;
        text(p, {r.left() + 10, y, 60, 16}, Qt::AlignVCenter, q(part.terminals[i].name), mono(11.5), t.ink);
        text(p, {r.right() - 62, y, 52, 16}, Qt::AlignVCenter | Qt::AlignRight,
             level == Level::high       ? QStringLiteral("1")
             : level == Level::low      ? QStringLiteral("0")
             : level == Level::conflict ? tr("fight")
                                        : tr("floats"),
             mono(11.5),
             level == Level::conflict   ? t.stop
             : level == Level::floating ? t.second
                                        : t.ink);
    }
}

void BenchBoard::mousePressEvent(QMouseEvent* event) {
    if (!desk_.has_session()) return;
    setFocus();
    for (const auto& part : desk_.session().world().board.parts) {
        if (part.kind != "key") continue;
        for (const auto& terminal : part.terminals) {
            const auto name = part.ref + "." + terminal.name;
            if (!key_place(name).contains(event->position())) continue;
            // The right button latches a key; the left one holds it as long as the finger does.
            if (event->button() == Qt::RightButton) return press(name, !hand_.down.contains(name));
            held_ = name;
            return press(name, true);
        }
    }
    for (const auto& part : desk_.session().world().board.parts)
        if (part.kind == "rocker" && !of_kind("vane"))
            for (const auto& terminal : part.terminals) {
                const auto name = part.ref + "." + terminal.name;
                if (rocker_place(name).contains(event->position())) return press(name, !hand_.down.contains(name));
            }
    if (turn_terminal(event->position())) return;
    const auto [vane_x, vane_y, vane_r] = vane_circle();
    const QPointF d = event->position() - QPointF(vane_x, vane_y);
    if (const auto* part = of_kind("vane"); part && std::hypot(d.x(), d.y()) < vane_r) {
        const unsigned positions = 1u << std::min<size_t>(8, part->terminals.size());
        const double a = std::atan2(d.x(), -d.y());
        const auto wanted = static_cast<int>(std::lround((a < 0 ? a + 2 * M_PI : a) / (2 * M_PI) * positions)) %
                            static_cast<int>(positions);
        turn_vane(wanted - static_cast<int>(hand_.vane));
    }
}

void BenchBoard::mouseReleaseEvent(QMouseEvent*) {
    if (!held_.empty()) press(held_, false);
    held_.clear();
}

void BenchBoard::wheelEvent(QWheelEvent* event) {
    turn_vane(event->angleDelta().y() > 0 ? 1 : -1);
}

void BenchBoard::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Right || event->key() == Qt::Key_Left)
        return turn_vane(event->key() == Qt::Key_Right ? 1 : -1);
    Canvas::keyPressEvent(event);
}

}  // namespace kp::app
