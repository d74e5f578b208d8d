// SPDX-License-Identifier: GPL-3.0-or-later
// Two sets of constraints are compared value by value for how far their difference reaches: values of port delays,
// the ends of paths, or the structure of what arrives.
#include "core/timing/change.hpp"

#include <algorithm>
#include <tuple>

namespace kp::timing {

namespace {

bool same(const PathException::Point& a, const PathException::Point& b) {
    return std::tie(a.objects, a.rise, a.fall) == std::tie(b.objects, b.rise, b.fall);
}
bool same(const std::optional<PathException::Point>& a, const std::optional<PathException::Point>& b) {
    return a.has_value() == b.has_value() && (!a || same(*a, *b));
}
bool same(const std::vector<PathException::Point>& a, const std::vector<PathException::Point>& b) {
    return std::equal(a.begin(), a.end(), b.begin(), b.end(), [](const auto& x, const auto& y) { return same(x, y); });
}

bool same(const CaseValue& a, const CaseValue& b) {
    return std::tie(a.object, a.value) == std::tie(b.object, b.value);
}
bool same(const DisabledArcs& a, const DisabledArcs& b) {
    return std::tie(a.objects, a.cell_types, a.type_pins, a.from, a.to) ==
           std::tie(b.objects, b.cell_types, b.type_pins, b.from, b.to);
}
bool same(const ClockSense& a, const ClockSense& b) {
    return std::tie(a.pins, a.clocks, a.sense) == std::tie(b.pins, b.clocks, b.sense);
}
bool same(const Uncertainty& a, const Uncertainty& b) {
    return std::tie(a.objects, a.from, a.to, a.setup, a.hold, a.from_rise, a.from_fall, a.to_rise, a.to_fall,
                    a.value) ==
           std::tie(b.objects, b.from, b.to, b.setup, b.hold, b.from_rise, b.from_fall, b.to_rise, b.to_fall, b.value);
}
bool same(const ClockLatency& a, const ClockLatency& b) {
    return std::tie(a.objects, a.clocks, a.source, a.early, a.late, a.rise, a.fall, a.minimum, a.maximum, a.value) ==
           std::tie(b.objects, b.clocks, b.source, b.early, b.late, b.rise, b.fall, b.minimum, b.maximum, b.value);
}
bool same(const ClockGroups& a, const ClockGroups& b) {
    return a.groups == b.groups;
}
bool same(const ClockTransition& a, const ClockTransition& b) {
    return std::tie(a.clocks, a.rise, a.fall, a.minimum, a.maximum, a.value) ==
           std::tie(b.clocks, b.rise, b.fall, b.minimum, b.maximum, b.value);
}
bool same(const InputTransition& a, const InputTransition& b) {
    return std::tie(a.port, a.rise, a.fall, a.minimum, a.maximum, a.value) ==
           std::tie(b.port, b.rise, b.fall, b.minimum, b.maximum, b.value);
}
bool same(const Load& a, const Load& b) {
    return a.object == b.object && std::equal(&a.value[0][0], &a.value[0][0] + 4, &b.value[0][0]);
}
bool same(const Derate& a, const Derate& b) {
    return std::tie(a.early, a.late, a.cell, a.net, a.check, a.clock, a.data, a.rise, a.fall, a.value, a.objects,
                    a.cell_types) == std::tie(b.early, b.late, b.cell, b.net, b.check, b.clock, b.data, b.rise, b.fall,
                                              b.value, b.objects, b.cell_types);
}
bool same(const MinPulse& a, const MinPulse& b) {
    return std::tie(a.objects, a.high, a.low, a.value) == std::tie(b.objects, b.high, b.low, b.value);
}
bool same(const DataCheck& a, const DataCheck& b) {
    return same(a.from, b.from) && same(a.to, b.to) &&
           std::tie(a.setup, a.hold, a.value, a.clock) == std::tie(b.setup, b.hold, b.value, b.clock);
}
bool same(const DrivingCell& a, const DrivingCell& b) {
    return std::tie(a.port, a.cell, a.pin, a.from_pin, a.rise, a.fall, a.minimum, a.maximum) ==
               std::tie(b.port, b.cell, b.pin, b.from_pin, b.rise, b.fall, b.minimum, b.maximum) &&
           a.slew[0] == b.slew[0] && a.slew[1] == b.slew[1];
}
bool same(const PathException& a, const PathException& b) {
    return std::tie(a.kind, a.value, a.setup, a.hold, a.only_setup_given, a.start_given, a.end_given) ==
               std::tie(b.kind, b.value, b.setup, b.hold, b.only_setup_given, b.start_given, b.end_given) &&
           same(a.from, b.from) && same(a.to, b.to) && same(a.through, b.through);
}
/// Without period and edges.
bool same_place(const ClockDefinition& a, const ClockDefinition& b) {
    return std::tie(a.name, a.sources, a.generated, a.master, a.made_from, a.combinational) ==
               std::tie(b.name, b.sources, b.generated, b.master, b.made_from, b.combinational) &&
           a.made_by[0] == b.made_by[0] && a.made_by[1] == b.made_by[1] && a.waveform.size() == b.waveform.size();
}
bool same(const ClockDefinition& a, const ClockDefinition& b) {
    return same_place(a, b) && a.period == b.period && a.waveform == b.waveform;
}
/// Without the value.
bool same_place(const IoDelay& a, const IoDelay& b) {
    return std::tie(a.input, a.port, a.clock, a.clock_fall, a.early, a.late, a.rise, a.fall, a.source_latency_included,
                    a.network_latency_included) == std::tie(b.input, b.port, b.clock, b.clock_fall, b.early, b.late,
                                                            b.rise, b.fall, b.source_latency_included,
                                                            b.network_latency_included);
}

template <class T>
bool all_same(const std::vector<T>& a, const std::vector<T>& b) {
    return std::equal(a.begin(), a.end(), b.begin(), b.end(), [](const T& x, const T& y) { return same(x, y); });
}
template <class T>
bool all_same_place(const std::vector<T>& a, const std::vector<T>& b) {
    return std::equal(a.begin(), a.end(), b.begin(), b.end(), [](const T& x, const T& y) { return same_place(x, y); });
}

/// Arrivals carry it: it has a way through, or begins at named pins.
bool carried(const PathException& e) {
    return !e.through.empty() ||
           (e.from && std::any_of(e.from->objects.begin(), e.from->objects.end(),
                                  [](const ObjectRef& o) { return o.kind != ObjectKind::clock; }));
}
bool same_carried(const std::vector<PathException>& a, const std::vector<PathException>& b) {
    for (size_t i = 0; i < std::max(a.size(), b.size()); ++i) {
        const bool in_a = i < a.size() && carried(a[i]), in_b = i < b.size() && carried(b[i]);
        if (in_a != in_b || (in_a && (!same(a[i].from, b[i].from) || !same(a[i].through, b[i].through)))) return false;
    }
    return true;
}

}  // namespace

ConstraintChange compare(const Constraints& a, const Constraints& b) {
    ConstraintChange c;
    const bool structure = all_same_place(a.clocks, b.clocks) && all_same(a.cases, b.cases) &&
                           all_same(a.disabled, b.disabled) && all_same(a.senses, b.senses) &&
                           all_same_place(a.io_delays, b.io_delays) && same_carried(a.exceptions, b.exceptions);
    if (!structure) {
        c.reach = ConstraintChange::structure;
        c.delays = true;
        return c;
    }
    c.delays = !(all_same(a.loads, b.loads) && all_same(a.input_transitions, b.input_transitions) &&
                 all_same(a.driving_cells, b.driving_cells) && all_same(a.clock_transitions, b.clock_transitions) &&
                 all_same(a.derates, b.derates) && a.propagated == b.propagated);
    const bool ends = all_same(a.clocks, b.clocks) && all_same(a.latencies, b.latencies) &&
                      all_same(a.uncertainties, b.uncertainties) && all_same(a.groups, b.groups) &&
                      all_same(a.exceptions, b.exceptions) && all_same(a.data_checks, b.data_checks) &&
                      all_same(a.min_pulses, b.min_pulses) && !c.delays;
    for (std::uint32_t i = 0; i < a.io_delays.size(); ++i)
        if (a.io_delays[i].value != b.io_delays[i].value) c.io.push_back(i);
    c.reach = !ends ? ConstraintChange::ends : !c.io.empty() ? ConstraintChange::io_values : ConstraintChange::nothing;
    return c;
}

}  // namespace kp::timing
