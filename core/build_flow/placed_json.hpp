// SPDX-License-Identifier: GPL-3.0-or-later
// Places as a file: placed.json.
#pragma once

#include "core/fabric/placement.hpp"

namespace kp::build_flow {

[[nodiscard]] std::string write_placed(const Netlist& netlist, const std::vector<fabric::Spot>& spots);
/// Errors: not such a file, a cell without a place.
[[nodiscard]] Result<std::vector<fabric::Spot>> read_placed(std::string_view text, const std::string& file,
                                                            const Netlist& netlist);

}  // namespace kp::build_flow
