// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/paint/canvas.hpp"
#include "app/shell/desk.hpp"

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
    Desk& desk_;
    std::vector<std::pair<QRectF, QString>> names_;
};

}  // namespace kp::app
