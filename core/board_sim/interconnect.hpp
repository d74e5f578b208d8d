// SPDX-License-Identifier: GPL-3.0-or-later
// Wires of a board tried through boundary scan: patterns that tell every open, short and swap apart.
#pragma once

#include "core/model/board.hpp"

#include <string>
#include <vector>

namespace kp {

/// From a cell of the chip to where the wire ends on the board.
struct ScanWire {
    std::string pin, terminal;
};

/// What a hand, a tin whisker or a wrong drill does.
struct WireFault {
    enum Kind : std::uint8_t { open, short_and, short_or, swap } kind = open;
    size_t a = 0, b = 0;  ///< wires; of an open only the first
    bool operator==(const WireFault&) const = default;
};

/// Wires of a board that the chip can drive and the board can be read at.
[[nodiscard]] std::vector<ScanWire> wires_of(const Board& board);

/// What is driven, a row a pattern: each wire its number from 1 in binary, then all of it turned over, so that no wire
/// has a number of all ones or zeros, and at last all zeros (P. T. Wagner, "Interconnect testing with boundary scan",
/// ITC 1987; the turned half: N. Jarwala and C. W. Yau, ITC 1989; both from memory).
[[nodiscard]] std::vector<std::vector<bool>> counting_patterns(size_t wires);

/// What comes back from a board with faults, a row a pattern. An open end is held high by its pull-up.
[[nodiscard]] std::vector<std::vector<bool>> answers_of(const std::vector<std::vector<bool>>& driven,
                                                        const std::vector<WireFault>& faults);

/// What the answers tell, by wire: opens, shorts (each pair once, the lowest wire with each of the others) and swaps.
/// An answer that is none of these is told as an open.
[[nodiscard]] std::vector<WireFault> faults_in(const std::vector<std::vector<bool>>& driven,
                                               const std::vector<std::vector<bool>>& received);

/// "D1.rose3 (pin 34) is open."
[[nodiscard]] std::string sentence_of(const WireFault& fault, const std::vector<ScanWire>& wires);

}  // namespace kp
