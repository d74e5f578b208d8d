// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/timing/clocks.hpp"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numeric>

namespace kp::timing {

namespace {
constexpr long long most_cycles = 1000;  // engine.md: beyond that no common base period is looked for

/// Femtoseconds, so that periods like 8.333 compare exactly.
long long ticks(double ns) { return std::llround(ns * 1e6); }
}  // namespace

EdgeRelation relate(const ClockDefinition& launch, int launch_edge, const ClockDefinition& capture, int capture_edge) {
    const long long tl = std::max(1LL, ticks(launch.period)), tc = std::max(1LL, ticks(capture.period));
    const long long l0 = ticks(launch.waveform[static_cast<size_t>(launch_edge)]), c0 = ticks(capture.waveform[static_cast<size_t>(capture_edge)]);
    const long long common = std::gcd(tl, tc);
    EdgeRelation r;
    r.common_base = tc / common <= most_cycles && tl / common <= most_cycles;
    const long long edges = std::min(tc / common, most_cycles);  // launch edges in one base period
    long long best = -1, at = 0;
    for (long long k = 0; k < edges; ++k) {
        const long long l = l0 + k * tl;
        // Strictly after: the gap lies in (0, tc].
        long long gap = (c0 - l) % tc;
        if (gap <= 0) gap += tc;
        if (best < 0 || gap < best) best = gap, at = l;
    }
    r.setup = {static_cast<double>(at) * 1e-6, static_cast<double>(at + best) * 1e-6};
    const EdgePair earlier_capture{r.setup.launch, r.setup.capture - capture.period}, later_launch{r.setup.launch + launch.period, r.setup.capture};
    // Tighter for hold: the launch comes soonest after the capture.
    r.hold = earlier_capture.launch - earlier_capture.capture <= later_launch.launch - later_launch.capture ? earlier_capture : later_launch;
    return r;
}

namespace {

/// Nodes where a clock is defined: others end there.
std::vector<bool> clock_sources(const Graph& g, const Constraints& k) {
    std::vector<bool> source(g.nodes, false);
    for (const auto& c : k.clocks)
        for (const auto& o : c.sources)
            if (o.kind == ObjectKind::port || o.kind == ObjectKind::pin) source[o.kind == ObjectKind::port ? g.input_node(o.id) : o.id] = true;
    return source;
}

bool lets_pass(const std::vector<ClockSense>& senses, const std::vector<std::vector<std::uint32_t>>& at_node, NodeId node, const ClockAt& c) {
    for (const auto i : at_node[node]) {
        const auto& s = senses[i];
        if (!s.clocks.empty() && std::find(s.clocks.begin(), s.clocks.end(), c.clock) == s.clocks.end()) continue;
        if (s.sense == ClockSense::stop || c.inverted != (s.sense == ClockSense::negative)) return false;
    }
    return true;
}

}  // namespace

std::vector<std::vector<ClockAt>> spread_clocks(const Graph& g, const Constraints& constraints) {
    std::vector<std::vector<ClockAt>> at(g.nodes);
    const auto source = clock_sources(g, constraints);
    std::vector<std::vector<std::uint32_t>> senses(g.nodes);
    for (std::uint32_t i = 0; i < constraints.senses.size(); ++i)
        for (const auto& o : constraints.senses[i].pins) senses[o.kind == ObjectKind::port ? g.input_node(o.id) : o.id].push_back(i);
    for (std::uint32_t c = 0; c < constraints.clocks.size(); ++c)
        for (const auto& o : constraints.clocks[c].sources) {
            if (o.kind == ObjectKind::net || o.kind == ObjectKind::cell) continue;
            at[o.kind == ObjectKind::port ? g.input_node(o.id) : o.id].push_back({c, false});
        }
    const auto add = [&](std::vector<ClockAt>& list, NodeId node, std::uint32_t clock, bool inverted) {
        const ClockAt c{clock, inverted};
        if (std::any_of(list.begin(), list.end(), [&](const ClockAt& o) { return o.clock == clock && o.inverted == inverted; })) return;
        if (lets_pass(constraints.senses, senses, node, c)) list.push_back(c);
    };
    for (const auto node : g.order) {
        for (auto i = g.fanout_start[node]; i < g.fanout_start[node + 1]; ++i) {
            const ArcId id = g.fanout[i];
            const auto& a = g.arcs[id];
            if (g.cut[id] || a.kind == Arc::launch || a.kind == Arc::through || source[a.to]) continue;
            const auto& d = a.delay[late];
            const bool same = !std::isnan(d[rise][rise]) || !std::isnan(d[fall][fall]), inverse = !std::isnan(d[rise][fall]) || !std::isnan(d[fall][rise]);
            for (size_t k = 0; k < at[node].size(); ++k) {
                const auto clock = at[node][k].clock;
                const bool inverted = at[node][k].inverted;
                if (same) add(at[a.to], a.to, clock, inverted);
                if (inverse) add(at[a.to], a.to, clock, !inverted);
            }
        }
    }
    return at;
}

namespace {
const DelayMatrix& clock_delay(const Graph& g, ArcId arc) { return g.clock_delay.empty() ? g.arcs[arc].delay : g.clock_delay[arc]; }
}  // namespace

void time_clocks(const Graph& g, const Constraints& constraints, std::vector<std::vector<ClockAt>>& at) {
    const auto source = clock_sources(g, constraints);
    constexpr double never[2] = {std::numeric_limits<double>::infinity(), -std::numeric_limits<double>::infinity()};
    std::vector<std::vector<bool>> fed(g.nodes);
    for (const auto node : g.order) {
        for (size_t k = 0; k < at[node].size(); ++k) {
            for (auto i = g.fanout_start[node]; i < g.fanout_start[node + 1]; ++i) {
                const ArcId id = g.fanout[i];
                const auto& a = g.arcs[id];
                if (g.cut[id] || a.kind == Arc::launch || a.kind == Arc::through || source[a.to]) continue;
                const auto& delay = clock_delay(g, id);
                const auto from = at[node][k];
                for (const int in : {rise, fall})
                    for (const int out : {rise, fall}) {
                        if (std::isnan(delay[late][in][out])) continue;
                        const bool inverted = from.inverted != (in != out);
                        for (size_t e = 0; e < at[a.to].size(); ++e) {
                            auto& to = at[a.to][e];
                            if (to.clock != from.clock || to.inverted != inverted || !std::isfinite(from.time[late][in])) continue;
                            if (fed[a.to].empty()) fed[a.to].assign(at[a.to].size(), false);
                            if (!fed[a.to][e]) {
                                fed[a.to][e] = true;
                                for (const int side : {early, late}) to.time[side][rise] = to.time[side][fall] = never[side];
                            }
                            for (const int side : {early, late}) {
                                const double t = from.time[side][in] + delay[side][in][out];
                                if (side == early ? t < to.time[side][out] : t > to.time[side][out]) to.time[side][out] = t, to.came[side][out] = {id, static_cast<std::uint32_t>(k), in};
                            }
                        }
                    }
            }
        }
    }
}

std::vector<bool> propagated_clocks(const Constraints& k, bool all) {
    std::vector<bool> out(k.clocks.size(), all);
    for (const auto& o : k.propagated)
        for (std::uint32_t c = 0; c < k.clocks.size(); ++c)
            if (o.kind == ObjectKind::clock ? o.id == c : std::find(k.clocks[c].sources.begin(), k.clocks[c].sources.end(), o) != k.clocks[c].sources.end()) out[c] = true;
    for (std::uint32_t c = 0; c < k.clocks.size(); ++c)
        if (k.clocks[c].sources.empty()) out[c] = false;
    return out;
}

ClockTimes::ClockTimes(const Graph& g, const Constraints& k, const std::vector<std::vector<ClockAt>>& at, std::vector<bool> propagated) : g_(g), k_(k), at_(at), propagated_(std::move(propagated)), state_(k.clocks.size(), 0), source_(k.clocks.size()) {
    for (std::uint32_t c = 0; c < k.clocks.size(); ++c) find_source(c, 0);
}

std::uint32_t ClockTimes::place_of(std::uint32_t clock) const {
    for (const auto& o : k_.clocks[clock].sources) {
        if (o.kind == ObjectKind::port) return g_.input_node(o.id);
        if (o.kind == ObjectKind::pin) return o.id;
    }
    return 0x80000000u | clock;
}

/// Source latency that set_clock_latency gives the clock itself.
bool ClockTimes::own_source(std::uint32_t clock, int edge, double (&out)[2]) const {
    bool any = false;
    for (const auto& l : k_.latencies)
        if (l.source && (edge == rise ? l.rise : l.fall))
            for (const auto& o : l.objects)
                if (o.kind == ObjectKind::clock ? o.id == clock : std::find(k_.clocks[clock].sources.begin(), k_.clocks[clock].sources.end(), o) != k_.clocks[clock].sources.end()) {
                    any = true;
                    if (l.early && l.minimum) out[early] = l.value;
                    if (l.late && l.maximum) out[late] = l.value;
                }
    return any;
}

void ClockTimes::find_source(std::uint32_t c, int depth) {
    if (state_[c] != 0 || depth > 1000) return;
    state_[c] = 1;
    const auto& definition = k_.clocks[c];
    const auto master = definition.generated ? k_.clock(definition.master) : no_id;
    if (master != no_id) find_source(master, depth + 1);
    auto& s = source_[c];
    bool own = false;
    for (const int edge : {rise, fall}) own |= own_source(c, edge, s.time[edge]);
    // An ideal generated clock takes its own latency where any is set.
    if (!own && master != no_id && !propagated_[c])
        for (const auto& l : k_.latencies) own |= std::any_of(l.objects.begin(), l.objects.end(), [&](const ObjectRef& o) { return o.kind == ObjectKind::clock && o.id == c; });
    if (master != no_id && !own) {
        from_master(c, master);
    } else {
        for (const int edge : {rise, fall})
            for (const int side : {early, late}) s.way[edge][side] = {{place_of(c), edge, {s.time[edge][early], s.time[edge][late]}}};
    }
    state_[c] = 2;
}

/// What a generated clock has from its master: an ideal one the master's source latency; a propagated one the master's
/// latency and the delay of the way that makes each of its edges, registers on it included.
void ClockTimes::from_master(std::uint32_t c, std::uint32_t master) {
    const auto& definition = k_.clocks[c];
    auto& s = source_[c];
    const auto inherit = [&](int edge, int by) {
        for (const int side : {early, late}) s.time[edge][side] = source_[master].time[by][side], s.way[edge][side] = source_[master].way[by][side];
    };
    for (const int edge : {rise, fall}) inherit(edge, definition.made_by[edge]);
    if (!propagated_[c]) return;
    const NodeId goal = place_of(c);
    if (!propagated_[master]) {
        for (const int edge : {rise, fall}) {
            const auto ideal = ideal_latency(g_, k_, master, definition.made_by[edge], no_id);
            for (const int side : {early, late}) s.time[edge][side] = source_[master].time[definition.made_by[edge]][side] + ideal.network[side];
        }
        return;
    }
    if (goal & 0x80000000u) return;
    // The cone behind the generated source, up to the master's.
    std::vector<bool> cone(g_.nodes, false), origin(g_.nodes, false);
    for (const auto& o : k_.clocks[master].sources)
        if (o.kind == ObjectKind::port || o.kind == ObjectKind::pin) origin[o.kind == ObjectKind::port ? g_.input_node(o.id) : o.id] = true;
    std::vector<NodeId> open{goal};
    cone[goal] = true;
    for (size_t i = 0; i < open.size(); ++i) {
        if (origin[open[i]] && open[i] != goal) continue;
        for (auto f = g_.fanin_start[open[i]]; f < g_.fanin_start[open[i] + 1]; ++f) {
            const auto& a = g_.arcs[g_.fanin[f]];
            const bool passes = !g_.cut[g_.fanin[f]] && (a.kind == Arc::net || a.kind == Arc::cell || (a.kind == Arc::launch && !definition.combinational));
            if (passes && !cone[a.from]) cone[a.from] = true, open.push_back(a.from);
        }
    }
    constexpr double never[2] = {std::numeric_limits<double>::infinity(), -std::numeric_limits<double>::infinity()};
    struct At {
        double time[2][2];
        ClockAt::Came came[2][2];
    };
    for (const int by : {rise, fall}) {
        std::vector<std::optional<At>> at(g_.nodes);
        const auto start = [&](NodeId node) {
            At first;
            for (const int side : {early, late}) first.time[side][by] = 0, first.time[side][1 - by] = never[side];
            at[node] = first;
        };
        for (const auto node : g_.order) {
            if (!cone[node]) continue;
            if (origin[node]) start(node);
            if (!at[node] || node == goal) continue;
            for (auto f = g_.fanout_start[node]; f < g_.fanout_start[node + 1]; ++f) {
                const ArcId id = g_.fanout[f];
                const auto& a = g_.arcs[id];
                if (!cone[a.to] || g_.cut[id] || a.kind == Arc::through || (a.kind == Arc::launch && definition.combinational) || origin[a.to]) continue;
                const auto& delay = clock_delay(g_, id);
                for (const int in : {rise, fall})
                    for (const int out : {rise, fall}) {
                        if (std::isnan(delay[late][in][out]) || !std::isfinite(at[node]->time[late][in])) continue;
                        if (!at[a.to]) {
                            At fresh;
                            for (const int side : {early, late}) fresh.time[side][rise] = fresh.time[side][fall] = never[side];
                            at[a.to] = fresh;
                        }
                        for (const int side : {early, late}) {
                            const double t = at[node]->time[side][in] + delay[side][in][out];
                            if (side == early ? t < at[a.to]->time[side][out] : t > at[a.to]->time[side][out]) at[a.to]->time[side][out] = t, at[a.to]->came[side][out] = {id, 0, in};
                        }
                    }
            }
        }
        if (!at[goal]) continue;
        for (const int edge : {rise, fall}) {
            if (definition.made_by[edge] != by || !std::isfinite(at[goal]->time[late][edge])) continue;
            for (const int side : {early, late}) {
                const auto& base = source_[master].time[by];
                s.time[edge][side] = base[side] + at[goal]->time[side][edge];
                std::vector<ClockStep> tail;
                NodeId node = goal;
                int e = edge;
                for (;;) {
                    tail.push_back({node, e, {base[early] + at[node]->time[early][e], base[late] + at[node]->time[late][e]}});
                    const auto came = at[node]->came[side][e];
                    if (came.arc == no_id) break;
                    node = g_.arcs[came.arc].from, e = came.edge;
                }
                auto& way = s.way[edge][side];
                way = source_[master].way[by][side];
                if (!way.empty() && way.back().place == tail.back().place) tail.pop_back();
                way.insert(way.end(), tail.rbegin(), tail.rend());
            }
        }
    }
}

Latency ClockTimes::at_pin(const ClockAt& entry, NodeId pin, int edge) const {
    const int clock_edge = entry.clock_edge(edge);
    if (!propagated_[entry.clock]) {
        auto l = ideal_latency(g_, k_, entry.clock, clock_edge, pin);
        for (const int side : {early, late}) l.source[side] = source_[entry.clock].time[clock_edge][side];
        return l;
    }
    Latency l;
    for (const int side : {early, late}) l.source[side] = source_[entry.clock].time[clock_edge][side], l.network[side] = entry.time[side][edge];
    return l;
}

Latency ClockTimes::at_port(std::uint32_t clock, int clock_edge, NodeId port) const {
    auto l = propagated_[clock] ? Latency{} : ideal_latency(g_, k_, clock, clock_edge, port);
    for (const int side : {early, late}) l.source[side] = source_[clock].time[clock_edge][side];
    return l;
}

std::vector<ClockStep> ClockTimes::way_to_port(std::uint32_t clock, int clock_edge) const { return source_[clock].way[clock_edge][late]; }

std::vector<ClockStep> ClockTimes::way(const ClockAt& entry, NodeId pin, int edge, int side) const {
    const int clock_edge = entry.clock_edge(edge);
    auto out = source_[entry.clock].way[clock_edge][side];
    if (!propagated_[entry.clock]) return out;
    std::vector<ClockStep> tail;
    const auto& base = source_[entry.clock].time[clock_edge];
    const auto* at = &entry;
    NodeId node = pin;
    for (int e = edge;;) {
        tail.push_back({node, e, {base[early] + at->time[early][e], base[late] + at->time[late][e]}});
        const auto came = at->came[side][e];
        if (came.arc == no_id) break;
        node = g_.arcs[came.arc].from, e = came.edge, at = &at_[node][came.entry];
    }
    if (!out.empty() && out.back().place == tail.back().place) out.pop_back();
    out.insert(out.end(), tail.rbegin(), tail.rend());
    return out;
}

double shared_credit(const std::vector<ClockStep>& launch, const std::vector<ClockStep>& capture) {
    double credit = 0;
    for (size_t i = 0; i < std::min(launch.size(), capture.size()) && launch[i].place == capture[i].place; ++i) {
        const auto difference = [](const ClockStep& s) { return s.time[late] - s.time[early]; };
        credit = launch[i].edge == capture[i].edge ? difference(launch[i]) : std::min(difference(launch[i]), difference(capture[i]));
    }
    return std::max(0.0, credit);
}

Latency ideal_latency(const Graph& g, const Constraints& constraints, std::uint32_t clock, int clock_edge, NodeId pin) {
    Latency out;
    bool own[2] = {false, false};
    for (const auto& l : constraints.latencies) {
        if (!(clock_edge == rise ? l.rise : l.fall)) continue;
        for (const auto& o : l.objects) {
            const bool on_clock = o.kind == ObjectKind::clock && o.id == clock;
            const bool on_pin = (o.kind == ObjectKind::port && pin != no_id && g.is_port(pin) && g.port_of(pin) == o.id) || (o.kind == ObjectKind::pin && o.id == pin);
            if (!on_clock && !on_pin) continue;
            for (const int side : {early, late}) {
                if (l.source) {
                    if (side == early ? l.early && l.minimum : l.late && l.maximum) out.source[side] = l.value;
                } else if ((side == early ? l.minimum : l.maximum) && (on_pin || !own[side])) {
                    out.network[side] = l.value;
                    own[side] |= on_pin;
                }
            }
        }
    }
    return out;
}

double uncertainty(const Constraints& constraints, std::uint32_t launch, std::uint32_t capture, ObjectRef endpoint, bool setup) {
    double simple = 0, between = 0;
    bool inter = false, on_endpoint = false;
    const auto has = [](const std::vector<std::uint32_t>& list, std::uint32_t id) { return std::find(list.begin(), list.end(), id) != list.end(); };
    for (const auto& u : constraints.uncertainties) {
        if (!(setup ? u.setup : u.hold)) continue;
        if (!u.from.empty() || !u.to.empty()) {
            if (has(u.from, launch) && has(u.to, capture)) inter = true, between = u.value;
            continue;
        }
        for (const auto& o : u.objects) {
            if (o == endpoint) simple = u.value, on_endpoint = true;
            else if (o.kind == ObjectKind::clock && o.id == capture && !on_endpoint) simple = u.value;
        }
    }
    return inter ? between : simple;
}

}  // namespace kp::timing
