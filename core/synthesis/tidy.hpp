// SPDX-License-Identifier: GPL-3.0-or-later
// Steps between source and cells.
#pragma once

#include "core/model/cell_set.hpp"
#include "core/synthesis/mapped.hpp"

namespace kp::synthesis {

/// Memories to memory cells, as many as their words, width and readers need. Errors: the library has no memory cell, or
/// the clock falls.
[[nodiscard]] Status place_memories(Mapping& m, const CellSet& cells);

/// What the outputs need, wires followed, constants folded through registers; nothing else stays. Loops become findings
/// (stops), wires that nothing drives and something reads cautions. `same`: nodes that are known to be another literal,
/// of an earlier node.
void tidy(Mapping& m, std::unordered_map<std::uint32_t, Lit> same = {});

/// Conditions under which registers keep their value go to enable pins, where that saves logic.
void find_enables(Mapping& m, const CellSet& cells);

}  // namespace kp::synthesis
