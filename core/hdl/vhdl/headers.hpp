// SPDX-License-Identifier: GPL-3.0-or-later
// The headers that a text in VHDL (IEEE 1076-2008, clause 6.5) declares; bodies are passed over.
#pragma once

#include "core/hdl/header/header.hpp"

#include <span>

namespace kp::hdl {

/// Adds to `out`. Errors stand in it, several per file; a text that is broken gives the headers before the break.
void read_vhdl_headers(std::span<const SourceText> sources, const PortRequest& request, Headers& out);

}  // namespace kp::hdl
