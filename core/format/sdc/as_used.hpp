// SPDX-License-Identifier: GPL-3.0-or-later
// Constraints as they are used: every loop run, every variable and query in its place, in one text without Tcl.
#pragma once

#include "core/format/sdc/words.hpp"

#include <string>

namespace kp::sdc {

/// The commands that scripts come to, in their order, objects by name; the file and line of each stands above the first
/// that comes from there. What is not SDC, or was refused, is left out. Messages: those of the run (a script that does
/// not end, a file that may not be read).
struct AsUsed {
    std::string text;
    std::vector<Message> messages;
};
[[nodiscard]] AsUsed constraints_as_used(const std::vector<Script>& scripts, const Netlist& netlist,
                                         const NetlistIndex& index, const Library& library,
                                         const RunLimits& limits = {}, std::stop_token stop = {});

}  // namespace kp::sdc
