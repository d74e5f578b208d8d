// SPDX-License-Identifier: GPL-3.0-or-later
// What a handoff holds beside constraints, sheet and report: the design in order, the adapter, the user's own
// templates, findings for other tools, waivers, and what to see to.
#pragma once

#include "core/base/disk.hpp"
#include "core/session/session.hpp"

#include <map>
#include <string>
#include <vector>

namespace kp {

struct BundleFile {
    std::string name, text;
    std::string from;  ///< path in the project; empty: made
    std::string role;  ///< "netlist", "source", "adapter", "template", "findings", "waivers", "checklist"
};

/// In the order in which they are to be read where there is one (sources before who uses them). `free`: gives a name
/// that the bundle does not have yet. Errors: an input that cannot be read, a template that does not render.
[[nodiscard]] Result<std::vector<BundleFile>> bundle_files(Disk& disk, const Session& session,
                                                           const std::function<std::string(const std::string&)>& free);

/// What to check before and after the design is loaded, as Markdown: choices that were made or left, polarity that
/// the adapter turns, ports that stay open with their reasons, and the notes before power-on with their ticks.
[[nodiscard]] std::string checklist(const Session& session);

}  // namespace kp
