// SPDX-License-Identifier: GPL-3.0-or-later
// Everything computed from the inputs, as pure functions of a snapshot.
#pragma once

#include "core/design/facts.hpp"
#include "core/format/sdc/words.hpp"
#include "core/model/finding.hpp"
#include "core/model/timing_report.hpp"
#include "core/session/world.hpp"
#include "core/timing/analyse.hpp"

#include <map>
#include <memory>
#include <stop_token>

namespace kp {

class RuleInput;  // core/rules/input.hpp
class Timekeeper;  // core/session/timekeeper.hpp

/// What the constraint text and the timing engine say; slow enough to belong on another thread.
struct Analysis {
    Constraints constraints;
    TimingReport timing;
    DesignFacts design;
    std::map<std::string, std::string> texts;  ///< the constraint files it was made of, by path; spans speak of these
    double seconds = 0;
    bool cancelled = false;
};

/// The constraint files that are switched on for analysis, in order.
[[nodiscard]] std::vector<sdc::Script> analysis_scripts(const Project& project, const std::string& folder);

/// How long a script of the project may run, and what `source` may read.
[[nodiscard]] sdc::RunLimits script_limits(const World& world, double seconds);

/// Runs the constraint files that are switched on for analysis, then the timing engine. A script that
/// takes longer than `script_seconds` is stopped and says so.
[[nodiscard]] std::shared_ptr<const Analysis> analyse(const World& world, const Project& project, const std::string& folder, const TimingOptions& options, std::stop_token stop = {}, double script_seconds = 10);

/// The same with an engine that is kept.
[[nodiscard]] std::shared_ptr<const Analysis> analyse(const std::shared_ptr<const World>& world, const Project& project, const std::string& folder, const TimingOptions& options, Timekeeper& keeper, std::stop_token stop = {}, double script_seconds = 10);

/// Runs the rules; fast enough for every edit.
[[nodiscard]] std::vector<Finding> find(const World& world, const Project& project, const Analysis& analysis, bool with_fixes = true, std::optional<std::uint32_t> idcode_read = {});

/// What the rules look at; world, project and analysis outlive it.
[[nodiscard]] RuleInput rule_input(const World& world, const Project& project, const Analysis& analysis);

}  // namespace kp
