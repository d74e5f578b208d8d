// SPDX-License-Identifier: GPL-3.0-or-later
// Parameters of instances, as numbers.
#pragma once

#include "core/model/netlist.hpp"

#include <cstdint>
#include <optional>
#include <string>
#include <string_view>

namespace kp {

/// "16'h7f80", "4'b0110", "8'd3" (IEEE 1364-2005, 3.5.1) or a plain number; underscores do not count. None for anything
/// else.
[[nodiscard]] std::optional<std::uint64_t> number_of(std::string_view text);

/// The text of a parameter of an instance; null when it is not given.
[[nodiscard]] const std::string* parameter_of(const Netlist& netlist, std::uint32_t cell, std::string_view name);

}  // namespace kp
