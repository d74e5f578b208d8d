// SPDX-License-Identifier: GPL-3.0-or-later
// Places that follow from what ports are for, where neither hand nor names say one: a reset on the only key called
// reset, a row of lamps on the only row of as many lamps.
#pragma once

#include "core/planning/place.hpp"

#include <vector>

namespace kp {

/// For the ports that `used` does not have: those of one role and direction, scalars alone or one bus, take the free
/// terminals of the board parts of that kind, when there are exactly as many of them, all of one part or all of a kind
/// with one terminal each; in natural order. A reset takes the only free key, rocker or header terminal that is called
/// so. Ports and pins of `used` are left alone.
[[nodiscard]] std::vector<NameMatch> by_role(const std::vector<Port>& ports, const Board& board, const Project& project,
                                             const PegMap& used);

}  // namespace kp
