// SPDX-License-Identifier: GPL-3.0-or-later
// Liberty files to cells; units are converted to ns and pF.
#pragma once

#include "core/base/result.hpp"
#include "core/model/library.hpp"

#include <string>
#include <string_view>

namespace kp {

/// Reads a Liberty cell library. The file's units are converted to ns and pF, never assumed (defaults of the standard:
/// 1 ns, 1 pF). Skipped on purpose: power, noise, CCS and statistical groups; `statetable` with a note. Errors (file,
/// line): syntax, a table whose size does not fit its axes, a timing group whose pin does not exist, no library.
[[nodiscard]] Result<Library> read_liberty(std::string_view text, const std::string& file);

}  // namespace kp
