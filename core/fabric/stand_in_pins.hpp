// SPDX-License-Identifier: GPL-3.0-or-later
// The stand-in for a build, as far as pins go: it honours the pegs, puts what is adrift somewhere legal, and reports.
#pragma once

#include "core/format/csv/pin_report.hpp"
#include "core/model/netlist.hpp"
#include "core/model/part.hpp"
#include "core/model/project.hpp"

#include <functional>
#include <string>
#include <vector>

namespace kp {

/// Each adrift port gets the free user pin nearest to those of its bus (else the first one) that `legal` agrees to; a
/// port for which there is none is not in the report. Like a build, it knows nothing of what hangs on the board.
[[nodiscard]] std::vector<PinReportRow> stand_in_pins(
    const std::vector<Port>& ports, const Part& part, const Project& project,
    const std::function<bool(const std::string& port, const std::string& pin)>& legal);

}  // namespace kp
