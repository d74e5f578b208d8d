// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/slack/charts.hpp"

#include "app/paint/time_axis.hpp"
#include "core/base/text.hpp"

#include <QPainterPath>
#include <algorithm>
#include <cmath>
#include <map>

namespace kp::app {

namespace {
QString q(const std::string& s) {
    return QString::fromStdString(s);
}
QString ns(double v, int decimals = 3) {
    return q(fixed(v, decimals));
}
}  // namespace

Histogram::Histogram(const std::vector<double>& slacks, int bars) {
    if (slacks.empty()) return;
    const auto [least, most] = std::minmax_element(slacks.begin(), slacks.end());
    const double span = std::max(*most - std::min(*least, 0.0), 1e-3);
    const double wanted = span / bars;
    width = std::pow(10, std::floor(std::log10(wanted)));
    for (const double k : {1.0, 2.0, 5.0, 10.0})
        if (k * width >= wanted) {
            width *= k;
            break;
        }
    low = std::floor(std::min(*least, 0.0) / width) * width;
    counts.assign(static_cast<size_t>(std::floor((*most - low) / width)) + 1, 0);
    for (const double s : slacks)
        ++counts[std::min(counts.size() - 1, static_cast<size_t>(std::max(0.0, std::floor((s - low) / width))))];
}

void SpreadChart::show_slacks(std::vector<double> slacks, const QString& what) {
    slacks_ = std::move(slacks);
    what_ = what;
    update();
}

void SpreadChart::draw(QPainter& p) {
    const auto& t = theme();
    draw_sheet(p, rect(), t.bright, t.hairline);
    text(p, {14, 6, width() - 28.0, 18}, Qt::AlignVCenter, what_, words(11.5), t.second);
    if (slacks_.empty()) return;
    const Histogram h(slacks_, 24);
    const int most = *std::max_element(h.counts.begin(), h.counts.end());
    const double left = 24, right = width() - 24.0, bottom = height() - 26.0, top = 44;
    const TimeAxis axis{h.low, h.low + h.width * static_cast<double>(h.counts.size()), left, right};
    for (size_t i = 0; i < h.counts.size(); ++i) {
        if (h.counts[i] == 0) continue;
        const double from = h.low + h.width * static_cast<double>(i);
        const QRectF bar(axis.x(from) + 1, bottom - (bottom - top) * h.counts[i] / most,
                         axis.x(from + h.width) - axis.x(from) - 2, (bottom - top) * h.counts[i] / most);
        const bool missed = from < -1e-12;
        p.fillRect(bar, missed ? t.stop : t.cell);
        text(p, {bar.center().x() - 20, bar.top() - 16, 40, 15}, Qt::AlignCenter, QString::number(h.counts[i]),
             words(11), missed ? t.stop : t.second);
    }
    p.setPen(QPen(t.second, 1));
    p.drawLine(QPointF(left, bottom), QPointF(right, bottom));
    for (const double tick : axis.ticks(60))
        text(p, {axis.x(tick) - 26, bottom + 3, 52, 16}, Qt::AlignCenter,
             q(fixed(tick, h.width < 0.1 ? 2
                           : h.width < 1 ? 1
                                         : 0)),
             mono(11), t.second);
    if (axis.from_ns <= 0) {
        p.setPen(QPen(t.ink, 1.4));
        p.drawLine(QPointF(axis.x(0), 28), QPointF(axis.x(0), bottom));
    }
}

void PathRibbon::show_path(const TimingPath* path, const ClockReport* launch, const ClockReport* capture,
                           const QString& why) {
    any_ = path != nullptr;
    if (path) path_ = *path;
    launch_ = launch ? *launch : ClockReport{};
    capture_ = capture ? *capture : ClockReport{};
    why_ = why;
    // Times count from the launching edge, which may lie thousands of ns behind the start of the waves.
    edge_ = path_.launch_edge;
    for (double* time : {&path_.launch_edge, &path_.capture_edge, &path_.arrival, &path_.required}) *time -= edge_;
    for (auto* clock : {&launch_, &capture_}) {
        if (clock->period <= 0 || clock->waveform.empty()) continue;
        const double first = clock->waveform.front() - std::fmod(edge_, clock->period);
        const double by = (first < 0 ? first + clock->period : first) - clock->waveform.front();
        for (auto& at : clock->waveform) at += by;
    }
    update();
}

namespace {

/// A clock's wave between two times, at two heights.
void draw_wave(QPainter& p, const ClockReport& clock, const TimeAxis& axis, double high, double low,
               const QColor& color) {
    if (clock.period <= 0 || clock.waveform.size() < 2) return;
    p.setPen(QPen(color, 1.3));
    const double first = std::floor(axis.from_ns / clock.period - 1) * clock.period;
    for (double base = first; base < axis.to_ns; base += clock.period) {
        const double rise = base + clock.waveform[0], fall = base + clock.waveform[1], next = rise + clock.period;
        const auto x = [&](double v) { return std::clamp(axis.x(v), axis.left, axis.right); };
        if (fall > axis.from_ns) p.drawLine(QPointF(x(rise), high), QPointF(x(fall), high));
        p.drawLine(QPointF(x(fall), low), QPointF(x(next), low));
        for (const double edge : {rise, fall})
            if (edge >= axis.from_ns && edge <= axis.to_ns)
                p.drawLine(QPointF(axis.x(edge), high), QPointF(axis.x(edge), low));
    }
}

}  // namespace

void PathRibbon::say(const QString& words) {
    says_ = words;
    update();
}

void PathRibbon::draw(QPainter& p) {
    const auto& t = theme();
    draw_sheet(p, rect(), t.bright, t.hairline);
    if (!any_) {
        text(p, {14, 8, width() - 28.0, 20}, Qt::AlignVCenter, says_, words(), t.second);
        return;
    }
    const auto& path = path_;
    text(p, {14, 7, width() - 28.0, 20}, Qt::AlignVCenter,
         QStringLiteral("%1 → %2").arg(q(path.startpoint), q(path.endpoint)), mono(13, true), t.ink, true);
    const bool late = path.check == "setup" || path.check == "recovery", met = path.slack >= 0;
    QString under = path.capture_clock.empty() ? tr("limit %1 ns").arg(ns(path.required))
                                               : tr("launched at 0 (edge %1), captured at %2, must be there %3 %4 ns")
                                                     .arg(ns(edge_), ns(path.capture_edge),
                                                          late ? tr("by") : tr("not before"), ns(path.required));
    if (!met) under += QStringLiteral(" · ") + why_;
    if (!path.exception.empty()) under += QStringLiteral(" · ") + q(path.exception);
    text(p, {14, 27, width() - 28.0, 17}, Qt::AlignVCenter, under, words(11.5), t.second, true);

    const double end = std::max({path.arrival, path.required, path.capture_edge});
    const double begin = std::min({path.launch_edge, path.required, path.capture_edge});
    const double margin = std::max((end - begin) * 0.04, 0.01);
    const QString verdict = met ? tr("%1 ns to spare").arg(ns(path.slack))
                                : (late ? tr("late by %1 ns") : tr("early by %1 ns")).arg(ns(-path.slack));
    const QFontMetricsF m(words(13, true));
    // The verdict stands behind the ribbon, so the axis leaves room for it.
    const TimeAxis axis{begin - margin, end + margin, 134, width() - m.horizontalAdvance(verdict) - 34};
    // Both clocks, each named and marked at its own edge.
    const auto clock_row = [&](const ClockReport& clock, const QString& says, double at, double top) {
        if (clock.name.empty()) return;
        text(p, {14, top - 3, 114, 16}, Qt::AlignVCenter, says.arg(q(clock.name)), words(11.5), t.second, true);
        draw_wave(p, clock, axis, top, top + 11, t.second);
        p.setPen(QPen(t.ink, 2.4));
        p.drawLine(QPointF(axis.x(at), top), QPointF(axis.x(at), top + 11));
    };
    clock_row(launch_, tr("%1 launches"), path.launch_edge, 50);
    clock_row(capture_, tr("%1 captures"), path.capture_edge, 69);

    // The ribbon: each piece by cause. Words go below when a piece is too narrow for them.
    std::map<std::string, double> by_cause;
    double from = path.launch_edge;
    const double y = 92, h = 36;
    for (const auto& point : path.points) {
        if (point.kind == "check" || point.kind == "output_delay") continue;
        const double delay = point.delay;
        if (delay == 0 && point.kind == "launch") continue;
        const bool pad = point.cell_type.find("PAD") != std::string::npos;
        const std::string cause = point.kind == "wire"          ? "wire"
                                  : point.kind == "launch"      ? "clock"
                                  : point.kind == "input_delay" ? "outside"
                                  : pad                         ? "pad"
                                                                : "cell";
        const QColor color = cause == "wire"                          ? t.wire
                             : cause == "clock" || cause == "outside" ? t.clock
                             : cause == "pad"                         ? t.pad
                                                                      : t.cell;
        by_cause[cause] += delay;
        const QRectF piece(axis.x(from), y, std::max(1.0, axis.x(from + delay) - axis.x(from)), h);
        p.setPen(QPen(t.bright, 1));
        p.setBrush(color);
        p.drawRect(piece);
        if (piece.width() > 44) {
            const QColor on = cause == "pad" || cause == "cell" ? QColor("#FFFFFF") : t.ink;
            text(p, piece.adjusted(4, 2, -2, -h / 2), Qt::AlignVCenter, q(cause), words(11), on, true);
            text(p, piece.adjusted(4, h / 2, -2, -2), Qt::AlignVCenter, ns(delay, 2), mono(11), on, true);
        }
        from += delay;
    }
    const double need = axis.x(path.required);
    p.setPen(QPen(t.ink, 1.6));
    p.drawLine(QPointF(need, 58), QPointF(need, y + h + 16));
    const QString must = late ? tr("must be here") : tr("not before here");
    text(p, {std::clamp(need - 110, 4.0, width() - 114.0), y + h + 16, 110, 16}, Qt::AlignVCenter | Qt::AlignRight,
         must, words(11.5), t.ink);
    const double after = axis.x(std::max(path.arrival, late ? path.arrival : path.required)) + 8;
    text(p, {std::min(after, width() - m.horizontalAdvance(verdict) - 12), y + 8, m.horizontalAdvance(verdict) + 4, 20},
         Qt::AlignVCenter, verdict, words(13, true), met ? t.good : t.stop);
    const double line = y + h + 40;
    p.setPen(QPen(t.second, 1));
    p.drawLine(QPointF(axis.left, line), QPointF(axis.right, line));
    for (const double tick : axis.ticks(80)) {
        p.setPen(QPen(t.second, 1));
        p.drawLine(QPointF(axis.x(tick), line), QPointF(axis.x(tick), line + 4));
        text(p, {axis.x(tick) - 30, line + 5, 60, 15}, Qt::AlignCenter, q(shortest(std::round(tick * 1000) / 1000)),
             mono(11), t.second);
    }
    QStringList split;
    for (const auto& [cause, delay] : by_cause) split << QStringLiteral("%1 %2").arg(q(cause), ns(delay));
    if (path.check_time != 0) split << tr("check or output delay %1").arg(ns(path.check_time));
    if (path.uncertainty != 0) split << tr("uncertainty %1").arg(ns(path.uncertainty));
    text(p, {14, line + 24, width() - 28.0, 18}, Qt::AlignVCenter,
         tr("ns by cause: %1").arg(split.join(QStringLiteral(" · "))), words(12), t.ink, true);
}

}  // namespace kp::app
