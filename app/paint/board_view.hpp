// SPDX-License-Identifier: GPL-3.0-or-later
// A board as it is drawn: places of parts, and the drawing of them.
#pragma once

#include "core/model/board.hpp"

#include <QRectF>

namespace kp::app {

/// Millimetres of a board to pixels of a rectangle, same scale both ways, centred. A value; tested without a window.
struct BoardMap {
    QRectF area;       ///< where the board's outline lies, px
    double scale = 1;  ///< px per mm
    BoardMap(const Board& board, const QRectF& into);
    [[nodiscard]] QRectF rect(const BoardPart& part) const {
        return {area.left() + part.x * scale, area.top() + part.y * scale, part.w * scale, part.h * scale};
    }
};

}  // namespace kp::app
