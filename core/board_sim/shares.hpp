// SPDX-License-Identifier: GPL-3.0-or-later
// How much of the time since the last look each wire of a part was active.
#pragma once

#include "core/board_sim/simulated_part.hpp"

namespace kp::board_sim {

class Shares {
public:
    explicit Shares(const SimulatedPart::Home& home) : home_(home), high_(home.part->terminals.size(), 0) {}
    /// By terminal, 0 to 1; what stands now where no time has passed.
    [[nodiscard]] std::vector<double> take();

private:
    SimulatedPart::Home home_;
    std::vector<Time> high_;
    Time last_ = 0;
};

}  // namespace kp::board_sim
