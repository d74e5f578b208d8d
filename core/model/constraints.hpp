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
    double value = 0;
    CommandSpan span;
};

struct ClockLatency {
    ObjectSet objects;
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
    double value = 0;  ///< pF
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
    std::vector<CommandRecord> commands;
    std::vector<Message> messages;  ///< all findings of the text, in order of place

    [[nodiscard]] std::uint32_t clock(const std::string& name) const {
        for (std::uint32_t i = 0; i < clocks.size(); ++i)
            if (clocks[i].name == name) return i;
        return no_id;
    }
};

}  // namespace kp
