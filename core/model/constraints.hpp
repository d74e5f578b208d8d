// SPDX-License-Identifier: GPL-3.0-or-later
// What the constraint text says, object by object, each with the command it came from. Times in ns.
#pragma once

#include "core/base/result.hpp"
#include "core/model/netlist.hpp"

#include <map>
#include <optional>
#include <string>
#include <vector>

namespace kp {

enum class ObjectKind : std::uint8_t { port, pin, cell, net, clock };
struct ObjectRef {
    ObjectKind kind = ObjectKind::port;
    std::uint32_t id = 0;
    auto operator<=>(const ObjectRef&) const = default;
};
using ObjectSet = std::vector<ObjectRef>;

/// Where a command stands: byte span in one of the files.
struct CommandSpan {
    int file = 0;
    size_t begin = 0, end = 0;
    int line = 0;
    bool operator==(const CommandSpan&) const = default;
};

struct ClockDefinition {
    std::string name;
    double period = 0;
    std::vector<double> waveform;  ///< rise, fall, … within one period
    ObjectSet sources;
    bool generated = false;
    std::string master;
    ObjectRef made_from;         ///< of a generated clock: its -source
    int made_by[2] = {0, 1};     ///< which edge of the master (0 rise, 1 fall) makes its rise and its fall
    bool combinational = false;  ///< only ways without a register lead from the master
    CommandSpan span;
};

struct IoDelay {
    bool input = true;
    std::uint32_t port = 0;
    std::uint32_t clock = no_id;  ///< no_id: no clock given
    bool clock_fall = false;
    bool early = true, late = true;  ///< -min, -max; both when neither is said
    bool rise = true, fall = true;
    double value = 0;
    bool add = false;
    bool source_latency_included = false, network_latency_included = false;
    CommandSpan span;
};

struct PathException {
    enum Kind { false_path, max_delay, min_delay, multicycle } kind = false_path;
    double value = 0;  ///< ns, or cycles
    bool setup = true, hold = true;
    bool only_setup_given = false;  ///< neither -setup nor -hold on a multicycle: setup N, hold 0
    bool start_given = false, end_given = false;
    struct Point {
        ObjectSet objects;
        bool rise = true, fall = true;
    };
    std::optional<Point> from, to;
    std::vector<Point> through;
    CommandSpan span;
};

struct Uncertainty {
    ObjectSet objects;                    ///< clocks, ports or pins
    std::vector<std::uint32_t> from, to;  ///< inter-clock
    bool setup = true, hold = true;
    bool from_rise = true, from_fall = true, to_rise = true,
         to_fall = true;  ///< edges of the clocks; `to` also of what is captured without -from
    double value = 0;
    CommandSpan span;
};

struct ClockLatency {
    ObjectSet objects;
    std::vector<std::uint32_t> clocks;  ///< of latencies on ports and pins: only these; empty: all
    bool source = false, early = true, late = true, rise = true, fall = true, minimum = true, maximum = true;
    double value = 0;
    CommandSpan span;
};

struct ClockGroups {
    std::vector<std::vector<std::uint32_t>> groups;
    CommandSpan span;
};

struct ClockTransition {
    std::vector<std::uint32_t> clocks;
    bool rise = true, fall = true, minimum = true, maximum = true;
    double value = 0;
};

struct InputTransition {
    std::uint32_t port = 0;
    bool rise = true, fall = true, minimum = true, maximum = true;
    double value = 0;
};

struct Load {
    ObjectRef object;
    double value[2][2] = {{0, 0}, {0, 0}};  ///< pF, by side (early, late) and edge (rise, fall)
};

/// A pin or port that keeps a level, or only moves one way.
struct CaseValue {
    ObjectRef object;
    enum Value : std::uint8_t { zero, one, rising, falling } value = zero;
};

/// Arcs that are not timed: all at a pin or port; of a cell, or of all cells of a type, those between two pins when
/// they are named.
struct DisabledArcs {
    ObjectSet objects;
    std::vector<std::string> cell_types, type_pins;  ///< "TYPE", and "TYPE/PIN"
    std::string from, to;
};

/// A factor on delays or checks.
struct Derate {
    bool early = true, late = true, cell = true, net = true, check = false, clock = true, data = true, rise = true,
         fall = true;
    double value = 1;
    ObjectSet objects;  ///< cells or nets; empty: all
    std::vector<std::string> cell_types;
};

struct MinPulse {
    ObjectSet objects;  ///< clocks, pins, cells; empty: all
    bool high = true, low = true;
    double value = 0;
};

/// A check of one data pin against another.
struct DataCheck {
    PathException::Point from, to;
    bool setup = true, hold = true;
    double value = 0;
    std::uint32_t clock = no_id;
};

/// Which sense of clocks passes a pin.
struct ClockSense {
    ObjectSet pins;
    std::vector<std::uint32_t> clocks;  ///< empty: all
    enum Sense : std::uint8_t { positive, negative, stop } sense = positive;
};

/// The library cell that drives an input port.
struct DrivingCell {
    std::uint32_t port = 0;
    std::string cell, pin, from_pin;
    double slew[2] = {0, 0};  ///< at its input, rise and fall
    bool rise = true, fall = true, minimum = true, maximum = true;
};

/// One command of the text, as a list for the screen: what it was and what it matched.
struct CommandRecord {
    std::string name;
    CommandSpan span;
    bool understood = true;
};

struct Constraints {
    std::vector<std::string> files;
    std::vector<ClockDefinition> clocks;
    std::vector<IoDelay> io_delays;
    std::vector<PathException> exceptions;
    std::vector<Uncertainty> uncertainties;
    std::vector<ClockLatency> latencies;
    std::vector<ClockGroups> groups;
    std::vector<ClockTransition> clock_transitions;
    std::vector<InputTransition> input_transitions;
    std::vector<Load> loads;
    ObjectSet propagated;  ///< clocks, ports and pins of set_propagated_clock
    std::vector<CaseValue> cases;
    std::vector<DisabledArcs> disabled;
    std::vector<Derate> derates;
    std::vector<MinPulse> min_pulses;
    std::vector<DataCheck> data_checks;
    std::vector<ClockSense> senses;
    std::vector<DrivingCell> driving_cells;
    std::vector<CommandRecord> commands;
    std::vector<Message> messages;  ///< all findings of the text, in order of place

    [[nodiscard]] std::uint32_t clock(const std::string& name) const {
        for (std::uint32_t i = 0; i < clocks.size(); ++i)
            if (clocks[i].name == name) return i;
        return no_id;
    }
};

}  // namespace kp
