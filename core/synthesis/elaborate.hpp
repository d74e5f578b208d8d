// SPDX-License-Identifier: GPL-3.0-or-later
// From source to logic: parameters, generate, hierarchy, and what every statement computes.
#pragma once

#include "core/synthesis/mapped.hpp"
#include "core/hdl/source/syntax.hpp"

#include <map>
#include <string>

namespace kp::synthesis {

struct ElaborateOptions {
    std::string top;                                ///< empty: the only module that no other one uses
    std::map<std::string, std::string> parameters;  ///< of the top, as written numbers
    size_t most_work = 30'000'000;                  ///< steps before it is given up: some seconds
    size_t most_gates = 1'000'000;  ///< the same, of what they make: some twenty for each site of the largest part
};

/// Errors: what cannot be read as a circuit (an undeclared name, widths of ports that differ, recursion, something that
/// nothing can be built from), with file and line. Findings about a circuit that can be read but is wrong (two drivers,
/// a latch nobody meant, a loop) stand in Mapping::messages.
[[nodiscard]] Result<Mapping> elaborate(const source::DesignText& code, const Library& library,
                                        const ElaborateOptions& options);

}  // namespace kp::synthesis
