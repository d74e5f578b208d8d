// SPDX-License-Identifier: GPL-3.0-or-later
// The headers that a text in Verilog (IEEE 1364-2005) and SystemVerilog (IEEE 1800-2017, clause 23) declares; bodies
// are passed over.
#pragma once

#include "core/hdl/header/header.hpp"

#include <span>

namespace kp::hdl {

/// Adds to `out`. Errors stand in it, several per file; a text that is broken gives the headers before the break.
void read_verilog_headers(std::span<const SourceText> sources, const PortRequest& request, Headers& out);

}  // namespace kp::hdl
