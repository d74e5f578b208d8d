// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/paint/canvas.hpp"
#include "app/paint/time_axis.hpp"
#include "app/shell/desk.hpp"
#include "core/model/io_windows.hpp"

namespace kp::app {

/// All clocks on one time axis; under each, when inputs arrive and when outputs must hold still.
class ClockChart : public Canvas {
    Q_OBJECT
public:
    explicit ClockChart(Desk& desk) : desk_(desk) { setAccessibleName(tr("Clocks and windows on one time axis")); }

protected:
    void draw(QPainter& p) override;
    void mousePressEvent(QMouseEvent* event) override;

private:
    /// Where high and low of a wave lie, px.
    struct Band {
        double high, low;
    };
    void draw_clock(QPainter& p, const TimeAxis& axis, std::uint32_t i, const QRectF& row,
                    const std::vector<IoWindow>& list);
    void draw_wave(QPainter& p, const TimeAxis& axis, const ClockDefinition& clock, const Band& band,
                   const QColor& color);
    Desk& desk_;
    std::vector<std::pair<QRectF, QString>> names_;
};

}  // namespace kp::app
