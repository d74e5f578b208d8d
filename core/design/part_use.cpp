// SPDX-License-Identifier: GPL-3.0-or-later
// One pass over the cells.
#include "core/design/part_use.hpp"

#include <set>

namespace kp {

std::vector<PartUse> use_of(const Netlist& n, const Library& library, const Part& part) {
    const auto& r = part.resources;
    const auto pins = static_cast<long long>(n.ports.size());
    std::vector<PartUse> out{{Resource::logic_cells, r.logic_cells, {}},
                             {Resource::registers, r.registers, {}},
                             {Resource::user_pins, part.usable_pins(), {}},
                             {Resource::clock_networks, r.clock_networks, {}},
                             {Resource::memory_bits, r.memory_bits, {}},
                             {Resource::plls, r.plls, {}},
                             {Resource::lanes, r.lanes, {}}};
    if (!n.ports.empty()) out[2].used = pins;
    if (n.cells.empty()) return out;
    long long logic = 0, registers = 0, plls = 0, memory_bits = 0, lanes = 0;
    bool untold = false;  // a memory of which the library does not say how large it is
    std::set<std::uint32_t> clocks;
    for (std::uint32_t c = 0; c < n.cells.size(); ++c) {
        const auto* cell = library.cell(n.type_of(c));
        if (!cell) continue;
        logic += !cell->truth_table_parameter.empty();
        registers += cell->flip_flop;
        plls += cell->resource == "pll";
        if (cell->resource == "memory") {
            memory_bits += cell->memory_bits;
            untold |= cell->memory_bits == 0;
        }
        lanes += cell->resource == "lane";
        if (!cell->flip_flop) continue;
        for (auto p = n.cells[c].first_pin; p < n.cells[c].first_pin + n.cells[c].pin_count; ++p)
            if (const int at = cell->pin(n.pin_names[n.pins[p].name]);
                at >= 0 && cell->pins[static_cast<size_t>(at)].clock && n.pins[p].net != no_id)
                clocks.insert(n.pins[p].net);
    }
    out[0].used = logic;
    out[1].used = registers;
    out[3].used = static_cast<long long>(clocks.size());
    out[5].used = plls;
    out[6].used = lanes;
    if (!untold) out[4].used = memory_bits;
    return out;
}

}  // namespace kp
