// SPDX-License-Identifier: GPL-3.0-or-later
// "What if I wrote this line too?": asked of the engine that is kept, which then goes back to where it was. Nothing is
// edited.
#pragma once

#include "core/session/snapshot.hpp"

#include <stop_token>

namespace kp {

struct WhatIf {
    CheckSummary setup, hold;
    std::vector<Message> messages;  ///< of the line itself, such as a name that is not quite right
};

/// The figures with one more line of SDC behind the project's own files. On any thread. Errors: a line that cannot be
/// run or matches nothing; no analysis yet, or one under way. Nothing is changed then either.
[[nodiscard]] Result<WhatIf> what_if_line(const Snapshot& now, const std::string& line,
                                          const std::stop_token& stop = {}, double script_seconds = 2);

}  // namespace kp
