// SPDX-License-Identifier: GPL-3.0-or-later
// The order in which facts are found: connections, clocks, ports, PLLs, crossings. Each may be left out when the run
// is asked to stop.
#include "core/design/facts.hpp"

#include "core/design/crossings.hpp"
#include "core/design/port_facts.hpp"

namespace kp {

namespace {

std::vector<bool> used_clocks(const design::Connections& c, const design::ClockNets& clocks, const Constraints& k,
                              const DesignFacts& f) {
    std::vector<bool> used(k.clocks.size(), false);
    design::ClockMask mask = 0;
    for (std::uint32_t cell = 0; cell < c.netlist.cells.size(); ++cell)
        if (c.is_register(cell)) mask |= clocks.of_register(c, cell);
    for (size_t i = 0; i < used.size(); ++i) used[i] = i >= 64 || (mask >> i & 1);
    for (const auto& d : k.io_delays)
        if (d.clock != no_id) used[d.clock] = true;
    for (const auto& pll : f.plls)
        if (pll.clock != no_id) used[pll.clock] = true;
    for (const auto& g : k.clocks)
        if (const auto master = g.generated ? k.clock(g.master) : no_id; master != no_id) used[master] = true;
    return used;
}

}  // namespace

DesignFacts design_facts(const Netlist& netlist, const Library& library, const Constraints& constraints,
                         const std::stop_token& stop) {
    DesignFacts f;
    if (netlist.cells.empty()) {  // ports that are only planned: nothing is known of what lies behind them
        f.clock_used.assign(constraints.clocks.size(), true);
        return f;
    }
    f.ports.resize(netlist.ports.size());
    const design::Connections c(netlist, library);
    const design::ClockNets clocks(c, constraints);
    for (std::uint32_t i = 0; i < netlist.ports.size() && !stop.stop_requested(); ++i)
        f.ports[i] = design::facts_of(c, clocks, i);
    if (stop.stop_requested()) return f;
    f.plls = design::plls_of(c, clocks, constraints);
    design::find_crossings(c, clocks, constraints, f, stop);
    f.clock_used = used_clocks(c, clocks, constraints, f);
    return f;
}

}  // namespace kp
