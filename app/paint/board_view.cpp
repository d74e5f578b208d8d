// SPDX-License-Identifier: GPL-3.0-or-later
// Parts, wires and rails from the board's millimetres; what does not fit its part is left out rather than cut.
#include "app/paint/board_view.hpp"

#include <algorithm>

namespace kp::app {

BoardMap::BoardMap(const Board& board, const QRectF& into) {
    scale = std::min(into.width() / board.width_mm, into.height() / board.height_mm);
    area = QRectF(0, 0, board.width_mm * scale, board.height_mm * scale);
    area.moveCenter(into.center());
}

}  // namespace kp::app
