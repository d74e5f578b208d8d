// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string>
#include <string_view>

namespace kp {

/// SHA-256 (FIPS 180-4) in lower-case hexadecimal.
[[nodiscard]] std::string sha256(std::string_view data);

}  // namespace kp
