// SPDX-License-Identifier: GPL-3.0-or-later
// Results that a user sends somewhere: a file, a pipe, a device, standard output.
#pragma once

#include "core/base/result.hpp"

#include <string>
#include <string_view>
#include <vector>

namespace kp {

/// Writes a result. "-", /dev/stdout, /dev/fd/N and the like go to what is open there; pipes and devices are written
/// straight to (a pipe that nobody opens is given up after 5 s, one that nobody empties after 30 s); a file is replaced
/// in one step, through a link too, and keeps mode and owner; no copy of the old one is made. Errors: the disk's, a
/// full one too; a folder.
[[nodiscard]] Status write_output(const std::string& path, std::string_view text);

/// True when both are one file, under whatever names.
[[nodiscard]] bool same_file(const std::string& a, const std::string& b);

/// Says which of the results would write over an input or over another result, if one would. "-" and devices never do.
[[nodiscard]] Status check_outputs(const std::vector<std::string>& results, const std::vector<std::string>& inputs);

}  // namespace kp
