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
        g.cut.assign(g.arcs.size(), false);
    }

    void run() {
        values();
        for (ArcId i = 0; i < g_.arcs.size(); ++i)
            if (blocked(g_.arcs[i])) g_.cut[i] = true;
        for (const auto& d : k_.disabled) disable(d);
    }

private:
    /// Worklist: a node gets a value once, so it ends, loops or not.
    void values() {
        std::vector<NodeId> open;
        const auto set = [&](NodeId node, std::int8_t v) {
            if (g_.fixed[node] != open_value) return;
            g_.fixed[node] = v;
            open.push_back(node);
        };
        for (const auto& c : k_.cases) {
            set(c.object.kind == ObjectKind::port ? g_.input_node(c.object.id) : c.object.id, static_cast<std::int8_t>(c.value));
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
            if (g_.fixed[node] > 1) continue;  // an edge is no level: it blocks the other edge and goes no further
            for (auto i = g_.fanout_start[node]; i < g_.fanout_start[node + 1]; ++i) {
                const auto& a = g_.arcs[g_.fanout[i]];
                if (a.kind == Arc::net) set(a.to, g_.fixed[node]);
            }
            if (!g_.is_port(node)) evaluate(n_.pins[node].cell, set);
        }
    }

    template <class Set>
    void evaluate(std::uint32_t cell, Set set) {
        const auto& c = n_.cells[cell];
        const auto* lib = g_.cell_types[c.type];
        if (!lib || lib->flip_flop) return;
        for (NodeId p = c.first_pin; p < c.first_pin + c.pin_count; ++p) {
            const int at = lib->pin(n_.pin_names[n_.pins[p].name]);
            if (at < 0 || lib->pins[static_cast<size_t>(at)].direction == Direction::in) continue;
            const auto& f = lib->pins[static_cast<size_t>(at)].function;
            const auto r = range(f, cell, no_id);
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
            if (g_.fixed[p] == 0 || g_.fixed[p] == 1) known |= std::uint64_t{1} << i, value |= static_cast<std::uint64_t>(g_.fixed[p]) << i;
        }
        r.known = true;
        for (std::uint64_t v = 0; v < (std::uint64_t{1} << inputs); ++v) {
            if ((v & known) != value) continue;
            const bool out = f.eval(v);
            r.always &= out, r.ever |= out;
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

    static void leave_edge(Arc& a, std::int8_t edge, bool at_input) {
        const int gone = edge == CaseValue::rising ? fall : rise;
        for (const int side : {early, late})
            for (const int other : {rise, fall}) (at_input ? a.delay[side][gone][other] : a.delay[side][other][gone]) = absent;
    }

    bool blocked(Arc& a) {
        if (level(a.from) || level(a.to)) return true;
        if (g_.fixed[a.from] > 1) leave_edge(a, g_.fixed[a.from], true);
        if (g_.fixed[a.to] > 1) leave_edge(a, g_.fixed[a.to], false);
        if (a.kind == Arc::net || !a.library) return false;
        const auto cell = n_.pins[a.from].cell;
        if (!a.library->when.empty() && condition_is_false(a.library->when, cell)) return true;
        if (a.kind != Arc::cell) return false;
        const auto* lib = g_.cell_of(a.to);
        const auto& f = lib->pins[a.library->to].function;
        // A function that never knew this pin says nothing of the arc.
        if (f.empty() || std::find(f.inputs.begin(), f.inputs.end(), lib->pins[a.library->from].name) == f.inputs.end()) return false;
        if (!any_fixed(cell)) return false;
        const auto r = range(f, cell, a.from);
        if (!r.known) return false;
        if (!r.up && !r.down) return true;
        if (r.up == r.down) return false;
        for (const int side : {early, late})
            for (const int in : {rise, fall})
                for (const int out : {rise, fall})
                    if ((in == out) != r.up) a.delay[side][in][out] = absent;
        return false;
    }

    [[nodiscard]] bool any_fixed(std::uint32_t cell) const {
        const auto& c = n_.cells[cell];
        for (NodeId p = c.first_pin; p < c.first_pin + c.pin_count; ++p)
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
        const auto cut = [&](ArcId i) { g_.cut[i] = true; };
        // The checks of a cell stand together, in the order of the cells.
        const auto off = [&](std::uint32_t cell, auto wanted) {
            const auto of = [&](const Check& c) { return n_.pins[c.data].cell; };
            const auto first = std::lower_bound(g_.checks.begin(), g_.checks.end(), cell, [&](const Check& c, std::uint32_t id) { return of(c) < id; });
            for (auto c = first; c != g_.checks.end() && of(*c) == cell; ++c) c->off |= wanted(*c);
        };
        const auto of_cell = [&](std::uint32_t cell) {
            const auto& c = n_.cells[cell];
            for (NodeId p = c.first_pin; p < c.first_pin + c.pin_count; ++p)
                for (auto i = g_.fanout_start[p]; i < g_.fanout_start[p + 1]; ++i) {
                    const auto& a = g_.arcs[g_.fanout[i]];
                    if (a.kind == Arc::net || (!d.from.empty() && n_.pin_names[n_.pins[a.from].name] != d.from) || (!d.to.empty() && n_.pin_names[n_.pins[a.to].name] != d.to)) continue;
                    cut(g_.fanout[i]);
                }
            off(cell, [&](const Check& k) { return (d.from.empty() || n_.pin_names[n_.pins[k.clock].name] == d.from) && (d.to.empty() || n_.pin_names[n_.pins[k.data].name] == d.to); });
        };
        const auto of_node = [&](NodeId node) {
            for (auto i = g_.fanout_start[node]; i < g_.fanout_start[node + 1]; ++i) cut(g_.fanout[i]);
            for (auto i = g_.fanin_start[node]; i < g_.fanin_start[node + 1]; ++i) cut(g_.fanin[i]);
            if (!g_.is_port(node)) off(n_.pins[node].cell, [&](const Check& k) { return k.data == node || k.clock == node; });
        };
        for (const auto& o : d.objects) {
            if (o.kind == ObjectKind::cell) of_cell(o.id);
            else if (o.kind == ObjectKind::port) of_node(g_.port_node(o.id)), of_node(g_.input_node(o.id));
            else if (o.kind == ObjectKind::pin) of_node(o.id);
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
    std::unordered_map<std::string, BooleanFunction> conditions_;
};

}  // namespace

void fix_and_cut(Graph& graph, const Constraints& constraints) { Fixer(graph, constraints).run(); }

}  // namespace kp::timing
