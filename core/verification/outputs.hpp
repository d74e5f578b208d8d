// SPDX-License-Identifier: GPL-3.0-or-later
// What a proof says of each port: every output is proven, differs, or is not proven and why; every input was given or
// held.
#pragma once

#include "core/verification/proof.hpp"

#include <set>
#include <string>
#include <vector>

namespace kp::verification {

struct ProvedOutput {
    enum State : std::uint8_t { proven, differs, not_proven } state = not_proven;
    std::string port, terminal;
    std::string why;
    size_t rows = 0;        ///< that said what it should be
    bool left_out = false;  ///< as was asked; the only reason that does not count against the whole
};
[[nodiscard]] const char* name_of(ProvedOutput::State state);  ///< "proven", "differs", "not proven"

struct ProvedInput {
    std::string port, terminal;
    bool given = false;
    std::string value;  ///< of what was held: "0", "1"; of what was given: "all", "by rows", the rate of a clock
};

/// All that is judged by.
struct ProofGrounds {
    const Netlist& netlist;
    const Library& library;
    const Board& board;
    const std::vector<NameMatch>& meant;
    const PegMap& pegs;  ///< as they are
    const Stimulus& stimulus;
    std::set<std::string> left_out;  ///< ports
    size_t rows = 0;                 ///< that were to be worked; fewer in the proof: it was stopped
};

/// A line for each output and bidirectional port of the design. One walk over the netlist.
[[nodiscard]] std::vector<ProvedOutput> judge_outputs(const Proof& proof, const ProofGrounds& grounds);
/// A line for each input.
[[nodiscard]] std::vector<ProvedInput> inputs_of(const BoardBench& board, const ProofGrounds& grounds);

}  // namespace kp::verification
