// SPDX-License-Identifier: GPL-3.0-or-later
// What of a part a design takes, counted in its netlist.
#pragma once

#include "core/model/library.hpp"
#include "core/model/netlist.hpp"
#include "core/model/part.hpp"

#include <optional>
#include <vector>

namespace kp {

enum class Resource : std::uint8_t { logic_cells, registers, user_pins, clock_networks, memory_bits, plls, lanes };

struct PartUse {
    Resource resource = Resource::logic_cells;
    long long has = 0;
    std::optional<long long> used;  ///< none: there is no netlist, so nobody knows
};

/// One row for each resource. User pins are the port bits, which a header gives too; a clock network is a net that
/// clocks registers; everything else is cells of the netlist.
[[nodiscard]] std::vector<PartUse> use_of(const Netlist& netlist, const Library& library, const Part& part);

}  // namespace kp
