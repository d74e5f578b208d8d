// SPDX-License-Identifier: GPL-3.0-or-later
// What an edit would do to the findings.
#pragma once

#include "core/model/finding.hpp"

#include <string>
#include <vector>

namespace kp {

/// Findings that are only on one side, colour by rule and objects; waived ones do not count.
struct FindingsChange {
    std::vector<Finding> gone, come;
};
[[nodiscard]] FindingsChange compare_findings(const std::vector<Finding>& before, const std::vector<Finding>& after);

/// "L02, E03 (2)": the codes of findings with how many there are, in the order of the codes.
[[nodiscard]] std::string codes_of(const std::vector<Finding>& findings);

}  // namespace kp
