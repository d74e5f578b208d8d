// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/timing/graph.hpp"

#include <algorithm>
#include <cmath>
#include <string>

namespace kp::timing {

namespace {

DelayMatrix no_delay() {
    DelayMatrix m;
    for (auto& side : m)
        for (auto& in : side) in = {absent, absent};
    return m;
}

bool passes(Sense sense, int in, int out) {
    return sense == Sense::positive ? in == out : sense == Sense::negative ? in != out : true;
}

Sense sense_of(const LibraryCell& cell, const LibraryArc& arc) {
    if (arc.sense != Sense::unknown) return arc.sense;
    const auto& f = cell.pins[arc.to].function;
    const auto at = std::find(f.inputs.begin(), f.inputs.end(), cell.pins[arc.from].name);
    if (at == f.inputs.end()) return Sense::non_unate;
    const int s = f.sense(static_cast<size_t>(at - f.inputs.begin()));
    return s == 1 ? Sense::positive : s == -1 ? Sense::negative : Sense::non_unate;
}

void add_cell_arcs(Graph& g, std::uint32_t cell_id) {
    const auto& n = *g.netlist;
    const auto& c = n.cells[cell_id];
    const auto* cell = g.cell_types[c.type];
    if (!cell) return;
    std::vector<NodeId> node(cell->pins.size(), no_id);
    for (std::uint32_t p = c.first_pin; p < c.first_pin + c.pin_count; ++p)
        if (const int at = cell->pin(n.pin_names[n.pins[p].name]); at >= 0) node[static_cast<size_t>(at)] = p;
    for (size_t i = 0; i < cell->pins.size(); ++i) {
        const auto& pin = cell->pins[i];
        if (node[i] != no_id && (pin.min_pulse[0] > 0 || pin.min_pulse[1] > 0 || pin.min_period > 0)) g.pulse_limits.push_back({node[i], {pin.min_pulse[0], pin.min_pulse[1]}, pin.min_period});
    }
    for (const auto& arc : cell->arcs) {
        const NodeId from = node[arc.from], to = node[arc.to];
        if (from == no_id || to == no_id) continue;
        if (arc.kind == ArcKind::pulse_width) {
            auto& limit = g.pulse_limits.emplace_back();
            limit.pin = to;
            for (const size_t e : {0u, 1u}) limit.width[e] = arc.constraint[e].empty() ? 0 : arc.constraint[e].at(0, 0);
            continue;
        }
        if (arc.is_check()) {
            Check k;
            k.data = to, k.clock = from, k.library = &arc;
            k.setup_like = arc.kind == ArcKind::setup_rising || arc.kind == ArcKind::setup_falling || arc.kind == ArcKind::recovery_rising || arc.kind == ArcKind::recovery_falling;
            k.asynchronous = arc.kind >= ArcKind::recovery_rising;
            k.clock_edge = arc.kind == ArcKind::setup_rising || arc.kind == ArcKind::hold_rising || arc.kind == ArcKind::recovery_rising || arc.kind == ArcKind::removal_rising ? rise : fall;
            k.annotated[rise] = k.annotated[fall] = absent;
            g.checks.push_back(k);
        } else if (arc.is_delay() || arc.kind == ArcKind::enable || arc.kind == ArcKind::disable) {
            Arc a;
            a.kind = arc.kind == ArcKind::rising_edge || arc.kind == ArcKind::falling_edge ? Arc::launch : cell->latch ? Arc::through : Arc::cell;
            a.from = from, a.to = to, a.library = &arc, a.delay = no_delay();
            const Sense sense = a.kind != Arc::launch ? sense_of(*cell, arc) : Sense::non_unate;
            for (int in : {rise, fall})
                for (int out : {rise, fall}) {
                    const bool edge = a.kind != Arc::launch || in == (arc.kind == ArcKind::rising_edge ? rise : fall);
                    if (edge && passes(sense, in, out)) a.delay[early][in][out] = a.delay[late][in][out] = 0;
                }
            g.arcs.push_back(a);
        }
    }
}

void add_net_arcs(Graph& g) {
    const auto& n = *g.netlist;
    std::vector<std::vector<NodeId>> drivers(n.net_names.size()), sinks(n.net_names.size());
    for (std::uint32_t p = 0; p < n.pins.size(); ++p) {
        const auto* cell = g.cell_of(p);
        const int at = cell ? cell->pin(n.pin_names[n.pins[p].name]) : -1;
        if (at < 0 || n.pins[p].net == no_id) continue;
        const auto d = cell->pins[static_cast<size_t>(at)].direction;
        if (d != Direction::in) drivers[n.pins[p].net].push_back(p);
        if (d != Direction::out) sinks[n.pins[p].net].push_back(p);
    }
    for (std::uint32_t i = 0; i < n.ports.size(); ++i) {
        if (n.ports[i].direction != Direction::out) drivers[n.ports[i].net].push_back(g.input_node(i));
        if (n.ports[i].direction != Direction::in) sinks[n.ports[i].net].push_back(g.port_node(i));
    }
    for (size_t net = 0; net < drivers.size(); ++net)
        for (const auto d : drivers[net])
            for (const auto s : sinks[net]) {
                if (d == s || (g.is_port(d) && g.is_port(s) && g.port_of(d) == g.port_of(s))) continue;
                Arc a;
                a.from = d, a.to = s, a.delay = no_delay();
                for (int side : {early, late}) a.delay[side][rise][rise] = a.delay[side][fall][fall] = 0;
                g.arcs.push_back(a);
            }
}

void index_arcs(Graph& g) {
    g.fanout_start.assign(g.nodes + 1, 0);
    g.fanin_start.assign(g.nodes + 1, 0);
    for (const auto& a : g.arcs) ++g.fanout_start[a.from + 1], ++g.fanin_start[a.to + 1];
    for (size_t i = 0; i < g.nodes; ++i) g.fanout_start[i + 1] += g.fanout_start[i], g.fanin_start[i + 1] += g.fanin_start[i];
    g.fanout.resize(g.arcs.size());
    g.fanin.resize(g.arcs.size());
    auto out = g.fanout_start, in = g.fanin_start;
    for (ArcId i = 0; i < g.arcs.size(); ++i) g.fanout[out[g.arcs[i].from]++] = i, g.fanin[in[g.arcs[i].to]++] = i;
}

/// Depth-first from the lowest node with an own stack: an arc to a node that is still open closes a loop and is cut.
void cut_loops(Graph& g) {
    std::vector<std::uint8_t> state(g.nodes, 0);  // 0 new, 1 open, 2 done
    std::vector<NodeId> finished;
    finished.reserve(g.nodes);
    struct Open {
        NodeId node;
        std::uint32_t next;
    };
    std::vector<Open> stack;
    for (NodeId root = 0; root < g.nodes; ++root) {
        if (state[root]) continue;
        stack.push_back({root, g.fanout_start[root]});
        state[root] = 1;
        while (!stack.empty()) {
            auto& top = stack.back();
            if (top.next == g.fanout_start[top.node + 1]) {
                state[top.node] = 2;
                finished.push_back(top.node);
                stack.pop_back();
                continue;
            }
            const ArcId arc = g.fanout[top.next++];
            if (g.cut[arc]) continue;
            const NodeId to = g.arcs[arc].to;
            if (state[to] == 0) {
                state[to] = 1;
                stack.push_back({to, g.fanout_start[to]});
            } else if (state[to] == 1) {
                g.cut[arc] = true;
                std::string loop;
                size_t shown = 0;
                for (auto at = std::find_if(stack.begin(), stack.end(), [&](const Open& o) { return o.node == to; }); at != stack.end(); ++at)
                    if (shown++ < 20) loop += g.name(at->node) + " > ";
                g.messages.push_back({Severity::caution, "loop", "A combinational loop is cut at its last step: " + loop + g.name(to) + ".", "", 0, 0});
            }
        }
    }
    g.order.assign(finished.rbegin(), finished.rend());
}

}  // namespace

Graph build_graph(const TimingInput& input) {
    Graph g;
    g.netlist = &input.netlist;
    g.library = &input.library;
    g.pins = input.netlist.pins.size();
    g.nodes = g.pins + input.netlist.ports.size();
    g.entry.assign(input.netlist.ports.size(), no_id);
    for (std::uint32_t i = 0; i < input.netlist.ports.size(); ++i)
        if (input.netlist.ports[i].direction == Direction::inout) {
            g.entry[i] = static_cast<NodeId>(g.nodes++);
            g.both_ways.push_back(i);
        }
    for (const auto& type : input.netlist.types) g.cell_types.push_back(input.library.cell(type));
    for (std::uint32_t c = 0; c < input.netlist.cells.size(); ++c) add_cell_arcs(g, c);
    add_net_arcs(g);
    index_arcs(g);
    fix_and_cut(g, input.constraints);
    cut_loops(g);
    return g;
}

namespace {


/// What one cell arc does to a transition: delay and output slew at a given input slew.
double looked_up(const TimingTable& table, double slew, double load) { return std::max(0.0, table.at(slew, load)); }

void load_of_drivers(Graph& g, const Constraints& constraints) {
    const auto& n = *g.netlist;
    std::vector<std::array<double, 2>> net(n.net_names.size(), {0, 0});
    for (std::uint32_t p = 0; p < n.pins.size(); ++p) {
        const auto* cell = g.cell_of(p);
        const int at = cell ? cell->pin(n.pin_names[n.pins[p].name]) : -1;
        if (at < 0 || cell->pins[static_cast<size_t>(at)].direction == Direction::out) continue;
        for (int e : {rise, fall}) net[n.pins[p].net][static_cast<size_t>(e)] += cell->pins[static_cast<size_t>(at)].load(e);
    }
    for (const auto& l : constraints.loads)
        for (auto& v : net[l.object.kind == ObjectKind::port ? n.ports[l.object.id].net : l.object.id]) v += l.value;
    g.load.assign(g.nodes, {0, 0});
    for (NodeId i = 0; i < g.nodes; ++i) {
        const auto id = g.is_port(i) ? n.ports[g.port_of(i)].net : n.pins[i].net;
        if (id != no_id) g.load[i] = net[id];
    }
}

void arc_delay(Graph& g, Arc& a, std::vector<std::array<std::array<bool, 2>, 2>>& known) {
    for (const int side : {early, late})
        for (const int in : {rise, fall})
            for (const int out : {rise, fall}) {
                double& delay = a.delay[side][in][out];
                if (std::isnan(delay)) continue;
                const double slew_in = g.slew[a.from][side][in];
                double slew_out = slew_in;
                if (a.library) {
                    const auto o = static_cast<size_t>(out);
                    if (!a.annotated[side][in][out]) delay = looked_up(a.library->delay[o], slew_in, g.load[a.to][o]);
                    slew_out = a.library->transition[o].empty() ? 0 : looked_up(a.library->transition[o], slew_in, g.load[a.to][o]);
                }
                double& s = g.slew[a.to][side][out];
                bool& seen = known[a.to][side][out];
                s = !seen ? slew_out : side == late ? std::max(s, slew_out) : std::min(s, slew_out);
                seen = true;
            }
}

/// The transition that the driving cell gives at the port, with the load of the port's net.
void drive_port(Graph& g, const DrivingCell& d) {
    const auto* cell = g.library->cell(d.cell);
    const NodeId node = g.input_node(d.port);
    for (const auto& arc : cell->arcs) {
        if (!arc.is_delay() || (!d.pin.empty() && cell->pins[arc.to].name != d.pin) || (!d.from_pin.empty() && cell->pins[arc.from].name != d.from_pin)) continue;
        const Sense sense = arc.kind == ArcKind::combinational ? sense_of(*cell, arc) : Sense::non_unate;
        for (const int out : {rise, fall}) {
            if (!(out == rise ? d.rise : d.fall)) continue;
            const int in = sense == Sense::negative ? 1 - out : out;
            const double slew = arc.transition[out].empty() ? 0 : looked_up(arc.transition[out], d.slew[in], g.load[node][static_cast<size_t>(out)]);
            if (d.minimum) g.slew[node][early][out] = slew;
            if (d.maximum) g.slew[node][late][out] = slew;
        }
        return;
    }
}

}  // namespace

void calculate_delays(Graph& g, const Constraints& constraints, const std::vector<double>& ideal_clock_slew) {
    load_of_drivers(g, constraints);
    g.slew.assign(g.nodes, {});
    std::vector<std::array<std::array<bool, 2>, 2>> known(g.nodes);
    for (const auto& t : constraints.input_transitions)
        for (const int side : {early, late})
            for (const int edge : {rise, fall})
                if ((side == early ? t.minimum : t.maximum) && (edge == rise ? t.rise : t.fall)) g.slew[g.input_node(t.port)][side][edge] = t.value;
    for (const auto& d : constraints.driving_cells) drive_port(g, d);
    for (const auto node : g.order) {
        if (!std::isnan(ideal_clock_slew[node]))
            for (auto& side : g.slew[node]) side = {ideal_clock_slew[node], ideal_clock_slew[node]};
        for (auto i = g.fanout_start[node]; i < g.fanout_start[node + 1]; ++i)
            if (!g.cut[g.fanout[i]]) arc_delay(g, g.arcs[g.fanout[i]], known);
    }
    for (auto& c : g.checks) {
        const int side = c.setup_like ? late : early;  // the data transition that counts; the clock's is the opposite
        for (const int e : {rise, fall}) {
            const auto at = static_cast<size_t>(e);
            c.value[at] = !std::isnan(c.annotated[at]) ? c.annotated[at] : c.library->constraint[at].at(g.slew[c.data][side][e], g.slew[c.clock][side == late ? early : late][c.clock_edge]);
        }
    }
}

}  // namespace kp::timing
