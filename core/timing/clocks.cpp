// SPDX-License-Identifier: GPL-3.0-or-later
// Clocks are spread through the network as sets of (clock, edge, latency); a generated clock starts from what
// arrives at its source. Pairs of edges by the common base period in integers of a femtosecond.
#include "core/timing/clocks.hpp"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numeric>
#include <set>
#include <unordered_map>

namespace kp::timing {

namespace {
constexpr long long most_cycles = 1000;  // docs/timing.md: beyond that no common base period is looked for

/// Femtoseconds, so that periods like 8.333 compare exactly.
long long ticks(double ns) {
    return std::llround(ns * 1e6);
}
}  // namespace

namespace {

/// Periods that are fractions, such as a sixth of 40 ns, meet although their ticks do not: launch periods until edges
/// come together again within 10 fs; 0 for none within most_cycles.
long long cycles_to_meet(double tl, double tc) {
    constexpr double near = 1e-5;
    for (long long n = 1; n <= most_cycles; ++n) {
        const double at = static_cast<double>(n) * tl, m = std::round(at / tc);
        if (m > static_cast<double>(most_cycles)) return 0;
        if (m >= 1 && std::fabs(at - m * tc) <= near) return n;
    }
    return 0;
}

/// The tightest setup pair of such clocks; what is nearer than 10 fs is the same moment.
EdgePair tightest(double l0, double tl, double c0, double tc, long long cycles) {
    constexpr double near = 1e-5;
    EdgePair best;
    bool any = false;
    for (long long k = 0; k < cycles; ++k) {
        const double launch = l0 + static_cast<double>(k) * tl;
        auto j = std::floor((launch - c0) / tc);
        while (c0 + j * tc <= launch + near) j += 1;
        const EdgePair here{launch, c0 + j * tc};
        if (!any || here.capture - here.launch < best.capture - best.launch - near) best = here;
        any = true;
    }
    return best;
}

}  // namespace

EdgeRelation relate(const ClockDefinition& launch, int launch_edge, const ClockDefinition& capture, int capture_edge) {
    const long long tl = std::max(1LL, ticks(launch.period)), tc = std::max(1LL, ticks(capture.period));
    const long long l0 = ticks(launch.waveform[static_cast<size_t>(launch_edge)]),
                    c0 = ticks(capture.waveform[static_cast<size_t>(capture_edge)]);
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
        if (best < 0 || gap < best) {
            best = gap;
            at = l;
        }
    }
    r.setup = {static_cast<double>(at) * 1e-6, static_cast<double>(at + best) * 1e-6};
    if (!r.common_base)
        if (const auto cycles = cycles_to_meet(launch.period, capture.period); cycles > 0) {
            r.common_base = true;
            r.setup = tightest(launch.waveform[static_cast<size_t>(launch_edge)], launch.period,
                               capture.waveform[static_cast<size_t>(capture_edge)], capture.period, cycles);
        }
    const EdgePair earlier_capture{r.setup.launch, r.setup.capture - capture.period},
        later_launch{r.setup.launch + launch.period, r.setup.capture};
    // Tighter for hold: the launch comes soonest after the capture.
    r.hold = earlier_capture.launch - earlier_capture.capture <= later_launch.launch - later_launch.capture
                 ? earlier_capture
                 : later_launch;
    return r;
}

namespace {

/// Nodes where a clock is defined: others end there.
std::vector<bool> clock_sources(const Graph& g, const Constraints& k) {
    std::vector<bool> source(g.nodes, false);
    for (const auto& c : k.clocks)
        for (const auto& o : c.sources)
            if (o.kind == ObjectKind::port || o.kind == ObjectKind::pin)
                source[o.kind == ObjectKind::port ? g.input_node(o.id) : o.id] = true;
    return source;
}

bool lets_pass(const std::vector<ClockSense>& senses, const std::vector<std::vector<std::uint32_t>>& at_node,
               NodeId node, const ClockAt& c) {
    for (const auto i : at_node[node]) {
        const auto& s = senses[i];
        if (!s.clocks.empty() && std::find(s.clocks.begin(), s.clocks.end(), c.clock) == s.clocks.end()) continue;
        if (s.sense == ClockSense::stop || c.inverted != (s.sense == ClockSense::negative)) return false;
    }
    return true;
}

}  // namespace

ClockSet spread_clocks(const Graph& g, const Constraints& constraints) {
    ClockSet at(g.nodes);
    const auto source = clock_sources(g, constraints);
    std::vector<std::vector<std::uint32_t>> senses(constraints.senses.empty() ? 0 : g.nodes);
    for (std::uint32_t i = 0; i < constraints.senses.size(); ++i)
        for (const auto& o : constraints.senses[i].pins)
            senses[o.kind == ObjectKind::port ? g.input_node(o.id) : o.id].push_back(i);
    for (std::uint32_t c = 0; c < constraints.clocks.size(); ++c)
        for (const auto& o : constraints.clocks[c].sources) {
            if (o.kind == ObjectKind::net || o.kind == ObjectKind::cell) continue;
            at.make(o.kind == ObjectKind::port ? g.input_node(o.id) : o.id).push_back({c, false});
        }
    const auto add = [&](NodeId node, std::uint32_t clock, bool inverted) {
        const ClockAt c{clock, inverted};
        const auto& list = at[node];
        if (std::any_of(list.begin(), list.end(),
                        [&](const ClockAt& o) { return o.clock == clock && o.inverted == inverted; }))
            return;
        if (senses.empty() || lets_pass(constraints.senses, senses, node, c)) at.make(node).push_back(c);
    };
    for (const auto node : g.order) {
        if (at[node].empty()) continue;
        for (const auto id : g.leaving(node)) {
            const NodeId to = g.to[id];
            if (g.cut(id) || g.way[id] == Way::launch || g.way[id] == Way::through || source[to]) continue;
            for (size_t k = 0; k < at[node].size(); ++k) {
                const auto clock = at[node][k].clock;
                const bool inverted = at[node][k].inverted;
                if (g.allowed[id] & straight_pairs) add(to, clock, inverted);
                if (g.allowed[id] & crossed_pairs) add(to, clock, !inverted);
            }
        }
    }
    return at;
}

namespace {

/// A latency on a port or pin may be for some clocks only.
bool is_for(const ClockLatency& l, std::uint32_t clock) {
    return l.clocks.empty() || std::find(l.clocks.begin(), l.clocks.end(), clock) != l.clocks.end();
}

constexpr double nowhere[2] = {std::numeric_limits<double>::infinity(), -std::numeric_limits<double>::infinity()};

/// One clock through one arc, into the list of the node behind it.
void time_arc(const Graph& g, const Delays& delays, ArcId id, const ClockAt& from, std::uint32_t entry,
              std::vector<ClockAt>& list) {
    for (const int in : {rise, fall})
        for (const int out : {rise, fall}) {
            if (!g.lets(id, in, out) || !std::isfinite(from.time[late][in])) continue;
            const bool inverted = from.inverted != (in != out);
            for (auto& to : list) {
                if (to.clock != from.clock || to.inverted != inverted) continue;
                for (const int side : {early, late}) {
                    const double t = from.time[side][in] + delays.at(id, side, in, out);
                    if (side == early ? t < to.time[side][out] : t > to.time[side][out]) {
                        to.time[side][out] = t;
                        to.came[side][out] = {id, entry, in};
                    }
                }
            }
        }
}

}  // namespace

void time_clocks(const Graph& g, const Constraints& constraints, const Delays& delays, ClockSet& at) {
    const auto source = clock_sources(g, constraints);
    auto nodes = at.nodes();
    std::sort(nodes.begin(), nodes.end(), [&](NodeId a, NodeId b) { return g.rank[a] < g.rank[b]; });
    for (const auto node : nodes) {
        if (source[node]) continue;
        auto& list = at.make(node);
        for (auto& entry : list)
            for (const int side : {early, late})
                for (const int edge : {rise, fall}) {
                    entry.time[side][edge] = nowhere[side];
                    entry.came[side][edge] = {};
                }
        for (auto id = g.fanin_first[node]; id < g.fanin_last[node]; ++id) {
            if (g.cut(id) || g.way[id] == Way::launch || g.way[id] == Way::through) continue;
            const auto& from = at[g.from[id]];
            for (std::uint32_t k = 0; k < from.size(); ++k) time_arc(g, delays, id, from[k], k, list);
        }
    }
}

std::vector<bool> propagated_clocks(const Constraints& k, bool all) {
    std::vector<bool> out(k.clocks.size(), all);
    for (const auto& o : k.propagated)
        for (std::uint32_t c = 0; c < k.clocks.size(); ++c)
            if (o.kind == ObjectKind::clock
                    ? o.id == c
                    : std::find(k.clocks[c].sources.begin(), k.clocks[c].sources.end(), o) != k.clocks[c].sources.end())
                out[c] = true;
    for (std::uint32_t c = 0; c < k.clocks.size(); ++c)
        if (k.clocks[c].sources.empty()) out[c] = false;
    return out;
}

ClockTimes::ClockTimes(const Graph& g, const Constraints& k, const Delays& delays, ClockSet& at,
                       std::vector<bool> propagated)
    : g_(g),
      k_(k),
      delays_(delays),
      propagated_(std::move(propagated)),
      state_(k.clocks.size(), 0),
      source_(k.clocks.size()),
      steps_(1) {
    find_named(at);
    for (std::uint32_t c = 0; c < k.clocks.size(); ++c)
        for (const int edge : {rise, fall}) ideal_.push_back(ideal_latency(g, k, c, edge, no_id));
    for (std::uint32_t c = 0; c < k.clocks.size(); ++c) find_source(c, 0);
    number_ways(at);
}

/// What a latency on a pin or port is for: all that clocks reach through it, up to the next one that is named.
void ClockTimes::find_named(const ClockSet& at) {
    std::vector<NodeId> named;
    for (const auto& l : k_.latencies)
        for (const auto& o : l.objects) {
            if (o.kind == ObjectKind::pin) named.push_back(o.id);
            if (o.kind == ObjectKind::port) named.push_back(g_.input_node(o.id));
        }
    if (named.empty()) return;
    named_.assign(g_.nodes, no_id);
    for (const auto node : named) named_[node] = node;
    auto nodes = at.nodes();
    std::sort(nodes.begin(), nodes.end(), [&](NodeId a, NodeId b) { return g_.rank[a] < g_.rank[b]; });
    for (const auto node : nodes)
        for (auto a = g_.fanin_first[node]; a < g_.fanin_last[node] && named_[node] == no_id; ++a)
            if (!g_.cut(a) && g_.way[a] != Way::launch && !at[g_.from[a]].empty()) named_[node] = named_[g_.from[a]];
}

std::uint32_t ClockTimes::number(std::uint32_t of, std::uint32_t place) {
    return numbers_.try_emplace(std::uint64_t{of} << 32 | place, static_cast<std::uint32_t>(numbers_.size() + 1))
        .first->second;
}

std::vector<ClockTimes::Passed> ClockTimes::passed(WayId way) const {
    std::vector<Passed> out;
    for (auto at = way; at != 0; at = steps_[at].before) {
        const auto& s = steps_[at];
        out.push_back({s.place < g_.nodes ? s.place : no_id, s.edge, {s.time[early], s.time[late]}});
    }
    std::reverse(out.begin(), out.end());
    return out;
}

ClockTimes::WayId ClockTimes::step(WayId before, std::uint32_t place, int edge, double early_time, double late_time,
                                   bool source) {
    Step s{{early_time, late_time}, place, before, 0, 0, 0, static_cast<std::uint8_t>(edge), no_id,
           late_time - early_time};
    const Step& last = steps_[before];
    if (before != 0) {
        s.root = last.root;
        s.head = last.head;
        s.stretch = last.stretch;
    }
    std::uint64_t sources = last.order >> 32;
    if (before != 0 && last.place == place)
        s.before = last.before;  // a source that stands at the end of its master's way is one place, not two
    else if (source) {
        s.stretch = number(s.stretch, place);
        ++sources;
    }
    s.trail = number(s.stretch | 0x80000000u, place);
    s.order = sources << 32 | (place < g_.nodes ? g_.rank[place] : 0u);
    steps_.push_back(s);
    return static_cast<WayId>(steps_.size() - 1);
}

/// Ways of the propagated clocks to every node they reach; a node's way is one step longer than that of where it came
/// from.
void ClockTimes::number_ways(ClockSet& at) {
    if (std::none_of(propagated_.begin(), propagated_.end(), [](bool p) { return p; })) return;
    auto nodes = at.nodes();
    std::sort(nodes.begin(), nodes.end(), [&](NodeId a, NodeId b) { return g_.rank[a] < g_.rank[b]; });
    for (const auto node : nodes)
        for (auto& entry : at.make(node)) {
            if (!propagated_[entry.clock]) continue;
            for (const int side : {early, late})
                for (const int edge : {rise, fall}) {
                    if (!std::isfinite(entry.time[late][edge])) continue;
                    const auto& s = source_[entry.clock];
                    const auto& base = s.time[entry.clock_edge(edge)];
                    const auto came = entry.came[side][edge];
                    const WayId before = came.arc == no_id ? s.way[entry.clock_edge(edge)][side]
                                                           : at[g_.from[came.arc]][came.entry].way[side][came.edge];
                    entry.way[side][edge] = step(before, node, edge, base[early] + entry.time[early][edge],
                                                 base[late] + entry.time[late][edge], came.arc == no_id);
                    be_careful(before, came.arc);
                }
        }
}

/// Behind a cell of which only the delays are known nobody can say which edges launch and capture have in common; then
/// the last step is credited with no more than any of them has.
void ClockTimes::be_careful(WayId before, ArcId arc) {
    auto& s = steps_.back();
    const auto& last = steps_[before];
    const double until = last.time[late] - last.time[early];
    if (arc == no_id) {  // the same place, as source of a generated clock
        s.guessed = last.guessed;
        if (s.guessed) s.time[early] = s.time[late] - until;
        return;
    }
    const auto* cell = g_.way[arc] == Way::net ? nullptr : g_.cell_types[g_.type_of(g_.from[arc])];
    s.guessed = last.guessed || (cell && cell->guessed);
    if (!s.guessed) return;
    double least = std::numeric_limits<double>::infinity();
    for (const int in : {rise, fall})
        for (const int out : {rise, fall})
            if (g_.passes[arc] & pair_bit(in, out))
                least = std::min(least, delays_.at(arc, late, in, out) - delays_.at(arc, early, in, out));
    s.time[early] = s.time[late] - until - std::max(0.0, least);
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
        if (l.source && (edge == rise ? l.rise : l.fall) && is_for(l, clock))
            for (const auto& o : l.objects)
                if (o.kind == ObjectKind::clock
                        ? o.id == clock
                        : std::find(k_.clocks[clock].sources.begin(), k_.clocks[clock].sources.end(), o) !=
                              k_.clocks[clock].sources.end()) {
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
        for (const auto& l : k_.latencies)
            own |= is_for(l, c) && std::any_of(l.objects.begin(), l.objects.end(), [&](const ObjectRef& o) {
                       return o.kind == ObjectKind::clock && o.id == c;
                   });
    if (master != no_id && !own) {
        from_master(c, master);
    } else {
        for (const int edge : {rise, fall})
            for (const int side : {early, late}) {
                s.way[edge][side] = step(0, place_of(c), edge, s.time[edge][early], s.time[edge][late], true);
                steps_.back().root = c;
            }
    }
    state_[c] = 2;
}

/// What a generated clock has from its master: an ideal one the master's source latency; a propagated one the master's
/// latency (source latency, and that of the network where the master is ideal) and the delay of the way that makes each
/// of its edges, registers on it included (docs/timing.md: it starts from its master's latency, propagated or ideal,
/// and runs from the master through to its source).
void ClockTimes::from_master(std::uint32_t c, std::uint32_t master) {
    const auto& definition = k_.clocks[c];
    auto& s = source_[c];
    const auto inherit = [&](int edge, int by) {
        for (const int side : {early, late}) {
            s.time[edge][side] = source_[master].time[by][side];
            s.way[edge][side] = source_[master].way[by][side];
        }
    };
    for (const int edge : {rise, fall}) inherit(edge, definition.made_by[edge]);
    if (!propagated_[c]) return;
    for (const int edge : {rise, fall})
        for (const int side : {early, late})
            s.time[edge][side] = master_latency(master, definition.made_by[edge], side);
    const NodeId goal = place_of(c);
    if (!(goal & 0x80000000u)) through_network(c, master, goal);
}

double ClockTimes::master_latency(std::uint32_t master, int edge, int side) const {
    return source_[master].time[edge][side] + (propagated_[master] ? 0 : ideal(master, edge, no_id).network[side]);
}

/// Each edge of a generated clock by the longest and shortest way of the master's edge that makes it, over the cone
/// behind its source.
void ClockTimes::through_network(std::uint32_t c, std::uint32_t master, NodeId goal) {
    const auto& definition = k_.clocks[c];
    auto& s = source_[c];
    std::set<NodeId> origin;
    for (const auto& o : k_.clocks[master].sources)
        if (o.kind == ObjectKind::port || o.kind == ObjectKind::pin)
            origin.insert(o.kind == ObjectKind::port ? g_.input_node(o.id) : o.id);
    const auto passes = [&](ArcId a) {
        return !g_.cut(a) && (g_.way[a] == Way::net || g_.way[a] == Way::cell ||
                              (g_.way[a] == Way::launch && !definition.combinational));
    };
    struct At {
        double time[2][2] = {{nowhere[early], nowhere[early]}, {nowhere[late], nowhere[late]}};
        ClockAt::Came came[2][2];
    };
    std::unordered_map<NodeId, At> cone{{goal, {}}};
    std::vector<NodeId> open{goal};
    for (size_t i = 0; i < open.size(); ++i) {
        const NodeId node = open[i];
        if (origin.contains(node) && node != goal) continue;
        for (auto a = g_.fanin_first[node]; a < g_.fanin_last[node]; ++a)
            if (passes(a) && cone.try_emplace(g_.from[a]).second) open.push_back(g_.from[a]);
    }
    std::sort(open.begin(), open.end(), [&](NodeId a, NodeId b) { return g_.rank[a] < g_.rank[b]; });
    for (const int by : {rise, fall}) {
        for (auto& [node, at] : cone) at = {};
        for (const auto node : open) {
            auto& at = cone[node];
            if (origin.contains(node)) {
                at = {};
                for (const int side : {early, late}) at.time[side][by] = 0;
                continue;
            }
            for (auto a = g_.fanin_first[node]; a < g_.fanin_last[node]; ++a) {
                const auto from = passes(a) ? cone.find(g_.from[a]) : cone.end();
                if (from == cone.end()) continue;
                for (const int in : {rise, fall})
                    for (const int out : {rise, fall}) {
                        if (!g_.lets(a, in, out) || !std::isfinite(from->second.time[late][in])) continue;
                        for (const int side : {early, late}) {
                            const double t = from->second.time[side][in] + delays_.at(a, side, in, out);
                            if (side == early ? t < at.time[side][out] : t > at.time[side][out]) {
                                at.time[side][out] = t;
                                at.came[side][out] = {a, 0, in};
                            }
                        }
                    }
            }
        }
        for (const int edge : {rise, fall}) {
            const auto& end = cone[goal];
            if (definition.made_by[edge] != by || !std::isfinite(end.time[late][edge])) continue;
            const double base[2] = {master_latency(master, by, early), master_latency(master, by, late)};
            for (const int side : {early, late}) {
                s.time[edge][side] = base[side] + end.time[side][edge];
                struct Passed {
                    NodeId node;
                    int edge;
                    ArcId arc;
                };
                std::vector<Passed> back;
                for (NodeId node = goal, e = static_cast<NodeId>(edge);;) {
                    const auto came = cone[node].came[side][e];
                    back.push_back({node, static_cast<int>(e), came.arc});
                    if (came.arc == no_id) break;
                    node = g_.from[came.arc];
                    e = static_cast<NodeId>(came.edge);
                }
                WayId way = source_[master].way[by][side];
                for (auto at = back.rbegin(); at != back.rend(); ++at) {
                    const auto& t = cone[at->node].time;
                    const auto before = way;
                    way = step(way, at->node, at->edge, base[early] + t[early][at->edge],
                               base[late] + t[late][at->edge], at->node == goal);
                    be_careful(before, at->arc);
                }
                s.way[edge][side] = way;
            }
        }
    }
}

Latency ClockTimes::at_pin(const ClockAt& entry, NodeId pin, int edge) const {
    const int clock_edge = entry.clock_edge(edge);
    if (!propagated_[entry.clock]) {
        auto l = ideal(entry.clock, clock_edge, pin);
        for (const int side : {early, late}) l.source[side] = source_[entry.clock].time[clock_edge][side];
        return l;
    }
    Latency l;
    for (const int side : {early, late}) {
        l.source[side] = source_[entry.clock].time[clock_edge][side];
        l.network[side] = entry.time[side][edge];
    }
    return l;
}

Latency ClockTimes::at_port(std::uint32_t clock, int clock_edge) const {
    auto l = propagated_[clock] ? Latency{} : ideal(clock, clock_edge, no_id);
    for (const int side : {early, late}) l.source[side] = source_[clock].time[clock_edge][side];
    return l;
}

double ClockTimes::shared_credit(WayId launch, WayId capture) const {
    while (launch != 0 && capture != 0 && steps_[launch].trail != steps_[capture].trail) {
        const auto a = steps_[launch].order, b = steps_[capture].order;
        if (a >= b) launch = steps_[launch].before;
        if (b >= a) capture = steps_[capture].before;
    }
    if (launch == 0 || capture == 0) return 0;
    const bool one_root = steps_[launch].root == steps_[capture].root;
    const auto difference = [&](WayId w) {
        return steps_[w].time[late] - steps_[w].time[early] - (one_root ? 0 : steps_[w].head);
    };
    return std::max(0.0, std::min(difference(launch), difference(capture)));
}

Latency ideal_latency(const Graph& g, const Constraints& constraints, std::uint32_t clock, int clock_edge, NodeId pin) {
    Latency out;
    bool own[2] = {false, false};
    for (const auto& l : constraints.latencies) {
        if (!(clock_edge == rise ? l.rise : l.fall) || !is_for(l, clock)) continue;
        for (const auto& o : l.objects) {
            const bool on_clock = o.kind == ObjectKind::clock && o.id == clock;
            const bool on_pin =
                (o.kind == ObjectKind::port && pin != no_id && g.is_port(pin) && g.port_of(pin) == o.id) ||
                (o.kind == ObjectKind::pin && o.id == pin);
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

double uncertainty(const Constraints& constraints, ClockEdge launch, ClockEdge capture, ObjectRef endpoint,
                   bool setup) {
    double simple = 0, at_end = 0, between = 0;
    bool inter = false, on_endpoint = false;
    const auto has = [](const auto& list, const auto& one) {
        return std::find(list.begin(), list.end(), one) != list.end();
    };
    for (const auto& u : constraints.uncertainties) {
        if (!(setup ? u.setup : u.hold) || !(capture.edge == rise ? u.to_rise : u.to_fall)) continue;
        if (!u.from.empty() || !u.to.empty()) {
            if (has(u.from, launch.clock) && has(u.to, capture.clock) &&
                (launch.edge == rise ? u.from_rise : u.from_fall)) {
                inter = true;
                between = u.value;
            }
            continue;
        }
        for (const auto& o : u.objects) {
            if (o == endpoint) {
                at_end = u.value;
                on_endpoint = true;
            } else if (o.kind == ObjectKind::clock ? o.id == capture.clock
                                                   : has(constraints.clocks[capture.clock].sources, o))
                simple = u.value;
        }
    }
    return inter ? between : on_endpoint ? at_end : simple;
}

}  // namespace kp::timing
