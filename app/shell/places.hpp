// SPDX-License-Identifier: GPL-3.0-or-later
// The seven stations of the window by name.
#pragma once

#include <array>
#include <cstddef>

namespace kp::app {

enum class Place { site, pegs, findings, tempo, slack, bench, log };

inline constexpr std::size_t place_count = 7;
inline constexpr std::array<const char*, place_count> place_names = {"Site",  "Pegs",  "Findings", "Tempo",
                                                                     "Slack", "Bench", "Log"};

[[nodiscard]] constexpr int number_of(Place place) {
    return static_cast<int>(place);
}

}  // namespace kp::app
