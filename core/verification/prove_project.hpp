// SPDX-License-Identifier: GPL-3.0-or-later
// A project proved at the simulated bench: what is given, against what, and how it came out. The window and kpeg ask
// the same.
#pragma once

#include "core/verification/proof.hpp"
#include "core/session/snapshot.hpp"

namespace kp {

struct ProofAsk {
    enum Given : std::uint8_t { combinations, vectors, doings } given = combinations;
    enum Against : std::uint8_t { names, simulation, source, formula, file } against = names;
    std::vector<std::string> parts;  ///< of the board, by ref; empty: all keys, rockers, vanes and headers
    std::string vectors_text, vectors_file;
    std::string formula_text;
    std::vector<std::string> sources;  ///< HDL, paths; empty: those of the project
    board_sim::Time each = board_sim::microsecond, before = 0;
    std::vector<verification::Doing> done;  ///< what a hand did, and until when
    board_sim::Time end = 0;
};

struct ProofAnswer {
    verification::Proof proof;
    std::string what;  ///< "all 32 combinations of gray"
    std::vector<verification::Crossed> crossed;
    /// Of the first difference: the output bit (terminal and port), and what it hangs on.
    std::string terminal, port;
    verification::Cone cone;
};

/// Errors: nothing to set or to read, a file that cannot be read, what oracles refuse; a PLL keeps its rate only on the
/// board, so simulation and source are refused for a design that has one.
[[nodiscard]] Result<ProofAnswer> prove_project(const Snapshot& state, const ProofAsk& ask,
                                                const verification::GoOn& go_on = {});

/// The pegs that names of ports and terminals ask for, whatever the plan says.
[[nodiscard]] PegMap pegs_by_name(const World& world);

}  // namespace kp
