// SPDX-License-Identifier: GPL-3.0-or-later
// Cells out of their Verilog models, for designs whose library comes in no other form.
#pragma once

#include "core/base/result.hpp"
#include "core/base/source_text.hpp"
#include "core/model/library.hpp"

#include <span>

namespace kp {

/// Reads modules and user-defined primitives (IEEE 1364-2005, clauses 7 to 9, 14 and 15) as cells: pins, delay arcs and
/// timing checks from `specify` in ns, functions and registers from gates, primitives, assigns and `always`. A file's
/// `timescale counts, 1 ns without one. A module of nothing but instances is not a cell and is passed over with a note;
/// one of behaviour without `specify` is a cell without arcs.
/// Errors, with file and line: a text that is broken, a path or check of a terminal that is not a port, a cell defined
/// twice, more than 20,000 arcs in a cell.
[[nodiscard]] Result<Library> read_models(std::span<const SourceText> sources);

}  // namespace kp
