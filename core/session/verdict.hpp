// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/session/session.hpp"

#include <string>

namespace kp {

/// What the rules would say if `port` were pegged to `pin`: the text of the first stop that names the port and is not there
/// yet, or empty when the place is legal. The same rules as Findings, run on a changed copy.
[[nodiscard]] std::string place_trouble(const Session& session, const std::string& port, const std::string& pin);

}  // namespace kp
