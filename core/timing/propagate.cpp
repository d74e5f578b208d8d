// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/timing/propagate.hpp"

#include <algorithm>
#include <cmath>

namespace kp::timing {

TagId Propagation::intern(const Tag& tag) {
    const auto [it, fresh] = ids_.emplace(tag, static_cast<TagId>(tags.size()));
    if (fresh) tags.push_back(tag);
    return it->second;
}

TagId Propagation::passed(TagId tag, NodeId node, int edge) {
    if (!exceptions.matters(node)) return tag;
    Tag t = tags[tag];
    t.state = exceptions.advance(t.state, node, edge);
    return intern(t);
}

void Propagation::merge(NodeId node, TagId tag, int edge, double early_time, double late_time) {
    auto& list = at[node];
    auto it = std::find_if(list.begin(), list.end(), [&](const Arrival& a) { return a.tag == tag; });
    if (it == list.end()) it = list.insert(list.end(), {tag, {{never_early, never_early}, {never_late, never_late}}});
    it->time[early][edge] = std::min(it->time[early][edge], early_time);
    it->time[late][edge] = std::max(it->time[late][edge], late_time);
}

void Propagation::add_start(Start s, std::uint32_t clock, int clock_edge) {
    // Two data edges may be in different states (-rise_from); each makes a start of its own then.
    TagId tag_of[2];
    for (const int e : {rise, fall}) {
        const int start_edge = s.arc == no_id ? e : s.pin_edge;
        auto state = exceptions.start(s.pin, start_edge);
        if (s.node != s.pin) state = exceptions.advance(state, s.node, e);
        tag_of[e] = intern({clock, clock_edge, state});
    }
    any_unshared |= !s.shares_source;
    const auto keep = [&](const Start& one) {
        starts_at[one.node].push_back(static_cast<std::uint32_t>(starts.size()));
        starts.push_back(one);
        for (const int e : {rise, fall})
            if (one.time[late][e] != never_late || one.time[early][e] != never_early) merge(one.node, one.tag, e, one.time[early][e], one.time[late][e]);
    };
    s.tag = tag_of[rise];
    if (tag_of[rise] == tag_of[fall]) return keep(s);
    for (const int e : {rise, fall}) {
        Start half = s;
        half.tag = tag_of[e];
        half.time[early][1 - e] = never_early;
        half.time[late][1 - e] = never_late;
        keep(half);
    }
}

/// Every launching arc of a register whose clock pin a clock reaches.
void Propagation::start_registers() {
    for (ArcId i = 0; i < g.arcs.size(); ++i) {
        const auto& a = g.arcs[i];
        if (a.kind != Arc::launch) continue;
        const int pin_edge = a.library->kind == ArcKind::rising_edge ? rise : fall;
        if (g.cut[i]) continue;
        for (std::uint32_t k = 0; k < clocks_at[a.from].size(); ++k) {
            const auto& c = clocks_at[a.from][k];
            if (!std::isfinite(c.time[late][pin_edge])) continue;  // this edge never gets here
            const int clock_edge = c.clock_edge(pin_edge);
            const auto latency = times.at_pin(c, a.from, pin_edge);
            Start s;
            s.node = a.to, s.pin = a.from, s.arc = i, s.pin_edge = pin_edge, s.clock_entry = k;
            for (const int side : {early, late}) {
                s.offset[side] = s.latency[side] = latency.total(side);
                for (const int e : {rise, fall}) s.time[side][e] = s.offset[side] + a.delay[side][pin_edge][e];
            }
            add_start(s, c.clock, clock_edge);
        }
    }
}

/// Input ports: by their input delays, as a clock's own source, or with no clock at all.
void Propagation::start_ports() {
    const auto& ports = g.netlist->ports;
    for (std::uint32_t p = 0; p < ports.size(); ++p) {
        if (ports[p].direction == Direction::out) continue;
        const NodeId node = g.input_node(p);
        bool any = false;
        std::map<std::pair<std::uint32_t, int>, Start> by_edge;
        for (const auto& d : constraints.io_delays) {
            if (!d.input || d.port != p) continue;
            any = true;
            const int clock_edge = d.clock_fall ? fall : rise;
            const auto [it, fresh] = by_edge.try_emplace({d.clock, clock_edge});
            auto& s = it->second;
            const auto latency = d.clock == no_id ? Latency{} : times.at_port(d.clock, clock_edge, node);
            if (fresh) {
                s.node = s.pin = node, s.input_delay = true, s.shares_source = !d.source_latency_included;
                for (const int e : {rise, fall}) s.time[early][e] = never_early, s.time[late][e] = never_late;
                for (const int side : {early, late})
                    s.latency[side] = (d.source_latency_included ? 0 : latency.source[side]) + (d.network_latency_included ? 0 : latency.network[side]);
            }
            for (const int side : {early, late}) {
                if (!(side == early ? d.early : d.late)) continue;
                const double time = s.latency[side] + d.value;
                for (const int e : {rise, fall}) {
                    if (!(e == rise ? d.rise : d.fall)) continue;
                    s.time[side][e] = side == early ? std::min(s.time[side][e], time) : std::max(s.time[side][e], time);
                }
                s.offset[side] = time;
            }
        }
        for (const auto& [key, s] : by_edge) add_start(s, key.first, key.second);
        any |= !clocks_at[node].empty();  // a clock used as data: its own edges arrive
        clock_as_data(node);
        if (any) continue;
        Start s;
        s.node = s.pin = node;
        for (const int side : {early, late}) {
            s.offset[side] = s.latency[side] = 0;
            s.time[side][rise] = s.time[side][fall] = 0;
        }
        add_start(s, no_id, rise);
    }
}

/// The edges of a clock as data, from its source on; the way they take is that of data.
void Propagation::clock_as_data(NodeId node) {
    for (std::uint32_t k = 0; k < clocks_at[node].size(); ++k) {
        const auto& c = clocks_at[node][k];
        for (const int edge : {rise, fall}) {
            Start s;
            s.node = s.pin = node, s.pin_edge = edge, s.clock_entry = k;
            const auto& latency = times.source(c.clock, c.clock_edge(edge));
            for (const int side : {early, late}) {
                s.offset[side] = s.latency[side] = latency[side];
                s.time[side][edge] = s.offset[side];
                s.time[side][1 - edge] = side == early ? never_early : never_late;
            }
            add_start(s, c.clock, c.clock_edge(edge));
        }
    }
}

/// Clocks that are defined on pins inside start there as data too.
void Propagation::start_inner_clocks() {
    std::vector<bool> done(g.nodes, false);
    for (const auto& c : constraints.clocks)
        for (const auto& o : c.sources)
            if (o.kind == ObjectKind::pin && !done[o.id]) {
                done[o.id] = true;
                clock_as_data(o.id);
            }
}

/// Data that pass an open latch go on from it as if its opening edge had launched them, later by what they came behind it:
/// time at the output = max(opening latency + enable to output, arrival - opening edge + data to output), the arrival no
/// later than the closing edge lets it be. What comes before the opening waits for it.
void Propagation::through_latch(ArcId id) {
    const auto& a = g.arcs[id];
    const auto& n = *g.netlist;
    for (const auto i : enables_[n.pins[a.to].cell]) {
        const auto& enable = g.arcs[i];
        if (g.cut[i] || enable.to != a.to) continue;
        const int opening = enable.library->kind == ArcKind::rising_edge ? rise : fall;
        for (std::uint32_t k = 0; k < clocks_at[enable.from].size(); ++k) {
            const auto& c = clocks_at[enable.from][k];
            if (!std::isfinite(c.time[late][opening]) || !std::isfinite(c.time[late][1 - opening])) continue;
            const int open_edge = c.clock_edge(opening), close_edge = c.clock_edge(1 - opening);
            const auto& capture = constraints.clocks[c.clock];
            double width = capture.waveform[static_cast<size_t>(close_edge)] - capture.waveform[static_cast<size_t>(open_edge)];
            if (width <= 0) width += capture.period;
            const double latest = width + times.at_pin(c, enable.from, 1 - opening).total(early);
            for (size_t t = 0; t < at[a.from].size(); ++t) {
                const Arrival from = at[a.from][t];
                const auto tag = tags[from.tag];
                if (tag.clock == no_id) continue;
                const auto r = relate(constraints.clocks[tag.clock], tag.clock_edge, capture, close_edge);
                const double shift = r.setup.launch - (r.setup.capture - width);  // launch edge, seen from the opening one
                for (const int in : {rise, fall})
                    for (const int out : {rise, fall}) {
                        if (std::isnan(a.delay[late][in][out]) || from.time[late][in] == never_late) continue;
                        const double behind = std::min(from.time[late][in] + shift, latest);
                        Start s;
                        s.node = a.to, s.pin = a.from, s.arc = id, s.pin_edge = in, s.clock_entry = no_id, s.shares_source = false, s.borrowed = true;
                        const double waits = times.at_pin(c, enable.from, opening).total(late);
                        if (behind <= waits) continue;  // it was there before: the enable's own start counts
                        for (const int side : {early, late}) {
                            s.offset[side] = s.latency[side] = behind;
                            s.time[side][rise] = s.time[side][fall] = side == early ? never_early : never_late;
                        }
                        s.time[late][out] = behind + a.delay[late][in][out];
                        add_start(s, c.clock, open_edge);
                    }
            }
        }
    }
}

bool Propagation::run(const std::stop_token& stop) {
    at.assign(g.nodes, {});
    starts_at.assign(g.nodes, {});
    start_registers();
    start_ports();
    start_inner_clocks();
    enables_.clear();
    for (ArcId i = 0; i < g.arcs.size(); ++i)
        if (g.arcs[i].kind == Arc::launch && g.cell_of(g.arcs[i].from)->latch) enables_[g.netlist->pins[g.arcs[i].from].cell].push_back(i);
    size_t since = 0;
    for (const auto node : g.order) {
        if (++since % 4096 == 0 && stop.stop_requested()) return false;
        for (auto i = g.fanout_start[node]; i < g.fanout_start[node + 1]; ++i) {
            const auto& a = g.arcs[g.fanout[i]];
            if (g.cut[g.fanout[i]] || a.kind == Arc::launch) continue;
            if (a.kind == Arc::through) {
                through_latch(g.fanout[i]);
                continue;
            }
            for (size_t k = 0; k < at[node].size(); ++k) {
                const Arrival from = at[node][k];
                for (const int in : {rise, fall})
                    for (const int out : {rise, fall}) {
                        if (std::isnan(a.delay[late][in][out])) continue;
                        const double e = from.time[early][in] + a.delay[early][in][out], l = from.time[late][in] + a.delay[late][in][out];
                        if (e != never_early || l != never_late) merge(a.to, passed(from.tag, a.to, out), out, e, l);
                    }
            }
        }
    }
    return true;
}

}  // namespace kp::timing
