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

/// All files of the bundle by name. Constraint files have their own names, or, where two would have one name or the
/// name of another file of the bundle, that of their folder in front. The manifest names each file with its SHA-256 and
/// where it came from, and each input of the project (netlist, delays, cells, part, board) with its SHA-256. Errors: an
/// input that cannot be read.
/// `despite`: why it is written although stops are open; the manifest says so. The same project gives the same bytes.
[[nodiscard]] Result<std::map<std::string, std::string>> make_handoff(Disk& disk, const Session& session,
                                                                      const std::string& despite = {});
/// Writes the bundle into `folder`. What an earlier handoff wrote there and nobody changed is replaced or, when it is
/// no longer part of the bundle, removed; any other file of the same name is an error. Errors: open stops (unless
/// `despite_stops`), an analysis that is not of the present state, a folder outside of the project's that is not
/// allowed (code "outside"), the disk's. Everything is checked before anything is written.
/// `reason` for the manifest, when stops are open. `written`: the names of the files, when somebody asks.
[[nodiscard]] Status write_handoff(Disk& disk, const Session& session, const std::string& folder, bool despite_stops,
                                   const std::string& reason = {}, std::vector<std::string>* written = nullptr);

}  // namespace kp
