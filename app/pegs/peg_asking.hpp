// SPDX-License-Identifier: GPL-3.0-or-later
// The question before somebody loses a pin.
#pragma once

#include "app/shell/desk.hpp"

#include <functional>
#include <string>
#include <vector>

namespace kp::app {

/// Pegs ports to pins. Who would lose a pin by it is said first, and the swap is offered where there is one; nothing is
/// taken from anybody in silence. `done` runs when the pegs are in.
void peg_asking(Desk& desk, const std::vector<std::string>& ports, const std::vector<std::string>& pins,
                const std::function<void()>& done = {});

}  // namespace kp::app
