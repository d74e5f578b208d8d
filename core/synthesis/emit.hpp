// SPDX-License-Identifier: GPL-3.0-or-later
// A mapped design as structural Verilog.
#pragma once

#include "core/model/cell_set.hpp"
#include "core/synthesis/cover.hpp"

namespace kp::synthesis {

/// Everything that needs a net of its own: data of registers, inputs of carries and cells, outputs.
[[nodiscard]] std::vector<Lit> wanted_of(const Mapping& m);

/// The netlist, with pads and clock roots put in. The same design gives the same bytes. Errors: a register kind that
/// the library has not. Outputs that nothing drives are added to `m.messages`.
[[nodiscard]] Result<std::string> emit(Mapping& m, const Cover& cover, const CellSet& cells);

}  // namespace kp::synthesis
