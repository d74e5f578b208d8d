// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/timing/paths.hpp"

#include <algorithm>
#include <cmath>
#include <queue>
#include <set>
#include <tuple>

namespace kp::timing {

namespace {

/// A path grown backwards: the step nearest the start, and the step behind it.
struct Step {
    NodeId node = 0;
    int edge = rise;
    TagId tag = 0;
    ArcId arc = no_id;           ///< arc from this node towards the endpoint
    std::uint32_t next = no_id;  ///< position of the step behind
    double suffix = 0;           ///< delay from this node to the endpoint
    const Seed* seed = nullptr;
    std::uint32_t start = no_id;  ///< set when the path is whole
    double credit = 0;            ///< of a whole path
};

/// Best first. While the start of a path is open its slack without credit is a lower bound, since credit only adds; a whole path goes
/// back into the queue with its credit. So the order is exact with credit too.
class Search {
public:
    Search(Propagation& p, size_t most) : p_(p), most_(most) {}

    std::vector<TimingPath> run(const std::vector<Seed*>& seeds) {
        for (const auto* s : seeds) open({s->node, s->edge, s->tag, no_id, no_id, 0, s, no_id}, s->slack);
        std::vector<TimingPath> out;
        // A queue that grows without end would only mean very many equal paths; the limit bounds memory.
        constexpr size_t most_steps = 2'000'000;
        while (!queue_.empty() && out.size() < most_ && steps_.size() < most_steps) {
            const auto [slack, at] = queue_.top();
            queue_.pop();
            if (steps_[at].start != no_id) out.push_back(tell(at, slack));
            else if (most_ > 1 || first_visit(steps_[at])) expand(at);
        }
        return out;
    }

private:
    void open(Step s, double slack) {
        steps_.push_back(s);
        queue_.push({slack, static_cast<std::uint32_t>(steps_.size() - 1)});
    }

    void expand(std::uint32_t index) {
        const Step s = steps_[index];
        const bool setup = s.seed->setup;
        const int side = setup ? late : early;
        const auto slack = [&](double arrival) { return setup ? s.seed->base - arrival : arrival - s.seed->base; };
        for (const auto i : p_.starts_at[s.node]) {
            const auto& start = p_.starts[i];
            if (start.tag != s.tag || !std::isfinite(start.time[side][s.edge])) continue;
            Step whole = s;
            whole.start = i;
            whole.credit = s.seed->by_start ? credit(start, *s.seed) : 0;
            open(whole, slack(start.time[side][s.edge] + s.suffix) + whole.credit);
        }
        const auto& g = p_.g;
        for (auto i = g.fanin_start[s.node]; i < g.fanin_start[s.node + 1]; ++i) {
            const ArcId id = g.fanin[i];
            const auto& a = g.arcs[id];
            if (g.cut[id] || a.kind == Arc::launch || a.kind == Arc::through) continue;
            for (const auto& from : p_.at[a.from])
                for (const int in : {rise, fall}) {
                    const double delay = a.delay[side][in][s.edge];
                    if (std::isnan(delay) || !std::isfinite(from.time[side][in]) || p_.passed(from.tag, s.node, s.edge) != s.tag) continue;
                    // The step keeps what lies behind it: this node's own edge is part of `next`.
                    open({a.from, in, from.tag, id, index, s.suffix + delay, s.seed, no_id}, slack(from.time[side][in] + delay + s.suffix));
                }
        }
    }

    /// For the worst path alone each state is left once, with its longest way to the endpoint: any other way from the same
    /// start has the same credit and is better.
    bool first_visit(const Step& s) { return seen_.insert({s.seed, s.node, s.edge, s.tag}).second; }

    double credit(const Start& start, const Seed& seed) const {
        if (!start.shares_source) return 0;
        const auto& tag = p_.tags[start.tag];
        const auto launch = start.clock_entry != no_id ? p_.times.way(p_.clocks_at[start.pin][start.clock_entry], start.pin, start.pin_edge, seed.setup ? late : early) : p_.times.way_to_port(tag.clock, tag.clock_edge);
        const auto capture = seed.clock_entry != no_id ? p_.times.way(p_.clocks_at[seed.clock_pin][seed.clock_entry], seed.clock_pin, seed.pin_edge, seed.setup ? early : late) : p_.times.way_to_port(seed.capture, seed.clock_edge);
        return shared_credit(launch, capture);
    }

    TimingPath tell(std::uint32_t index, double slack) const {
        const Step& first = steps_[index];
        const Seed& seed = *first.seed;
        const auto& start = p_.starts[first.start];
        const auto& g = p_.g;
        const auto& tag = p_.tags[start.tag];
        const int side = seed.setup ? late : early;
        TimingPath path;
        path.check = seed.check;
        path.startpoint = g.name(start.pin);
        path.endpoint = g.name(seed.node);
        path.slack = slack;
        if (tag.clock != no_id) path.launch_clock = p_.constraints.clocks[tag.clock].name;
        if (seed.capture != no_id) path.capture_clock = p_.constraints.clocks[seed.capture].name;
        path.launch_edge = seed.edges.launch, path.capture_edge = seed.edges.capture;
        path.credit = seed.credit + first.credit, path.uncertainty = seed.uncertainty, path.check_time = seed.check_time, path.exception = seed.exception;
        double now = path.launch_edge;
        const auto point = [&](NodeId node, int edge, const char* kind, double delay, const std::string& type = "") {
            now += delay;
            path.points.push_back({g.name(node), edge == rise, kind, delay, now, type});
        };
        const bool register_start = start.arc != no_id;
        point(start.pin, register_start ? start.pin_edge : first.edge, "launch", register_start || !start.input_delay ? start.offset[side] : start.latency[side]);
        if (start.input_delay) point(start.pin, first.edge, "input_delay", start.time[side][first.edge] - start.latency[side]);
        if (register_start) point(start.node, first.edge, "cell", g.arcs[start.arc].delay[side][start.pin_edge][first.edge], type_of(start.node));
        for (auto at = index; steps_[at].next != no_id; at = steps_[at].next) {
            const auto& s = steps_[at];
            const auto& behind = steps_[s.next];
            const auto& a = g.arcs[s.arc];
            point(behind.node, behind.edge, a.kind == Arc::net ? "wire" : "cell", a.delay[side][s.edge][behind.edge], a.kind == Arc::net ? "" : type_of(behind.node));
        }
        path.arrival = now;
        const double sign = seed.setup ? -1 : 1;
        path.required = path.launch_edge + seed.base + (seed.setup ? first.credit : -first.credit);
        path.points.push_back({path.endpoint, seed.edge == rise, seed.output_delay ? "output_delay" : "check", sign * seed.check_time, path.required, ""});
        return path;
    }

    [[nodiscard]] std::string type_of(NodeId node) const { return p_.g.is_port(node) ? "" : p_.g.netlist->type_of(p_.g.netlist->pins[node].cell); }

    Propagation& p_;
    size_t most_;
    std::vector<Step> steps_;
    std::set<std::tuple<const Seed*, NodeId, int, TagId>> seen_;
    std::priority_queue<std::pair<double, std::uint32_t>, std::vector<std::pair<double, std::uint32_t>>, std::greater<>> queue_;
};

}  // namespace

std::vector<TimingPath> worst_paths(Propagation& propagation, const std::vector<Seed*>& seeds, size_t most) { return Search(propagation, most).run(seeds); }

std::vector<PlainDelay> plain_delays(const Graph& g) {
    struct Both {
        double longest[2] = {never_late, never_late}, shortest[2] = {never_early, never_early};
        NodeId start[2] = {no_id, no_id};
    };
    std::vector<Both> at(g.nodes);
    const auto put = [&](NodeId node, int edge, double longest, double shortest, NodeId start) {
        auto& b = at[node];
        if (longest > b.longest[edge]) b.longest[edge] = longest, b.start[edge] = start;
        b.shortest[edge] = std::min(b.shortest[edge], shortest);
    };
    for (std::uint32_t i = 0; i < g.netlist->ports.size(); ++i)
        if (g.netlist->ports[i].direction != Direction::out)
            for (const int e : {rise, fall}) put(g.input_node(i), e, 0, 0, g.input_node(i));
    for (const auto& a : g.arcs)
        if (a.kind == Arc::launch && !g.cut[static_cast<size_t>(&a - g.arcs.data())])
            for (const int in : {rise, fall})
                for (const int out : {rise, fall})
                    if (!std::isnan(a.delay[late][in][out])) put(a.to, out, a.delay[late][in][out], a.delay[early][in][out], a.from);
    for (const auto node : g.order)
        for (auto i = g.fanout_start[node]; i < g.fanout_start[node + 1]; ++i) {
            const auto& a = g.arcs[g.fanout[i]];
            if (g.cut[g.fanout[i]] || a.kind == Arc::launch) continue;
            for (const int in : {rise, fall})
                for (const int out : {rise, fall}) {
                    const auto& from = at[node];
                    if (std::isnan(a.delay[late][in][out]) || from.start[in] == no_id) continue;
                    put(a.to, out, from.longest[in] + a.delay[late][in][out], from.shortest[in] + a.delay[early][in][out], from.start[in]);
                }
        }
    std::vector<PlainDelay> out(g.nodes);
    for (NodeId i = 0; i < g.nodes; ++i) {
        const int worst = at[i].longest[fall] > at[i].longest[rise] ? fall : rise;
        out[i] = {at[i].longest[worst], std::min(at[i].shortest[rise], at[i].shortest[fall]), at[i].start[worst]};
    }
    return out;
}

}  // namespace kp::timing
