// SPDX-License-Identifier: GPL-3.0-or-later
// A project proved at the simulated bench: what is given, against what, and how it came out. The window and kpeg ask
// the same.
#pragma once

#include "core/verification/outputs.hpp"
#include "core/model/proof_notes.hpp"
#include "core/session/snapshot.hpp"

namespace kp {

struct ProofAsk {
    enum Given : std::uint8_t { combinations, vectors, doings } given = combinations;
    enum Against : std::uint8_t { names, simulation, source, formula, file } against = names;
    std::vector<std::string> parts;     ///< of the board, by ref: only what is meant for them; empty: all
    std::vector<std::string> held;      ///< "PORT=VALUE": inputs that stay at a level
    std::vector<std::string> left_out;  ///< outputs that need not be proven, as find_ports() takes them
    std::string vectors_text, vectors_file;
    std::string formula_text;
    std::vector<std::string> sources;  ///< HDL, paths; empty: those of the project
    board_sim::Time each = board_sim::microsecond, before = 0;
    std::vector<verification::Doing> done;  ///< what a hand did, and until when
    board_sim::Time end = 0;
};

struct ProofAnswer {
    verification::Proof proof;
    std::vector<verification::ProvedOutput> outputs;  ///< each output and bidirectional port of the design
    std::vector<verification::ProvedInput> inputs;
    /// Every output is proven, or left out as was asked.
    [[nodiscard]] bool proven() const;
    [[nodiscard]] size_t count(verification::ProvedOutput::State state) const;
    std::string what;  ///< "all 32 combinations of gray"
    std::vector<verification::Crossed> crossed;
    /// Of the first difference: the output bit (terminal and port), and what it hangs on.
    std::string terminal, port;
    verification::Cone cone;
};

/// The edit that keeps what came out as a record of the project. `state`: pegs and design that were proved.
[[nodiscard]] Edit proof_record_edit(const Project& project, const ProofAnswer& answer, const ProofState& state,
                                     const std::string& who, const std::string& date);

/// Errors: more than 16 free input bits, a file that cannot be read, what oracles refuse, a --held or --leave-out that
/// names no port.
[[nodiscard]] Result<ProofAnswer> prove_project(const Snapshot& state, const ProofAsk& ask,
                                                const verification::GoOn& go_on = {});

}  // namespace kp
