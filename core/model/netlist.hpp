// SPDX-License-Identifier: GPL-3.0-or-later
// A flat netlist: cells, pins and nets as positions in arrays. 12 bytes a pin, 16 a cell, names apart.
#pragma once

#include "core/base/name_table.hpp"

#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

namespace kp {

enum class Direction : std::uint8_t { in, out, inout };
[[nodiscard]] const char* name_of(Direction direction);  ///< "in", "out", "inout"

constexpr std::uint32_t no_id = 0xFFFFFFFFu;

struct Port {
    std::string name;  ///< one bit, such as gray[2]
    std::string bus;   ///< "gray", or the name itself for a scalar
    int index = -1;    ///< bit index as declared; -1 for a scalar
    Direction direction = Direction::in;
    std::uint32_t net = no_id;

    bool operator==(const Port&) const = default;
};

struct Netlist {
    struct Cell {
        std::uint32_t type = 0;  ///< position in `types`
        std::uint32_t first_pin = 0, pin_count = 0;
        std::uint32_t parameter = no_id;  ///< position in `parameters` of the first one
    };
    struct InstancePin {
        std::uint32_t cell = 0;
        std::uint32_t name = 0;  ///< position in `pin_names`
        std::uint32_t net = no_id;
    };
    struct Parameter {
        std::uint32_t cell = 0;
        std::string name, value;  ///< text as written
    };

    std::string top;
    std::vector<std::string> types, pin_names, cell_names, net_names;
    std::vector<Cell> cells;
    std::vector<InstancePin> pins;
    std::vector<Parameter> parameters;
    std::vector<Port> ports;
    std::uint32_t constant_net[2] = {no_id, no_id};  ///< nets that are 0 and 1, if any pin uses them
    std::vector<std::string> files;
    std::vector<std::uint32_t> cell_lines;  ///< line of each instance in its file

    [[nodiscard]] std::string pin_name(std::uint32_t pin) const {
        return cell_names[pins[pin].cell] + "/" + pin_names[pins[pin].name];
    }
    [[nodiscard]] const std::string& type_of(std::uint32_t cell) const { return types[cells[cell].type]; }
};

/// Names to ids; made once per netlist by those who look names up. The netlist outlives it.
class NetlistIndex {
public:
    explicit NetlistIndex(const Netlist& netlist);
    // no_id when there is none.
    [[nodiscard]] std::uint32_t port(std::string_view name) const { return ports_.find(name); }
    [[nodiscard]] std::uint32_t cell(std::string_view name) const { return cells_.find(name); }
    [[nodiscard]] std::uint32_t net(std::string_view name) const { return nets_.find(name); }
    /// "instance/PIN", with '/' between the levels of the instance.
    [[nodiscard]] std::uint32_t pin(std::string_view name) const;

private:
    const Netlist* netlist_;
    NameIndex ports_, cells_, nets_;
};

}  // namespace kp
