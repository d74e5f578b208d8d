// SPDX-License-Identifier: GPL-3.0-or-later
// Which of the legal places are good: cheapest assignment, bank by bank as the solver left them.
#pragma once

#include "core/pin_placement/feasible.hpp"

#include <vector>

namespace kp::pin_placement {

struct Ordered {
    std::vector<int> place;  ///< per unit: position among the places of its kind; -1: it does not count
    long long cost = 0, bound = 0;
};

/// `config` is one for which everything fits. Cost of a unit on a pin: steps along the package from the pin where its
/// bus would lie in order, and a price for pins that others may want (clocks, strobes, configuration, references) and
/// for moving a loose peg. The bound is the cheapest assignment when banks, bytes and pairs could be anything.
[[nodiscard]] Ordered in_order(const Problem& problem, const Configuration& config, const std::vector<bool>& active,
                               unsigned seed);

}  // namespace kp::pin_placement
