// SPDX-License-Identifier: GPL-3.0-or-later
// Structural Verilog after parsing, before hierarchy is unfolded. Names are slices of the source text.
#pragma once

#include "core/base/result.hpp"
#include "core/model/netlist.hpp"

#include <string>
#include <string_view>
#include <vector>

namespace kp::verilog {

/// A run of bits of one net, or a constant: what an expression is made of, highest bit first.
struct Slice {
    enum Kind : std::uint8_t { whole, part, constant } kind = whole;
    std::uint32_t item = 0;   ///< position among the nets or the constants of the module
    int left = 0, right = 0;  ///< part select; for one bit both are the same
};

/// Slices of the module, one after the other.
struct Expression {
    std::uint32_t first = 0, count = 0;
};

struct Net {
    std::string_view name;
    bool vector = false, is_port = false;
    Direction direction = Direction::in;
    std::int8_t constant = -1;  ///< supply0 and supply1
    int left = 0, right = 0;
    [[nodiscard]] int width() const { return vector ? (left > right ? left - right : right - left) + 1 : 1; }
    /// Position of bit `index`, counted from the highest written bit; -1 when outside.
    [[nodiscard]] int offset(int index) const {
        const int at = left >= right ? left - index : index - left;
        return at >= 0 && at < width() ? at : -1;
    }
};

/// 16 bytes; a million cells have four or five million of them.
struct Connection {
    std::uint32_t pin = no_id;  ///< position among the pin names of the module; no_id: by order
    Expression value;
    bool open = false;
};

struct Instance {
    std::string_view type, name;
    size_t offset = 0;
    std::uint32_t first_connection = 0, connections = 0;
    std::uint32_t first_parameter = 0, parameters = 0;
};

struct Assign {
    Expression left, right;
    size_t offset = 0;
};

/// One array of each kind of thing, not one for each instance: a netlist of a million cells is one module.
struct Module {
    std::string_view name;
    int file = 0;
    size_t offset = 0;
    bool set_aside = false;  ///< no ports and code that no netlist has: for simulation only
    std::vector<std::string_view> port_order;
    std::vector<Net> nets;
    std::vector<bool> declared;  ///< per net: by a declaration, or as a whole name in a connection; apart, because it
                                 ///< is asked for each of them
    std::vector<bool> buses;     ///< per net: `vector`
    NameTable net_names;         ///< numbers are positions in `nets`
    std::vector<Slice> slices;
    std::vector<std::string> constants;  ///< '0' '1' 'x' 'z', highest first
    std::vector<Connection> connections;
    NameTable pin_names;  ///< as connections name them
    std::vector<std::pair<std::string_view, std::string_view>>
        parameters;  ///< name, or position as text, and value as written
    std::vector<Assign> assigns;
    std::vector<Instance> instances;

    /// The net of that name, if any place names it.
    [[nodiscard]] const Net* net(std::string_view wanted) const {
        const auto id = net_names.find(wanted);
        return id == NameTable::none ? nullptr : &nets[id];
    }
};

/// Parses all modules of one text and adds them to `modules`. Errors: see read_netlist.
[[nodiscard]] std::vector<Message> parse_modules(std::string_view text, const std::string& file, int file_id,
                                                 std::vector<Module>& modules);

}  // namespace kp::verilog
