// SPDX-License-Identifier: GPL-3.0-or-later
// What starts at ports and registers: latency, port delay, edge.
#include "core/timing/sources.hpp"

#include <cmath>

namespace kp::timing {

Sources::Sources(const Graph& g, const Constraints& k, const Slots& slots, const Corner& corner, const ClockSet& clocks,
                 const ClockTimes& times)
    : g_(g), k_(k), slots_(slots), corner_(corner), clocks_(clocks), times_(times) {
    for (std::uint32_t i = 0; i < k.io_delays.size(); ++i)
        if (k.io_delays[i].input) delays_of_[g.input_node(k.io_delays[i].port)].push_back(i);
}

/// The delays of one port that make one start: against the same edge, and alike in what they say of the source latency.
bool Sources::makes(const IoDelay& d, const Start& s) const {
    const Tag& tag = slots_.tags[s.tag];
    return d.clock == tag.clock && (d.clock_fall ? fall : rise) == tag.clock_edge &&
           d.source_latency_included == !s.shares_source;
}

double Sources::port_latency(const IoDelay& d, int side) const {
    if (d.clock == no_id) return 0;
    const auto latency = times_.at_port(d.clock, d.clock_fall ? fall : rise);
    return (d.source_latency_included ? 0 : latency.source[side]) +
           (d.network_latency_included ? 0 : latency.network[side]);
}

double Sources::latency(const Start& s, int side) const {
    const Tag& tag = slots_.tags[s.tag];
    switch (s.kind) {
        case Start::launched: return times_.at_pin(clock_of(s, s.pin), s.pin, s.pin_edge).total(side);
        case Start::clock_edge: return times_.source(tag.clock, tag.clock_edge)[side];
        case Start::input_delay:
            for (const auto i : delays_of_.at(s.node))
                if (const auto& d = k_.io_delays[i]; makes(d, s) && (side == early ? d.early : d.late))
                    return port_latency(d, side);
            return 0;
        case Start::bare:
        case Start::borrowed: break;
    }
    return 0;
}

Lanes Sources::lanes(const Start& s) const {
    Lanes out;
    const Tag& tag = slots_.tags[s.tag];
    const auto has = [&](int e) { return s.edges >> e & 1; };
    switch (s.kind) {
        case Start::launched: {
            if (!std::isfinite(clock_of(s, s.pin).time[late][s.pin_edge])) return out;  // this edge never gets here
            const auto at = times_.at_pin(clock_of(s, s.pin), s.pin, s.pin_edge);
            for (const int side : {early, late})
                for (const int e : {rise, fall})
                    if (has(e) && g_.lets(s.arc, s.pin_edge, e))
                        out.set(side, e, at.total(side) + corner_.delays().at(s.arc, side, s.pin_edge, e));
            break;
        }
        case Start::input_delay:
            for (const auto i : delays_of_.at(s.node)) {
                const auto& d = k_.io_delays[i];
                if (!makes(d, s)) continue;
                for (const int side : {early, late})
                    for (const int e : {rise, fall}) {
                        if (!has(e) || !(e == rise ? d.rise : d.fall) || !(side == early ? d.early : d.late)) continue;
                        Lanes one;
                        one.set(side, e, port_latency(d, side) + d.value);
                        raise(out, one);
                    }
            }
            break;
        case Start::clock_edge:
            for (const int side : {early, late})
                out.set(side, s.pin_edge, times_.source(tag.clock, tag.clock_edge)[side]);
            break;
        case Start::bare:
            for (const int side : {early, late})
                for (const int e : {rise, fall})
                    if (has(e)) out.set(side, e, 0);
            break;
        case Start::borrowed: break;
    }
    return out;
}

LatchWindow Sources::window(const Start& s) const {
    LatchWindow w;
    const NodeId pin = g_.from[s.enable];
    const auto& c = clock_of(s, pin);
    const int opening = g_.launch_edge(s.enable);
    if (!std::isfinite(c.time[late][opening]) || !std::isfinite(c.time[late][1 - opening])) return w;
    const int open_edge = c.clock_edge(opening), close_edge = c.clock_edge(1 - opening);
    const auto& capture = k_.clocks[c.clock];
    double width = capture.waveform[static_cast<size_t>(close_edge)] - capture.waveform[static_cast<size_t>(open_edge)];
    if (width <= 0) width += capture.period;
    const Tag& from = slots_.tags[slots_.tag[s.from]];
    const auto r = relate(k_.clocks[from.clock], from.clock_edge, capture, close_edge);
    w.open = true;
    w.latest = width + times_.at_pin(c, pin, 1 - opening).total(early);
    w.waits = times_.at_pin(c, pin, opening).total(late);
    w.shift = r.setup.launch - (r.setup.capture - width);
    return w;
}

ClockTimes::WayId Sources::way(const Start& s, int side) const {
    if (!s.shares_source) return 0;
    const Tag& tag = slots_.tags[s.tag];
    if (s.clock_entry == no_id || s.kind == Start::borrowed)
        return tag.clock == no_id ? 0 : times_.way_to_port(tag.clock, tag.clock_edge);
    return times_.way(clock_of(s, s.pin), s.pin_edge, side);
}

}  // namespace kp::timing
