// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/result.hpp"
#include "core/model/delays.hpp"

#include <string>
#include <string_view>

namespace kp {

/// Reads SDF 3.0 (IEEE 1497): IOPATH, INTERCONNECT, PORT, DEVICE with COND, ABSOLUTE and INCREMENT; SETUP, HOLD,
/// SETUPHOLD, RECOVERY, REMOVAL, RECREM, WIDTH, PERIOD. Times are converted to ns by TIMESCALE (default 1 ns); instance
/// paths are given with '/' whatever DIVIDER says. Twelve-value lists keep the first two (0->1, 1->0).
/// Errors (file, line): syntax, bad numbers, nesting beyond 50.
[[nodiscard]] Result<DelayFile> read_sdf(std::string_view text, const std::string& file);

}  // namespace kp
