// SPDX-License-Identifier: GPL-3.0-or-later
// New names of ports carried through constraint text.
#pragma once

#include <string>
#include <utility>
#include <vector>

namespace kp::sdc {

/// A replacement in a text. Offsets speak of the text as it was before all of them.
struct Replacement {
    size_t offset = 0;
    std::string before, after;
};

/// Where `text` names the ports, as buses ("gray", "gray[*]", "gray[2]") or bits: inside get_ports, and as plain
/// arguments that are not the name of a clock. A create_clock that had its name from a renamed port gets that name as
/// -name, so that everything that speaks of the clock goes on. Comments, patterns such as `g*` and variables stay as
/// they are.
[[nodiscard]] std::vector<Replacement> rename_ports(const std::string& text,
                                                    const std::vector<std::pair<std::string, std::string>>& buses);

/// What each bit of a port is called elsewhere: "vent[0]" or "tone" by its new name. A bit without a new name is left
/// out.
using BitNames = std::vector<std::pair<std::string, std::string>>;

/// The text for a top that wraps the design as instance `inside`: ports by their new names, bit by bit (a bus becomes
/// the list of its bits), pins, cells and nets in queries with `inside/` in front. Patterns become the list of what
/// they match. Pins and cells named without a query stay as they are.
[[nodiscard]] std::string wrapped_constraints(const std::string& text, const BitNames& bits, const std::string& inside);

}  // namespace kp::sdc
