// SPDX-License-Identifier: GPL-3.0-or-later
// Steps after placing that are taken only when asked for: each changes netlist and places, is timed before and after,
// and is taken back whole when it did not make things better.
#pragma once

#include "core/fabric/delays_out.hpp"
#include "core/fabric/netlist_change.hpp"
#include "core/model/constraints.hpp"
#include "core/model/timing_report.hpp"

#include <functional>
#include <optional>
#include <stop_token>
#include <string>
#include <vector>

namespace kp {
class TimingEngine;
}

namespace kp::build_flow {

struct StepFigures {
    CheckSummary setup, hold;
    long long wirelength = 0;
};

enum class StepOutcome : std::uint8_t { not_needed, not_possible, taken, taken_back };
/// "taken back", as JSON has it.
[[nodiscard]] const char* word_of(StepOutcome outcome);

struct StepEffect {
    std::string name;  ///< hold, duplicate
    StepOutcome state = StepOutcome::not_needed;
    std::string why;
    int cells = 0;  ///< that were added, or would have been
    StepFigures before, after;
};

/// What was done, how much it took, and the worst slacks before and after.
[[nodiscard]] std::string sentence_of(const StepEffect& effect);

/// What the steps look things up in. Constraints are those of the netlist as it was placed.
struct StepInput {
    const Library& library;
    const Part& part;
    const Constraints& constraints;
    const fabric::WireModel& model;
    std::stop_token stop;
};

/// Times a netlist as it is placed and lets `ask` question the engine, required times and all. False, and nothing was
/// asked, when it cannot be timed or was stopped.
bool ask_engine(const Netlist& netlist, const std::vector<fabric::Spot>& spots, const StepInput& in,
                const std::function<void(TimingEngine&)>& ask);

/// Delay before register inputs and outputs whose hold fails, from look-ups that pass their input on, never more than
/// the setup slack there allows. Kept when fewer endpoints fail hold and no more fail setup than before.
[[nodiscard]] StepEffect fix_hold(fabric::Placed& placed, const StepInput& in);

/// Registers with more than `most_loads` loads get copies, each for the loads of one neighbourhood; `place` then places
/// all again. Left alone: registers that take what another clock or a pad launches (two copies of a synchroniser can
/// settle differently), and those that an exception names. Kept when the worst setup slack grows.
[[nodiscard]] StepEffect duplicate_registers(
    fabric::Placed& placed, const StepInput& in, int most_loads,
    const std::function<std::optional<std::vector<fabric::Spot>>(const Netlist&)>& place);

}  // namespace kp::build_flow
