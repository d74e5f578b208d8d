// SPDX-License-Identifier: GPL-3.0-or-later
// Width and period from the arrivals of the clock's own edges; docs/timing.md, settled details.
#include "core/timing/pulses.hpp"

#include <algorithm>
#include <cmath>

namespace kp::timing {

namespace {

double demanded(const Constraints& k, const Netlist& n, std::uint32_t clock, NodeId pin, bool high) {
    double most = 0;
    for (const auto& m : k.min_pulses) {
        if (!(high ? m.high : m.low)) continue;
        const bool mine = m.objects.empty() || std::any_of(m.objects.begin(), m.objects.end(), [&](const ObjectRef& o) {
                              return (o.kind == ObjectKind::clock && o.id == clock) ||
                                     (o.kind == ObjectKind::pin && o.id == pin) ||
                                     (o.kind == ObjectKind::cell && o.id == n.pins[pin].cell);
                          });
        if (mine) most = std::max(most, m.value);
    }
    return most;
}

}  // namespace

std::vector<PulseSlack> check_pulses(const Graph& g, const Constraints& k, const Corner& corner, const ClockSet& clocks,
                                     const ClockTimes& times, bool credit) {
    std::vector<PulseSlack> out;
    std::vector<bool> clock_pin(g.pins, false);
    if (corner.pulse_limits.empty() && k.min_pulses.empty()) return out;
    for (ArcId a = 0; a < g.arcs(); ++a)
        if (g.way[a] == Way::launch) clock_pin[g.from[a]] = true;
    for (const auto& c : g.checks)
        if (!g.is_port(c.clock) && !c.asynchronous) clock_pin[c.clock] = true;
    for (const auto& l : corner.pulse_limits) clock_pin[l.pin] = true;
    std::vector<PulseLimit> limits(g.pins);
    for (const auto& l : corner.pulse_limits) {
        for (const int e : {0, 1}) limits[l.pin].width[e] = std::max(limits[l.pin].width[e], l.width[e]);
        limits[l.pin].period = std::max(limits[l.pin].period, l.period);
    }
    for (NodeId pin = 0; pin < g.pins; ++pin) {
        if (!clock_pin[pin]) continue;
        for (const auto& entry : clocks[pin]) {
            const auto& clock = k.clocks[entry.clock];
            if (!std::isfinite(entry.time[late][rise]) || !std::isfinite(entry.time[late][fall])) continue;
            const Latency at[2] = {times.at_pin(entry, pin, rise), times.at_pin(entry, pin, fall)};
            for (const bool high : {true, false}) {
                const double least =
                    std::max(limits[pin].width[high ? 0 : 1], demanded(k, *g.netlist, entry.clock, pin, high));
                if (least <= 0) continue;
                const int opening = high ? rise : fall, closing = 1 - opening;
                double width = clock.waveform[static_cast<size_t>(entry.clock_edge(closing))] -
                               clock.waveform[static_cast<size_t>(entry.clock_edge(opening))];
                if (width <= 0) width += clock.period;
                const double shared = std::min(at[rise].total(late) - at[rise].total(early),
                                               at[fall].total(late) - at[fall].total(early));
                out.push_back({false, pin, entry.clock, high,
                               width + at[closing].total(early) - at[opening].total(late) +
                                   (credit ? std::max(0.0, shared) : 0) - least});
            }
            if (limits[pin].period > 0)
                out.push_back({true, pin, entry.clock, true, clock.period - limits[pin].period});
        }
    }
    return out;
}

}  // namespace kp::timing
