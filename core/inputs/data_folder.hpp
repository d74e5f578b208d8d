// SPDX-License-Identifier: GPL-3.0-or-later
// Where parts, boards and standards lie that ship with the program.
#pragma once

#include <string>

namespace kp {

/// Where the parts, boards and cells that ship with the program lie: the variable KITE_PEG_DATA, share/kite-peg beside
/// the program, or the source tree it was built from.
[[nodiscard]] std::string data_folder();

}  // namespace kp
