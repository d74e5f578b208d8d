// SPDX-License-Identifier: GPL-3.0-or-later
// Links and their lanes as a sheet, a row for each lane with its pins and what the board has there.
#pragma once

#include "core/session/session.hpp"

#include <string>

namespace kp {

/// Columns link, protocol, state, block, lane, tx_p, tx_n, rx_p, rx_n, gbps, clock_mhz, board_part; a link that is
/// adrift has one row without a lane. Empty for a project without links.
[[nodiscard]] std::string lanes_csv(const World& world, const Project& project);

}  // namespace kp
