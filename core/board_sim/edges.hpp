// SPDX-License-Identifier: GPL-3.0-or-later
// What a wire did: its edges in order of time, and what can be measured and read from them.
#pragma once

#include "core/board_sim/simulated_part.hpp"

#include <cstdint>
#include <span>
#include <string>
#include <vector>

namespace kp::board_sim {

/// A wire took another level.
struct Edge {
    Time when = 0;
    Level level = Level::floating;
};

/// The level at a time: that of the last edge not behind it; floating before the first.
[[nodiscard]] Level level_at(std::span<const Edge> edges, Time when);

/// What a row of edges tells of a signal between two times. Zero where there is too little to tell.
struct Measured {
    std::uint64_t rises = 0;
    double hz = 0;    ///< from the first rise to the last one
    double duty = 0;  ///< share of time high, over whole periods
    Time shortest_high = 0, shortest_low = 0;
};
[[nodiscard]] Measured measure(std::span<const Edge> edges, Time from, Time to);

/// A heartbeat against what was expected, in blinks (whole periods) a second. A rate that was counted in toggles, two a
/// blink, is told apart from one that is simply off.
[[nodiscard]] std::string beat_verdict(double expected_hz, const Measured& measured);

/// From each rise of `a` to the nearest rise of `b`: the mean and the span, fs. None without rises in both.
struct Skew {
    Time mean = 0, least = 0, most = 0;
    size_t pairs = 0;
};
[[nodiscard]] Skew skew(std::span<const Edge> a, std::span<const Edge> b, Time from, Time to);

/// Something read from a bus.
struct BusWord {
    Time from = 0, to = 0;
    std::string text;  ///< "0x41 A", "address 0x48 read", "no answer"
    std::uint64_t value = 0;
    bool good = true;  ///< false: a stop bit that is not one, a word cut off
};

/// Asynchronous serial: a start bit, eight data bits, lowest first, one stop bit (common practice, no source). `bit`:
/// its length.
[[nodiscard]] std::vector<BusWord> read_serial(std::span<const Edge> line, Time bit, Time end);
/// The length of a bit as the shortest time between two edges tells it; 0 with fewer than four edges.
[[nodiscard]] Time bit_length(std::span<const Edge> line);

/// Words of eight bits, highest first, while `select` is low (without it, all of them). `mode`: bit 1 the clock's level
/// at rest, bit 0 whether data are taken at the second edge of each clock (common practice, no source).
[[nodiscard]] std::vector<BusWord> read_spi(std::span<const Edge> clock, std::span<const Edge> data,
                                            std::span<const Edge> select, unsigned mode, Time end);

/// Start, address with direction, data with their acknowledge, stop (UM10204, "I2C-bus specification and user manual",
/// rev. 7, 3.1, from memory).
[[nodiscard]] std::vector<BusWord> read_two_wire(std::span<const Edge> scl, std::span<const Edge> sda, Time end);

}  // namespace kp::board_sim
