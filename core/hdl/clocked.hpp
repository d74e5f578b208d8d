// SPDX-License-Identifier: GPL-3.0-or-later
// Which signals clock something, by the text of sources alone: for a design of which only the ports are read.
#pragma once

#include "core/base/source_text.hpp"

#include <set>
#include <span>
#include <string>

namespace kp {

/// Names behind posedge, negedge, rising_edge, falling_edge and 'event, lower case where the language has no case, but
/// for those that the statement tests first (an asynchronous reset); and what is connected to a port of such a name, at
/// any depth. Comments do not count. A name that clocks in one module counts in all.
[[nodiscard]] std::set<std::string> clocked_names(std::span<const SourceText> sources);

}  // namespace kp
