// SPDX-License-Identifier: GPL-3.0-or-later
// Edges are drawn for the window of time that all share; a drag moves one edge of a waveform and becomes one edit
// when it ends.
#include "app/tempo/clock_chart.hpp"

#include "app/theme/text.hpp"

#include "core/base/text.hpp"

#include <QMouseEvent>
#include <QPainterPath>
#include <algorithm>
#include <cmath>
#include <utility>

namespace kp::app {

void ClockChart::draw(QPainter& p) {
    const auto& t = theme();
    draw_sheet(p, rect(), t.bright, t.hairline);
    names_.clear();
    edges_.clear();
    if (!desk_.has_session()) return;
    const auto& c = desk_.session().analysis().constraints();
    text(p, {14, 6, 180, 18}, Qt::AlignVCenter, tr("one common time axis, ns"), words(11.5), t.second);
    if (c.clocks.empty()) {
        paragraph(p, {14, 34}, width() - 28, tr("No clock is defined yet. The form below right writes the first one."),
                  words(), t.second);
        return;
    }
    double longest = 0;
    for (const auto& clock : c.clocks) longest = std::max(longest, clock.period);
    const TimeAxis axis{0, longest * 2.05, 230, width() - 20.0};
    axis_ = axis;
    for (const double tick : axis.ticks(70)) {
        p.setPen(QPen(t.paper, 1));
        p.drawLine(QPointF(axis.x(tick), 26), QPointF(axis.x(tick), height() - 10.0));
        text(p, {axis.x(tick) - 30, 6, 60, 18}, Qt::AlignCenter, q(shortest(std::round(tick * 1000) / 1000)),
             mono(11.5), t.second);
    }
    const auto list = io_windows(c, desk_.session().world().netlist.ports);
    // All clocks have a row, however many there are; each row is as high as there is room for.
    const double row = std::clamp((height() - 38.0) / static_cast<double>(c.clocks.size()), 15.0, 52.0);
    double y = 30;
    for (std::uint32_t i = 0; i < c.clocks.size(); ++i, y += row)
        draw_clock(p, axis, i, QRectF(0, y, width(), row), list);
    setMinimumHeight(static_cast<int>(38 + 15.0 * static_cast<double>(std::min<size_t>(c.clocks.size(), 24))));
}

/// Name and rate, the wave, and below it when the data of this clock change or must hold still.
void ClockChart::draw_clock(QPainter& p, const TimeAxis& axis, std::uint32_t i, const QRectF& row,
                            const std::vector<IoWindow>& list) {
    const auto& t = theme();
    const auto& clock = desk_.session().analysis().constraints().clocks[i];
    const QColor color = t.bank(static_cast<int>(i));
    const bool chosen = desk_.selection() == Selection{QStringLiteral("clock"), q(clock.name)};
    const bool two_lines = row.height() >= 34;
    const auto short_number = [](double v) { return q(shortest(std::round(v * 1e3) / 1e3)); };
    const auto rate = clock.period > 0
                          ? tr("%1 ns, %2 MHz").arg(short_number(clock.period), short_number(1000 / clock.period))
                          : QString();
    text(p, {14, row.top(), two_lines ? 200.0 : 78.0, 18}, Qt::AlignVCenter, q(clock.name), mono(12.5, true),
         chosen ? t.select : t.ink, true);
    text(p, two_lines ? QRectF(14, row.top() + 16, 206, 16) : QRectF(96, row.top(), 126, 18), Qt::AlignVCenter, rate,
         words(11), t.second, true);
    names_.emplace_back(QRectF(0, row.top(), 226, row.height()), q(clock.name));
    QStringList changes, holds;
    for (const auto& w : list)
        if (w.clock == i) (w.input ? changes : holds) << q(w.bus);
    const bool bars = !(changes.isEmpty() && holds.isEmpty()) && row.height() >= 22;
    const double wave_bottom = bars ? row.bottom() - std::min(14.0, row.height() * 0.4) : row.bottom() - 5;
    draw_wave(p, axis, clock, {row.top() + 2, wave_bottom - 2}, color);
    note_edges(clock, axis, (row.top() + wave_bottom) / 2);
    if (held_ && held_->clock == q(clock.name)) {
        const auto [period, duty] = dragged_to(*held_, hand_);
        p.setPen(QPen(t.select, 2));
        p.drawLine(QPointF(hand_, row.top()), QPointF(hand_, wave_bottom));
        draw_bubble(p, {hand_, row.bottom()}, tr("%1 ns, %2 %").arg(q(shortest(period)), q(shortest(duty))), t.select);
    }
    if (!bars) return;
    for (const auto& w : list) {
        if (w.clock != i) continue;
        QColor fill = color;
        fill.setAlpha(w.input ? 70 : 150);
        const double top = wave_bottom + 1, high = std::min(8.0, row.bottom() - top - 2);
        for (double base = 0; base < axis.to_ns && clock.period / axis.to_ns * (axis.right - axis.left) > 4;
             base += clock.period) {
            const double a = base + w.from, b = std::min(base + w.to, axis.to_ns);
            if (a >= axis.to_ns) break;
            p.setPen(QPen(color, 1));
            p.setBrush(fill);
            p.drawRect(
                QRectF(axis.x(std::max(a, 0.0)), top, std::max(2.0, axis.x(b) - axis.x(std::max(a, 0.0))), high));
        }
    }
    if (row.height() < 48) return;
    QString says;
    if (!changes.isEmpty()) says = tr("%1 change").arg(changes.join(QStringLiteral(", ")));
    if (!holds.isEmpty())
        says += (says.isEmpty() ? QString() : QStringLiteral("; ")) +
                tr("%1 must hold").arg(holds.join(QStringLiteral(", ")));
    text(p, {14, row.top() + 31, 208, 15}, Qt::AlignVCenter, says, words(11), t.second, true);
}

/// A clock that is too fast for lines of its own is a band with the number of its cycles.
void ClockChart::draw_wave(QPainter& p, const TimeAxis& axis, const ClockDefinition& clock, const Band& band,
                           const QColor& color) {
    const double px = clock.period / axis.to_ns * (axis.right - axis.left);
    if (!(clock.period > 0) || px < 3) {
        QColor fill = color;
        fill.setAlpha(60);
        const QRectF r(axis.x(0), band.high, axis.x(axis.to_ns) - axis.x(0), band.low - band.high);
        p.setPen(QPen(color, 1));
        p.setBrush(fill);
        p.drawRect(r);
        if (clock.period > 0 && r.height() >= 12)
            text(p, r, Qt::AlignCenter, tr("%1 cycles").arg(q(shortest(std::floor(axis.to_ns / clock.period)))),
                 words(11), theme().ink);
        return;
    }
    QPainterPath wave;
    bool first = true;
    for (double base = -clock.period; base < axis.to_ns; base += clock.period)
        for (size_t e = 0; e < clock.waveform.size(); ++e) {
            const double at = base + clock.waveform[e];
            const double before = e % 2 == 0 ? band.low : band.high, after = e % 2 == 0 ? band.high : band.low;
            if (at > axis.to_ns) break;
            if (at < 0 || first) {
                wave = QPainterPath(QPointF(axis.x(0), at < 0 ? after : before));
                first = false;
                if (at < 0) continue;
            }
            wave.lineTo(axis.x(at), before);
            wave.lineTo(axis.x(at), after);
        }
    wave.lineTo(axis.x(axis.to_ns), wave.currentPosition().y());
    p.setPen(QPen(color, 1.4));
    p.setBrush(Qt::NoBrush);
    p.drawPath(wave);
}

void ClockChart::note_edges(const ClockDefinition& clock, const TimeAxis& axis, double y) {
    const bool comes_in = !clock.generated && !clock.sources.empty() && clock.sources[0].kind == ObjectKind::port;
    const double px = clock.period / axis.to_ns * (axis.right - axis.left);
    if (!comes_in || clock.period <= 0 || clock.waveform.size() != 2 || clock.waveform[0] != 0 || px < 24) return;
    const double duty = 100 * clock.waveform[1] / clock.period;
    edges_.push_back({{axis.x(clock.period), y}, q(clock.name), clock.period, duty, false});
    edges_.push_back({{axis.x(clock.waveform[1]), y}, q(clock.name), clock.period, duty, true});
}

QPointF ClockChart::edge_place(const QString& clock, bool falling) const {
    for (const auto& e : edges_)
        if (e.clock == clock && e.falling == falling) return e.at;
    return {};
}

const ClockChart::Edge* ClockChart::edge_at(const QPointF& at) const {
    constexpr double near = 5;  // px
    for (const auto& e : edges_)
        if (std::abs(e.at.x() - at.x()) <= near && std::abs(e.at.y() - at.y()) <= 12) return &e;
    return nullptr;
}

std::pair<double, double> ClockChart::dragged_to(const Edge& edge, double x) const {
    const double at = std::max(axis_.ns(x), 1e-3);
    if (edge.falling) return {edge.period, std::clamp(std::round(100 * at / edge.period), 1.0, 99.0)};
    // A step is what a few pixels are: 0.01, 0.02, 0.05, 0.1 … ns.
    const double pixel = (axis_.to_ns - axis_.from_ns) / std::max(1.0, axis_.right - axis_.left);
    double step = std::pow(10, std::floor(std::log10(pixel)));
    for (const double k : {1.0, 2.0, 5.0, 10.0})
        if (k * step >= pixel) {
            step *= k;
            break;
        }
    return {std::max(step, std::round(at / step) * step), edge.duty};
}

void ClockChart::mouseMoveEvent(QMouseEvent* event) {
    if (held_) {
        hand_ = std::clamp(event->position().x(), axis_.left + 2, axis_.right);
        return update();
    }
    setCursor(edge_at(event->position()) ? Qt::SplitHCursor : Qt::ArrowCursor);
}

void ClockChart::mouseReleaseEvent(QMouseEvent*) {
    if (!held_) return;
    const auto edge = *std::exchange(held_, std::nullopt);
    const auto [period, duty] = dragged_to(edge, hand_);
    update();
    constexpr double moved = 3;  // px; less is a click
    if (std::abs(hand_ - edge.at.x()) > moved) emit clock_wanted(edge.clock, period, duty);
}

void ClockChart::mousePressEvent(QMouseEvent* event) {
    if (const auto* edge = edge_at(event->position())) {
        held_ = *edge;
        hand_ = edge->at.x();
        return desk_.select({QStringLiteral("clock"), edge->clock});
    }
    for (const auto& [rect, name] : names_)
        if (rect.contains(event->position())) desk_.select({QStringLiteral("clock"), name});
    update();
}

}  // namespace kp::app
