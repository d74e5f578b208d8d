// SPDX-License-Identifier: GPL-3.0-or-later
// Each card into the column that is least full; linear in cards times columns.
#include "app/bench/card_layout.hpp"

#include <algorithm>

namespace kp::app {

CardLayout lay_out_cards(const std::vector<int>& heights, int width, int least_wide, int gap) {
    CardLayout out;
    const auto columns = std::max(1, (width + gap) / (least_wide + gap));
    out.card_wide = std::max(least_wide, (width + gap) / columns - gap);
    std::vector<int> filled(static_cast<size_t>(columns), 0);
    for (const int high : heights) {
        const auto best = std::min_element(filled.begin(), filled.end());
        out.places.emplace_back(static_cast<int>(best - filled.begin()) * (out.card_wide + gap), *best, out.card_wide,
                                high);
        out.height = std::max(out.height, *best + high);
        *best += high + gap;
    }
    return out;
}

}  // namespace kp::app
