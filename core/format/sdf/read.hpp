// SPDX-License-Identifier: GPL-3.0-or-later
// SDF (IEEE 1497-2001) to delays in ns.
#pragma once

#include "core/base/disk.hpp"
#include "core/base/result.hpp"
#include "core/model/delays.hpp"

#include <stop_token>
#include <string>
#include <string_view>

namespace kp {

/// Reads SDF 3.0 (IEEE 1497): IOPATH, INTERCONNECT, PORT, DEVICE with COND, ABSOLUTE and INCREMENT; SETUP, HOLD,
/// SETUPHOLD, RECOVERY, REMOVAL, RECREM, WIDTH, PERIOD. Times are converted to ns by TIMESCALE (default 1 ns); instance
/// paths are given with '/' whatever DIVIDER says. Twelve-value lists keep the first two (0->1, 1->0).
/// Errors (file, line): syntax, bad numbers, nesting beyond 50.
[[nodiscard]] Result<DelayFile> read_sdf(std::string_view text, const std::string& file);

/// The same, entry by entry as the file is read: memory does not grow with it. What the sink got before an error stays
/// with it. Answers with the file's DESIGN.
[[nodiscard]] Result<std::string> read_sdf(ByteStream& stream, const std::string& file, DelaySink& sink,
                                           std::stop_token stop = {});

}  // namespace kp
