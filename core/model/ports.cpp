// SPDX-License-Identifier: GPL-3.0-or-later
// Ports as a header groups them, and back from one line of text.
#include "core/model/ports.hpp"

#include "core/base/ranges.hpp"
#include "core/base/text.hpp"
#include "core/base/said.hpp"

#include <unordered_map>

namespace kp {

std::vector<std::string> PortGroup::bits() const {
    if (!left) return {name};
    std::vector<std::string> out;
    const int step = *left <= *right ? 1 : -1;
    for (int i = *left;; i += step) {
        out.push_back(name + "[" + std::to_string(i) + "]");
        if (i == *right) return out;
    }
}

std::vector<PortGroup> group_ports(const std::vector<Port>& ports) {
    std::vector<PortGroup> out;
    std::unordered_map<std::string, size_t> at;
    for (const auto& port : ports) {
        const auto [found, fresh] = at.emplace(port.bus, out.size());
        if (fresh) out.push_back({port.bus, port.direction, {}, {}});
        if (port.index < 0 && port.name == port.bus) continue;
        auto& group = out[found->second];
        if (!group.left) group.left = port.index;
        group.right = port.index;
    }
    return out;
}

std::string port_line(const PortGroup& group) {
    return said("{} {}{}", name_of(group.direction), group.name,
                (group.left ? "[" + std::to_string(*group.left) + ":" + std::to_string(*group.right) + "]" : ""));
}

std::optional<PortGroup> port_from_line(const std::string& line) {
    const auto blank = line.find(' ');
    if (blank == std::string::npos || blank + 1 >= line.size()) return std::nullopt;
    const auto word = line.substr(0, blank);
    PortGroup group;
    group.direction = word == "in" ? Direction::in : word == "out" ? Direction::out : Direction::inout;
    if (word != name_of(group.direction)) return std::nullopt;
    group.name = line.substr(blank + 1);
    const auto open = group.name.rfind('[');
    const auto colon = group.name.find(':', open == std::string::npos ? 0 : open);
    if (open == std::string::npos || colon == std::string::npos || !group.name.ends_with("]")) return group;
    const auto left = to_integer(std::string_view(group.name).substr(open + 1, colon - open - 1)),
               right = to_integer(std::string_view(group.name).substr(colon + 1, group.name.size() - colon - 2));
    if (!left || !right || distance_of(*left, 0) > 1000000 || distance_of(*right, 0) > 1000000 ||
        distance_of(*left, *right) > 65535)
        return std::nullopt;
    group.left = static_cast<int>(*left);
    group.right = static_cast<int>(*right);
    group.name.resize(open);
    return group;
}

}  // namespace kp
