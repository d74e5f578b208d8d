// SPDX-License-Identifier: GPL-3.0-or-later
// The interconnect test as a bench does it: patterns are shifted into the chip's boundary register (EXTEST of IEEE
// 1149.1), and probes at the other ends of the wires say what arrived.
#pragma once

#include "core/board_sim/interconnect.hpp"
#include "core/jtag/chip.hpp"
#include "core/model/part.hpp"

#include <string>
#include <vector>

namespace kp::jtag {

struct WireTest {
    std::vector<std::vector<bool>> received;  ///< at the far ends, a row a pattern
    std::vector<std::vector<bool>> captured;  ///< at the chip's own pins, by its input cells: shorts show here too
    std::vector<WireFault> faults;            ///< what the far ends tell
    size_t bits = 0;                          ///< shifted through the register
};

/// Drives each pattern (see counting_patterns) through the test access port of a chip whose wires have `made` faults.
/// Wires on pins without boundary cells are not driven, and are told as open.
[[nodiscard]] WireTest test_wires(const Part& part, const std::vector<ScanWire>& wires,
                                  const std::vector<std::vector<bool>>& patterns, const std::vector<WireFault>& made);

}  // namespace kp::jtag
