// SPDX-License-Identifier: GPL-3.0-or-later
// What the made-up parts, their cells and some keys of our files were called before, so that files which users made
// then still open. Each table has one direction: from the former name to the present one. Nothing is written by these
// names.
#pragma once

#include <span>
#include <string>
#include <string_view>

namespace kp {

struct FormerName {
    std::string_view former, now;
};

/// Keys of JSON files of this kind ("project", "part", "links"); none for other kinds.
[[nodiscard]] std::span<const FormerName> former_keys(std::string_view kind);

/// Cells of the library that ships.
[[nodiscard]] std::span<const FormerName> former_cells();

/// The present ordering code of a made-up part, or its beginning up to the package; what is not a former code comes
/// back as it is.
[[nodiscard]] std::string present_code(const std::string& code);

}  // namespace kp
