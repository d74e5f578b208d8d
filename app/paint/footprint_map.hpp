// SPDX-License-Identifier: GPL-3.0-or-later
// Pins of a package to places on the screen or on paper: quad flat or ball grid, from above or below, turned, zoomed. A
// value with its own test. The package itself is in millimetres, its centre at 0, y downwards, seen from above.
#pragma once

#include "core/model/part.hpp"

#include <QLineF>
#include <QRectF>
#include <QTransform>
#include <functional>
#include <vector>

namespace kp::app {

/// How the package is looked at.
struct FootprintLook {
    bool below = false;
    int turns = 0;    ///< quarter turns with the clock
    double zoom = 1;  ///< 1: all of it fits
    QPointF pan;      ///< px
};

struct FootprintMap {
    QTransform from_mm;
    double scale = 1;          ///< px per mm
    QRectF body;               ///< outline of the package
    std::vector<QRectF> pins;  ///< by position in Part::pins
    bool ball_grid = false, from_below = false;
    double pitch = 1;  ///< px between neighbouring pins

    FootprintMap(const Part& part, const QRectF& into, const FootprintLook& look = {});
    /// The package to scale: `px_per_mm`, its centre at `centre`.
    FootprintMap(const Part& part, const QPointF& centre, double px_per_mm, const FootprintLook& look);
    /// Position of the pin under a point, -1 when there is none.
    [[nodiscard]] int at(const QPointF& point) const;

private:
    void lay(const Part& part, const QPointF& centre, const FootprintLook& look);
};

/// Distance of neighbouring pins in mm. Ball grid: the outermost balls are one pitch inside the body's edge. Quad flat:
/// a twelfth of the body is free at each end of a side. Common practice, no source.
[[nodiscard]] double pitch_mm(const Part& part);
[[nodiscard]] double body_mm(const Part& part);
/// The whole drawing with leads and coordinates.
[[nodiscard]] double extent_mm(const Part& part);
[[nodiscard]] QRectF pin_rect_mm(const Part& part, const Pin& pin);
/// Lines between pins whose key differs; pins without a key belong to nothing. Of a quad flat package they are strokes
/// along the inside of its edge, one for each run of pins.
[[nodiscard]] std::vector<QLineF> outlines_mm(const Part& part,
                                              const std::function<const std::string&(const Pin&)>& key);

}  // namespace kp::app
