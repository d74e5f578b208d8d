// SPDX-License-Identifier: GPL-3.0-or-later
// Where the ports came to lie in a build: a table that comes back from whoever placed them.
#pragma once

#include "core/base/result.hpp"

#include <string>
#include <string_view>
#include <vector>

namespace kp {

struct PinReportRow {
    std::string port, pin, standard;  ///< an empty standard: the report does not say
    int line = 0;
};

/// Reads a table with a line of headings: fields by comma, semicolon or tab; lines that start with # before it are
/// remarks. The port is under "port", "signal" or "name", the pin under "pin", "ball" or "location", the I/O standard
/// under "standard" or "i/o standard"; other columns are left. Rows without a port (free pins) are skipped. Errors: no
/// such headings, a port twice, more than 100,000 rows.
[[nodiscard]] Result<std::vector<PinReportRow>> read_pin_report(std::string_view text, const std::string& file);

/// The delimiter that a line of headings uses: the one of tab, semicolon and comma that is there most often.
[[nodiscard]] char delimiter_of(std::string_view text);

}  // namespace kp
