// SPDX-License-Identifier: GPL-3.0-or-later
// Pins and ports are nodes, arcs of cells and wires edges in flat arrays, numbered by level (Kahn 1962). Loops are
// cut at the last arc of a depth-first walk, always the same one.
#include "core/timing/graph.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <string>
#include <unordered_map>

namespace kp::timing {

namespace {

bool passes_sense(Sense sense, int in, int out) {
    return sense == Sense::positive ? in == out : sense == Sense::negative ? in != out : true;
}

/// An edge that the library gives no delay for, while it gives one for the other, does not leave the arc.
bool makes_edge(const LibraryArc& arc, int out) {
    return !arc.delay[out].empty() || arc.delay[1 - out].empty();
}

/// What all instances of a cell type have in common: its arcs and checks, by positions of pins.
struct Pattern {
    struct Entry {
        std::uint32_t from, to;
        std::uint16_t library;
        Way way;
        EdgePairs passes;
    };
    std::vector<Entry> arcs;
    struct Checked {
        std::uint32_t data, clock;
        Check check;
    };
    std::vector<Checked> checks;
};

Check check_of(const LibraryArc& arc) {
    Check k;
    k.setup_like = arc.kind == ArcKind::setup_rising || arc.kind == ArcKind::setup_falling ||
                   arc.kind == ArcKind::recovery_rising || arc.kind == ArcKind::recovery_falling;
    k.asynchronous = arc.kind >= ArcKind::recovery_rising;
    k.clock_edge = arc.kind == ArcKind::setup_rising || arc.kind == ArcKind::hold_rising ||
                           arc.kind == ArcKind::recovery_rising || arc.kind == ArcKind::removal_rising
                       ? rise
                       : fall;
    return k;
}

/// docs/timing.md: clear and preset are not followed to outputs unless that is switched on. Clear makes outputs fall,
/// preset rise.
bool is_followed(const LibraryArc& arc, bool clear_arcs) {
    return arc.is_delay() || arc.kind == ArcKind::enable || arc.kind == ArcKind::disable ||
           (clear_arcs && (arc.kind == ArcKind::clear || arc.kind == ArcKind::preset));
}

Pattern pattern_of(const LibraryCell& cell, bool clear_arcs) {
    Pattern out;
    for (std::uint16_t i = 0; i < cell.arcs.size(); ++i) {
        const auto& arc = cell.arcs[i];
        if (arc.is_check()) {
            auto check = check_of(arc);
            check.library = i;
            out.checks.push_back({arc.to, arc.from, check});
        } else if (is_followed(arc, clear_arcs)) {
            const bool forced = arc.kind == ArcKind::clear || arc.kind == ArcKind::preset;
            const bool edge = arc.kind == ArcKind::rising_edge || arc.kind == ArcKind::falling_edge;
            const Way way = edge ? Way::launch : cell.latch && !forced ? Way::through : Way::cell;
            const Sense sense =
                edge || (forced && arc.sense == Sense::unknown) ? Sense::non_unate : sense_of(cell, arc);
            EdgePairs passes = 0;
            for (const int in : {rise, fall})
                for (const int o : {rise, fall})
                    if ((!edge || in == (arc.kind == ArcKind::rising_edge ? rise : fall)) &&
                        passes_sense(sense, in, o) &&
                        (forced ? o == (arc.kind == ArcKind::clear ? fall : rise) : makes_edge(arc, o)))
                        passes |= pair_bit(in, o);
            out.arcs.push_back({arc.from, arc.to, i, way, passes});
        }
    }
    return out;
}

void add_arc(Graph& g, NodeId from, NodeId to, Way way, std::uint16_t library, EdgePairs passes) {
    g.from.push_back(from);
    g.to.push_back(to);
    g.way.push_back(way);
    g.library_arc.push_back(library);
    g.passes.push_back(passes);
}

void add_cells(Graph& g, bool clear_arcs, const std::stop_token& stop) {
    const auto& n = *g.netlist;
    std::vector<Pattern> patterns;
    for (const auto* cell : g.cell_types) patterns.push_back(cell ? pattern_of(*cell, clear_arcs) : Pattern{});
    std::vector<NodeId> node;
    size_t until_asked = 0;
    for (const auto& c : n.cells) {
        if (until_asked++ % 8192 == 0 && stop.stop_requested()) return;
        const auto* cell = g.cell_types[c.type];
        if (!cell) continue;
        node.assign(cell->pins.size(), no_id);
        for (NodeId p = c.first_pin; p < c.first_pin + c.pin_count; ++p)
            if (const int at = g.cell_pin(p); at >= 0) node[static_cast<size_t>(at)] = p;
        for (const auto& a : patterns[c.type].arcs)
            if (node[a.from] != no_id && node[a.to] != no_id)
                add_arc(g, node[a.from], node[a.to], a.way, a.library, a.passes);
        for (const auto& k : patterns[c.type].checks)
            if (node[k.data] != no_id && node[k.clock] != no_id) {
                auto& check = g.checks.emplace_back(k.check);
                check.data = node[k.data];
                check.clock = node[k.clock];
            }
    }
}

/// Pins and ports of each net on one side of it, in one array.
struct ByNet {
    std::vector<std::uint32_t> start;
    std::vector<NodeId> node;

    template <class Each>
    ByNet(size_t nets, Each each) : start(nets + 1, 0) {
        each([&](std::uint32_t net, NodeId) { ++start[net + 1]; });
        for (size_t i = 0; i < nets; ++i) start[i + 1] += start[i];
        node.resize(start[nets]);
        auto at = start;
        each([&](std::uint32_t net, NodeId id) { node[at[net]++] = id; });
    }
};

void add_wires(Graph& g) {
    const auto& n = *g.netlist;
    const auto side = [&](Direction not_this) {
        return [&g, &n, not_this](auto put) {
            for (NodeId p = 0; p < g.pins; ++p) {
                const int at = n.pins[p].net == no_id ? -1 : g.cell_pin(p);
                if (at >= 0 && g.cell_of(p)->pins[static_cast<size_t>(at)].direction != not_this) put(n.pins[p].net, p);
            }
            for (std::uint32_t i = 0; i < n.ports.size(); ++i) {
                const bool drives = not_this == Direction::in;  // seen from inside, an input port drives
                if (n.ports[i].direction != (drives ? Direction::out : Direction::in))
                    put(n.ports[i].net, drives ? g.input_node(i) : g.port_node(i));
            }
        };
    };
    const ByNet drivers(n.net_names.size(), side(Direction::in)), sinks(n.net_names.size(), side(Direction::out));
    for (size_t net = 0; net < n.net_names.size(); ++net)
        for (auto d = drivers.start[net]; d < drivers.start[net + 1]; ++d)
            for (auto s = sinks.start[net]; s < sinks.start[net + 1]; ++s) {
                const NodeId from = drivers.node[d], to = sinks.node[s];
                if (from == to || (g.is_port(from) && g.is_port(to) && g.port_of(from) == g.port_of(to))) continue;
                add_arc(g, from, to, Way::net, 0, straight_pairs);
            }
}

void index_fanout(Graph& g) {
    g.fanout_start.assign(g.nodes + 1, 0);
    for (const auto from : g.from) ++g.fanout_start[from + 1];
    for (size_t i = 0; i < g.nodes; ++i) g.fanout_start[i + 1] += g.fanout_start[i];
    g.fanout.resize(g.arcs());
    auto out = g.fanout_start;
    for (ArcId i = 0; i < g.arcs(); ++i) g.fanout[out[g.from[i]]++] = i;
}

/// Level by level from the nodes nothing feeds (Kahn 1962). False when loops keep some nodes out; they then follow in
/// no special order.
bool levels(Graph& g) {
    std::vector<std::uint32_t> waiting(g.nodes, 0);
    for (ArcId a = 0; a < g.arcs(); ++a)
        if (!g.cut(a)) ++waiting[g.to[a]];
    g.order.clear();
    g.level_start.assign(1, 0);
    g.order.reserve(g.nodes);
    for (NodeId i = 0; i < g.nodes; ++i)
        if (waiting[i] == 0) g.order.push_back(i);
    for (size_t first = 0; first < g.order.size();) {
        const size_t last = g.order.size();
        g.level_start.push_back(static_cast<std::uint32_t>(last));
        for (; first < last; ++first)
            for (const auto a : g.leaving(g.order[first]))
                if (!g.cut(a) && --waiting[g.to[a]] == 0) g.order.push_back(g.to[a]);
    }
    const bool whole = g.order.size() == g.nodes;
    for (NodeId i = 0; !whole && i < g.nodes; ++i)
        if (waiting[i] != 0) g.order.push_back(i);
    g.rank.resize(g.nodes);
    for (std::uint32_t i = 0; i < g.nodes; ++i) g.rank[g.order[i]] = i;
    return whole;
}

/// Depth-first from the lowest node with an own stack: an arc to a node that is still open closes a loop and is cut.
void cut_loops(Graph& g) {
    enum : std::uint8_t { fresh, open, done };
    std::vector<std::uint8_t> state(g.nodes, fresh);
    struct Open {
        NodeId node;
        std::uint32_t next;
    };
    std::vector<Open> stack;
    for (NodeId root = 0; root < g.nodes; ++root) {
        if (state[root] != fresh) continue;
        stack.push_back({root, g.fanout_start[root]});
        state[root] = open;
        while (!stack.empty()) {
            auto& top = stack.back();
            if (top.next == g.fanout_start[top.node + 1]) {
                state[top.node] = done;
                stack.pop_back();
                continue;
            }
            const ArcId arc = g.fanout[top.next++];
            if (g.cut(arc)) continue;
            const NodeId to = g.to[arc];
            if (state[to] == fresh) {
                state[to] = open;
                stack.push_back({to, g.fanout_start[to]});
            } else if (state[to] == open) {
                g.allowed[arc] = 0;
                std::string loop;
                size_t shown = 0;
                for (auto at = std::find_if(stack.begin(), stack.end(), [&](const Open& o) { return o.node == to; });
                     at != stack.end(); ++at)
                    if (shown++ < 20) loop += g.name(at->node) + " > ";
                g.messages.push_back({Severity::caution, Code::loop,
                                      said("A combinational loop is cut at its last step: {}{}.", loop, g.name(to))});
            }
        }
    }
}

template <class T>
void permute(std::vector<T>& list, const std::vector<ArcId>& from) {
    std::vector<T> out(list.size());
    for (size_t i = 0; i < list.size(); ++i) out[i] = list[from[i]];
    list = std::move(out);
}

/// Arcs by the rank of the node they end at; those of one node keep their order.
void number_arcs(Graph& g) {
    std::vector<std::uint32_t> count(g.nodes + 1, 0);
    for (const auto to : g.to) ++count[g.rank[to] + 1];
    for (size_t i = 0; i < g.nodes; ++i) count[i + 1] += count[i];
    g.fanin_first.resize(g.nodes);
    g.fanin_last.resize(g.nodes);
    for (NodeId i = 0; i < g.nodes; ++i) {
        g.fanin_first[i] = count[g.rank[i]];
        g.fanin_last[i] = count[g.rank[i] + 1];
    }
    std::vector<ArcId> source(g.arcs());
    for (ArcId a = 0; a < g.arcs(); ++a) source[count[g.rank[g.to[a]]]++] = a;
    permute(g.from, source);
    permute(g.to, source);
    permute(g.way, source);
    permute(g.library_arc, source);
    permute(g.passes, source);
    index_fanout(g);
}

}  // namespace

Sense sense_of(const LibraryCell& cell, const LibraryArc& arc) {
    if (arc.sense != Sense::unknown) return arc.sense;
    const auto& f = cell.pins[arc.to].function;
    const auto at = std::find(f.inputs.begin(), f.inputs.end(), cell.pins[arc.from].name);
    if (at == f.inputs.end()) return Sense::non_unate;
    const int s = f.sense(static_cast<size_t>(at - f.inputs.begin()));
    return s == 1 ? Sense::positive : s == -1 ? Sense::negative : Sense::non_unate;
}

void put_in_order(Graph& g) {
    if (levels(g)) return;
    cut_loops(g);
    levels(g);
}

Graph build_graph(const Netlist& netlist, const Library& library, bool clear_arcs, const std::stop_token& stop) {
    Graph g;
    g.netlist = &netlist;
    g.library = &library;
    g.pins = netlist.pins.size();
    g.nodes = g.pins + netlist.ports.size();
    g.entry.assign(netlist.ports.size(), no_id);
    for (std::uint32_t i = 0; i < netlist.ports.size(); ++i)
        if (netlist.ports[i].direction == Direction::inout) {
            g.entry[i] = static_cast<NodeId>(g.nodes++);
            g.both_ways.push_back(i);
        }
    std::unordered_map<std::string_view, size_t> name_at;
    for (size_t i = 0; i < netlist.pin_names.size(); ++i) name_at.emplace(netlist.pin_names[i], i);
    for (const auto& type : netlist.types) {
        const auto* cell = library.cell(type);
        g.cell_types.push_back(cell);
        auto& names = g.pin_of_name.emplace_back(netlist.pin_names.size(), std::int16_t{-1});
        for (size_t i = 0; cell && i < cell->pins.size(); ++i)
            if (const auto at = name_at.find(cell->pins[i].name); at != name_at.end())
                names[at->second] = static_cast<std::int16_t>(i);
    }
    add_cells(g, clear_arcs, stop);
    const auto go_on = [&] { return !stop.stop_requested(); };
    if (go_on()) add_wires(g);
    if (go_on()) index_fanout(g);
    g.allowed = g.passes;
    if (go_on()) levels(g);
    if (go_on()) number_arcs(g);
    g.allowed = g.passes;
    return g;
}

}  // namespace kp::timing
