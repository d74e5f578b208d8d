// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/result.hpp"
#include "core/format/verilog/read_netlist.hpp"

#include <map>
#include <optional>
#include <span>
#include <string>
#include <vector>

namespace kp {

/// A port as a header declares it.
struct HeaderPort {
    std::string name, direction, type;
    std::optional<int> left, right;  ///< none for a scalar
    [[nodiscard]] int width() const { return left ? std::abs(*left - *right) + 1 : 1; }
};

struct PortList {
    std::string top, language;
    std::vector<HeaderPort> ports;
};

/// Reads module headers (IEEE 1364-2005, 12.3; ANSI and non-ANSI) and gives the ports of `top`; an empty `top` takes the
/// only module, or the one no other text mentions. Bodies are passed over. Ranges may use numbers, parameters, + - * / %
/// and brackets. `parameters` override by name.
/// Errors: as read_netlist's, a range that cannot be worked out, a port without direction.
[[nodiscard]] Result<PortList> read_ports(std::span<const SourceText> sources, const std::string& top, const std::map<std::string, long long>& parameters = {});

}  // namespace kp
