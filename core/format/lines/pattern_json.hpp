// SPDX-License-Identifier: GPL-3.0-or-later
// Patterns as JSON, schema kitepeg.lines/1. Positions in a file count characters of the example, in memory bytes.
#pragma once

#include "core/format/json/json_value.hpp"
#include "core/format/lines/read.hpp"

namespace kp::lines {

/// Errors: as JsonText; those of Matcher::make, so that what was read can be used.
[[nodiscard]] Result<Pattern> read_pattern(std::string_view text, const std::string& file);
[[nodiscard]] Json pattern_json(const Pattern& pattern);
/// What `kpeg lines` answers: rows, signals, unread, messages.
[[nodiscard]] Json reading_json(const Reading& reading, const StandardTable* standards);

}  // namespace kp::lines
