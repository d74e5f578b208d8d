// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/timing/paths.hpp"

namespace kp::timing {

/// Fills `coverage` and `unconstrained` of the report: every endpoint is constrained, taken out on purpose, or untimed with
/// the reason and a command that would mend it; input ports and registers likewise.
void cover(Propagation& propagation, const CheckResult& checks, TimingReport& report);

}  // namespace kp::timing
