// SPDX-License-Identifier: GPL-3.0-or-later
// A flat netlist as structural Verilog (IEEE 1364-2005), so that what the builder changed after mapping can be written.
#pragma once

#include "core/model/library.hpp"
#include "core/model/netlist.hpp"

#include <string>

namespace kp::verilog {

/// As Verilog writes a name: with a backslash and a blank where it needs them.
[[nodiscard]] std::string written_name(const std::string& name);

/// Read again, the text gives the same cells, pins, parameters and ports in the same order; a net that is a port has
/// the port's name. Every cell is one of the library. Linear in the pins.
[[nodiscard]] std::string write_netlist(const Netlist& netlist, const Library& library);

}  // namespace kp::verilog
