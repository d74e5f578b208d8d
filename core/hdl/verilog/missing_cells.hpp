// SPDX-License-Identifier: GPL-3.0-or-later
// Cells that a netlist names and nobody has described yet.
#pragma once

#include "core/hdl/verilog/netlist_ast.hpp"
#include "core/hdl/verilog/read_netlist.hpp"

namespace kp::verilog {

/// What the instances of all modules name that is neither a module nor a cell.
[[nodiscard]] CellPins missing_cells(const std::vector<Module>& modules, const Library& library);

}  // namespace kp::verilog
