// SPDX-License-Identifier: GPL-3.0-or-later
// A netlist made ready to be simulated: what each cell computes, who listens to whom, and how long it takes.
#pragma once

#include "core/base/result.hpp"
#include "core/simulation/four_values.hpp"
#include "core/model/delays.hpp"
#include "core/model/library.hpp"
#include "core/model/netlist.hpp"

#include <map>
#include <string>
#include <vector>

namespace kp::simulation {

/// Time in femtoseconds: decimals of a picosecond add up without rounding.
using Time = std::int64_t;
[[nodiscard]] Time time_of(double ns);
[[nodiscard]] double ns_of(Time t);

/// A path through a cell, rise and fall of the output.
struct PathDelay {
    std::uint32_t input = 0;  ///< position among the inputs of the cell
    char edge = 0;            ///< of the input: 'p', 'n', 0 both
    Time rise = 0, fall = 0;
};

struct CheckLimit {
    std::uint32_t data = 0, clock = 0;  ///< positions among the inputs of the cell
    char edge = 0;                      ///< of the clock
    Time setup = 0, hold = 0;
};

struct MemoryPlan {
    std::vector<std::uint16_t> address, data;  ///< inputs (of a read: outputs), lowest bit first
    Function clock, enable;
};

/// What all instances of a cell type share.
struct CellPlan {
    const LibraryCell* cell = nullptr;
    std::vector<std::uint32_t> inputs, outputs;  ///< pins of the cell; an inout is both
    struct Output {
        Function value, off;
        std::vector<std::uint16_t> listens;  ///< inputs it depends on without a clock
    };
    std::vector<Output> out;
    Function clock, next, clear, preset;
    bool state = false, latch = false, look = false;
    char both = 'X', both_n = 'X';  ///< of state and its opposite while clear and preset are active; see LibraryCell
    std::vector<MemoryPlan> writes, reads;
};

struct CellInstance {
    std::uint32_t plan = 0, first_input = 0, first_output = 0;
    std::uint32_t state = no_id;  ///< position among the states
    std::uint32_t memory = no_id;
    std::uint64_t table = 0;
    std::uint32_t level = 0;  ///< of logic: behind all it listens to; registers and memories: 0
    Bit start = Bit::x;
};

struct Circuit {
    const Netlist* netlist = nullptr;
    std::vector<CellPlan> plans;
    std::vector<CellInstance> cells;
    std::vector<std::uint32_t> input_net, input_cell;    ///< by input pin; no_id: open
    std::vector<std::uint32_t> output_net, output_cell;  ///< by output pin
    struct WireDelay {
        Time rise = 0, fall = 0;
    };
    std::vector<WireDelay> port_wire;                  ///< to each port that shows something
    std::vector<WireDelay> wire;                       ///< to each input pin
    std::vector<std::uint32_t> sink_start, sinks;      ///< input pins by net
    std::vector<std::uint32_t> driver_start, drivers;  ///< output pins by net
    std::vector<std::uint32_t> path_start;             ///< by output pin
    std::vector<PathDelay> paths;
    std::vector<std::vector<CheckLimit>> checks;  ///< by cell; empty without delays
    std::uint32_t states = 0, levels = 0;
    bool has_registers = false, has_delays = false;

    /// Errors: a cell that is not known or whose function is not, a look-up table that cannot be read; each names the
    /// instance.
    [[nodiscard]] static Result<Circuit> of(const Netlist& netlist, const Library& library);
    /// Puts the entries of a delay file on paths and wires (typical, else maximum, else minimum). Notes: entries for
    /// what is not there.
    [[nodiscard]] std::vector<Message> annotate(const DelayFile& delays);
};

}  // namespace kp::simulation
