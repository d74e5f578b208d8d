// SPDX-License-Identifier: GPL-3.0-or-later
// Structural Verilog to a flat netlist.
#pragma once

#include "core/base/result.hpp"
#include "core/base/source_text.hpp"
#include "core/model/library.hpp"
#include "core/model/netlist.hpp"

#include <functional>
#include <map>
#include <set>
#include <span>
#include <string>
#include <string_view>

namespace kp {

/// Reads structural Verilog (IEEE 1364-2005) and unfolds its hierarchy under `top`; with an empty `top` the only module
/// nobody instantiates is taken. Instances of modules that no text defines are cells of `library`.
/// Skipped on purpose: attributes, compiler directives, parameters of modules, `timescale`.
/// Errors (with file, line, column): syntax, behavioural code, unknown cell, pin, module or wire, widths that differ,
/// no or several candidates for the top, hierarchy in itself.
[[nodiscard]] Result<Netlist> read_netlist(std::span<const SourceText> sources, const std::string& top,
                                           const Library& library);

/// Cell types by name, each with the pins that instances connect by name, bit by bit.
using CellPins = std::map<std::string, std::set<std::string>>;
/// Adds cells to the library that is being read with; what it does not add stays an error.
using CompleteLibrary = std::function<Status(const CellPins& missing)>;
/// The same; `complete` is asked once, when instances name cells that are in no text and not in `library`.
[[nodiscard]] Result<Netlist> read_netlist(std::span<const SourceText> sources, const std::string& top,
                                           const Library& library, const CompleteLibrary& complete);

}  // namespace kp
