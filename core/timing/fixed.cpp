// SPDX-License-Identifier: GPL-3.0-or-later
// Case analysis and constants, and the arcs they leave nothing to pass.
#include "core/timing/graph.hpp"

#include <algorithm>
#include <cmath>
#include <unordered_map>

namespace kp::timing {

namespace {

constexpr std::int8_t open_value = -1;

class Fixer {
public:
    Fixer(Graph& g, const Constraints& constraints) : g_(g), n_(*g.netlist), k_(constraints) {
        g.fixed.assign(g.nodes, open_value);
        g.allowed = g.passes;
        for (auto& c : g.checks) c.off = false;
    }

    void run() {
        values();
        for (ArcId i = 0; i < g_.arcs(); ++i)
            if (blocked(i)) g_.allowed[i] = 0;
        for (auto& c : g_.checks) {
            const auto& when = g_.library_of(c, g_.cell_types).when;
            const auto cell = n_.pins[c.data].cell;
            if (!when.empty() && any_fixed(cell) && condition_is_false(when, cell)) c.off = true;
        }
        for (const auto& d : k_.disabled) disable(d);
    }

private:
    /// Worklist: a node gets a value once, so it ends, loops or not.
    void values() {
        std::vector<NodeId> open;
        const auto set = [&](NodeId node, std::int8_t v) {
            if (g_.fixed[node] != open_value) return;
            g_.fixed[node] = v;
            some_ = true;
            open.push_back(node);
        };
        for (const auto& c : k_.cases) {
            set(c.object.kind == ObjectKind::port ? g_.input_node(c.object.id) : c.object.id,
                static_cast<std::int8_t>(c.value));
            if (c.object.kind == ObjectKind::port) set(g_.port_node(c.object.id), static_cast<std::int8_t>(c.value));
        }
        for (const int v : {0, 1})
            if (n_.constant_net[v] != no_id)
                for (NodeId p = 0; p < g_.pins; ++p)
                    if (n_.pins[p].net == n_.constant_net[v]) set(p, static_cast<std::int8_t>(v));
        // Cells whose output is a constant by itself.
        for (std::uint32_t cell = 0; cell < n_.cells.size(); ++cell)
            if (const auto* lib = g_.cell_types[n_.cells[cell].type]; lib && !lib->flip_flop)
                for (const auto& pin : lib->pins)
                    if (!pin.function.empty() && pin.function.inputs.empty()) evaluate(cell, set);
        while (!open.empty()) {
            const NodeId node = open.back();
            open.pop_back();
            if (g_.fixed[node] > 1) continue;  // an edge is not a level: it blocks the other edge and goes no further
            for (const auto a : g_.leaving(node))
                if (g_.way[a] == Way::net && all_drivers_hold(g_.to[a], g_.fixed[node])) set(g_.to[a], g_.fixed[node]);
            if (!g_.is_port(node)) evaluate(n_.pins[node].cell, set);
        }
    }

    /// A wire with several drivers stays at a level only if each of them holds it there.
    [[nodiscard]] bool all_drivers_hold(NodeId sink, std::int8_t value) const {
        for (auto a = g_.fanin_first[sink]; a < g_.fanin_last[sink]; ++a)
            if (g_.way[a] == Way::net && g_.fixed[g_.from[a]] != value) return false;
        return true;
    }

    /// Whether an output may stop driving, and whether it may drive at all, while the pins of its cell are as they are.
    struct Drive {
        bool may_rest = false, may_drive = true;
    };
    [[nodiscard]] Drive drive_of(const LibraryCell& type, const LibraryPin& pin, std::uint32_t cell) const {
        if (pin.three_state.empty()) {
            // Without the function, arcs that switch the driver say that there is one.
            const auto at = static_cast<std::uint32_t>(&pin - type.pins.data());
            return {std::any_of(type.arcs.begin(), type.arcs.end(),
                                [&](const LibraryArc& a) {
                                    return a.to == at && (a.kind == ArcKind::enable || a.kind == ArcKind::disable);
                                }),
                    true};
        }
        const auto r = range(pin.three_state, cell, no_id);
        return r.known ? Drive{r.ever, !r.always} : Drive{true, true};
    }

    template <class Set>
    void evaluate(std::uint32_t cell, Set set) {
        const auto& c = n_.cells[cell];
        const auto* lib = g_.cell_types[c.type];
        if (!lib || lib->flip_flop) return;
        for (NodeId p = c.first_pin; p < c.first_pin + c.pin_count; ++p) {
            const int at = g_.cell_pin(p);
            if (at < 0 || lib->pins[static_cast<size_t>(at)].direction == Direction::in) continue;
            const auto& pin = lib->pins[static_cast<size_t>(at)];
            // What is let go is at no level: an open-drain pad drives 0 or rests, whatever its constant data pin says.
            if (drive_of(*lib, pin, cell).may_rest) continue;
            const auto r = range(pin.function, cell, no_id);
            if (r.known && r.always == r.ever) set(p, r.ever ? 1 : 0);
        }
    }

    /// What a function can give while the pins of its cell are as they are, over all values of those that are open.
    struct Range {
        bool known = false;
        bool always = true, ever = false;  ///< it is 1 for all, for some of them
        bool up = false, down = false;     ///< the output goes with `pin`, or against it
    };
    Range range(const BooleanFunction& f, std::uint32_t cell, NodeId pin) const {
        Range r;
        const size_t inputs = f.inputs.size();
        if (f.empty() || inputs > 12) return r;
        std::uint64_t known = 0, value = 0;
        size_t own = inputs;
        for (size_t i = 0; i < inputs; ++i) {
            const NodeId p = pin_of(cell, f.inputs[i]);
            if (p == no_id) continue;
            if (p == pin) {
                own = i;
                continue;
            }
            if (g_.fixed[p] == 0 || g_.fixed[p] == 1) {
                known |= std::uint64_t{1} << i;
                value |= static_cast<std::uint64_t>(g_.fixed[p]) << i;
            }
        }
        r.known = true;
        for (std::uint64_t v = 0; v < (std::uint64_t{1} << inputs); ++v) {
            if ((v & known) != value) continue;
            const bool out = f.eval(v);
            r.always &= out;
            r.ever |= out;
            if (own == inputs || (v >> own & 1)) continue;
            const bool with = f.eval(v | std::uint64_t{1} << own);
            r.up |= !out && with;
            r.down |= out && !with;
        }
        return r;
    }

    [[nodiscard]] NodeId pin_of(std::uint32_t cell, const std::string& name) const {
        const auto& c = n_.cells[cell];
        for (NodeId p = c.first_pin; p < c.first_pin + c.pin_count; ++p)
            if (n_.pin_names[n_.pins[p].name] == name) return p;
        return no_id;
    }

    [[nodiscard]] bool level(NodeId node) const { return g_.fixed[node] == 0 || g_.fixed[node] == 1; }

    void leave_edge(ArcId a, std::int8_t edge, bool at_input) {
        const int gone = edge == CaseValue::rising ? fall : rise;
        for (const int other : {rise, fall})
            g_.allowed[a] &= static_cast<EdgePairs>(~(at_input ? pair_bit(gone, other) : pair_bit(other, gone)));
    }

    bool blocked(ArcId a) {
        const NodeId from = g_.from[a], to = g_.to[a];
        if (level(from) || level(to)) return true;
        if (g_.fixed[from] > 1) leave_edge(a, g_.fixed[from], true);
        if (g_.fixed[to] > 1) leave_edge(a, g_.fixed[to], false);
        if (g_.way[a] == Way::net) return false;
        const auto cell = n_.pins[from].cell;
        if (!any_fixed(cell)) return false;
        const auto& arc = *g_.library_of(a);
        if (!arc.when.empty() && condition_is_false(arc.when, cell)) return true;
        if (g_.way[a] != Way::cell) return false;
        const auto* lib = g_.cell_of(to);
        const auto& z = lib->pins[arc.to].three_state;
        if (!drive_of(*lib, lib->pins[arc.to], cell).may_drive) return true;
        if (std::find(z.inputs.begin(), z.inputs.end(), lib->pins[arc.from].name) != z.inputs.end()) {
            const auto enable = range(z, cell, from);
            return enable.known && !enable.up && !enable.down;
        }
        const auto& f = lib->pins[arc.to].function;
        // A function that never knew this pin says nothing of the arc.
        if (f.empty() || std::find(f.inputs.begin(), f.inputs.end(), lib->pins[arc.from].name) == f.inputs.end())
            return false;
        const auto r = range(f, cell, from);
        if (!r.known) return false;
        if (!r.up && !r.down) return true;
        if (r.up != r.down) g_.allowed[a] &= r.up ? straight_pairs : crossed_pairs;
        return false;
    }

    [[nodiscard]] bool any_fixed(std::uint32_t cell) const {
        const auto& c = n_.cells[cell];
        for (NodeId p = c.first_pin; some_ && p < c.first_pin + c.pin_count; ++p)
            if (level(p)) return true;
        return false;
    }

    bool condition_is_false(const std::string& when, std::uint32_t cell) {
        auto [at, fresh] = conditions_.try_emplace(when);
        if (fresh)
            if (auto parsed = parse_boolean(when)) at->second = parsed.take();
        const auto r = range(at->second, cell, no_id);
        return r.known && !r.ever;
    }

    void disable(const DisabledArcs& d) {
        const auto cut = [&](ArcId i) { g_.allowed[i] = 0; };
        // The checks of a cell stand together, in the order of the cells.
        const auto off = [&](std::uint32_t cell, auto wanted) {
            const auto of = [&](const Check& c) { return n_.pins[c.data].cell; };
            const auto first = std::lower_bound(g_.checks.begin(), g_.checks.end(), cell,
                                                [&](const Check& c, std::uint32_t id) { return of(c) < id; });
            for (auto c = first; c != g_.checks.end() && of(*c) == cell; ++c) c->off |= wanted(*c);
        };
        const auto of_cell = [&](std::uint32_t cell) {
            const auto& c = n_.cells[cell];
            for (NodeId p = c.first_pin; p < c.first_pin + c.pin_count; ++p)
                for (const auto a : g_.leaving(p))
                    if (g_.way[a] != Way::net && (d.from.empty() || n_.pin_names[n_.pins[p].name] == d.from) &&
                        (d.to.empty() || n_.pin_names[n_.pins[g_.to[a]].name] == d.to))
                        cut(a);
            off(cell, [&](const Check& k) {
                return (d.from.empty() || n_.pin_names[n_.pins[k.clock].name] == d.from) &&
                       (d.to.empty() || n_.pin_names[n_.pins[k.data].name] == d.to);
            });
        };
        const auto of_node = [&](NodeId node) {
            for (const auto a : g_.leaving(node)) cut(a);
            for (auto a = g_.fanin_first[node]; a < g_.fanin_last[node]; ++a) cut(a);
            if (!g_.is_port(node))
                off(n_.pins[node].cell, [&](const Check& k) { return k.data == node || k.clock == node; });
        };
        for (const auto& o : d.objects) {
            if (o.kind == ObjectKind::cell)
                of_cell(o.id);
            else if (o.kind == ObjectKind::port) {
                of_node(g_.port_node(o.id));
                of_node(g_.input_node(o.id));
            } else if (o.kind == ObjectKind::pin)
                of_node(o.id);
        }
        for (const auto& type : d.cell_types)
            for (std::uint32_t cell = 0; cell < n_.cells.size(); ++cell)
                if (n_.type_of(cell) == type) of_cell(cell);
        for (const auto& type_pin : d.type_pins) {
            const auto slash = type_pin.find('/');
            for (std::uint32_t cell = 0; cell < n_.cells.size(); ++cell)
                if (n_.type_of(cell) == type_pin.substr(0, slash))
                    if (const auto p = pin_of(cell, type_pin.substr(slash + 1)); p != no_id) of_node(p);
        }
    }

    Graph& g_;
    const Netlist& n_;
    const Constraints& k_;
    bool some_ = false;  ///< some node is fixed
    std::unordered_map<std::string, BooleanFunction> conditions_;
};

}  // namespace

void fix_and_cut(Graph& graph, const Constraints& constraints) {
    Fixer(graph, constraints).run();
}

}  // namespace kp::timing
