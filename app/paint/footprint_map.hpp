// SPDX-License-Identifier: GPL-3.0-or-later
// Pins of a package to places on the screen: quad flat or ball grid, seen from above or below. A value with its own test.
#pragma once

#include "core/model/part.hpp"

#include <QRectF>
#include <vector>

namespace kp::app {

struct FootprintMap {
    QRectF body;               ///< outline of the package
    std::vector<QRectF> pins;  ///< by position in Part::pins
    bool ball_grid = false, from_below = false;

    FootprintMap(const Part& part, const QRectF& into, bool below);
    /// Position of the pin under or nearest to a point, -1 when none is near.
    [[nodiscard]] int at(const QPointF& point) const;
};

}  // namespace kp::app
