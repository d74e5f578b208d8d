// SPDX-License-Identifier: GPL-3.0-or-later
// What forms do to the constraint text: each edits exactly one command, or adds one at the end of the target file.
#pragma once

#include "core/session/session.hpp"

#include <optional>
#include <string>

namespace kp {

/// Changes period and duty cycle of the clock that enters by `port`, or writes a create_clock for it. Errors: a period
/// that is not above 0 ns, a duty cycle outside 0 to 100 %.
[[nodiscard]] Result<Edit> clock_form(const Session& session, const std::string& port, double period_ns,
                                      double duty_percent);

/// Sets one side (late: -max, else -min) of a port's I/O delay. The command that holds it now is edited when it speaks
/// of this port alone; otherwise a command for the port is added behind it, which replaces it for this port (SDC).
/// Errors: no clock.
[[nodiscard]] Result<Edit> delay_form(const Session& session, const std::string& port, bool late, double value_ns);

/// Adds a line to the file new commands go to.
[[nodiscard]] Edit add_line(const Session& session, const std::string& line, const std::string& title,
                            const std::string& clock = {});

}  // namespace kp
