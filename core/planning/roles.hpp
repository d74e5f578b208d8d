// SPDX-License-Identifier: GPL-3.0-or-later
// What a port is for, and at which level it is active: as its user said, else as netlist, board and name suggest.
#pragma once

#include "core/planning/plan.hpp"

#include <span>
#include <string>

namespace kp {

/// "clock", "reset", "key", "rocker", "lamp", "display", "sounder", "serial", "memory", "oscillator output" and such.
[[nodiscard]] std::span<const char* const> role_names();

struct PortRole {
    std::string role;  ///< empty: nothing suggests one
    std::string why;   ///< "chosen", "clocks 12 registers", "its pin is wired to a key", "by its name"
};
/// What was chosen wins over the netlist, the netlist over the board, the board over the name.
[[nodiscard]] PortRole role_of(const PlannedPort& seat);

struct PortSense {
    bool low = false;
    std::string why;  ///< "chosen", or "by its name"
};
/// The level at which the design takes the port as active.
[[nodiscard]] PortSense sense_of(const std::string& bus, const PortAttributes& chosen);

/// The part is on or off at each of its terminals, and so has an active level there: a key, rocker, lamp, display or
/// sounder.
[[nodiscard]] bool has_active_levels(const BoardPart& part);
/// Design and board take opposite levels as active on this wire; false for pairs, and for what goes both ways.
[[nodiscard]] bool opposed(const Port& port, const PortAttributes& chosen, const Board::Found& at,
                           const IoStandard* standard);

/// A name with rst or reset in it. Common practice, no source.
[[nodiscard]] bool speaks_of_reset(const std::string& name);

/// "clk", "sys_clk_i", "clock_50", "mclk_p": a part of the name between underscores is clk or clock, with letters or
/// digits around it. A clock enable is none. Common practice, no source.
[[nodiscard]] bool looks_like_clock(const std::string& bus);

/// A name that tells by its ending that low means on, as rose_n or reset_b. Common practice, no source.
[[nodiscard]] bool named_low(std::string_view bus);

}  // namespace kp
