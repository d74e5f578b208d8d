// SPDX-License-Identifier: GPL-3.0-or-later
// SDC text to constraints; see docs/timing.md, section 3.
#pragma once

#include "core/format/sdc/words.hpp"
#include "core/model/constraints.hpp"
#include "core/model/library.hpp"

#include <stop_token>
#include <vector>

namespace kp {

/// Runs SDC files, in order and as one script, and gives what they say about the design. Findings of the text (unknown
/// commands and options, names that match nothing, bad numbers, commands the analysis does not use) are in `messages`;
/// a command with a stop has no effect, all others have.
[[nodiscard]] Constraints read_sdc(const std::vector<sdc::Script>& scripts, const Netlist& netlist,
                                   const NetlistIndex& index, const Library& library, const sdc::RunLimits& limits = {},
                                   std::stop_token stop = {});

/// True for messages that mean "this text could not be run as SDC" and not only "it says something odd".
[[nodiscard]] bool is_unusable(const Message& message);

}  // namespace kp
