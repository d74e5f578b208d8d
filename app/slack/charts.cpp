// SPDX-License-Identifier: GPL-3.0-or-later
// Histogram and ribbon are reduced to what a pixel can show before they are drawn. Pieces of the ribbon are kept
// with their rectangles for the tool tip. State: the path that is shown.
#include "app/slack/charts.hpp"

#include "app/paint/time_axis.hpp"
#include "app/theme/text.hpp"
#include "core/base/text.hpp"

#include <QMouseEvent>
#include <QPainterPath>
#include <algorithm>
#include <cmath>
#include <map>

namespace kp::app {

namespace {
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
    bars_.reset();
    if (!slacks_.empty()) bars_.emplace(slacks_, 24);
    update();
}

namespace {
TimeAxis axis_of(const Histogram& h, double left, double width) {
    return {h.low, h.low + h.width * static_cast<double>(h.counts.size()), left, width - 24.0};
}
}  // namespace

void SpreadChart::draw(QPainter& p) {
    const auto& t = theme();
    draw_sheet(p, rect(), t.bright, t.hairline);
    text(p, {14, 6, width() - 28.0, 18}, Qt::AlignVCenter, what_, words(11.5), t.second, true);
    if (!bars_) return;
    const Histogram& h = *bars_;
    const int most = *std::max_element(h.counts.begin(), h.counts.end());
    const double bottom = height() - 26.0, top = 44;
    const auto axis = axis_of(h, left_, width());
    if (from_ >= 0 && std::abs(to_ - from_) > 2)
        p.fillRect(QRectF(std::min(from_, to_), 28, std::abs(to_ - from_), bottom - 28), t.hairline);
    for (size_t i = 0; i < h.counts.size(); ++i) {
        if (h.counts[i] == 0) continue;
        const double from = h.low + h.width * static_cast<double>(i);
        const double tall = std::max(1.5, (bottom - top) * h.counts[i] / most);
        const QRectF bar(axis.x(from) + 1, bottom - tall, axis.x(from + h.width) - axis.x(from) - 2, tall);
        const bool missed = from < -1e-12;
        p.fillRect(bar, missed ? t.stop : t.cell);
        text(p, {bar.center().x() - 22, bar.top() - 16, 44, 15}, Qt::AlignCenter, QString::number(h.counts[i]),
             words(11), missed ? t.stop : t.second, true);
    }
    p.setPen(QPen(t.second, 1));
    p.drawLine(QPointF(axis.left, bottom), QPointF(axis.right, bottom));
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

void SpreadChart::mousePressEvent(QMouseEvent* event) {
    from_ = to_ = event->position().x();
    update();
}

void SpreadChart::mouseMoveEvent(QMouseEvent* event) {
    if (from_ < 0 || !(event->buttons() & Qt::LeftButton)) return;
    to_ = event->position().x();
    update();
}

/// A stroke takes the bars it touches; a click takes the one bar under it.
void SpreadChart::mouseReleaseEvent(QMouseEvent* event) {
    if (from_ < 0 || !bars_) return;
    to_ = event->position().x();
    const auto axis = axis_of(*bars_, left_, width());
    const auto border = [&](double x, bool up) {
        const double bar = (axis.ns(std::clamp(x, axis.left, axis.right)) - bars_->low) / bars_->width;
        return bars_->low + bars_->width * (up ? std::floor(bar) + 1 : std::floor(bar));
    };
    emit brushed(border(std::min(from_, to_), false), border(std::max(from_, to_), true));
    from_ = to_ = -1;
    update();
}

void PathRibbon::show_path(const TimingPath* path, const ClockReport* launch, const ClockReport* capture,
                           const QString& why) {
    PathDetail bare;
    if (path) bare.path = *path;
    show_detail(bare, launch, capture, why, {});
    any_ = path != nullptr;
    update();
}

void PathRibbon::show_detail(const PathDetail& detail, const ClockReport* launch, const ClockReport* capture,
                             const QString& why, const QString& beside) {
    any_ = true;
    detail_ = detail;
    path_ = detail.path;
    launch_ = launch ? *launch : ClockReport{};
    capture_ = capture ? *capture : ClockReport{};
    why_ = why;
    beside_ = beside;
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

/// What a piece of a path is, by what takes the time.
std::string cause_of(const PathPoint& point) {
    if (point.kind == PointKind::wire) return "wire";
    if (point.kind == PointKind::launch) return "clock";
    if (point.kind == PointKind::input_delay) return "outside";
    return point.pad ? "pad" : "cell";
}

}  // namespace

void PathRibbon::say(const QString& words) {
    says_ = words;
    update();
}

void PathRibbon::mouseMoveEvent(QMouseEvent* event) {
    mouse_ = event->position();
    update();
}

void PathRibbon::leaveEvent(QEvent* event) {
    mouse_ = {-1, -1};
    update();
    Canvas::leaveEvent(event);
}

void PathRibbon::draw_heads(QPainter& p) {
    const auto& t = theme();
    text(p, {14, 7, width() - 28.0, 20}, Qt::AlignVCenter,
         QStringLiteral("%1 → %2").arg(q(path_.startpoint), q(path_.endpoint)), mono(13, true), t.ink, true);
    QString under;
    if (!checked())
        under = tr("nothing constrains it; the longest way takes %1 ns").arg(ns(path_.arrival));
    else if (path_.check == "pulse_width" || path_.check == "period")
        under = tr("the pulse between both edges of %1 as they come to this pin").arg(q(path_.launch_clock));
    else if (path_.capture_clock.empty())
        under = tr("limit %1 ns").arg(ns(path_.required));
    else
        under = tr("launched at 0 (edge %1), captured at %2, required %3 %4 ns")
                    .arg(ns(edge_), ns(path_.capture_edge), late() ? tr("by") : tr("not before"), ns(path_.required));
    if (checked() && path_.slack < 0) under += QStringLiteral(" · ") + why_;
    if (!path_.exception.empty()) under += QStringLiteral(" · ") + q(path_.exception);
    if (!path_.corner.empty()) under += tr(" · corner %1").arg(q(path_.corner));
    text(p, {14, 27, width() - 28.0, 17}, Qt::AlignVCenter, under, words(11.5), t.second, true);
}

/// Both clocks, each named and marked at its own edge; below the capturing one its way to the register, what it shares
/// with the launching one darker.
void PathRibbon::draw_clocks(QPainter& p, const TimeAxis& axis) {
    const auto& t = theme();
    const auto row = [&](const ClockReport& clock, const QString& says, double at, double top) {
        if (clock.name.empty()) return;
        text(p, {14, top - 3, 114, 16}, Qt::AlignVCenter, says.arg(q(clock.name)), words(11.5), t.second, true);
        draw_wave(p, clock, axis, top, top + 11, t.second);
        p.setPen(QPen(t.ink, 2.4));
        p.drawLine(QPointF(axis.x(at), top), QPointF(axis.x(at), top + 11));
    };
    row(launch_, tr("%1 launches"), path_.launch_edge, 50);
    row(capture_, tr("%1 captures"), path_.capture_edge, 69);
    if (detail_.capture_way.empty() || detail_.capture_latency <= 0) return;
    const auto bar = [&](double from, double to, const QColor& color, const QString& says) {
        const QRectF rect(axis.x(from), 84, std::max(1.0, axis.x(to) - axis.x(from)), 5);
        p.fillRect(rect, color);
        pieces_.push_back({rect.adjusted(0, -2, 0, 2), says});
    };
    const double shared = detail_.shared > 0 ? detail_.capture_way[detail_.shared - 1].arrival : 0;
    bar(path_.capture_edge, path_.capture_edge + detail_.capture_latency, t.clock,
        tr("the capturing clock takes %1 ns to here, credit for what is shared %2 ns")
            .arg(ns(detail_.capture_latency), ns(path_.credit)));
    if (shared > 0)
        bar(path_.capture_edge, path_.capture_edge + shared, t.second,
            tr("%1 ns of the clock's way are shared with the launching one, as far as %2")
                .arg(ns(shared), q(detail_.capture_way[detail_.shared - 1].pin)));
}

/// The ribbon: each piece by cause. Words stand in those that are wide enough; the mouse tells of the others.
void PathRibbon::draw_pieces(QPainter& p, const TimeAxis& axis) {
    const auto& t = theme();
    double from = path_.launch_edge;
    const double y = 94, h = 34;
    for (size_t i = 0; i < path_.points.size(); ++i) {
        const auto& point = path_.points[i];
        if (is_end(point.kind)) continue;
        if (point.delay == 0 && point.kind == PointKind::launch) continue;
        const auto cause = cause_of(point);
        const QColor color = cause == "wire"                          ? t.wire
                             : cause == "clock" || cause == "outside" ? t.clock
                             : cause == "pad"                         ? t.pad
                                                                      : t.cell;
        const QRectF piece(axis.x(from), y, std::max(1.0, axis.x(from + point.delay) - axis.x(from)), h);
        p.setPen(QPen(t.bright, 1));
        p.setBrush(color);
        p.drawRect(piece);
        if (piece.width() > 44) {
            const QColor on = cause == "pad" || cause == "cell" ? QColor("#FFFFFF") : t.ink;
            text(p, piece.adjusted(4, 1, -2, -h / 2), Qt::AlignVCenter, q(cause), words(11), on, true);
            text(p, piece.adjusted(4, h / 2, -2, -1), Qt::AlignVCenter, ns(point.delay, 2), mono(11), on, true);
        }
        pieces_.push_back({piece, arithmetic(i, from)});
        from += point.delay;
    }
}

QString PathRibbon::arithmetic(size_t i, double from) const {
    const auto& point = path_.points[i];
    QString out = tr("%1: %2 at %3 + %4 = %5 ns")
                      .arg(q(point.pin), q(word_of(point.kind)).replace(QLatin1Char('_'), QLatin1Char(' ')), ns(from),
                           ns(point.delay), ns(from + point.delay));
    if (!point.cell_type.empty()) out += tr(", cell %1").arg(q(point.cell_type));
    if (i < detail_.loads.size()) {
        const auto& load = detail_.loads[i];
        if (!std::isnan(load.transition)) out += tr(", transition %1 ns").arg(ns(load.transition));
        if (load.fan_out > 0) out += tr(", drives %1 with %2 pF").arg(load.fan_out).arg(ns(load.capacitance));
    }
    return out;
}

void PathRibbon::draw_required(QPainter& p, const TimeAxis& axis, const QString& verdict) {
    const auto& t = theme();
    const QFontMetricsF m(words(13, true));
    const double bottom = 128;
    if (checked()) {
        const double need = axis.x(path_.required);
        p.setPen(QPen(t.ink, 1.6));
        p.drawLine(QPointF(need, 60), QPointF(need, bottom + 16));
        const QString must = late() ? tr("required by") : tr("not before here");
        const double wide = QFontMetricsF(words(11.5)).horizontalAdvance(must) + 4;
        const double left = need - wide < 4 ? need + 4 : need - wide;
        text(p, {left, bottom + 2, wide, 16}, Qt::AlignVCenter | Qt::AlignRight, must, words(11.5), t.ink);
    }
    const double last = checked() && !late() ? std::max(path_.arrival, path_.required) : path_.arrival;
    const double after = axis.x(last) + 8, wide = m.horizontalAdvance(verdict) + 4;
    text(p, {std::min(after, width() - wide - 8), 100, wide, 20}, Qt::AlignVCenter, verdict, words(13, true),
         !checked()         ? t.second
         : path_.slack >= 0 ? t.good
                            : t.stop);
}

void PathRibbon::draw_sums(QPainter& p, const TimeAxis& axis) {
    const auto& t = theme();
    const double line = 152;
    p.setPen(QPen(t.second, 1));
    p.drawLine(QPointF(axis.left, line), QPointF(axis.right, line));
    for (const double tick : axis.ticks(80)) {
        p.setPen(QPen(t.second, 1));
        p.drawLine(QPointF(axis.x(tick), line), QPointF(axis.x(tick), line + 4));
        text(p, {axis.x(tick) - 30, line + 5, 60, 15}, Qt::AlignCenter, q(shortest(std::round(tick * 1000) / 1000)),
             mono(11), t.second);
    }
    std::map<std::string, double> by_cause;
    for (const auto& point : path_.points)
        if (!is_end(point.kind) && point.delay != 0) by_cause[cause_of(point)] += point.delay;
    QStringList split;
    for (const auto& [cause, delay] : by_cause) split << QStringLiteral("%1 %2").arg(q(cause), ns(delay));
    if (path_.check_time != 0) split << tr("check or output delay %1").arg(ns(path_.check_time));
    if (path_.uncertainty != 0) split << tr("uncertainty %1").arg(ns(path_.uncertainty));
    if (path_.credit != 0) split << tr("credit %1").arg(ns(path_.credit));
    text(p, {14, line + 22, width() - 28.0, 18}, Qt::AlignVCenter,
         tr("ns by cause: %1").arg(split.join(QStringLiteral(" · "))), words(12), t.ink, true);
    if (!beside_.isEmpty())
        text(p, {14, line + 40, width() - 28.0, 18}, Qt::AlignVCenter, beside_, words(12), t.second, true);
}

void PathRibbon::draw(QPainter& p) {
    const auto& t = theme();
    draw_sheet(p, rect(), t.bright, t.hairline);
    pieces_.clear();
    if (!any_) {
        text(p, {14, 8, width() - 28.0, 20}, Qt::AlignVCenter, says_, words(), t.second);
        return;
    }
    draw_heads(p);
    const auto& path = path_;
    const double end =
        std::max({path.arrival, path.required, path.capture_edge, path.capture_edge + detail_.capture_latency});
    const double begin = std::min({path.launch_edge, path.required, path.capture_edge});
    const double margin = std::max((end - begin) * 0.04, 0.01);
    const QString verdict = !checked() ? tr("unconstrained")
                            : path.slack >= 0
                                ? tr("%1 ns to spare").arg(ns(path.slack))
                                : (late() ? tr("fails by %1 ns") : tr("fails by %1 ns")).arg(ns(-path.slack));
    // The verdict stands behind the ribbon, so the axis leaves room for it.
    const TimeAxis axis{begin - margin, end + margin, 134,
                        width() - QFontMetricsF(words(13, true)).horizontalAdvance(verdict) - 34};
    draw_clocks(p, axis);
    draw_pieces(p, axis);
    draw_required(p, axis, verdict);
    draw_sums(p, axis);
    for (auto at = pieces_.rbegin(); at != pieces_.rend(); ++at)
        if (at->rect.contains(mouse_)) {
            draw_bubble(p, {mouse_.x(), at->rect.bottom()}, at->says, t.hairline);
            break;
        }
}

}  // namespace kp::app
