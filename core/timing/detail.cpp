// SPDX-License-Identifier: GPL-3.0-or-later
// Paths that somebody looks at, with all that can be told of them: asked one by one, so nothing of it is kept.
#include "core/timing/engine.hpp"
#include "core/timing/engine_state.hpp"

#include <algorithm>
#include <cmath>
#include <limits>

namespace kp {

using namespace timing;

namespace {

constexpr double unknown = std::numeric_limits<double>::quiet_NaN();

/// Names of what a clock passes, with the delay since the place before.
std::vector<PathPoint> told(const Graph& g, const std::vector<ClockTimes::Passed>& way, int side) {
    std::vector<PathPoint> out;
    double before = 0;
    NodeId last = no_id;
    for (const auto& p : way) {
        const bool cell = last != no_id && p.node != no_id && !g.is_port(p.node) && !g.is_port(last) &&
                          g.netlist->pins[p.node].cell == g.netlist->pins[last].cell;
        const double time = p.time[side];
        out.push_back({p.node == no_id ? std::string("clock source") : g.name(p.node), p.edge == rise,
                       out.empty() ? PointKind::source
                       : cell      ? PointKind::cell
                                   : PointKind::wire,
                       time - before, time, cell ? g.netlist->type_of(g.netlist->pins[p.node].cell) : std::string(),
                       cell && g.cell_of(p.node)->is_pad()});
        before = time;
        last = p.node;
    }
    return out;
}

/// Loads and transitions at the points of paths of one corner; worked out once for all that are asked together.
class Teller {
public:
    Teller(const TimingEngine::State& s, const TimingEngine::State::Run& run)
        : s_(s), known_(strengths(s.g, s.k, ideal_slews(s.g, s.k, run.clocks, s.propagated), run.corner)) {}

    [[nodiscard]] std::vector<PointLoad> loads(const std::vector<PathPoint>& points, int side) const {
        std::vector<PointLoad> out;
        for (const auto& p : points) out.push_back(load(p, side));
        return out;
    }

private:
    [[nodiscard]] PointLoad load(const PathPoint& p, int side) const {
        const auto& n = *s_.g.netlist;
        const bool drives =
            p.kind == PointKind::cell || p.kind == PointKind::launch || p.kind == PointKind::input_delay;
        const auto node = s_.node(p.pin, drives);
        PointLoad out{unknown, unknown, 0};
        if (!node || is_end(p.kind)) return out;
        const int edge = p.rise ? rise : fall;
        out.transition = known_.transition[*node][static_cast<size_t>(side)][static_cast<size_t>(edge)];
        const bool port = s_.g.is_port(*node);
        const auto net = port ? n.ports[s_.g.port_of(*node)].net : n.pins[*node].net;
        size_t loads = 0;
        for (const auto a : s_.g.leaving(*node)) loads += s_.g.way[a] == Way::net;
        if (net == no_id || loads == 0) return out;
        out.capacitance = known_.load[net][static_cast<size_t>(side)][static_cast<size_t>(edge)];
        out.fan_out = static_cast<int>(loads);
        return out;
    }
    const TimingEngine::State& s_;
    Strengths known_;
};

bool late_check(const std::string& check) {
    return check == "setup" || check == "recovery";
}

}  // namespace

std::vector<PathDetail> TimingEngine::paths_to(const std::string& check, const std::string& endpoint, size_t most,
                                               const std::string& corner) const {
    std::vector<PathDetail> out;
    const auto node = s_->refused ? std::nullopt : s_->node(endpoint);
    if (!node) return out;
    const auto& groups = s_->ends.groups;
    for (auto i = s_->ends.group_at[*node]; i < groups.size() && groups[i].node == *node; ++i) {
        if (check != name_of(groups[i].kind)) continue;
        size_t at = s_->worst_run(i);
        for (size_t r = 0; r < s_->runs.size(); ++r)
            if (!corner.empty() && s_->runs[r].corner.name == corner) at = r;
        const auto& run = s_->runs[at];
        PathSearch search(s_->timed(run));
        const Teller teller(*s_, run);
        const int side = late_check(check) ? timing::late : early;
        for (const auto& found : search.search(groups[i], most)) {
            auto& d = out.emplace_back();
            d.path = search.tell(found);
            d.path.corner = run.corner.name;
            d.loads = teller.loads(d.path.points, side);
            const auto ways = search.clock_ways(found);
            d.launch_latency = ways.launch_latency;
            d.capture_latency = ways.capture_latency;
            d.launch_way = told(s_->g, run.clock_times->passed(ways.launch), side);
            d.capture_way = told(s_->g, run.clock_times->passed(ways.capture), side == early ? timing::late : early);
            // An ideal clock has a latency, but no way.
            if (!d.launch_way.empty() && std::fabs(d.launch_way.back().arrival - d.launch_latency) > 1e-9)
                d.launch_way.clear();
            if (!d.capture_way.empty() && std::fabs(d.capture_way.back().arrival - d.capture_latency) > 1e-9)
                d.capture_way.clear();
            if (d.launch_way.size() < 2) d.launch_way.clear();
            if (d.capture_way.size() < 2) d.capture_way.clear();
            while (d.shared < std::min(d.launch_way.size(), d.capture_way.size()) &&
                   d.launch_way[d.shared].pin == d.capture_way[d.shared].pin)
                ++d.shared;
        }
    }
    return out;
}

std::optional<PathDetail> TimingEngine::free_path(const std::string& from, const std::string& to) const {
    const auto start = s_->refused ? std::nullopt : s_->node(from, true), end = s_->node(to);
    if (!start || !end || s_->runs.empty()) return std::nullopt;
    const auto& g = s_->g;
    const auto& run = s_->runs[0];
    const auto& delays = run.corner.delays();
    // Backwards along the longest way, told from the start by plain_delays().
    struct Best {
        double delay[2] = {never, never};
        ArcId by[2] = {no_id, no_id};
        int in[2] = {rise, rise};
    };
    std::vector<Best> at(g.nodes);
    const bool port = g.is_port(*start);
    if (port) at[*start].delay[rise] = at[*start].delay[fall] = 0;
    for (const auto node : g.order)
        for (auto a = g.fanin_first[node]; a < g.fanin_last[node]; ++a)
            for (const int in : {rise, fall})
                for (const int o : {rise, fall}) {
                    const bool begins = !port && g.way[a] == Way::launch && g.from[a] == *start;
                    const double before = begins ? 0 : at[g.from[a]].delay[in];
                    if (!g.lets(a, in, o) || before == never || (g.way[a] == Way::launch && !begins)) continue;
                    const double d = before + delays.at(a, timing::late, in, o);
                    if (!(d > at[node].delay[o])) continue;
                    at[node].delay[o] = d;
                    at[node].by[o] = a;
                    at[node].in[o] = in;
                }
    int edge = at[*end].delay[fall] > at[*end].delay[rise] ? fall : rise;
    if (at[*end].delay[edge] == never) return std::nullopt;
    PathDetail out;
    auto& path = out.path;
    path.check = "unconstrained";
    path.startpoint = from;
    path.endpoint = to;
    path.arrival = at[*end].delay[edge];
    for (auto node = *end; node != *start && at[node].by[edge] != no_id;) {
        const auto a = at[node].by[edge];
        const bool net = g.way[a] == Way::net;
        const double delay = at[node].delay[edge] - std::max(0.0, at[g.from[a]].delay[at[node].in[edge]]);
        path.points.push_back({g.name(node), edge == rise, net ? PointKind::wire : PointKind::cell, delay,
                               at[node].delay[edge], net ? "" : g.netlist->type_of(g.netlist->pins[node].cell),
                               !net && g.cell_of(node)->is_pad()});
        edge = at[node].in[edge];
        node = g.from[a];
        if (g.way[a] == Way::launch) break;
    }
    path.points.push_back({from, edge == rise, PointKind::launch, 0, 0, ""});
    std::reverse(path.points.begin(), path.points.end());
    out.loads = Teller(*s_, run).loads(path.points, timing::late);
    return out;
}

std::optional<PathDetail> TimingEngine::clock_path(const std::string& clock, const std::string& pin) const {
    const auto node = s_->refused ? std::nullopt : s_->node(pin);
    if (!node || s_->runs.empty()) return std::nullopt;
    const auto& run = s_->runs[0];
    for (const auto& entry : run.clocks[*node]) {
        const auto& named = s_->k.clocks[entry.clock];
        if (named.name != clock) continue;
        PathDetail out;
        auto& path = out.path;
        path.check = "pulse_width";
        path.startpoint = clock;
        path.endpoint = pin;
        path.launch_clock = path.capture_clock = clock;
        path.launch_edge = named.waveform[static_cast<size_t>(entry.clock_edge(rise))];
        path.capture_edge = named.waveform[static_cast<size_t>(entry.clock_edge(fall))];
        if (path.capture_edge <= path.launch_edge) path.capture_edge += named.period;
        out.launch_latency = run.clock_times->at_pin(entry, *node, rise).total(timing::late);
        out.capture_latency = run.clock_times->at_pin(entry, *node, fall).total(early);
        out.launch_way =
            told(s_->g, run.clock_times->passed(run.clock_times->way(entry, rise, timing::late)), timing::late);
        out.capture_way = told(s_->g, run.clock_times->passed(run.clock_times->way(entry, fall, early)), early);
        double now = path.launch_edge;
        path.points.push_back({pin, true, PointKind::launch, out.launch_latency, now + out.launch_latency, ""});
        path.arrival = now + out.launch_latency;
        path.required = path.capture_edge + out.capture_latency;
        path.points.push_back({pin, false, PointKind::check, path.required - path.arrival, path.required, ""});
        return out;
    }
    return std::nullopt;
}

}  // namespace kp
