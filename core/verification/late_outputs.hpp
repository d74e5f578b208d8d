// SPDX-License-Identifier: GPL-3.0-or-later
// What a run on the board cannot be trusted to show: the simulated board has no delays, so a register that misses setup
// or hold by the timing of the design is told by that, with everything that hangs on it.
#pragma once

#include "core/design/connections.hpp"
#include "core/model/board.hpp"
#include "core/model/project.hpp"
#include "core/model/timing_report.hpp"

#include <map>
#include <string>
#include <vector>

namespace kp::verification {

/// A register whose data come too late or go too early.
struct LateRegister {
    std::string endpoint, check;
    double slack = 0;                    ///< ns, below 0
    std::uint32_t data = 0;              ///< net that it takes its data from
    std::vector<std::string> terminals;  ///< of the board, which show what hangs on it and on no worse one
};

/// Registers that fail a setup, hold, recovery or removal check, the worst first, each once; and through logic and
/// further registers what they reach. Linear in the netlist, however many there are.
[[nodiscard]] std::vector<LateRegister> late_registers(const design::Connections& design, const NetlistIndex& index,
                                                       const TimingReport& report, const Board& board,
                                                       const PegMap& pegs);

/// "setup is missed at count_reg/D by 0.412 ns and at 2 more: what D1.a and D1.b show is not to be trusted". Empty
/// without any.
[[nodiscard]] std::string sentence_of(const std::vector<LateRegister>& late);

}  // namespace kp::verification
