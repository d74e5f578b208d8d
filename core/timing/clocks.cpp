// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/timing/clocks.hpp"

#include <algorithm>
#include <cmath>
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

std::vector<std::vector<ClockAt>> spread_clocks(const Graph& g, const Constraints& constraints) {
    std::vector<std::vector<ClockAt>> at(g.nodes);
    std::vector<bool> source(g.nodes, false);
    for (std::uint32_t c = 0; c < constraints.clocks.size(); ++c)
        for (const auto& o : constraints.clocks[c].sources) {
            if (o.kind == ObjectKind::net || o.kind == ObjectKind::cell) continue;
            const NodeId node = o.kind == ObjectKind::port ? g.input_node(o.id) : o.id;
            source[node] = true;
            at[node].push_back({c, false});
        }
    for (const auto node : g.order) {
        for (auto i = g.fanout_start[node]; i < g.fanout_start[node + 1]; ++i) {
            const ArcId id = g.fanout[i];
            const auto& a = g.arcs[id];
            if (g.cut[id] || a.kind == Arc::launch || source[a.to]) continue;
            const bool same = !std::isnan(a.delay[late][rise][rise]), inverse = !std::isnan(a.delay[late][rise][fall]);
            for (const auto& clock : at[node]) {
                auto& list = at[a.to];
                const auto add = [&](ClockAt c) {
                    if (std::find(list.begin(), list.end(), c) == list.end()) list.push_back(c);
                };
                if (same) add(clock);
                if (inverse) add({clock.clock, !clock.inverted});
            }
        }
    }
    return at;
}

Latency ideal_latency(const Graph& g, const Constraints& constraints, std::uint32_t clock, int clock_edge, NodeId pin) {
    Latency out;
    bool own[2] = {false, false}, any = false;
    for (const auto& l : constraints.latencies) {
        if (!(clock_edge == rise ? l.rise : l.fall)) continue;
        for (const auto& o : l.objects) {
            const bool on_clock = o.kind == ObjectKind::clock && o.id == clock;
            const bool on_pin = (o.kind == ObjectKind::port && pin != no_id && g.is_port(pin) && g.port_of(pin) == o.id) || (o.kind == ObjectKind::pin && o.id == pin);
            if (!on_clock && !on_pin) continue;
            any = true;
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
    // An ideal generated clock without latency of its own has its master's source latency.
    const auto& definition = constraints.clocks[clock];
    const auto master = definition.generated && !any ? constraints.clock(definition.master) : no_id;
    if (master != no_id && master < clock) {
        const auto of_master = ideal_latency(g, constraints, master, clock_edge, no_id);
        for (const int side : {early, late}) out.source[side] = of_master.source[side];
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
