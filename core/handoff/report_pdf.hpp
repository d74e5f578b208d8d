// SPDX-License-Identifier: GPL-3.0-or-later
// The report of a handoff as PDF: the same content as the HTML page, with drawings.
#pragma once

#include "core/drawing/drawing.hpp"
#include "core/session/session.hpp"

#include <string>
#include <vector>

namespace kp {

/// Package, board, and the worst path of each kind of check; those that there is something to draw for.
[[nodiscard]] std::vector<Drawing> report_drawings(const Session& session);

/// Errors: what the library of PDF says.
[[nodiscard]] Result<std::string> report_pdf(const Session& session);

}  // namespace kp
