// SPDX-License-Identifier: GPL-3.0-or-later
// Structural Verilog to a flat netlist.
#pragma once

#include "core/base/result.hpp"
#include "core/base/source_text.hpp"
#include "core/model/library.hpp"
#include "core/model/netlist.hpp"

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

}  // namespace kp
