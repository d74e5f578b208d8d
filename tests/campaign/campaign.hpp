// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "tests/campaign/model.hpp"

namespace kp::campaign {

/// What was done so far.
struct Figures {
    long faults = 0, crashes = 0, kills = 0, tears = 0, outside = 0, moves = 0, openings = 0, takeovers = 0;
};

// Each answers with what went wrong, with the seed that repeats it; empty when all promises were kept.
[[nodiscard]] std::string live_through_faults(std::uint64_t seed, Figures& figures);
[[nodiscard]] std::string torn_tails(std::uint64_t seed, Figures& figures);
[[nodiscard]] std::string outside_edits(std::uint64_t seed, Figures& figures);
[[nodiscard]] std::string changed_after_crash(std::uint64_t seed, Figures& figures);
/// A real process on a real disk, killed at a random moment.
[[nodiscard]] std::string kill_a_process(std::uint64_t seed, const std::string& folder, Figures& figures);
/// Two processes on one folder.
[[nodiscard]] std::string two_processes(std::uint64_t seed, const std::string& folder, Figures& figures);

}  // namespace kp::campaign
