// SPDX-License-Identifier: GPL-3.0-or-later
// What a build may say of itself, and what it looked at for that: nothing is met that was not checked.
#pragma once

#include "core/model/constraints.hpp"
#include "core/model/timing_report.hpp"

#include <cstdint>
#include <string>
#include <vector>

namespace kp::build_flow {

/// From the worst to the best; what stands further in front hides what is behind it.
enum class BuildVerdict : std::uint8_t { not_built, constraints_refused, missed, not_constrained, met };
/// "not constrained", as JSON and the window have it.
[[nodiscard]] const char* word_of(BuildVerdict verdict);

/// A command of a constraint file that did not come to what it says, and why.
struct LostCommand {
    std::string file;
    int line = 0;
    std::string text;
};

/// What became of the constraints.
struct ConstraintUse {
    size_t commands = 0;
    std::vector<LostCommand> refused;         ///< such as those that name what is not there
    std::vector<LostCommand> without_effect;  ///< read, and not used; exceptions on which no path lies
};
[[nodiscard]] ConstraintUse use_of(const Constraints& constraints, const TimingReport& report);

/// Of a design that was built: refused constraints before missed checks before endpoints without a check.
[[nodiscard]] BuildVerdict verdict_of(const ConstraintUse& constraints, const TimingReport& report);

}  // namespace kp::build_flow
