// SPDX-License-Identifier: GPL-3.0-or-later
// Facts of what is not in the plan but follows from it: endpoints, cells, findings, lines of constraints, links.
#pragma once

#include "app/shell/fact_sheet.hpp"
#include "core/session/session.hpp"

#include <string>

namespace kp::app {

/// "setup u7/D", "unconstrained y": a check and its endpoint. An empty title when there is none such any more.
[[nodiscard]] FactSheet endpoint_facts(const Session& session, const std::string& check_and_name);
/// A cell of the project's netlist.
[[nodiscard]] FactSheet cell_facts(const Session& session, const std::string& name);
/// By Finding::identity().
[[nodiscard]] FactSheet finding_facts(const Session& session, const std::string& identity);
/// "file:line" of a constraint file of the project.
[[nodiscard]] FactSheet line_facts(const Session& session, const std::string& place);
/// A link of lanes, by its name.
[[nodiscard]] FactSheet link_facts(const Session& session, const std::string& name);

}  // namespace kp::app
