// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/paint/footprint_map.hpp"

#include <algorithm>
#include <cmath>

namespace kp::app {

FootprintMap::FootprintMap(const Part& part, const QRectF& into, bool below) : ball_grid(part.package.ball_grid), from_below(below) {
    const double size = std::min(into.width(), into.height());
    QRectF square(0, 0, size, size);
    square.moveCenter(into.center());
    square.moveLeft(into.left());
    const auto mirror = [&](QRectF r) {
        if (below) r.moveLeft(square.left() + square.right() - r.right());
        return r;
    };
    if (ball_grid) {
        const double margin = 26, pitch = (size - margin - 8) / std::max(part.package.rows, part.package.columns), ball = pitch * 0.66;
        body = square;
        for (const auto& pin : part.pins) {
            const QPointF centre(square.left() + margin + (pin.column + 0.5) * pitch, square.top() + margin + (pin.row + 0.5) * pitch);
            pins.push_back(mirror({centre.x() - ball / 2, centre.y() - ball / 2, ball, ball}));
        }
        return;
    }
    const double lead = size * 0.07, inside = size - 2 * lead, pitch = inside / part.package.per_side, thick = pitch * 0.72;
    body = square.adjusted(lead, lead, -lead, -lead);
    for (const auto& pin : part.pins) {
        // Counted against the clock from the upper left corner: down the left side, along the bottom, up the right, back.
        const double along = (pin.slot + 0.5) * pitch - thick / 2;
        QRectF r;
        switch (pin.side) {
            case 0: r = {square.left(), body.top() + along, lead, thick}; break;
            case 1: r = {body.left() + along, body.bottom(), thick, lead}; break;
            case 2: r = {body.right(), body.bottom() - along - thick, lead, thick}; break;
            default: r = {body.right() - along - thick, square.top(), thick, lead}; break;
        }
        pins.push_back(mirror(r));
    }
}

int FootprintMap::at(const QPointF& point) const {
    for (size_t i = 0; i < pins.size(); ++i)
        if (pins[i].adjusted(-1.5, -1.5, 1.5, 1.5).contains(point)) return static_cast<int>(i);
    return -1;
}

}  // namespace kp::app
