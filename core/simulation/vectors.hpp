// SPDX-License-Identifier: GPL-3.0-or-later
// Vectors: what ports are given at which time, and what is expected of others.
#pragma once

#include "core/simulation/event_simulator.hpp"

namespace kp::simulation {

/// Bits of a port under one name, highest first.
struct PortGroup {
    std::string name;
    Direction direction = Direction::in;
    std::vector<std::uint32_t> ports;  ///< positions in Netlist::ports
};
[[nodiscard]] std::vector<PortGroup> groups_of(const Netlist& netlist);

/// A value as wide as a port, highest first: '0', '1', 'x', 'z', in what is expected '-' for anything. What begins with
/// 0x and goes on is hexadecimal, whatever its length: "0x1" of three bits is 001. None when it does not fit.
[[nodiscard]] std::optional<std::string> value_of(std::string_view text, size_t width, bool expected);

struct VectorRow {
    double time = 0;                    ///< ns
    std::vector<std::string> in, want;  ///< by column; filled where the file leaves them as before
    int line = 0;
};
struct Vectors {
    std::vector<size_t> in, want;  ///< columns: positions among the groups
    std::vector<VectorRow> rows;
};

/// Errors (file, line): a column that is not a port of the right direction, or twice; rows of another width; a time
/// that does not rise; a value that does not fit.
[[nodiscard]] Result<Vectors> read_vectors(std::string_view text, const std::string& file,
                                           const std::vector<PortGroup>& groups);

struct ObservedRow {
    double time = 0;
    std::vector<std::pair<std::string, std::string>> inputs;    ///< of all combinations only
    std::vector<std::pair<std::string, std::string>> observed;  ///< every output and inout by name
    std::vector<std::pair<std::string, std::string>> expected;
    bool ok = true;
};
struct Observed {
    std::vector<ObservedRow> rows;
    size_t failed = 0;
};

struct ClockAsk {
    std::string port;
    double period = 0;  ///< ns
};

/// Runs them. Errors: a clock that is not an input, or a column too; logic that never settles.
[[nodiscard]] Result<Observed> run_vectors(EventSimulator& simulator, const std::vector<PortGroup>& groups,
                                           const Vectors& vectors, const std::vector<ClockAsk>& clocks);

/// Every combination of the input bits, counting up, first port first. Errors: registers, more than 20 bits.
[[nodiscard]] Result<Observed> run_combinations(EventSimulator& simulator, const Circuit& circuit,
                                                const std::vector<PortGroup>& groups);

/// Collects changes and writes them as a value change dump (IEEE 1364-2005, clause 18), time in ps.
class Dump {
public:
    explicit Dump(const Netlist& netlist) : netlist_(netlist) {}
    void take(const Change& c) { changes_.push_back(c); }
    /// `start`: the value of each net before the first change.
    [[nodiscard]] std::string text(const std::vector<Bit>& start, Time end) const;

private:
    const Netlist& netlist_;
    std::vector<Change> changes_;
};

}  // namespace kp::simulation
