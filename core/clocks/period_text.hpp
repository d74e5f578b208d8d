// SPDX-License-Identifier: GPL-3.0-or-later
// Periods as people write them: a time, a frequency, or a fraction of nanoseconds.
#pragma once

#include <optional>
#include <string>
#include <string_view>

namespace kp::clocks {

/// ns of "41.667", "41.667 ns", "24 MHz", "125/3", "1000/24", "2.5 us"; none for what is no such text or not above 0.
[[nodiscard]] std::optional<double> period_of(std::string_view text);
/// "41.667 ns, 24 MHz": both numbers, rounded as they are read.
[[nodiscard]] std::string both_numbers(double period_ns);

}  // namespace kp::clocks
