// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/model/netlist.hpp"

namespace kp {

const char* name_of(Direction direction) {
    return direction == Direction::in ? "in" : direction == Direction::out ? "out" : "inout";
}

NetlistIndex::NetlistIndex(const Netlist& n) {
    for (std::uint32_t i = 0; i < n.ports.size(); ++i) ports.emplace(n.ports[i].name, i);
    for (std::uint32_t i = 0; i < n.cell_names.size(); ++i) cells.emplace(n.cell_names[i], i);
    for (std::uint32_t i = 0; i < n.net_names.size(); ++i) nets.emplace(n.net_names[i], i);
    pins.reserve(n.pins.size());
    for (std::uint32_t i = 0; i < n.pins.size(); ++i) pins.emplace(n.pin_name(i), i);
}

}  // namespace kp
