// SPDX-License-Identifier: GPL-3.0-or-later
// "What if I wrote this line too?": asked of the engine that is kept, which then goes back to where it was. Nothing is
// edited.
#pragma once

#include "core/model/edit.hpp"
#include "core/session/snapshot.hpp"

#include <functional>
#include <stop_token>

namespace kp {

class TimingEngine;  // core/timing/engine.hpp

struct WhatIf {
    CheckSummary setup, hold, recovery, removal;
    std::vector<Message> messages;  ///< of the line itself, such as a name that is not quite right
};

/// The figures with one more line of SDC behind the project's own files. On any thread. Errors: a line that cannot be
/// run or matches nothing; no analysis yet, or one under way. Nothing is changed then either.
[[nodiscard]] Result<WhatIf> what_if_line(const Snapshot& now, const std::string& line,
                                          const std::stop_token& stop = {}, double script_seconds = 2);

/// The figures after an edit of constraint texts and choices of ports; the engine is asked `more` meanwhile. Errors: an
/// edit that does not fit or changes what is read, constraints that cannot be run, no analysis yet.
[[nodiscard]] Result<WhatIf> what_if_edit(const Snapshot& now, const Edit& edit,
                                          const std::function<void(const TimingEngine&)>& more = {},
                                          const std::stop_token& stop = {}, double script_seconds = 5);

}  // namespace kp
