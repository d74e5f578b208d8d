// SPDX-License-Identifier: GPL-3.0-or-later
// What is free is kept by site and slot; a new look-up takes the first free slot on rings around its place, so that
// adding costs the distance to room, and the whole part once it is full. All else is constant per pin added.
#include "core/fabric/netlist_change.hpp"

#include <algorithm>
#include <optional>

namespace kp::fabric {

NetlistChange::NetlistChange(Placed& placed, const Library& library, const Part& part)
    : p_(placed), library_(library), part_(part), slots_(std::max(1, part.fabric.cells_per_site)) {
    const auto& n = p_.netlist;
    for (std::uint32_t k = 0; k < n.types.size(); ++k) types_.emplace(n.types[k], k);
    for (std::uint32_t k = 0; k < n.pin_names.size(); ++k) pins_.emplace(n.pin_names[k], k);
    cell_names_.insert(n.cell_names.begin(), n.cell_names.end());
    net_names_.insert(n.net_names.begin(), n.net_names.end());
    for (const auto& port : n.ports) net_names_.insert(port.bus);
    logic_column_.assign(static_cast<size_t>(std::max(0, part.fabric.columns)), true);
    for (const auto& special : part.fabric.special)
        for (const int x : special.columns) logic_column_[static_cast<size_t>(x)] = false;
    taken_.assign(logic_column_.size() * static_cast<size_t>(part.fabric.rows) * static_cast<size_t>(slots_), false);
    for (std::uint32_t c = 0; c < n.cells.size(); ++c) {
        if (kind_of(*library.cell(n.type_of(c))) != CellKind::look_up) continue;
        const auto& s = p_.spots[c];
        const auto at =
            (static_cast<size_t>(s.column) * static_cast<size_t>(part.fabric.rows) + static_cast<size_t>(s.row)) *
                static_cast<size_t>(slots_) +
            static_cast<size_t>(s.slot);
        if (at < taken_.size()) taken_[at] = true;
    }
}

/// Rings around a place, the nearest first; within a ring by column. Pads lie at the edge, so a place outside of the
/// fabric is one at its edge.
std::optional<Spot> NetlistChange::free_near(const Spot& at) {
    const int columns = part_.fabric.columns, rows = part_.fabric.rows;
    const int x0 = std::clamp(at.column, 0, columns - 1), y0 = std::clamp(at.row, 0, rows - 1);
    for (int ring = 0; ring < columns + rows; ++ring)
        for (int dx = -ring; dx <= ring; ++dx)
            for (const int dy : {ring - std::abs(dx), std::abs(dx) - ring}) {
                const int x = x0 + dx, y = y0 + dy;
                if (x < 0 || x >= columns || y < 0 || y >= rows || !logic_column_[static_cast<size_t>(x)]) continue;
                const auto first = (static_cast<size_t>(x) * static_cast<size_t>(rows) + static_cast<size_t>(y)) *
                                   static_cast<size_t>(slots_);
                for (int slot = 0; slot < slots_; ++slot)
                    if (!taken_[first + static_cast<size_t>(slot)]) {
                        taken_[first + static_cast<size_t>(slot)] = true;
                        return Spot{x, y, slot, ""};
                    }
            }
    return std::nullopt;
}

std::uint32_t NetlistChange::number_of(std::unordered_map<std::string, std::uint32_t>& numbers,
                                       std::vector<std::string>& list, const std::string& name) {
    const auto [at, fresh] = numbers.emplace(name, static_cast<std::uint32_t>(list.size()));
    if (fresh) list.push_back(name);
    return at->second;
}

std::string NetlistChange::unique(const std::string& name) {
    for (int k = 0;; ++k) {
        auto other = name + std::to_string(k);
        if (!cell_names_.count(other) && !net_names_.count(other)) return other;
    }
}

std::uint32_t NetlistChange::add_cell(const std::string& type, const std::string& name, const Spot& at) {
    auto& n = p_.netlist;
    Netlist::Cell cell;
    cell.type = number_of(types_, n.types, type);
    cell.first_pin = static_cast<std::uint32_t>(n.pins.size());
    n.cells.push_back(cell);
    n.cell_names.push_back(name);
    n.cell_lines.push_back(0);
    cell_names_.insert(name);
    p_.spots.push_back(at);
    return static_cast<std::uint32_t>(n.cells.size() - 1);
}

void NetlistChange::add_pin(const std::string& name, std::uint32_t net) {
    auto& n = p_.netlist;
    n.pins.push_back({static_cast<std::uint32_t>(n.cells.size() - 1), number_of(pins_, n.pin_names, name), net});
    ++n.cells.back().pin_count;
}

std::uint32_t NetlistChange::add_net(const std::string& name) {
    net_names_.insert(name);
    p_.netlist.net_names.push_back(name);
    return static_cast<std::uint32_t>(p_.netlist.net_names.size() - 1);
}

int NetlistChange::delay_before(std::uint32_t pin, const LibraryCell& look, int count) {
    const auto is = [](Direction d) { return [d](const LibraryPin& p) { return p.direction == d; }; };
    const auto in = std::find_if(look.pins.begin(), look.pins.end(), is(Direction::in));
    const auto out = std::find_if(look.pins.begin(), look.pins.end(), is(Direction::out));
    auto& n = p_.netlist;
    for (int k = 0; k < count; ++k) {
        const auto cell = n.pins[pin].cell;
        const auto at = free_near(p_.spots[cell]);
        if (!at) return k;
        const auto name = unique(n.cell_names[cell] + "_late");
        const auto from = n.pins[pin].net;
        const auto added = add_cell(look.name, name, *at);
        const auto to = add_net(name);
        add_pin(in->name, from);
        add_pin(out->name, to);
        n.cells[added].parameter = static_cast<std::uint32_t>(n.parameters.size());
        n.parameters.push_back({added, look.truth_table_parameter, "2'h2"});
        n.pins[pin].net = to;
    }
    return count;
}

std::uint32_t NetlistChange::copy_register(std::uint32_t output, std::span<const std::uint32_t> loads) {
    auto& n = p_.netlist;
    const auto original = n.pins[output].cell;
    const auto cell = n.cells[original];
    const auto& type = *library_.cell(n.types[cell.type]);
    const auto name = unique(n.cell_names[original] + "_copy");
    const auto added = add_cell(n.types[cell.type], name, p_.spots[original]);
    const auto to = add_net(name);
    for (auto p = cell.first_pin; p < cell.first_pin + cell.pin_count; ++p) {
        const auto pin = n.pin_names[n.pins[p].name];
        const int at = type.pin(pin);
        const bool drives = at >= 0 && type.pins[static_cast<size_t>(at)].direction != Direction::in;
        if (p == output || !drives) add_pin(pin, p == output ? to : n.pins[p].net);
    }
    for (auto k = cell.parameter; k < n.parameters.size() && n.parameters[k].cell == original; ++k) {
        if (n.cells[added].parameter == no_id)
            n.cells[added].parameter = static_cast<std::uint32_t>(n.parameters.size());
        n.parameters.push_back({added, n.parameters[k].name, n.parameters[k].value});
    }
    for (const auto load : loads) n.pins[load].net = to;
    return added;
}

}  // namespace kp::fabric
