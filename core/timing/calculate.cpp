// SPDX-License-Identifier: GPL-3.0-or-later
// Delays from Liberty tables: transitions spread through the graph in its order, loads are those of the nets.
#include "core/timing/corner.hpp"

#include <algorithm>
#include <cmath>

namespace kp::timing {

namespace {

double looked_up(const TimingTable& table, double slew, double load) {
    return std::max(0.0, table.at(slew, load));
}

class Calculator {
public:
    Calculator(const Graph& g, const Constraints& k, const IdealSlews& ideal, Corner& c)
        : g_(g), k_(k), ideal_(ideal), c_(c) {}

    void run() {
        if (needed()) {
            loads();
            spread();
        }
        checks();
    }

    /// Without touching what is known of delays.
    Strengths look() {
        looking_ = true;
        loads();
        spread();
        return {std::move(slew_), std::move(load_)};
    }

private:
    /// False when SDF gave every delay and every check.
    [[nodiscard]] bool needed() const {
        for (ArcId a = 0; a < g_.arcs(); ++a)
            if (g_.way[a] != Way::net && c_.given[a] != (g_.passes[a] | g_.passes[a] << 4)) return true;
        for (size_t i = 0; i < g_.checks.size(); ++i)
            for (const size_t e : {0u, 1u})
                if (std::isnan(c_.check_given[i][e]) &&
                    !g_.library_of(g_.checks[i], c_.cell_types).constraint[e].empty())
                    return true;
        return false;
    }

    void loads() {
        const auto& n = *g_.netlist;
        load_.assign(n.net_names.size(), {});
        for (NodeId p = 0; p < g_.pins; ++p) {
            const auto* cell = c_.cell_types[g_.type_of(p)];
            const int at = g_.cell_pin(p);
            if (!cell || at < 0 || n.pins[p].net == no_id) continue;
            const auto& pin = cell->pins[static_cast<size_t>(at)];
            if (pin.direction == Direction::out) continue;
            for (auto& side : load_[n.pins[p].net])
                for (const size_t e : {0u, 1u}) side[e] += pin.load(static_cast<int>(e));
        }
        for (const auto& l : k_.loads)
            for (const size_t side : {0u, 1u})
                for (const size_t e : {0u, 1u})
                    load_[l.object.kind == ObjectKind::port ? n.ports[l.object.id].net : l.object.id][side][e] +=
                        l.value[side][e];
    }

    [[nodiscard]] double load(NodeId node, int side, int edge) const {
        const auto& n = *g_.netlist;
        const auto net = g_.is_port(node) ? n.ports[g_.port_of(node)].net : n.pins[node].net;
        return net == no_id ? 0 : load_[net][static_cast<size_t>(side)][static_cast<size_t>(edge)];
    }

    void spread() {
        slew_.assign(g_.nodes, {});
        known_.assign(g_.nodes, 0);
        for (const auto& t : k_.input_transitions)
            for (const int side : {early, late})
                for (const int edge : {rise, fall})
                    if ((side == early ? t.minimum : t.maximum) && (edge == rise ? t.rise : t.fall))
                        slew_[g_.input_node(t.port)][side][edge] = t.value;
        for (const auto& d : k_.driving_cells) drive(d);
        for (const auto node : g_.order) {
            if (const auto set = ideal_.which[node]; set != 0) slew_[node] = ideal_.sets[set - 1];
            for (const auto a : g_.leaving(node))
                if (!g_.cut(a)) pass(a);
        }
    }

    void pass(ArcId a) {
        const auto* library = g_.library_of(a, c_.cell_types);
        const NodeId from = g_.from[a], to = g_.to[a];
        for (const int side : {early, late})
            for (const int in : {rise, fall})
                for (const int out : {rise, fall}) {
                    if (!g_.lets(a, in, out)) continue;
                    const double slew_in = slew_[from][side][in];
                    double slew_out = slew_in;
                    if (library) {
                        const int bit = side * 4 + in * 2 + out;
                        if (!looking_ && !(c_.given[a] >> bit & 1))
                            c_.base.set(a, side, in, out,
                                        looked_up(library->delay[out], slew_in, load(to, side, out)) + added(a, bit));
                        slew_out = library->transition[out].empty()
                                       ? 0
                                       : looked_up(library->transition[out], slew_in, load(to, side, out));
                    }
                    double& s = slew_[to][side][out];
                    const auto seen = static_cast<std::uint8_t>(1u << lane_of(side, out));
                    s = !(known_[to] & seen) ? slew_out : side == late ? std::max(s, slew_out) : std::min(s, slew_out);
                    known_[to] |= seen;
                }
    }

    [[nodiscard]] double added(ArcId a, int bit) const {
        const auto at = c_.added.find(a);
        return at == c_.added.end() ? 0 : at->second[static_cast<size_t>(bit)];
    }

    /// The transition that the driving cell gives at the port, with the load of the port's net.
    void drive(const DrivingCell& d) {
        const auto* cell = g_.library->cell(d.cell);
        const NodeId node = g_.input_node(d.port);
        for (const auto& arc : cell->arcs) {
            if (!arc.is_delay() || (!d.pin.empty() && cell->pins[arc.to].name != d.pin) ||
                (!d.from_pin.empty() && cell->pins[arc.from].name != d.from_pin))
                continue;
            const Sense sense = arc.kind == ArcKind::combinational ? sense_of(*cell, arc) : Sense::non_unate;
            for (const int out : {rise, fall}) {
                if (!(out == rise ? d.rise : d.fall)) continue;
                const int in = sense == Sense::negative ? 1 - out : out;
                for (const int side : {early, late})
                    if (side == early ? d.minimum : d.maximum)
                        slew_[node][side][out] =
                            arc.transition[out].empty()
                                ? 0
                                : looked_up(arc.transition[out], d.slew[in], load(node, side, out));
            }
            return;
        }
    }

    void checks() {
        c_.check.resize(g_.checks.size());
        for (size_t i = 0; i < g_.checks.size(); ++i) {
            const auto& k = g_.checks[i];
            const int side =
                k.setup_like ? late : early;  // the data transition that counts; the clock's is the opposite
            for (const size_t e : {0u, 1u}) {
                const double given = c_.check_given[i][e];
                const auto& tables = g_.library_of(k, c_.cell_types).constraint;
                if (!std::isnan(given))
                    c_.check[i][e] = given;
                else if (!tables[e].empty())
                    c_.check[i][e] =
                        tables[e].at(slew_[k.data][side][e], slew_[k.clock][side == late ? early : late][k.clock_edge]);
                else
                    c_.check[i][e] = tables[1 - e].empty() ? 0 : absent;  // a check of the other edge only
            }
        }
    }

    const Graph& g_;
    const Constraints& k_;
    const IdealSlews& ideal_;
    Corner& c_;
    std::vector<Slew> load_;  ///< per net, by side and edge, pF
    std::vector<Slew> slew_;
    std::vector<std::uint8_t> known_;
    bool looking_ = false;  ///< delays stay as they are
};

/// The factor for one arc; later commands win, and one that names an object wins over one that does not.
class Factors {
public:
    Factors(const Graph& g, const Constraints& k) : g_(g), n_(*g.netlist), k_(k) {}

    [[nodiscard]] double of(ArcId a, int side, int edge, bool clock) const {
        const bool net = g_.way[a] == Way::net;
        const NodeId from = g_.from[a];
        const auto cell = net ? no_id : n_.pins[from].cell;
        const auto wire = !net ? no_id : g_.is_port(from) ? n_.ports[g_.port_of(from)].net : n_.pins[from].net;
        return pick(
            side, edge, [&](const Derate& d) { return (net ? d.net : d.cell) && (clock ? d.clock : d.data); }, cell,
            wire);
    }
    [[nodiscard]] double of_check(const Check& c, int side, int edge) const {
        return pick(
            side, edge, [](const Derate& d) { return d.check; }, n_.pins[c.data].cell, no_id);
    }

private:
    template <class Counts>
    double pick(int side, int edge, Counts counts, std::uint32_t cell, std::uint32_t wire) const {
        double factor = 1;
        bool named = false;
        for (const auto& d : k_.derates) {
            if (!counts(d) || !(side == early ? d.early : d.late) || !(edge == rise ? d.rise : d.fall)) continue;
            const bool all = d.objects.empty() && d.cell_types.empty();
            const bool mine = std::any_of(d.objects.begin(), d.objects.end(),
                                          [&](const ObjectRef& o) {
                                              return (o.kind == ObjectKind::cell && o.id == cell) ||
                                                     (o.kind == ObjectKind::net && o.id == wire);
                                          }) ||
                              (cell != no_id && std::find(d.cell_types.begin(), d.cell_types.end(), n_.type_of(cell)) !=
                                                    d.cell_types.end());
            if (all ? named : !mine) continue;
            factor = d.value;
            named |= !all;
        }
        return factor;
    }
    const Graph& g_;
    const Netlist& n_;
    const Constraints& k_;
};

}  // namespace

void calculate_delays(const Graph& graph, const Constraints& constraints, const IdealSlews& ideal, Corner& corner) {
    Calculator(graph, constraints, ideal, corner).run();
    corner.base.pack();
    apply_derates(graph, constraints, corner);
}

Strengths strengths(const Graph& graph, const Constraints& constraints, const IdealSlews& ideal, const Corner& corner) {
    // Looking changes nothing in the corner.
    return Calculator(graph, constraints, ideal, const_cast<Corner&>(corner)).look();
}

void apply_derates(const Graph& g, const Constraints& constraints, Corner& c) {
    c.data.reset();
    c.clock.reset();
    if (constraints.derates.empty() && c.factor[early] == 1 && c.factor[late] == 1) return;
    c.data = c.base;
    c.clock = c.base;
    const Factors factors(g, constraints);
    for (ArcId a = 0; a < g.arcs(); ++a)
        for (const int side : {early, late})
            for (const int out : {rise, fall}) {
                const double clock = factors.of(a, side, out, true) * c.factor[side],
                             data = factors.of(a, side, out, false) * c.factor[side];
                for (const int in : {rise, fall}) {
                    const double base = c.base.at(a, side, in, out);
                    if (std::isnan(base)) continue;
                    c.clock->set(a, side, in, out, base * clock);
                    c.data->set(a, side, in, out, base * data);
                }
            }
    for (size_t i = 0; i < g.checks.size(); ++i)
        for (const int e : {rise, fall})
            c.check[i][static_cast<size_t>(e)] *=
                factors.of_check(g.checks[i], g.checks[i].setup_like ? late : early, e);
}

}  // namespace kp::timing
