// SPDX-License-Identifier: GPL-3.0-or-later
// The delay of a trace on a board, from the layer it runs in.
#pragma once

#include "core/model/board.hpp"

namespace kp {

/// Delay of a signal per mm of trace, ns. Stripline: sqrt(er) / c, the field lies wholly in the dielectric. Microstrip:
/// the effective permittivity of Hammerstad and Jensen, "Accurate Models for Microstrip Computer-Aided Design", IEEE
/// MTT-S 1980 (formulas from memory), er_eff = (er+1)/2 + (er-1)/2 * (1 + 10 h/w)^(-a b). 0 when the stack does not
/// say.
[[nodiscard]] double delay_per_mm(const Stack& stack);

/// Delay of one wire of a board, ns.
[[nodiscard]] inline double trace_delay(const Stack& stack, double mm) {
    return delay_per_mm(stack) * mm;
}

}  // namespace kp
