// SPDX-License-Identifier: GPL-3.0-or-later
// set_timing_derate: factors on delays and checks.
#include "core/timing/graph.hpp"

#include <algorithm>

namespace kp::timing {

namespace {

/// The factor for one arc; later commands win, and one that names an object wins over one that does not.
class Factors {
public:
    Factors(const Graph& g, const Constraints& k) : g_(g), n_(*g.netlist), k_(k) {}

    [[nodiscard]] double of(const Arc& a, int side, int edge, bool clock) const {
        const bool net = a.kind == Arc::net;
        const auto cell = net ? no_id : n_.pins[a.from].cell;
        const auto wire = !net ? no_id : g_.is_port(a.from) ? n_.ports[g_.port_of(a.from)].net : n_.pins[a.from].net;
        return pick(side, edge, [&](const Derate& d) { return (net ? d.net : d.cell) && (clock ? d.clock : d.data); }, cell, wire);
    }
    [[nodiscard]] double of_check(const Check& c, int side, int edge) const {
        return pick(side, edge, [](const Derate& d) { return d.check; }, n_.pins[c.data].cell, no_id);
    }

private:
    template <class Counts>
    double pick(int side, int edge, Counts counts, std::uint32_t cell, std::uint32_t wire) const {
        double factor = 1;
        bool named = false;
        for (const auto& d : k_.derates) {
            if (!counts(d) || !(side == early ? d.early : d.late) || !(edge == rise ? d.rise : d.fall)) continue;
            const bool all = d.objects.empty() && d.cell_types.empty();
            const bool mine = std::any_of(d.objects.begin(), d.objects.end(), [&](const ObjectRef& o) { return (o.kind == ObjectKind::cell && o.id == cell) || (o.kind == ObjectKind::net && o.id == wire); }) ||
                              (cell != no_id && std::find(d.cell_types.begin(), d.cell_types.end(), n_.type_of(cell)) != d.cell_types.end());
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

void apply_derates(Graph& g, const Constraints& constraints) {
    if (constraints.derates.empty()) return;
    const Factors factors(g, constraints);
    g.clock_delay.resize(g.arcs.size());
    for (ArcId i = 0; i < g.arcs.size(); ++i) {
        auto& a = g.arcs[i];
        g.clock_delay[i] = a.delay;
        for (const int side : {early, late})
            for (const int out : {rise, fall}) {
                const double clock = factors.of(a, side, out, true), data = factors.of(a, side, out, false);
                for (const int in : {rise, fall}) g.clock_delay[i][side][in][out] *= clock, a.delay[side][in][out] *= data;
            }
    }
    for (auto& c : g.checks)
        for (const int e : {rise, fall}) c.value[e] *= factors.of_check(c, c.setup_like ? late : early, e);
}

}  // namespace kp::timing
