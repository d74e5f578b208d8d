// SPDX-License-Identifier: GPL-3.0-or-later
// Which clocks reach which nets: a flood from the sources through pads, buffers and gates, 64 clocks at a time as
// bits of a word. Linear in pins.
#include "core/design/clock_nets.hpp"

#include <algorithm>

namespace kp::design {

namespace {

std::uint32_t net_of(const Netlist& n, const ObjectRef& o) {
    if (o.kind == ObjectKind::port) return n.ports[o.id].net;
    if (o.kind == ObjectKind::pin) return n.pins[o.id].net;
    return o.kind == ObjectKind::net ? o.id : no_id;
}

/// Hands masks on through cells that are not registers. `stop`: nets where others end.
void spread(const Connections& c, std::vector<ClockMask>& masks, std::vector<std::uint32_t> open,
            const std::vector<bool>& stop) {
    while (!open.empty()) {
        const auto net = open.back();
        open.pop_back();
        for (const auto load : c.loads(net))
            for (const auto out : c.outputs_after(load)) {
                const auto next = c.netlist.pins[out].net;
                if ((!stop.empty() && stop[next]) || (masks[next] | masks[net]) == masks[next]) continue;
                masks[next] |= masks[net];
                open.push_back(next);
            }
    }
}

}  // namespace

ClockNets::ClockNets(const Connections& c, const Constraints& k)
    : clock(c.netlist.net_names.size(), 0), launch(c.netlist.net_names.size(), 0) {
    const auto& n = c.netlist;
    const auto count = std::min<size_t>(64, k.clocks.size());
    std::vector<bool> defined(n.net_names.size(), false);
    std::vector<std::uint32_t> open;
    for (size_t i = 0; i < count; ++i)
        for (const auto& o : k.clocks[i].sources)
            if (const auto net = net_of(n, o); net != no_id) {
                clock[net] |= ClockMask{1} << i;
                defined[net] = true;
                open.push_back(net);
            }
    spread(c, clock, open, defined);
    for (const auto& d : k.io_delays)
        if (d.input && d.clock < count && n.ports[d.port].net != no_id) {
            launch[n.ports[d.port].net] |= ClockMask{1} << d.clock;
            open.push_back(n.ports[d.port].net);
        }
    for (std::uint32_t cell = 0; cell < n.cells.size(); ++cell) {
        if (!c.is_register(cell)) continue;
        const auto mask = of_register(c, cell);
        if (mask == 0) continue;
        for (const auto net : c.register_outputs(cell)) {
            launch[net] |= mask;
            open.push_back(net);
        }
    }
    spread(c, launch, std::move(open), {});
    for (const auto& definition : k.clocks) {
        const auto* at = &definition;
        for (int depth = 0; depth < 64 && at->generated; ++depth) {
            const auto master = k.clock(at->master);
            if (master == no_id) break;
            at = &k.clocks[master];
        }
        origin_.push_back(at->sources.empty() ? "" : at->name);
    }
}

ClockMask ClockNets::of_register(const Connections& c, std::uint32_t cell) const {
    const auto* lib = c.type(cell);
    ClockMask mask = 0;
    if (!lib) return mask;
    for (const auto& name : lib->clocked_on.inputs)
        if (const auto net = c.net_of(cell, name); net != no_id) mask |= clock[net];
    return mask;
}

}  // namespace kp::design
