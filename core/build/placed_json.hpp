// SPDX-License-Identifier: GPL-3.0-or-later
// Places as a file: placed.json.
#pragma once

#include "core/builder/placement.hpp"

namespace kp::build {

[[nodiscard]] std::string write_placed(const Netlist& netlist, const std::vector<Spot>& spots);
/// Errors: not such a file, a cell without a place.
[[nodiscard]] Result<std::vector<Spot>> read_placed(std::string_view text, const std::string& file,
                                                    const Netlist& netlist);

}  // namespace kp::build
