// SPDX-License-Identifier: GPL-3.0-or-later
// Best-first search backwards from the comparisons of a group, steps kept as a tree, so that k paths share what they
// have in common (the problem of the k shortest paths: Eppstein 1998). A path with common-path credit may be
// overtaken, then the search runs once more without that short cut.
#include "core/timing/paths.hpp"

#include <algorithm>
#include <cmath>

namespace kp::timing {

std::uint32_t PathSearch::keep(const Step& step) {
    steps_.push_back(step);
    return static_cast<std::uint32_t>(steps_.size() - 1);
}

void PathSearch::wait(double slack, std::uint32_t step) {
    if (slack > bound_) return;
    queue_.push_back({slack, step});
    std::push_heap(queue_.begin(), queue_.end());
}

const std::vector<PathSearch::Found>& PathSearch::search(const Group& group, size_t most, double bound) {
    const bool one = most == 1;
    run(group, most, bound, one);
    // What was left aside beside a path with credit may be worse than what was found; that is a bound, since only paths
    // that are worse without their credit can be worse with it. A little above it, because sums from both ends round
    // differently.
    constexpr double rounding = 1e-9;
    if (one && credited_) run(group, most, found_.empty() ? bound : std::min(bound, found_[0].slack + rounding), false);
    return found_;
}

void PathSearch::run(const Group& group, size_t most, double bound, bool straight) {
    // A search that grows without end would only mean very many equal paths; the limit bounds memory.
    constexpr size_t most_steps = 4'000'000;
    most_ = most;
    bound_ = bound;
    first_comparison_ = group.first;
    straight_ = straight;
    credited_ = false;
    steps_.clear();
    queue_.clear();
    found_.clear();
    if (!seen_.empty()) seen_.clear();
    for (auto i = group.first; i < group.last; ++i) {
        const double slack = t_.end_times.slack(i, t_.arrival);
        if (!std::isfinite(slack)) continue;
        Step end;
        end.slot = t_.ends.comparisons[i].slot;
        end.comparison = i;
        end.edge = t_.ends.comparisons[i].edge;
        wait(slack, keep(end));
    }
    while (!queue_.empty() && found_.size() < most && steps_.size() < most_steps) {
        std::pop_heap(queue_.begin(), queue_.end());
        const auto [slack, step] = queue_.back();
        queue_.pop_back();
        if (steps_[step].start != no_id)
            found_.push_back({slack, step});
        else
            follow(step);
    }
}

/// For the worst path alone each state is left once, with its longest way to the endpoint: any other way from the same
/// start has the same credit and is better.
bool PathSearch::first_visit(const Step& s) {
    return most_ > 1 || straight_ ||
           seen_.insert(std::uint64_t{s.comparison - first_comparison_} << 34 | std::uint64_t{s.slot} << 1 | s.edge)
               .second;
}

double PathSearch::credit(const Start& start, const Comparison& end) const {
    const auto launch = t_.sources.way(start, setup_like(t_.ends.captures[end.capture].kind) ? late : early);
    if (launch == 0) return 0;
    const auto& k = t_.ends.captures[end.capture];
    const int side = setup_like(k.kind) ? early : late;
    const auto capture = k.clock_entry != no_id
                             ? t_.clock_times.way(t_.clocks[k.clock_pin][k.clock_entry], k.pin_edge, side)
                             : t_.clock_times.way_to_port(k.clock, k.clock_edge);
    return t_.clock_times.shared_credit(launch, capture);
}

PathSearch::ClockWays PathSearch::clock_ways(const Found& found) const {
    const Step& first = steps_[found.step];
    const auto& comparison = t_.ends.comparisons[first.comparison];
    const auto& start = t_.view.slots.starts[first.start];
    const auto& k = t_.ends.captures[comparison.capture];
    const bool setup = setup_like(k.kind);
    const int side = setup ? early : late;
    ClockWays out;
    out.launch = t_.sources.way(start, setup ? late : early);
    if (start.kind != Start::borrowed) out.launch_latency = t_.sources.latency(start, setup ? late : early);
    if (k.clock_entry != no_id) {
        const auto& entry = t_.clocks[k.clock_pin][k.clock_entry];
        out.capture = t_.clock_times.way(entry, k.pin_edge, side);
        out.capture_latency = t_.clock_times.at_pin(entry, k.clock_pin, k.pin_edge).total(side);
    } else if (k.clock != no_id) {
        out.capture = t_.clock_times.way_to_port(k.clock, k.clock_edge);
        out.capture_latency = t_.clock_times.at_port(k.clock, k.clock_edge).total(side);
    }
    return out;
}

/// Paths that begin at this step are whole.
void PathSearch::open_starts(std::uint32_t index) {
    const Step s = steps_[index];
    const auto& comparison = t_.ends.comparisons[s.comparison];
    const int lane = lane_of(t_.end_times.lane(comparison) / 2, s.edge);
    const auto& slots = t_.view.slots;
    for (auto i = slots.start_at[s.slot]; i < slots.starts.size() && slots.starts[i].slot == s.slot; ++i) {
        const auto& start = slots.starts[i];
        const Lanes lanes =
            start.kind == Start::borrowed ? through_latch(t_.view, start, t_.arrival) : t_.view.source[i];
        if (lanes.v[lane] == never) continue;
        Step whole = s;
        whole.start = i;
        whole.credit = t_.end_times.by_start(comparison) ? credit(start, comparison) : 0;
        credited_ |= whole.credit > 0;
        const double slack = t_.end_times.limit(s.comparison) - (lanes.v[lane] + s.suffix) + whole.credit;
        wait(slack, keep(whole));
    }
}

void PathSearch::follow(std::uint32_t index) {
    const auto& slots = t_.view.slots;
    for (;;) {
        const Step s = steps_[index];
        if (!first_visit(s)) return;
        open_starts(index);
        const int side = t_.end_times.lane(t_.ends.comparisons[s.comparison]) / 2;
        const double limit = t_.end_times.limit(s.comparison);
        Step best;
        double best_slack = free_lane;
        for (auto i = slots.in_start[s.slot]; i < slots.in_start[s.slot + 1]; ++i) {
            __builtin_prefetch(&t_.arrival[slots.in_from[i]]);
            t_.view.delays.expect(slots.in_way[i] >> 4);
            __builtin_prefetch(&slots.in_start[slots.in_from[i]]);
        }
        for (auto i = slots.in_start[s.slot]; i < slots.in_start[s.slot + 1]; ++i) {
            const auto way = slots.in_way[i];
            const auto& from = t_.arrival[slots.in_from[i]];
            for (const int in : {rise, fall}) {
                if (!(way & pair_bit(in, s.edge)) || from.v[lane_of(side, in)] == never) continue;
                const double delay = t_.view.delays.at(way >> 4, side, in, s.edge);
                if (std::isnan(delay)) continue;
                Step step;
                step.suffix = s.suffix + (side == early ? 0.0 - delay : delay);
                step.slot = slots.in_from[i];
                step.way = way;
                step.next = index;
                step.comparison = s.comparison;
                step.edge = static_cast<std::uint8_t>(in);
                double slack = limit - (from.v[lane_of(side, in)] + step.suffix);
                const bool better = slack < best_slack;
                if (better) {
                    std::swap(best, step);
                    std::swap(best_slack, slack);
                }
                if (!straight_ && slack <= bound_ && slack != free_lane) wait(slack, keep(step));
            }
        }
        if (best_slack > bound_ || best_slack == free_lane) return;
        // A start at this slot is the better end of the path.
        if (!queue_.empty() && queue_.front().slack < best_slack) return wait(best_slack, keep(best));
        index = keep(best);
    }
}

TimingPath PathSearch::tell(const Found& found) const {
    const Step& first = steps_[found.step];
    const auto& g = t_.view.g;
    const auto& slots = t_.view.slots;
    const auto& end = t_.ends.comparisons[first.comparison];
    const auto& capture = t_.ends.captures[end.capture];
    const auto& start = slots.starts[first.start];
    const Tag& tag = slots.tags[start.tag];
    const bool setup = setup_like(capture.kind);
    const int side = setup ? late : early;
    const auto type_of = [&](NodeId node) {
        return g.is_port(node) ? std::string() : g.netlist->type_of(g.netlist->pins[node].cell);
    };
    TimingPath path;
    path.check = name_of(capture.kind);
    path.startpoint = g.name(start.pin);
    path.endpoint = g.name(capture.node);
    path.slack = found.slack;
    if (tag.clock != no_id) path.launch_clock = t_.k.clocks[tag.clock].name;
    const auto captured_by = end.relation == no_id ? tag.clock : capture.clock;
    if (captured_by != no_id) path.capture_clock = t_.k.clocks[captured_by].name;
    if (end.relation != no_id) {
        const auto& r = t_.ends.relations[end.relation];
        path.launch_edge = r.edges.launch;
        path.capture_edge = r.edges.capture;
        path.uncertainty = r.uncertainty;
        path.exception = r.exception;
    } else {
        path.launch_edge = path.capture_edge = t_.k.clocks[tag.clock].waveform[static_cast<size_t>(tag.clock_edge)];
    }
    path.credit = t_.end_times.credit(end) + first.credit;
    path.check_time = t_.end_times.check_time(end);
    // Names lie all over memory: it is asked for them ahead, first for the pins, then for their cells.
    size_t points = 4;
    for (auto at = found.step; at != no_id; at = steps_[at].next, ++points)
        if (const auto node = slots.node[steps_[at].slot]; !g.is_port(node)) __builtin_prefetch(&g.netlist->pins[node]);
    for (auto at = found.step; at != no_id; at = steps_[at].next)
        if (const auto node = slots.node[steps_[at].slot]; !g.is_port(node)) {
            __builtin_prefetch(&g.netlist->cell_names[g.netlist->pins[node].cell]);
            __builtin_prefetch(&g.netlist->cells[g.netlist->pins[node].cell]);
        }
    path.points.reserve(points);
    double now = path.launch_edge;
    const auto point = [&](NodeId node, int edge, PointKind kind, double delay, std::string type = "") {
        now += delay;
        const bool pad = kind == PointKind::cell && g.cell_of(node)->is_pad();
        path.points.push_back({g.name(node), edge == rise, kind, delay, now, std::move(type), pad});
    };
    const Lanes lanes =
        start.kind == Start::borrowed ? through_latch(t_.view, start, t_.arrival) : t_.view.source[first.start];
    const double begins = lanes.time(side, first.edge);
    const bool has_arc = start.arc != no_id;
    const double arc_delay = has_arc ? t_.view.delays.at(start.arc, side, start.pin_edge, first.edge) : 0;
    const double latency = start.kind == Start::borrowed ? begins - arc_delay : t_.sources.latency(start, side);
    point(start.pin, has_arc ? start.pin_edge : first.edge, PointKind::launch, latency);
    if (start.kind == Start::input_delay) point(start.pin, first.edge, PointKind::input_delay, begins - latency);
    if (has_arc) point(start.node, first.edge, PointKind::cell, arc_delay, type_of(start.node));
    for (auto at = found.step; steps_[at].next != no_id; at = steps_[at].next) {
        const auto& s = steps_[at];
        const auto& behind = steps_[s.next];
        const ArcId arc = s.way >> 4;
        const bool net = g.way[arc] == Way::net;
        point(slots.node[behind.slot], behind.edge, net ? PointKind::wire : PointKind::cell,
              t_.view.delays.at(arc, side, s.edge, behind.edge), net ? "" : type_of(slots.node[behind.slot]));
    }
    path.arrival = now;
    const double limit = t_.end_times.limit(first.comparison);
    path.required = path.launch_edge + (setup ? limit + first.credit : (0.0 - limit) - first.credit);
    const bool output = capture.from == Capture::output_delay && capture.clock != no_id;
    path.points.push_back({path.endpoint, end.edge == rise, output ? PointKind::output_delay : PointKind::check,
                           (setup ? -1 : 1) * path.check_time, path.required, ""});
    return path;
}

namespace {

/// Longest and shortest delay to each node, from the starts that `begins` lets in.
template <class Begins>
std::vector<PlainDelay> plain(const Graph& g, const Delays& delays, Begins begins) {
    struct Both {
        double longest[2] = {never, never}, shortest[2] = {free_lane, free_lane};
        NodeId start[2] = {no_id, no_id};
    };
    std::vector<Both> at(g.nodes);
    const auto put = [](Both& b, int edge, double longest, double shortest, NodeId start) {
        if (longest > b.longest[edge]) {
            b.longest[edge] = longest;
            b.start[edge] = start;
        }
        b.shortest[edge] = std::min(b.shortest[edge], shortest);
    };
    for (std::uint32_t i = 0; i < g.netlist->ports.size(); ++i)
        if (g.netlist->ports[i].direction != Direction::out && begins(g.input_node(i)))
            for (const int e : {rise, fall}) put(at[g.input_node(i)], e, 0, 0, g.input_node(i));
    for (const auto node : g.order)
        for (auto a = g.fanin_first[node]; a < g.fanin_last[node]; ++a) {
            const auto& from = at[g.from[a]];
            const bool launches = g.way[a] == Way::launch && begins(g.from[a]);
            if (!launches && (g.way[a] == Way::launch || (from.start[rise] == no_id && from.start[fall] == no_id)))
                continue;
            for (const int in : {rise, fall})
                for (const int out : {rise, fall}) {
                    if (!g.lets(a, in, out) || (!launches && from.start[in] == no_id)) continue;
                    put(at[node], out, (launches ? 0 : from.longest[in]) + delays.at(a, late, in, out),
                        (launches ? 0 : from.shortest[in]) + delays.at(a, early, in, out),
                        launches ? g.from[a] : from.start[in]);
                }
        }
    std::vector<PlainDelay> out(g.nodes);
    for (NodeId i = 0; i < g.nodes; ++i) {
        const int worst = at[i].longest[fall] > at[i].longest[rise] ? fall : rise;
        out[i] = {at[i].longest[worst], std::min(at[i].shortest[rise], at[i].shortest[fall]), at[i].start[worst]};
    }
    return out;
}

}  // namespace

std::vector<PlainDelay> plain_delays(const Graph& g, const Delays& delays) {
    return plain(g, delays, [](NodeId) { return true; });
}

std::vector<PlainDelay> plain_delays_from(const Graph& g, const Delays& delays, NodeId start) {
    return plain(g, delays, [start](NodeId node) { return node == start; });
}

std::vector<NodeId> plain_starts(const Graph& g) {
    std::vector<NodeId> out;
    for (std::uint32_t i = 0; i < g.netlist->ports.size(); ++i)
        if (g.netlist->ports[i].direction != Direction::out) out.push_back(g.input_node(i));
    for (const auto node : g.order)
        for (auto a = g.fanin_first[node]; a < g.fanin_last[node]; ++a)
            if (g.way[a] == Way::launch) out.push_back(g.from[a]);
    std::sort(out.begin(), out.end());
    out.erase(std::unique(out.begin(), out.end()), out.end());
    return out;
}

}  // namespace kp::timing
