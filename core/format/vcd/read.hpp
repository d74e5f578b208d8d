// SPDX-License-Identifier: GPL-3.0-or-later
// Value change dumps (IEEE 1364-2005, clause 18, four-state): what variables there are, and when each took which value.
#pragma once

#include "core/base/result.hpp"

#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

namespace kp::vcd {

struct Signal {
    std::string name;             ///< as declared, "count" of "count [7:0]"
    std::vector<std::string> in;  ///< scopes around it, outermost first
    int width = 1, left = 0, right = 0;
    bool has_range = false;
};

struct Change {
    std::int64_t fs = 0;       ///< femtoseconds
    std::uint32_t signal = 0;  ///< position in `variables`
    std::string value;         ///< as wide as the signal, highest bit first: 0, 1, x, z
};

struct Dump {
    std::vector<Signal> variables;
    std::vector<Change> changes;  ///< in order of time; first values stand at the first time
    std::int64_t end = 0;         ///< fs
};

/// Real values and events are passed over. A signal that several names share has its changes under the first. Errors
/// (file, line): no $enddefinitions, an identifier that nobody declared, a value wider than its signal, time that runs
/// backwards, more than a million variables or 50 million changes.
[[nodiscard]] Result<Dump> read_vcd(std::string_view text, const std::string& file);

}  // namespace kp::vcd
