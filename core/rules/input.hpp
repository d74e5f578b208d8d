// SPDX-License-Identifier: GPL-3.0-or-later
// What rules may look at: the plan, and what constraints, timing and netlist say of it.
#pragma once

#include "core/model/constraints.hpp"
#include "core/model/finding.hpp"
#include "core/model/swapped_names.hpp"
#include "core/model/timing_report.hpp"
#include "core/planning/plan.hpp"

#include <cstdint>
#include <optional>
#include <span>

namespace kp {

/// Nothing of what it refers to is changed by rules; all of it outlives the input.
class RuleInput : public Plan {
public:
    const Constraints& constraints;
    const TimingReport& timing;
    const DesignFacts& design;
    bool with_fixes = true;  ///< ways out cost more than the findings; who only wants the findings goes without
    std::span<const SwappedNames> swapped{};   ///< of the sources
    std::optional<std::uint32_t> idcode_read;  ///< what a chip at the cable said; none: nobody asked

    RuleInput(const Part& part, const Board& board, const StandardTable& standards, const std::vector<Port>& ports,
              const Project& project, const Constraints& constraints, const TimingReport& timing,
              const DesignFacts& design)
        : Plan(part, board, standards, ports, project, design.ports),
          constraints(constraints),
          timing(timing),
          design(design) {}
};

}  // namespace kp
