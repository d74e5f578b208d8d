// SPDX-License-Identifier: GPL-3.0-or-later
// Exceptions as an automaton over the points of a path: a tag carries how far each is met, so that arrivals are
// merged when nothing tells them apart.
#include "core/timing/exceptions.hpp"

#include <algorithm>

namespace kp::timing {

namespace {
enum Role { from_role, through_role, to_role };
}

bool Exceptions::Nodes::has(NodeId node) const {
    return std::binary_search(nodes.begin(), nodes.end(), node);
}
bool Exceptions::Nodes::has_clock(std::uint32_t clock) const {
    return clock != no_id && std::find(clocks.begin(), clocks.end(), clock) != clocks.end();
}

Exceptions::Exceptions(const Graph& graph, const Constraints& constraints) : g_(graph), constraints_(constraints) {
    check_clock_.assign(graph.nodes, false);
    check_data_.assign(graph.nodes, false);
    for (const auto& c : graph.checks) check_clock_[c.clock] = check_data_[c.data] = true;
    for (ArcId a = 0; a < graph.arcs(); ++a)
        if (graph.way[a] == Way::launch) check_clock_[graph.from[a]] = true;
    intern({});
    reload();
}

void Exceptions::reload() {
    for (auto* flags : {&through_node_, &from_node_, &to_node_}) flags->assign(g_.nodes, false);
    used_.assign(constraints_.exceptions.size(), false);
    rules_.clear();
    known_.clear();
    any_start_ = false;
    for (const auto& e : constraints_.exceptions) {
        Rule r;
        if (e.from) r.from = collect(*e.from, from_role);
        if (e.to) r.to = collect(*e.to, to_role);
        for (const auto& t : e.through) {
            r.through.push_back(collect(t, through_role));
            for (const auto node : r.through.back().nodes) through_node_[node] = true;
        }
        r.stateful = !r.through.empty() || (r.from && !r.from->nodes.empty());
        if (r.from)
            for (const auto node : r.from->nodes) from_node_[node] = true;
        if (r.to)
            for (const auto node : r.to->nodes) to_node_[node] = true;
        any_start_ |= r.stateful && (!r.from || !r.from->clocks.empty());
        rules_.push_back(std::move(r));
    }
}

/// docs/timing.md, settled details: -from a cell means its clock pins, -to a cell its data and asynchronous inputs.
Exceptions::Nodes Exceptions::collect(const PathException::Point& point, int role) const {
    Nodes out;
    out.rise = point.rise;
    out.fall = point.fall;
    const auto& n = *g_.netlist;
    for (const auto& o : point.objects) {
        if (o.kind == ObjectKind::clock) out.clocks.push_back(o.id);
        if (o.kind == ObjectKind::port && role != from_role) out.nodes.push_back(g_.port_node(o.id));
        if (o.kind == ObjectKind::port && role != to_role) out.nodes.push_back(g_.input_node(o.id));
        if (o.kind == ObjectKind::pin) out.nodes.push_back(o.id);
        if (o.kind == ObjectKind::cell) {
            const auto& cell = n.cells[o.id];
            for (NodeId p = cell.first_pin; p < cell.first_pin + cell.pin_count; ++p) {
                if ((role == from_role && check_clock_[p]) || (role == to_role && check_data_[p]) ||
                    role == through_role)
                    out.nodes.push_back(p);
            }
        }
        if (o.kind == ObjectKind::net) {
            for (NodeId p = 0; p < g_.pins; ++p)
                if (n.pins[p].net == o.id) {
                    const auto leaving = g_.leaving(p);
                    const bool driver = !leaving.empty() && g_.way[leaving[0]] == Way::net;
                    if (driver) out.nodes.push_back(p);
                }
            for (std::uint32_t i = 0; i < n.ports.size(); ++i)
                if (n.ports[i].net == o.id && n.ports[i].direction != Direction::out)
                    out.nodes.push_back(g_.input_node(i));
        }
    }
    std::sort(out.nodes.begin(), out.nodes.end());
    out.nodes.erase(std::unique(out.nodes.begin(), out.nodes.end()), out.nodes.end());
    return out;
}

Exceptions::StateId Exceptions::intern(std::vector<Progress> state) {
    const auto [at, fresh] = ids_.emplace(state, static_cast<StateId>(states_.size()));
    if (fresh) states_.push_back(std::move(state));
    return at->second;
}

Exceptions::StateId Exceptions::start(NodeId node, int edge) {
    std::vector<Progress> state;
    for (std::uint32_t i = 0; (any_start_ || from_node_[node]) && i < rules_.size(); ++i) {
        const auto& r = rules_[i];
        if (!r.stateful) continue;
        const bool by_node = r.from && r.from->has(node) && (edge == rise ? r.from->rise : r.from->fall);
        // A clock in -from is decided at the endpoint, where the launching clock is known.
        if (!r.from || by_node || !r.from->clocks.empty()) state.push_back({i, by_node ? 1u << 16 : 0u});
    }
    return advance(intern(std::move(state)), node, edge);
}

Exceptions::StateId Exceptions::advance(StateId id, NodeId node, int edge) {
    if (!through_node_[node]) return id;
    auto state = states_[id];
    for (auto& p : state) {
        const auto& through = rules_[p.exception].through;
        const size_t passed = p.passed & 0xFFFF;
        if (passed < through.size() && through[passed].has(node) &&
            (edge == rise ? through[passed].rise : through[passed].fall))
            ++p.passed;
    }
    return intern(std::move(state));
}

/// -1: not met. Otherwise the weight of docs/timing.md: from pin, to pin, through, from clock, to clock, each above all
/// after it.
int Exceptions::specificity(const Rule& r, const End& end) const {
    int weight = 0;
    if (r.stateful) {
        const auto& state = states_[end.state];
        const auto index = static_cast<std::uint32_t>(&r - rules_.data());
        const auto at =
            std::find_if(state.begin(), state.end(), [&](const Progress& p) { return p.exception == index; });
        if (at == state.end() || (at->passed & 0xFFFF) != r.through.size()) return -1;
        const bool by_node = at->passed >> 16;
        if (by_node)
            weight += 16;
        else if (r.from) {
            if (!r.from->has_clock(end.launch_clock) || !(end.launch_edge == rise ? r.from->rise : r.from->fall))
                return -1;
            weight += 2;
        }
        if (!r.through.empty()) weight += 4;
    } else if (r.from) {
        if (!r.from->has_clock(end.launch_clock) || !(end.launch_edge == rise ? r.from->rise : r.from->fall)) return -1;
        weight += 2;
    }
    if (r.to) {
        const bool every = r.to->nodes.empty() && r.to->clocks.empty();  // -rise or -fall alone
        const bool by_node = r.to->has(end.node) && (end.edge == rise ? r.to->rise : r.to->fall);
        const bool by_clock =
            r.to->has_clock(end.capture_clock) && (end.capture_edge == rise ? r.to->rise : r.to->fall);
        if (every ? !(end.edge == rise ? r.to->rise : r.to->fall) : !by_node && !by_clock) return -1;
        weight += by_node ? 8 : by_clock ? 1 : 0;
    }
    return weight;
}

/// Most ends are named by no rule: what is decided for one of them holds for all with the same clocks, edges and state.
Exceptions::Verdict Exceptions::judge(const End& end) {
    if (to_node_[end.node]) return decide(end);
    const auto edges =
        static_cast<std::uint32_t>(end.launch_edge | end.capture_edge << 1 | end.edge << 2 | (end.setup ? 8 : 0));
    const auto [at, fresh] = known_.try_emplace({end.state, end.launch_clock, end.capture_clock, edges});
    if (fresh) at->second = decide(end);
    return at->second;
}

Exceptions::Verdict Exceptions::decide(const End& end) {
    Verdict v;
    int bound_weight = -1, setup_weight = -1, hold_weight = -1;
    for (size_t i = 0; i < rules_.size(); ++i) {
        const auto& e = constraints_.exceptions[i];
        const int w = specificity(rules_[i], end);
        if (w < 0) continue;
        const bool this_side = end.setup ? e.setup : e.hold;
        if (this_side) used_[i] = true;
        if (e.kind == PathException::false_path && this_side) v.is_false = true;
        if ((e.kind == PathException::max_delay && end.setup) || (e.kind == PathException::min_delay && !end.setup)) {
            const bool tighter = v.bound && (end.setup ? e.value < v.bound->value : e.value > v.bound->value);
            if (w > bound_weight || (w == bound_weight && tighter)) {
                bound_weight = w;
                v.bound = &e;
            }
        }
        if (e.kind == PathException::multicycle) {
            if (e.setup && w >= setup_weight) {
                setup_weight = w;
                v.cycles_setup = &e;
            }
            if (e.hold && w >= hold_weight) {
                hold_weight = w;
                v.cycles_hold = &e;
            }
        }
    }
    const auto in_other_group = [&](const ClockGroups& g) {
        int a = -1, b = -1;
        for (size_t k = 0; k < g.groups.size(); ++k) {
            if (std::find(g.groups[k].begin(), g.groups[k].end(), end.launch_clock) != g.groups[k].end())
                a = static_cast<int>(k);
            if (std::find(g.groups[k].begin(), g.groups[k].end(), end.capture_clock) != g.groups[k].end())
                b = static_cast<int>(k);
        }
        return g.groups.size() == 1 ? a != b : a >= 0 && b >= 0 && a != b;
    };
    if (end.launch_clock != no_id && end.capture_clock != no_id)
        for (const auto& g : constraints_.groups) v.is_false |= in_other_group(g);
    return v;
}

}  // namespace kp::timing
