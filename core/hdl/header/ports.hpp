// SPDX-License-Identifier: GPL-3.0-or-later
// What a header of either language declares, and what is asked of its reader.
#pragma once

#include "core/base/result.hpp"
#include "core/base/source_text.hpp"

#include <cstdlib>
#include <functional>
#include <map>
#include <optional>
#include <string>
#include <utility>
#include <vector>

namespace kp {

/// A port as a header declares it.
struct HeaderPort {
    std::string name, direction, type;
    std::optional<int> left,
        right;  ///< none for a scalar; several packed dimensions are counted as one, [bits - 1 : 0]
    std::vector<std::pair<int, int>> dimensions{};  ///< as written, outermost first; only when there is more than one
    [[nodiscard]] int width() const { return left ? std::abs(*left - *right) + 1 : 1; }
};

struct PortList {
    std::string top, language;  ///< "verilog", "systemverilog" or "vhdl"
    std::vector<HeaderPort> ports;
};

struct PortRequest {
    std::string top;  ///< empty: the only candidate
    std::map<std::string, std::string> defines;
    std::map<std::string, long long> parameters;  ///< in place of the defaults of the top's parameters or generics
    /// Text of a file that `include names, seen from the file that includes it; none when there is no such file.
    std::function<std::optional<std::string>(const std::string& name, const std::string& from)> include;
};

}  // namespace kp
