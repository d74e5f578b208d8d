// SPDX-License-Identifier: GPL-3.0-or-later
// Names and paths that every tool down the line can take.
#pragma once

#include <optional>
#include <string>
#include <string_view>

namespace kp {

/// Why a name makes trouble in Verilog, VHDL, Tcl or a file name: other than letters, digits and underscores, a digit
/// at the start, "__" or an underscore at an end (VHDL, IEEE 1076-2008, 15.4), a keyword. None when it is portable.
[[nodiscard]] std::optional<std::string> name_trouble(std::string_view name);
/// A portable name that is near the given one; the name itself when it is portable.
[[nodiscard]] std::string portable_name(std::string_view name);

/// Why a path makes trouble: blanks, or characters other than letters, digits and . _ - / . None when it is portable.
[[nodiscard]] std::optional<std::string> path_trouble(std::string_view path);
/// The path with each such character replaced by an underscore, accented letters by plain ones.
[[nodiscard]] std::string portable_path(std::string_view path);

}  // namespace kp
