// SPDX-License-Identifier: GPL-3.0-or-later
// docs/rules.md from the table.
#include "core/rules/rules.hpp"
#include "core/base/said.hpp"

namespace kp {

std::string rules_document() {
    std::string out =
        "# The rules\n\nMade from the table in core/rules/table.cpp by `kpeg rules --document`; a test keeps the two "
        "equal.\nA stop blocks the handoff, a caution may hurt, a note informs. A waiver names rule and objects, says "
        "why, and is listed in the handoff.\n\n";
    out += "| code | severity | what holds | source | found at |\n|---|---|---|---|---|\n";
    for (const auto& row : rule_table()) {
        std::string at;
        for (const auto& [there, name] : {std::pair{row.of_port != nullptr, "each port"},
                                          {row.of_pin != nullptr, "each pin"},
                                          {row.of_bank != nullptr, "each bank"},
                                          {row.of_plan != nullptr, "the plan"}})
            if (there) at += (at.empty() ? "" : ", ") + std::string(name);
        out += said("| {} | {} | {} | {} | {} |\n", row.code, name_of(row.severity), row.statement, row.source, at);
    }
    return out + "| W01 | note | A waiver matches a finding. | common practice, no source | the plan |\n";
}

}  // namespace kp
