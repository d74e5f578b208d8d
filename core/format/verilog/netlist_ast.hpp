// SPDX-License-Identifier: GPL-3.0-or-later
// Structural Verilog after parsing, before hierarchy is unfolded. Names are slices of the source text.
#pragma once

#include "core/base/result.hpp"
#include "core/model/netlist.hpp"

#include <string>
#include <string_view>
#include <unordered_map>
#include <vector>

namespace kp::verilog {

/// A run of bits of one net, or a constant: what an expression is made of, highest bit first.
struct Slice {
    enum Kind : std::uint8_t { whole, part, constant } kind = whole;
    std::string_view net;
    int left = 0, right = 0;  ///< part select; for one bit both are the same
    std::string bits;         ///< constant: '0' '1' 'x' 'z', highest first
};
using Expression = std::vector<Slice>;

struct Net {
    std::string_view name;
    bool vector = false, is_port = false;
    int left = 0, right = 0;
    Direction direction = Direction::in;
    int constant = -1;  ///< supply0 and supply1
    [[nodiscard]] int width() const { return vector ? (left > right ? left - right : right - left) + 1 : 1; }
    /// Position of bit `index`, counted from the highest written bit; -1 when outside.
    [[nodiscard]] int offset(int index) const {
        const int at = left >= right ? left - index : index - left;
        return at >= 0 && at < width() ? at : -1;
    }
};

struct Connection {
    std::string_view pin;  ///< empty: by order
    Expression value;
    bool open = false;
};

struct Instance {
    std::string_view type;
    std::string name;
    std::vector<std::pair<std::string, std::string>> parameters;
    std::vector<Connection> connections;
    size_t offset = 0;
    bool ordered = false;
};

struct Assign {
    Expression left, right;
    size_t offset = 0;
};

struct Module {
    std::string_view name;
    int file = 0;
    size_t offset = 0;
    bool set_aside = false;  ///< no ports and code that no netlist has: for simulation only
    std::vector<std::string_view> port_order;
    std::vector<Net> nets;
    std::unordered_map<std::string_view, size_t> net_by_name;
    std::vector<Assign> assigns;
    std::vector<Instance> instances;
};

/// Parses all modules of one text and adds them to `modules`. Errors: see read_netlist.
[[nodiscard]] std::vector<Message> parse_modules(std::string_view text, const std::string& file, int file_id, std::vector<Module>& modules);

}  // namespace kp::verilog
