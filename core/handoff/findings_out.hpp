// SPDX-License-Identifier: GPL-3.0-or-later
// Findings for other tools.
#pragma once

#include "core/format/json/json_value.hpp"
#include "core/model/finding.hpp"

#include <string>
#include <vector>

namespace kp {

/// SARIF 2.1.0 (OASIS standard, 27 March 2020): one run, the rule table as its rules, each finding a result; waived
/// ones carry a suppression with the reason. `project` is the file that results without a place of their own point at.
[[nodiscard]] Json findings_sarif(const std::vector<Finding>& findings, const std::string& project);

/// JUnit XML as build servers read it (common practice, no published standard): one test case a rule, failed when it
/// found a stop or a caution, skipped when all it found is waived.
[[nodiscard]] std::string findings_junit(const std::vector<Finding>& findings, const std::string& project);

}  // namespace kp
