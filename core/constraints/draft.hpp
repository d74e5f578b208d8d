// SPDX-License-Identifier: GPL-3.0-or-later
// A first SDC file from what is known: clocks from the board's oscillators and data sheets, PLLs from the netlist, I/O
// delays from budgets, exceptions from partners that keep no clock and from synchronisers. Nothing in it is a
// placeholder; what had to be assumed says so.
#pragma once

#include "core/session/analysis.hpp"

#include <stop_token>
#include <string>
#include <vector>

namespace kp {

struct DraftLine {
    std::string section;  ///< "Clocks", "Inputs and outputs", "Clock relations", "Exceptions"
    std::string text;     ///< one or more commands, on lines of their own
    std::string why;
    bool assumed = false;  ///< rests on an assumption, such as the frequency of a clock
};

struct Draft {
    std::vector<DraftLine> lines;   ///< in reading order: each stands on those before it
    Coverage coverage;              ///< with all lines taken
    std::vector<Message> messages;  ///< of the analysis with all lines taken
};

/// What the project's constraints lack: what they say stays and is not said again. Costs some analyses of the whole
/// design. Errors: there is no port to speak of.
[[nodiscard]] Result<Draft> draft_sdc(const World& world, const Project& project, const std::string& folder,
                                      const TimingOptions& options, const std::stop_token& stop = {});

/// Only the clocks that the project's constraints lack: of ports, PLLs and registers that clock others.
[[nodiscard]] Result<std::vector<DraftLine>> draft_clocks(const World& world, const Project& project,
                                                          const std::string& folder, const TimingOptions& options,
                                                          const std::stop_token& stop = {});

/// The lines as a file, a comment with its reason above each.
[[nodiscard]] std::string draft_text(const std::vector<DraftLine>& lines, const std::string& title);

}  // namespace kp
