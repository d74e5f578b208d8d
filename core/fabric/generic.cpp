// SPDX-License-Identifier: GPL-3.0-or-later
// All figures are ours and stand for no part; they are of the size of those of the made-up parts that ship. The room of
// one half over what is needed is common practice, no source: a fuller fabric places badly.
#include "core/fabric/generic.hpp"

#include "core/base/said.hpp"
#include "core/base/text.hpp"

#include <algorithm>
#include <array>
#include <cmath>

namespace kp::fabric {

namespace {

constexpr int cells_per_site = 8;
constexpr double room = 1.5;

long long with_room(long long need) {
    return static_cast<long long>(std::ceil(room * static_cast<double>(need)));
}

/// Columns for blocks of one kind, spread evenly over `columns` that are there already.
void add_columns(Fabric& f, const char* kind, long long blocks) {
    if (blocks == 0) return;
    Fabric::Special special;
    special.kind = kind;
    const auto wanted = static_cast<int>((with_room(blocks) + f.rows - 1) / f.rows);
    for (int k = 0; k < wanted; ++k) special.columns.push_back(f.columns + k);
    f.columns += wanted;
    f.special.push_back(std::move(special));
}

}  // namespace

FurnishedPart furnished(const Part& part, const Netlist& netlist, const Library& library) {
    FurnishedPart out{part, {}};
    if (part.fabric.columns > 0) return out;
    std::array<long long, 8> need{};
    for (std::uint32_t c = 0; c < netlist.cells.size(); ++c)
        if (const auto* cell = library.cell(netlist.type_of(c))) ++need[static_cast<size_t>(kind_of(*cell))];
    const auto of = [&](CellKind kind) { return need[static_cast<size_t>(kind)]; };
    auto& r = out.part.resources;
    const bool by_file = r.logic_cells > 0;
    const auto logic =
        by_file ? r.logic_cells
                : std::max<long long>(
                      cells_per_site,
                      with_room(std::max({of(CellKind::look_up), of(CellKind::registers), of(CellKind::other)})));
    auto& f = out.part.fabric;
    const auto sites = static_cast<double>((logic + cells_per_site - 1) / cells_per_site);
    f.columns = f.rows = std::max(2, static_cast<int>(std::ceil(std::sqrt(sites))));
    f.cells_per_site = cells_per_site;
    add_columns(f, "memory", of(CellKind::memory));
    add_columns(f, "multiply", of(CellKind::multiply));
    f.base_ns = 0.2;
    f.per_column_ns = f.per_row_ns = 0.02;
    f.clock_ns = 0.7;
    f.clock_skew_ns = 0.1;
    f.fast_factor = 0.6;
    f.typical_factor = 0.8;
    if (r.logic_cells == 0) r.logic_cells = logic;
    if (r.registers == 0) r.registers = logic;
    r.clock_networks = std::max<decltype(r.clock_networks)>(r.clock_networks, static_cast<int>(of(CellKind::root)));
    r.plls = std::max<decltype(r.plls)>(r.plls, static_cast<int>(of(CellKind::pll)));
    out.assumed = {
        {"fabric", said("generic, {} by {} sites of {} cells", f.columns, f.rows, f.cells_per_site),
         by_file ? said("the part file of {} names its logic cells and not how they lie", part.name)
                 : said("the part file of {} does not say what is inside; one and a half times what the design "
                        "needs",
                        part.name)},
        {"delays (ns)",
         said("wire {} and {} a site, clock {} with {} of skew", shortest(f.base_ns), shortest(f.per_column_ns),
              shortest(f.clock_ns), shortest(f.clock_skew_ns)),
         "generic, made up: no part has them"}};
    return out;
}

}  // namespace kp::fabric
