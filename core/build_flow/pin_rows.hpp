// SPDX-License-Identifier: GPL-3.0-or-later
// A table of pegs held against the design and the part it is for.
#pragma once

#include "core/format/csv/pin_report.hpp"
#include "core/model/netlist.hpp"
#include "core/model/part.hpp"
#include "core/model/standards.hpp"

namespace kp::build_flow {

/// Errors, with the row's line in `file`: a port the design does not have, or a bus as a whole; a pin the part does not
/// have, or twice; an I/O standard nobody knows.
[[nodiscard]] Status check_rows(const std::vector<PinReportRow>& rows, const std::string& file, const Netlist& netlist,
                                const Part& part, const StandardTable& standards);

}  // namespace kp::build_flow
