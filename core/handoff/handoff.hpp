// SPDX-License-Identifier: GPL-3.0-or-later
// The bundle that leaves the program: constraints, pin sheet, report, and a manifest with checksums.
#pragma once

#include "core/base/disk.hpp"
#include "core/handoff/template.hpp"
#include "core/model/finding.hpp"
#include "core/session/session.hpp"

#include <map>
#include <string>

namespace kp {

/// The columns of sheet_columns(), one row per port. RFC 4180.
[[nodiscard]] std::string pin_sheet_csv(const World& world, const Project& project);
/// What templates see of a session.
[[nodiscard]] TemplateInput template_input(const Session& session, int stops);
/// The report as one HTML page without scripts or outside references.
[[nodiscard]] std::string report_html(const Session& session);

/// All files of the bundle by name; the manifest is the last one made and names each other with its SHA-256.
[[nodiscard]] std::map<std::string, std::string> make_handoff(const Session& session);
/// Writes the bundle into `folder`. Errors: open stops (unless `despite_stops`), an analysis that is not of the present
/// state, the disk's.
[[nodiscard]] Status write_handoff(Disk& disk, const Session& session, const std::string& folder, bool despite_stops);

}  // namespace kp
