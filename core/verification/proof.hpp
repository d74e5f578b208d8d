// SPDX-License-Identifier: GPL-3.0-or-later
// What a design is asked on the board, and what it should answer: inputs are set at the terminals they are meant for,
// outputs are read at theirs, wherever the pegs lead, so that a wrong peg shows as on the real board.
#pragma once

#include "core/board_sim/board_bench.hpp"
#include "core/planning/meant.hpp"
#include "core/simulation/vectors.hpp"
#include "core/hdl/header/ports.hpp"
#include "core/format/vcd/read.hpp"

#include <functional>
#include <span>
#include <memory>
#include <string>
#include <vector>

namespace kp::verification {

/// Bits of ports, each under the terminal where it belongs.
struct ProofPort {
    std::string name;                    ///< of the bus
    std::vector<std::uint32_t> ports;    ///< positions in Netlist::ports, highest bit first
    std::vector<std::string> terminals;  ///< where each belongs
};

/// Rows of inputs, each for so long.
struct Stimulus {
    std::vector<ProofPort> inputs, outputs;
    std::vector<ProofPort> resting;  ///< inputs that stay as the board leaves them
    /// Inputs that stay at a level that was asked for. Without a terminal the port itself is held, as one that is open.
    struct Held {
        std::uint32_t port = 0;
        std::string terminal;
        bool high = false;
    };
    std::vector<Held> held;
    std::vector<std::uint32_t> clocks;   ///< inputs meant for an oscillator
    std::vector<std::uint32_t> unknown;  ///< inputs of which nobody said what they are meant for
    board_sim::Time before = 0;          ///< board time that passes before the first row, with everything at rest
    struct Row {
        board_sim::Time lasts = 0;
        std::vector<std::string> in;    ///< by input, highest bit first
        std::vector<std::string> want;  ///< by output; '-' and empty: not asked
    };
    std::vector<Row> rows;
};

/// What a proof leaves out of its combinations.
struct ProofLimits {
    std::vector<std::string> parts;    ///< of the board by ref: only inputs and outputs meant for them; empty: all
    std::map<std::string, bool> held;  ///< by port
};
/// The ports of the design at the terminals they are meant for. Inputs that are open on purpose are held at their tie.
[[nodiscard]] Stimulus ports_to_prove(const Netlist& netlist, const Board& board, const std::vector<NameMatch>& meant,
                                      const Project& project, const ProofLimits& limits = {});
/// Every combination of the inputs, in Gray counting: from row to row one bit moves, as a vane turns step by step.
/// Errors: more than 16 bits.
[[nodiscard]] Result<Stimulus> all_combinations(Stimulus ports, board_sim::Time each);
/// The same without its inputs, outputs and rows: what stays as it is.
[[nodiscard]] Stimulus without_ports(const Stimulus& stimulus);
/// Rows of a vector file (see read_vectors). Errors: those of that, and ports that belong nowhere on the board.
[[nodiscard]] Result<Stimulus> from_vectors(Stimulus ports, std::string_view text, const std::string& file,
                                            const Netlist& netlist);

/// What a dump recorded of ports that belong to the board: a row for each time at which an input moved; what the
/// outputs showed at its end is what is wanted. Errors: no input of the board is in it, more than 100,000 rows.
[[nodiscard]] Result<Stimulus> from_dump(Stimulus ports, const vcd::Dump& dump, const std::string& file);

/// Something that knows what should come out.
class Oracle {
public:
    virtual ~Oracle() = default;
    [[nodiscard]] virtual std::string name() const = 0;
    virtual void set(std::uint32_t port, bool value) = 0;
    /// Errors: it never settles.
    [[nodiscard]] virtual Status run(board_sim::Time lasts) = 0;
    /// It is a board: what it shows is compared letter by letter. Otherwise x and '-' mean that it does not say.
    [[nodiscard]] virtual bool is_board() const { return false; }
    /// '0', '1', 'x', 'z'; '-' where it does not know the port.
    [[nodiscard]] virtual char port(std::uint32_t port) const = 0;
    /// What it saw on the way beside values, a sentence each: setup and hold limits that were not kept, by register.
    [[nodiscard]] virtual std::vector<std::string> seen() const { return {}; }
};

/// An input that an oscillator drives. Half a period is a fraction of femtoseconds, so that rates stay exact.
struct ProofClock {
    std::uint32_t port = 0;
    std::int64_t numerator = 0, denominator = 1;
    /// As on the board: whole cycles lie inside of whole periods from 0.
    [[nodiscard]] board_sim::Time first_rise() const { return numerator / denominator / 2; }
};
[[nodiscard]] ProofClock proof_clock(std::uint32_t port, double mhz);

/// The netlist itself, under the pegs by which its ports sit where they are meant for.
[[nodiscard]] Result<std::unique_ptr<Oracle>> oracle_of_names(const Netlist& netlist, const Library& library,
                                                              const Board& board, const PegMap& by_name);
/// Event-driven, four values, with delays if there are any; PLLs run at their rates.
[[nodiscard]] Result<std::unique_ptr<Oracle>> oracle_of_simulation(const Netlist& netlist, const Library& library,
                                                                   const DelayFile* delays,
                                                                   const std::vector<ProofClock>& clocks);
/// A source, run as it is written; a PLL in it is one of `library` and runs at its rate. Errors: those of the reader
/// and of the interpreter.
[[nodiscard]] Result<std::unique_ptr<Oracle>> oracle_of_source(std::span<const SourceText> sources,
                                                               const PortRequest& reading, const std::string& top,
                                                               const Netlist& netlist, const Library& library,
                                                               const std::vector<ProofClock>& clocks);
/// Formulas over the names of ports, "lamp = key & ~hold; sum = a + b", as continuous assignments of IEEE 1364-2005.
[[nodiscard]] Result<std::unique_ptr<Oracle>> oracle_of_formula(const std::string& formulas, const Netlist& netlist);

struct ProofRow {
    double ms = 0;  ///< board time at which it was read
    std::vector<std::string> in, want, seen;
    bool agrees = true;
};
struct Proof {
    std::vector<std::string> inputs, outputs;  ///< names of the columns
    std::vector<std::string> terminals;        ///< of the outputs, bit by bit, in the order of the columns
    std::string against;
    bool against_file = false;      ///< rows say themselves what is wanted
    bool boards = false;            ///< the oracle is a board itself, so that floating and conflicts count as levels
    std::vector<std::string> seen;  ///< what the oracle saw beside values; see Oracle::seen
    std::vector<ProofRow> rows;
    size_t differ = 0;
    [[nodiscard]] const ProofRow* first_difference() const;
    /// Whether a wanted letter says something to compare.
    [[nodiscard]] bool compares(char want) const { return want != '-' && (boards || against_file || want != 'x'); }
};

/// Works the board row by row and compares. Without an oracle the rows themselves say what is wanted. Errors: those of
/// the oracle. `go_on` is asked before each row, with how many are done and how many there are; when it says no, what
/// was proved up to then stands.
using GoOn = std::function<bool(size_t done, size_t of)>;
[[nodiscard]] Result<Proof> prove(BoardBench& board, const Stimulus& stimulus, Oracle* oracle, const GoOn& go_on = {});

/// Terminals that are swapped in a proof: each shows, row by row, what is wanted of the other.
struct Crossed {
    std::string a, b;
};
[[nodiscard]] std::vector<Crossed> crossed_in(const Proof& proof);

/// What lies between a port and the registers and inputs it hangs on: names of instances, nearest first, at most
/// `most`, and how many there are.
struct Cone {
    std::vector<std::string> cells, from;  ///< logic; registers and ports where it begins
    size_t all = 0;
};
[[nodiscard]] Cone cone_of(const Netlist& netlist, const Library& library, std::uint32_t port, size_t most = 40);

/// Something a hand did, and when.
struct Doing {
    board_sim::Time when = 0;
    std::string ref, control, value;
};
/// Does all of it on two boards side by side and compares every terminal that parts read, before each doing and at
/// `end`: as the names ask, and as it is.
[[nodiscard]] Proof compare_doings(BoardBench& wanted, BoardBench& real, const std::vector<Doing>& doings,
                                   board_sim::Time end);

}  // namespace kp::verification
