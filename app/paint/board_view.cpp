// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/paint/board_view.hpp"

#include <algorithm>

namespace kp::app {

BoardMap::BoardMap(const Board& board, const QRectF& into) {
    scale = std::min(into.width() / board.width_mm, into.height() / board.height_mm);
    area = QRectF(0, 0, board.width_mm * scale, board.height_mm * scale);
    area.moveCenter(into.center());
}

}  // namespace kp::app
