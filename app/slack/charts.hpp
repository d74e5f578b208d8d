// SPDX-License-Identifier: GPL-3.0-or-later
// The drawings of Slack: spread of slacks, a path as a ribbon.
#pragma once

#include "app/paint/canvas.hpp"
#include "app/paint/time_axis.hpp"
#include "core/model/timing_report.hpp"

#include <optional>
#include <vector>

namespace kp::app {

/// How many endpoints have how much slack; misses apart, in the colour of a stop.
struct Histogram {
    double low = 0, width = 1;
    std::vector<int> counts;
    /// About `bars` bars with round borders, one of them at 0. Sum of counts = number of slacks.
    Histogram(const std::vector<double>& slacks, int bars);
};

class SpreadChart : public Canvas {
    Q_OBJECT
public:
    void show_slacks(std::vector<double> slacks, const QString& what);
signals:
    /// The user brushed over bars: endpoints from `low` up to `high`, ns.
    void brushed(double low, double high);

protected:
    void draw(QPainter& p) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;

private:
    std::vector<double> slacks_;
    QString what_;
    std::optional<Histogram> bars_;  ///< made when slacks come, not when they are drawn
    double left_ = 24;
    double from_ = -1, to_ = -1;  ///< px, of the brush
};

/// One path between its clock edges, each piece as long as it takes, coloured by cause.
class PathRibbon : public Canvas {
    Q_OBJECT
public:
    /// `why`: of a path that fails, why it does.
    void show_path(const TimingPath* path, const ClockReport* launch, const ClockReport* capture,
                   const QString& why = {});
    /// The same with the ways of the clocks. `beside`: what else is known of the endpoint, such as its other checks.
    void show_detail(const PathDetail& detail, const ClockReport* launch, const ClockReport* capture,
                     const QString& why, const QString& beside);
    /// What stands there while no path is shown.
    void say(const QString& words);

protected:
    void draw(QPainter& p) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void leaveEvent(QEvent* event) override;

private:
    struct Piece {
        QRectF rect;
        QString says;
    };
    void draw_heads(QPainter& p);
    void draw_clocks(QPainter& p, const TimeAxis& axis);
    void draw_pieces(QPainter& p, const TimeAxis& axis);
    void draw_required(QPainter& p, const TimeAxis& axis, const QString& verdict);
    void draw_sums(QPainter& p, const TimeAxis& axis);
    [[nodiscard]] QString arithmetic(size_t point, double from) const;
    [[nodiscard]] bool checked() const { return path_.check != "unconstrained"; }
    [[nodiscard]] bool late() const { return path_.check != "hold" && path_.check != "removal"; }
    QString says_, beside_;
    std::vector<Piece> pieces_;  ///< as drawn last, for the mouse
    QPointF mouse_{-1, -1};
    PathDetail detail_;
    TimingPath path_;  ///< its times count from the launching edge
    double edge_ = 0;  ///< where that lies, ns
    QString why_;
    ClockReport launch_, capture_;
    bool any_ = false;
};

}  // namespace kp::app
