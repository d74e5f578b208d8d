// SPDX-License-Identifier: GPL-3.0-or-later
// A simulated board around a simulated netlist: what the hand sets reaches the ports through the pegs as they are, and
// what the ports give reaches lamps and sounder through the same pegs.
#pragma once

#include "core/bench/simulator.hpp"
#include "core/model/board.hpp"
#include "core/model/part.hpp"
#include "core/model/project.hpp"

#include <map>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace kp {

/// What a wire of the board shows.
enum class Level { low, high, floating, conflict };

class BoardBench {
public:
    /// Errors: those of Simulator::make. All arguments but `pegs` must outlive the bench.
    static Result<BoardBench> make(const Netlist& netlist, const Library& library, const Board& board,
                                   const PegMap& pegs);

    /// The hand sets a driving terminal ("S1.hold") to a level on the wire.
    void drive(const std::string& terminal, bool level);
    /// Lets board time pass; every pegged oscillator ticks. `cycles` counts the first oscillator.
    void run(std::uint64_t cycles);
    [[nodiscard]] Level level(const std::string& terminal) const;
    /// True when a lamp or the like at this terminal is on: its level is the active one.
    [[nodiscard]] bool active(const std::string& terminal) const;
    /// Ports the FPGA drives against a board part.
    [[nodiscard]] std::vector<std::string> conflicts() const;
    [[nodiscard]] double seconds() const { return seconds_; }
    [[nodiscard]] std::uint64_t cycles() const { return cycles_; }
    /// Frequency at a terminal from the edges since the last mark(): whole periods only, 0 when there is none yet.
    [[nodiscard]] double frequency_hz(const std::string& terminal) const;
    void mark() { simulator_->restart_counters(); }
    [[nodiscard]] bool has_clock() const { return clock_port_ != no_id; }

private:
    BoardBench(const Netlist& netlist, const Board& board, Simulator simulator);
    [[nodiscard]] std::uint32_t driver_port(const std::string& pin) const;

    const Netlist* netlist_;
    const Board* board_;
    std::unique_ptr<Simulator> simulator_;
    std::map<std::string, std::vector<std::uint32_t>> ports_at_;  ///< pin to ports
    std::map<std::string, bool> driven_;                          ///< terminal to level set by hand
    std::uint32_t clock_port_ = no_id;
    double clock_hz_ = 0, seconds_ = 0;
    std::uint64_t cycles_ = 0;
};

/// One row of the comparison: what the vane was set to, which lamp should answer and which did.
struct DirectionRow {
    unsigned position = 0;
    std::string gray;                             ///< highest bit first
    std::vector<std::string> expected, observed;  ///< active lamps by terminal
    [[nodiscard]] bool agrees() const { return expected == observed; }
};

/// Sets every position of the terminals of `source` (a part that drives a Gray code, lowest bit first in its terminals)
/// and compares the reading terminals of `lamps` under two pegs: as the names ask, and as they are.
[[nodiscard]] Result<std::vector<DirectionRow>> compare_directions(const Netlist& netlist, const Library& library,
                                                                   const Board& board, const PegMap& by_name,
                                                                   const PegMap& as_is, const BoardPart& source,
                                                                   const BoardPart& lamps);

/// Two terminals that answer for each other in a comparison, and the ports pegged to them (empty: none).
struct CrossedPair {
    std::string terminals[2], ports[2];
};
/// The first such pair, by name; none when what differs is something else.
[[nodiscard]] std::optional<CrossedPair> crossed_pair(const std::vector<DirectionRow>& rows, const Board& board,
                                                      const PegMap& pegs);

/// Gray code of n: n xor n/2 (F. Gray, US patent 2632058, 1953).
[[nodiscard]] constexpr unsigned to_gray(unsigned n) {
    return n ^ (n >> 1);
}

}  // namespace kp
