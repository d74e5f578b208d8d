// SPDX-License-Identifier: GPL-3.0-or-later
// Ports bit by bit and as buses, and the short text a project keeps of them.
#pragma once

#include "core/model/netlist.hpp"

#include <optional>
#include <string>
#include <vector>

namespace kp {

/// A bus, or a scalar without left and right.
struct PortGroup {
    std::string name;
    Direction direction = Direction::in;
    std::optional<int> left, right;
    [[nodiscard]] int width() const { return left ? (*left > *right ? *left - *right : *right - *left) + 1 : 1; }
    /// Names of its bits, from left to right.
    [[nodiscard]] std::vector<std::string> bits() const;
    bool operator==(const PortGroup&) const = default;
};

/// Groups bits by bus, in the order of their first bit.
[[nodiscard]] std::vector<PortGroup> group_ports(const std::vector<Port>& ports);

/// "in gray[4:0]" or "out tone".
[[nodiscard]] std::string port_line(const PortGroup& group);
/// None when the line is not one that port_line makes.
[[nodiscard]] std::optional<PortGroup> port_from_line(const std::string& line);

}  // namespace kp
