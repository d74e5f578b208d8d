// SPDX-License-Identifier: GPL-3.0-or-later
// What the design does with each port.
#pragma once

#include "core/design/clock_nets.hpp"
#include "core/design/facts.hpp"

namespace kp::design {

/// What hangs behind port `port`.
[[nodiscard]] PortFacts facts_of(const Connections& connections, const ClockNets& clocks, std::uint32_t port);
/// The PLLs of the design: cells whose library names them a "pll".
[[nodiscard]] std::vector<PllFacts> plls_of(const Connections& connections, const ClockNets& clocks,
                                            const Constraints& constraints);

}  // namespace kp::design
