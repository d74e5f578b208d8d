// SPDX-License-Identifier: GPL-3.0-or-later
// The clocks and what happens between their edges.
#pragma once

#include "app/paint/canvas.hpp"
#include "app/paint/time_axis.hpp"
#include "app/shell/desk.hpp"
#include "core/model/io_windows.hpp"

#include <optional>

namespace kp::app {

/// All clocks on one time axis; under each, when inputs arrive and when outputs must hold still.
class ClockChart : public Canvas {
    Q_OBJECT
public:
    explicit ClockChart(Desk& desk) : desk_(desk) { setAccessibleName(tr("Clocks and windows on one time axis")); }

    /// Where the edge that ends a clock's first period, or its first falling edge, is drawn.
    [[nodiscard]] QPointF edge_place(const QString& clock, bool falling) const;

signals:
    /// An edge was dragged: the clock whose period and duty cycle are wanted so.
    void clock_wanted(const QString& clock, double period_ns, double duty_percent);

protected:
    void draw(QPainter& p) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;

private:
    /// Where high and low of a wave lie, px.
    struct Band {
        double high, low;
    };
    void draw_clock(QPainter& p, const TimeAxis& axis, std::uint32_t i, const QRectF& row,
                    const std::vector<IoWindow>& list);
    void note_edges(const ClockDefinition& clock, const TimeAxis& axis, double y);
    void draw_wave(QPainter& p, const TimeAxis& axis, const ClockDefinition& clock, const Band& band,
                   const QColor& color);
    Desk& desk_;
    /// An edge that a hand can take: of a clock that comes in by a port.
    struct Edge {
        QPointF at;
        QString clock;
        double period = 0, duty = 50;
        bool falling = false;
    };
    [[nodiscard]] const Edge* edge_at(const QPointF& at) const;
    /// Period and duty cycle with the held edge at `x`, in steps that a hand means.
    [[nodiscard]] std::pair<double, double> dragged_to(const Edge& edge, double x) const;
    std::vector<std::pair<QRectF, QString>> names_;
    std::vector<Edge> edges_;
    std::optional<Edge> held_;
    double hand_ = 0;  ///< px, of the edge that is held
    TimeAxis axis_;
};

}  // namespace kp::app
