// SPDX-License-Identifier: GPL-3.0-or-later
// Two that drive against each other: what flows between them.
#pragma once

#include "core/board_sim/board_model.hpp"
#include "core/model/part.hpp"
#include "core/model/standards.hpp"

#include <string>

namespace kp::board_sim {

/// A current and what it was worked out from.
struct ConflictCurrent {
    std::string port, terminal;
    double volts = 0;                                     ///< of the supply that feeds the higher of the two
    double design_ohm = 0, series_ohm = 0, part_ohm = 0;  ///< of the pad, on the board, of the board part
    double ma = 0;
    bool assumed = false;  ///< the board part says nothing of itself: it is taken as a pad of the same standard, 8 mA
    [[nodiscard]] std::string sentence() const;
};

/// Resistance of an output while it drives: its level at its drive, VOL / I when low, (VIO - VOH) / I when high (Ohm;
/// the standards give both at the chosen drive).
[[nodiscard]] double output_ohm(const IoStandard& standard, int drive_ma, bool high);

/// Volts over all resistance between them, Ohm's law.
[[nodiscard]] ConflictCurrent current_of(const BoardModel& model, const BoardModel::Conflict& conflict,
                                         const Netlist& netlist, const Part& part, const StandardTable& standards,
                                         const std::map<std::string, PortAttributes>& attributes);

}  // namespace kp::board_sim
