// SPDX-License-Identifier: GPL-3.0-or-later
// The second opinion: every way of every clock, latencies, and what two ways share.
#include "tests/timing/reference.hpp"

#include <algorithm>
#include <cmath>
#include <functional>
#include <limits>

namespace kp::test {

bool Reference::is_source(int node) const {
    for (const auto& c : k_.clocks)
        for (const auto& o : c.sources)
            if (node_of(o) == node) return true;
    return false;
}

void Reference::clock_ways() {
    ways_.assign(value_.size(), {});
    for (int c = 0; c < static_cast<int>(k_.clocks.size()); ++c)
        for (const auto& o : k_.clocks[static_cast<size_t>(c)].sources)
            for (const Edge e : {0, 1}) {
                std::vector<Place> steps{{node_of(o), e, {0, 0}}};
                walk_clock(c, e, steps, 0, 0);
            }
}

/// Depth first; each node keeps the earliest and the latest way of each clock edge to each of its edges.
void Reference::walk_clock(int clock, Edge clock_edge, std::vector<Place>& steps, double early, double late) {
    const auto here = steps.back();
    Way* way = nullptr;
    for (auto& w : ways_[static_cast<size_t>(here.node)])
        if (w.clock == clock && w.clock_edge == clock_edge && w.edge == here.edge) way = &w;
    if (!way)
        way = &ways_[static_cast<size_t>(here.node)].emplace_back(Way{clock, clock_edge, here.edge, {1e30, -1e30}, {}});
    const double now[2] = {early, late};
    for (const int side : {0, 1})
        if (side == 0 ? now[side] < way->time[side] : now[side] > way->time[side]) {
            way->time[side] = now[side];
            way->steps[side] = steps;
        }
    for (const int i : leaving_[static_cast<size_t>(here.node)]) {
        const auto& a = arcs_[static_cast<size_t>(i)];
        if (a.launch || is_source(a.to)) continue;
        for (const Edge out : {0, 1}) {
            if (!a.pass[here.edge][out]) continue;
            bool stopped = false;
            for (const auto& s : k_.senses) {
                const bool mine = s.clocks.empty() || std::find(s.clocks.begin(), s.clocks.end(),
                                                                static_cast<std::uint32_t>(clock)) != s.clocks.end();
                for (const auto& o : s.pins)
                    if (mine && node_of(o) == a.to)
                        stopped |=
                            s.sense == ClockSense::stop || (s.sense == ClockSense::negative) != (clock_edge != out);
            }
            if (stopped) continue;
            steps.push_back({a.to, out, {0, 0}});
            walk_clock(clock, clock_edge, steps, early + delay(a, 0, here.edge, out, true),
                       late + delay(a, 1, here.edge, out, true));
            steps.pop_back();
        }
    }
}

void Reference::find_source(int c) {
    if (source_state_[static_cast<size_t>(c)]) return;
    source_state_[static_cast<size_t>(c)] = 1;
    const auto& clock = k_.clocks[static_cast<size_t>(c)];
    auto& s = sources_[static_cast<size_t>(c)];
    const int master = clock.generated ? static_cast<int>(k_.clock(clock.master)) : -1;
    if (master >= 0) find_source(master);
    bool own = false;
    for (const auto& l : k_.latencies)
        for (const auto& o : l.objects) {
            const bool mine = (o.kind == ObjectKind::clock && static_cast<int>(o.id) == c) ||
                              std::find(clock.sources.begin(), clock.sources.end(), o) != clock.sources.end();
            const bool for_clock = l.clocks.empty() || std::find(l.clocks.begin(), l.clocks.end(),
                                                                 static_cast<std::uint32_t>(c)) != l.clocks.end();
            if (!mine || !for_clock) continue;
            if (!l.source && o.kind == ObjectKind::clock && !propagated_[static_cast<size_t>(c)] && clock.generated)
                own = true;
            if (!l.source) continue;
            own = true;
            for (const Edge e : {0, 1}) {
                if (!(e == 0 ? l.rise : l.fall)) continue;
                if (l.early && l.minimum) s.time[e][0] = l.value;
                if (l.late && l.maximum) s.time[e][1] = l.value;
            }
        }
    const int place = clock.sources.empty() ? -100 - c : node_of(clock.sources[0]);
    for (const Edge e : {0, 1}) {
        s.root[e] = c;
        for (const int side : {0, 1})
            s.steps[e][side] = {{place, e, {s.time[e][0], s.time[e][1]}, std::to_string(place)}};
    }
    if (master >= 0 && !own) generated_source(c, master);
}

void Reference::generated_source(int c, int master) {
    const auto& clock = k_.clocks[static_cast<size_t>(c)];
    auto& s = sources_[static_cast<size_t>(c)];
    const auto& m = sources_[static_cast<size_t>(master)];
    for (const Edge e : {0, 1}) {
        const Edge by = clock.made_by[e];
        s.root[e] = m.root[by];
        for (const int side : {0, 1}) {
            s.time[e][side] = m.time[by][side];
            s.steps[e][side] = m.steps[by][side];
        }
        if (!propagated_[static_cast<size_t>(c)]) continue;
        // It starts from its master's latency, propagated or ideal.
        double base[2] = {m.time[by][0], m.time[by][1]};
        for (const int side : {0, 1}) {
            if (!propagated_[static_cast<size_t>(master)]) base[side] += ideal_network(master, by, side, -1);
            s.time[e][side] = base[side];
        }
        // Every way from the master's source to this clock's, registers included; times at each place are those over
        // all ways.
        const int goal = node_of(clock.sources[0]);
        std::map<std::pair<int, Edge>, std::pair<double, double>> at;
        double best[2] = {1e30, -1e30};
        std::vector<Place> way[2];
        std::vector<Place> steps;
        const std::function<void(int, Edge, double, double)> go = [&](int node, Edge edge, double early, double late) {
            steps.push_back({node, edge, {0, 0}});
            auto& t = at.try_emplace({node, edge}, 1e30, -1e30).first->second;
            t.first = std::min(t.first, early);
            t.second = std::max(t.second, late);
            if (node == goal) {
                if (edge == e && early < best[0]) {
                    best[0] = early;
                    way[0] = steps;
                }
                if (edge == e && late > best[1]) {
                    best[1] = late;
                    way[1] = steps;
                }
            } else {
                for (const int i : leaving_[static_cast<size_t>(node)]) {
                    const auto& a = arcs_[static_cast<size_t>(i)];
                    if (a.launch && clock.combinational) continue;
                    bool back = false;
                    for (const auto& o : k_.clocks[static_cast<size_t>(master)].sources) back |= node_of(o) == a.to;
                    for (const Edge out : {0, 1})
                        if (a.pass[edge][out] && !back)
                            go(a.to, out, early + delay(a, 0, edge, out, true), late + delay(a, 1, edge, out, true));
                }
            }
            steps.pop_back();
        };
        for (const auto& o : k_.clocks[static_cast<size_t>(master)].sources) go(node_of(o), by, 0, 0);
        if (best[1] < -1e29) continue;
        for (const int side : {0, 1}) {
            s.time[e][side] = base[side] + best[side];
            auto list = m.steps[by][side];
            for (auto p : way[side]) {
                const auto& t = at.at({p.node, p.edge});
                p.time[0] = base[0] + t.first;
                p.time[1] = base[1] + t.second;
                p.stretch = list.back().stretch;
                if (p.node == goal && list.back().node != goal) p.stretch += "/" + std::to_string(goal);
                if (list.back().node == p.node) list.pop_back();
                list.push_back(p);
            }
            s.steps[e][side] = list;
        }
    }
}

/// set_clock_latency without -source of an ideal clock; what names a pin on the way counts before what names the clock.
double Reference::ideal_network(int c, Edge clock_edge, int side, int pin) const {
    const auto counts = [&](const ClockLatency& l) {
        return !l.source && (clock_edge == 0 ? l.rise : l.fall) && (side == 0 ? l.minimum : l.maximum) &&
               (l.clocks.empty() ||
                std::find(l.clocks.begin(), l.clocks.end(), static_cast<std::uint32_t>(c)) != l.clocks.end());
    };
    double by_clock = 0;
    for (const auto& l : k_.latencies)
        for (const auto& o : l.objects)
            if (counts(l) && o.kind == ObjectKind::clock && static_cast<int>(o.id) == c) by_clock = l.value;
    if (pin < 0) return by_clock;
    // Backwards along the way of the clock: the nearest place that is named.
    const Way* way = nullptr;
    for (const auto& w : ways_[static_cast<size_t>(pin)])
        if (w.clock == c) way = &w;
    for (size_t i = way ? way->steps[1].size() : 0; i-- > 0;) {
        bool named = false;
        double value = 0;
        for (const auto& l : k_.latencies)
            for (const auto& o : l.objects)
                if (counts(l) && o.kind != ObjectKind::clock && node_of(o) == way->steps[1][i].node) {
                    named = true;
                    value = l.value;
                }
        if (named) return value;
    }
    return by_clock;
}

double Reference::latency(const Way& w, int side, bool source, bool network) const {
    const auto& s = sources_[static_cast<size_t>(w.clock)];
    const double in_network = propagated_[static_cast<size_t>(w.clock)]
                                  ? w.time[side]
                                  : ideal_network(w.clock, w.clock_edge, side, w.steps[1].back().node);
    return (source ? s.time[w.clock_edge][side] : 0) + (network ? in_network : 0);
}

double Reference::port_latency(int clock, Edge edge, int side, bool source, bool network) const {
    return (source ? sources_[static_cast<size_t>(clock)].time[edge][side] : 0) +
           (network && !propagated_[static_cast<size_t>(clock)] ? ideal_network(clock, edge, side, -1) : 0);
}

/// All places from the first source on; a propagated clock's go on through its network to the pin.
std::vector<Reference::Place> Reference::chain(const Way* way, int clock, Edge clock_edge, int side) const {
    const auto& s = sources_[static_cast<size_t>(clock)];
    auto out = s.steps[clock_edge][side];
    if (!way || !propagated_[static_cast<size_t>(clock)]) return out;
    for (const auto& p : way->steps[side]) {
        double early = 0, late = 0;
        for (const auto& w : ways_[static_cast<size_t>(p.node)])
            if (w.clock == clock && w.clock_edge == clock_edge && w.edge == p.edge) {
                early = w.time[0];
                late = w.time[1];
            }
        auto stretch = out.back().stretch;
        if (out.back().node == p.node)
            out.pop_back();
        else if (&p == &way->steps[side].front())
            stretch += "/" + std::to_string(p.node);
        out.push_back({p.node, p.edge, {s.time[clock_edge][0] + early, s.time[clock_edge][1] + late}, stretch});
    }
    return out;
}

/// Late minus early at the last place both have passed after the same sources. What their source latencies differ by
/// counts only where both have it from the same clock.
double Reference::credit(const std::vector<Place>& a, int root_a, const std::vector<Place>& b, int root_b) const {
    const auto difference = [&](const std::vector<Place>& chain, const Place& at) {
        double d = at.time[1] - at.time[0];
        if (root_a != root_b) d -= chain[0].time[1] - chain[0].time[0];
        return d;
    };
    for (auto p = a.rbegin(); p != a.rend(); ++p)
        for (const auto& q : b)
            if (p->node == q.node && p->stretch == q.stretch)
                return std::max(0.0, std::min(difference(a, *p), difference(b, q)));
    return 0;
}

double Reference::uncertainty(int launch, Edge launch_edge, int capture, Edge capture_edge, int pin, bool setup) const {
    double simple = 0, by_place = 0, between = 0;
    bool place = false, inter = false;
    const auto has = [](const std::vector<std::uint32_t>& list, int id) {
        return std::find(list.begin(), list.end(), static_cast<std::uint32_t>(id)) != list.end();
    };
    for (const auto& u : k_.uncertainties) {
        if (!(setup ? u.setup : u.hold) || !(capture_edge == 0 ? u.to_rise : u.to_fall)) continue;
        if (!u.from.empty()) {
            if (launch >= 0 && has(u.from, launch) && has(u.to, capture) &&
                (launch_edge == 0 ? u.from_rise : u.from_fall)) {
                inter = true;
                between = u.value;
            }
            continue;
        }
        for (const auto& o : u.objects) {
            const auto& sources = k_.clocks[static_cast<size_t>(capture)].sources;
            if (o.kind != ObjectKind::clock && node_of(o) == pin) {
                place = true;
                by_place = u.value;
            } else if (o.kind == ObjectKind::clock ? static_cast<int>(o.id) == capture
                                                   : std::find(sources.begin(), sources.end(), o) != sources.end())
                simple = u.value;
        }
    }
    return inter ? between : place ? by_place : simple;
}

void Reference::pulses() {
    std::set<int> pins;
    for (const auto& [pin, limit] : pulse_) pins.insert(pin);
    for (const auto& a : arcs_)
        if (a.launch) pins.insert(a.from);
    for (const auto& c : checks_)
        if (!c.asynchronous) pins.insert(c.clock);
    for (const int pin : pins) {
        const auto limit = pulse_.contains(pin) ? pulse_.at(pin) : Pulse{};
        for (const auto& opening : ways_[static_cast<size_t>(pin)])
            for (const auto& closing : ways_[static_cast<size_t>(pin)]) {
                if (opening.clock != closing.clock || opening.edge == closing.edge ||
                    opening.clock_edge == closing.clock_edge)
                    continue;
                const auto& clock = k_.clocks[static_cast<size_t>(opening.clock)];
                double least = opening.edge == 0 ? limit.high : limit.low;
                for (const auto& m : k_.min_pulses) {
                    bool mine = m.objects.empty();
                    for (const auto& o : m.objects)
                        mine |= o.kind == ObjectKind::clock  ? static_cast<int>(o.id) == opening.clock
                                : o.kind == ObjectKind::cell ? o.id == n_.pins[static_cast<size_t>(pin)].cell
                                                             : node_of(o) == pin;
                    if (mine && (opening.edge == 0 ? m.high : m.low)) least = std::max(least, m.value);
                }
                if (least <= 0) continue;
                double width = clock.waveform[static_cast<size_t>(closing.clock_edge)] -
                               clock.waveform[static_cast<size_t>(opening.clock_edge)];
                if (width <= 0) width += clock.period;
                const auto spread = [&](const Way& w) { return latency(w, 1, true, true) - latency(w, 0, true, true); };
                const double back = options_.credit ? std::max(0.0, std::min(spread(opening), spread(closing))) : 0;
                slacks[{"pulse_width", name(pin)}].push_back(width + latency(closing, 0, true, true) -
                                                             latency(opening, 1, true, true) + back - least);
            }
        if (limit.period > 0)
            for (const auto& w : ways_[static_cast<size_t>(pin)])
                if (w.edge == 0)
                    slacks[{"period", name(pin)}].push_back(k_.clocks[static_cast<size_t>(w.clock)].period -
                                                            limit.period);
    }
}

}  // namespace kp::test
