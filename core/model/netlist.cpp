// SPDX-License-Identifier: GPL-3.0-or-later
// Names of pins made when they are asked for: a million of them would be a hundred megabytes.
#include "core/model/netlist.hpp"

namespace kp {

const char* name_of(Direction direction) {
    return direction == Direction::in ? "in" : direction == Direction::out ? "out" : "inout";
}

NetlistIndex::NetlistIndex(const Netlist& n) : netlist_(&n) {
    for (const auto& port : n.ports) ports_.add(port.name);
    for (const auto& name : n.cell_names) cells_.add(name);
    for (const auto& name : n.net_names) nets_.add(name);
}

std::uint32_t NetlistIndex::pin(std::string_view name) const {
    const auto slash = name.rfind('/');
    if (slash == std::string_view::npos) return no_id;
    const auto id = cell(name.substr(0, slash));
    if (id == no_id) return no_id;
    const auto& c = netlist_->cells[id];
    for (auto p = c.first_pin; p < c.first_pin + c.pin_count; ++p)
        if (netlist_->pin_names[netlist_->pins[p].name] == name.substr(slash + 1)) return p;
    return no_id;
}

}  // namespace kp
