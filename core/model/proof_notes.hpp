// SPDX-License-Identifier: GPL-3.0-or-later
// What was proved at the bench, as the project keeps it: a line each, with what it was proved of.
#pragma once

#include "core/model/netlist.hpp"
#include "core/model/project.hpp"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace kp {

/// One record. Written as its texts with " | " between them, in this order, but for `open`, which comes last.
struct ProofNote {
    std::string date, who;
    std::string what;     ///< "all 128 combinations of gray, hold_n, zero_n"
    std::string against;  ///< "the source"
    size_t rows = 0, differ = 0;
    [[nodiscard]] bool proven() const { return differ == 0 && open == size_t{0}; }
    std::string of_pegs, of_design;  ///< digests of the pegs and of the netlist that were proved, hexadecimal
    std::optional<size_t> open{};    ///< outputs that were not proven; none: a record from before they were counted
};

/// Within texts, " | " and line ends become blanks.
[[nodiscard]] std::string to_line(const ProofNote& note);
/// None for a line that is not a record, such as one that was written by hand.
[[nodiscard]] std::optional<ProofNote> proof_note(std::string_view line);

/// What a record would say of the plan as it is now.
struct ProofState {
    std::string of_pegs, of_design;
};
/// Digest of what a netlist computes: cells, parameters, wires and ports, not names of files.
[[nodiscard]] std::string digest_of_netlist(const Netlist& netlist);
/// Digest of where every port is pegged.
[[nodiscard]] std::string digest_of_pegs(const PegMap& pegs);
[[nodiscard]] ProofState proof_state(const Netlist& netlist, const PegMap& pegs);
/// Why the record no longer holds, "the pegs changed since"; empty while it does.
[[nodiscard]] std::string why_stale(const ProofNote& note, const ProofState& now);
/// One line for reports: what, against what, how it came out, by whom and when, and whether it still holds.
[[nodiscard]] std::string sentence_of(const ProofNote& note, const ProofState& now);

}  // namespace kp
