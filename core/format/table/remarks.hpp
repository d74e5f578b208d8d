// SPDX-License-Identifier: GPL-3.0-or-later
// What people write beside a wire in their own words: "24,000 MHz ±50 ppm", "t_co 18 ns", "pull-up 4k7", "470R".
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace kp::table {

struct Remark {
    std::optional<double> mhz, ppm;                       ///< of an oscillator
    std::optional<double> pull_ohm, series_ohm;           ///< ohm
    std::string pull;                                     ///< "up", "down" or empty
    std::optional<double> current_ma;                     ///< that the part takes, mA
    std::optional<double> out_max_ns, setup_ns, hold_ns;  ///< of a data sheet, ns
    std::optional<bool> active_low;
    std::vector<std::string> said;  ///< each thing that was understood, "a pull-up of 4700 ohm"
};

/// Finds amounts by their units and the words before them; what is not understood is passed over. A comma is a decimal
/// comma. Resistors also as IEC 60062 writes them: 4k7, 470R. Linear in the text.
[[nodiscard]] Remark read_remark(std::string_view text);

/// Takes "(…)" off the end of a cell and gives what stood in it; empty when there is none, or nothing would be left, or
/// it is an index, as in "D(3)".
std::string take_tail(std::string& cell);

}  // namespace kp::table
