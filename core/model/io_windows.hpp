// SPDX-License-Identifier: GPL-3.0-or-later
// When ports change and when they must hold still, as the I/O delays say it. Pure; no thread or lifetime contract.
#pragma once

#include "core/model/constraints.hpp"
#include "core/model/netlist.hpp"

#include <string>
#include <vector>

namespace kp {

/// Of the ports of one bus against one clock, in ns after the clock's edge at 0.
struct IoWindow {
    std::string bus;
    bool input = true;  ///< an input changes in the window, an output must hold still in it
    double from = 0, to = 0;
    std::uint32_t clock = 0;  ///< position in Constraints::clocks
};
/// Inputs after outputs, then by bus and clock; delays without a clock have no window.
[[nodiscard]] std::vector<IoWindow> io_windows(const Constraints& constraints, const std::vector<Port>& ports);

}  // namespace kp
