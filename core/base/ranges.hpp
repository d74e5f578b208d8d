// SPDX-License-Identifier: GPL-3.0-or-later
// Ranges of names as data sheets write them.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace kp {

/// |a - b|, of any two numbers: their plain difference may be more than a signed number holds.
[[nodiscard]] constexpr unsigned long long distance_of(long long a, long long b) {
    const auto x = static_cast<unsigned long long>(a), y = static_cast<unsigned long long>(b);
    return a > b ? x - y : y - x;
}

/// "K1..K8" → K1 … K8, "D[7:0]" → D7 … D0, "A1 A2, A3" → the three. A single name stays one. None when the ends do not
/// fit or the range has more than 4096 names.
[[nodiscard]] std::optional<std::vector<std::string>> expand_names(std::string_view text);

}  // namespace kp
