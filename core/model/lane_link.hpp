// SPDX-License-Identifier: GPL-3.0-or-later
// What a design asks of lanes: one link of some width, protocol and rate.
#pragma once

#include <string>
#include <vector>

namespace kp {

struct LaneLink {
    /// Where its lanes come from: chosen and never moved, proposed, chosen but left out of account for a trial.
    enum class State { adrift, loose, pegged, off };
    std::string name, protocol;
    int lanes = 1;
    double gbps = 0;       ///< of each lane, Gbit/s
    double clock_mhz = 0;  ///< of its reference clock
    State state = State::adrift;
    std::vector<std::string> at;  ///< names of its lanes, in block order; empty when adrift
    bool operator==(const LaneLink&) const = default;
};

/// As a line of Project::links: fields with tabs between them. Names hold neither tabs nor line ends.
[[nodiscard]] std::string line_of(const LaneLink& link);
/// What line_of wrote; anything else gives a link with what could be read.
[[nodiscard]] LaneLink link_of(const std::string& line);

}  // namespace kp
