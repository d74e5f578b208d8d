// SPDX-License-Identifier: GPL-3.0-or-later
// What reports show: the package with its pegs, the board with its wires, a path between its clock edges.
#pragma once

#include "core/drawing/drawing.hpp"
#include "core/model/board.hpp"
#include "core/model/part.hpp"
#include "core/model/timing_report.hpp"

#include <map>
#include <span>
#include <string>

namespace kp {

/// What lies on a pin.
struct PinMark {
    std::string port;
    bool loose = false;
};

/// Seen from above: a wedge where a port is pegged, an open one where it is loose; the port's name beside a lead, or
/// in a list of balls below the grid.
[[nodiscard]] Drawing footprint_drawing(const Part& part, const std::map<std::string, PinMark>& marks);

/// Board parts to scale, with the ports that reach them.
[[nodiscard]] Drawing board_drawing(const Board& board, const std::map<std::string, PinMark>& marks);

/// Both clock waves with their edges, the data piece by piece as long as it takes, and what is required. Times count
/// from the launching edge, ns.
[[nodiscard]] Drawing path_drawing(const TimingPath& path, std::span<const ClockReport> clocks);

}  // namespace kp
