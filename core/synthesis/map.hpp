// SPDX-License-Identifier: GPL-3.0-or-later
// HDL to a netlist of library cells: the mapper of the stand-in builder.
#pragma once

#include "core/synthesis/elaborate.hpp"
#include "core/hdl/header/ports.hpp"

#include <span>

namespace kp::synthesis {

struct MapRequest {
    PortRequest reading;  ///< defines and includes
    std::string top;
    std::map<std::string, std::string> parameters;
    size_t most_work = 30'000'000, most_gates = 1'000'000;  ///< see ElaborateOptions
};

struct MapAnswer {
    std::string top, netlist;                ///< netlist: empty when `messages` has a stop
    std::vector<Message> messages;           ///< findings about the source
    int depth = 0;                           ///< look-ups behind each other, at most
    std::map<std::string, long long> cells;  ///< by type
};

/// Errors: sources that cannot be read or built from, each with file and line. A design that can be read but is wrong
/// (two drivers, a loop) has an answer with stops among its messages.
[[nodiscard]] Result<MapAnswer> map_design(std::span<const SourceText> sources, const Library& library,
                                           const MapRequest& request);

}  // namespace kp::synthesis
