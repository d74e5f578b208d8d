// SPDX-License-Identifier: GPL-3.0-or-later
// What a plan asks of the board before power is switched on: supplies, jumpers, what unused pins do, how it loads.
#pragma once

#include "core/model/board.hpp"
#include "core/model/part.hpp"
#include "core/model/project.hpp"

#include <string>
#include <vector>

namespace kp {

/// One line each, in words that change when the plan does, so that a tick of before no longer stands beside it.
[[nodiscard]] std::vector<std::string> before_power(const Board& board, const Part& part, const Project& project);

}  // namespace kp
