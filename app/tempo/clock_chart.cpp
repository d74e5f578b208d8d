// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/tempo/clock_chart.hpp"

#include "app/paint/time_axis.hpp"
#include "core/base/text.hpp"
#include "core/model/io_windows.hpp"

#include <QMouseEvent>
#include <QPainterPath>
#include <algorithm>

namespace kp::app {

namespace {
QString q(const std::string& s) {
    return QString::fromStdString(s);
}
}  // namespace

void ClockChart::draw(QPainter& p) {
    const auto& t = theme();
    draw_sheet(p, rect(), t.bright, t.hairline);
    names_.clear();
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
    for (const double tick : axis.ticks(70)) {
        p.setPen(QPen(t.paper, 1));
        p.drawLine(QPointF(axis.x(tick), 26), QPointF(axis.x(tick), height() - 10.0));
        text(p, {axis.x(tick) - 30, 6, 60, 18}, Qt::AlignCenter, q(shortest(std::round(tick * 1000) / 1000)),
             mono(11.5), t.second);
    }
    const auto list = io_windows(c, desk_.session().world().netlist.ports);
    double y = 34;
    for (std::uint32_t i = 0; i < c.clocks.size() && y < height() - 30; ++i) {
        const auto& clock = c.clocks[i];
        const QColor color = t.bank(static_cast<int>(i));
        const bool chosen = desk_.selection() == Selection{QStringLiteral("clock"), q(clock.name)};
        text(p, {14, y - 4, 200, 18}, Qt::AlignVCenter, q(clock.name), mono(13, true), chosen ? t.select : t.ink, true);
        text(p, {14, y + 13, 210, 16}, Qt::AlignVCenter,
             tr("%1 ns, %2 MHz").arg(q(shortest(clock.period)), q(fixed(1000 / clock.period, 3))), words(11.5),
             t.second, true);
        names_.emplace_back(QRectF(0, y - 6, 226, 38), q(clock.name));
        QPainterPath wave;
        const double high = y, low = y + 18;
        bool first = true;
        for (double base = -clock.period; base < axis.to_ns; base += clock.period) {
            for (size_t e = 0; e < clock.waveform.size(); ++e) {
                const double at = base + clock.waveform[e];
                const double before = e % 2 == 0 ? low : high, after = e % 2 == 0 ? high : low;
                if (at < 0) {
                    wave = QPainterPath(QPointF(axis.x(0), after));
                    first = false;
                    continue;
                }
                if (at > axis.to_ns) break;
                if (first) {
                    wave = QPainterPath(QPointF(axis.x(0), before));
                    first = false;
                }
                wave.lineTo(axis.x(at), before);
                wave.lineTo(axis.x(at), after);
            }
        }
        wave.lineTo(axis.x(axis.to_ns), wave.currentPosition().y());
        p.setPen(QPen(color, 1.6));
        p.setBrush(Qt::NoBrush);
        p.drawPath(wave);
        y += 38;
        for (const auto& w : list) {
            if (w.clock != i || y > height() - 24) continue;
            text(p, {30, y, 110, 18}, Qt::AlignVCenter, q(w.bus), mono(12), t.ink, true);
            text(p, {140, y, 84, 18}, Qt::AlignVCenter, w.input ? tr("changes") : tr("must hold"), words(11.5),
                 t.second);
            QColor fill = color;
            fill.setAlpha(w.input ? 70 : 120);
            for (double base = 0; base < axis.to_ns; base += clock.period) {
                const double a = base + w.from, b = std::min(base + w.to, axis.to_ns);
                if (a >= axis.to_ns) break;
                p.setPen(QPen(color, 1));
                p.setBrush(fill);
                p.drawRect(QRectF(axis.x(a), y + 3, std::max(2.0, axis.x(b) - axis.x(a)), 12));
            }
            y += 22;
        }
        y += 8;
    }
}

void ClockChart::mousePressEvent(QMouseEvent* event) {
    for (const auto& [rect, name] : names_)
        if (rect.contains(event->position())) desk_.select({QStringLiteral("clock"), name});
    update();
}

}  // namespace kp::app
