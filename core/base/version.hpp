// SPDX-License-Identifier: GPL-3.0-or-later
// The version that results carry, said once for all who write it.
#pragma once

namespace kp {

/// Of the program, as CMakeLists.txt names it.
inline constexpr const char* program_version = "0.1.0";

}  // namespace kp
