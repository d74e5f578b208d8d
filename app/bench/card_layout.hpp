// SPDX-License-Identifier: GPL-3.0-or-later
// Where the cards of a board lie: columns of one width, each card into the column that is least full, in the order of
// the board from top left. No two lie over each other, at any width.
#pragma once

#include <QRect>
#include <QSize>
#include <vector>

namespace kp::app {

struct CardLayout {
    std::vector<QRect> places;  ///< by card
    int height = 0, card_wide = 0;
};
/// A single column stands where there is no room for more.
[[nodiscard]] CardLayout lay_out_cards(const std::vector<int>& heights, int width, int least_wide, int gap);

}  // namespace kp::app
