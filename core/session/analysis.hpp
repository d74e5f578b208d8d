// SPDX-License-Identifier: GPL-3.0-or-later
// What follows from a project and its world, each result by itself: constraints, facts of the design, timing report.
// Results are immutable and shared; a later analysis makes new ones beside them.
#pragma once

#include "core/design/facts.hpp"
#include "core/format/sdc/words.hpp"
#include "core/model/finding.hpp"
#include "core/model/timing_index.hpp"
#include "core/model/timing_report.hpp"
#include "core/inputs/world.hpp"
#include "core/timing/analyse.hpp"

#include <map>
#include <memory>
#include <optional>
#include <stop_token>
#include <string>
#include <vector>

namespace kp {

class RuleInput;   // core/rules/input.hpp
class Timekeeper;  // core/session/timekeeper.hpp

/// What the constraint text says, with the text it was made of: spans of commands speak of that.
struct Interpretation {
    Constraints constraints;
    std::map<std::string, std::string> texts;  ///< the constraint files that are switched on for analysis, by path
};

/// The results of one moment. A result that is not there yet reads as an empty one.
struct Analysis {
    std::shared_ptr<const Interpretation> interpretation;
    std::shared_ptr<const DesignFacts> facts;
    std::shared_ptr<const TimingReport> report;
    std::shared_ptr<const TimingIndex> report_index;
    double seconds = 0;      ///< that the last run of it took, wall clock
    bool cancelled = false;  ///< some of it is missing for that

    [[nodiscard]] const Constraints& constraints() const;
    [[nodiscard]] const std::map<std::string, std::string>& texts() const;
    [[nodiscard]] const DesignFacts& design() const;
    [[nodiscard]] const TimingReport& timing() const;
    /// Questions to timing().
    [[nodiscard]] const TimingIndex& timing_index() const;
    /// Takes a report, with its index.
    void set_report(TimingReport report);
};

/// The constraint files that are switched on for analysis, in order.
[[nodiscard]] std::vector<sdc::Script> analysis_scripts(const Project& project, const std::string& folder);

/// How long a script of the project may run, and what `source` may read.
[[nodiscard]] sdc::RunLimits script_limits(const World& world, double seconds);

/// Runs the constraint files that are switched on for analysis. One that takes longer than `script_seconds` is stopped
/// and says so.
[[nodiscard]] std::shared_ptr<const Interpretation> interpret(const World& world, const Project& project,
                                                              const std::string& folder, double script_seconds,
                                                              const std::stop_token& stop);

/// All results, one after the other, with an engine that is used once.
[[nodiscard]] std::shared_ptr<const Analysis> analyse(const World& world, const Project& project,
                                                      const std::string& folder, const TimingOptions& options,
                                                      const std::stop_token& stop = {}, double script_seconds = 10);

/// The same with an engine that is kept.
[[nodiscard]] std::shared_ptr<const Analysis> analyse(const std::shared_ptr<const World>& world, const Project& project,
                                                      const std::string& folder, const TimingOptions& options,
                                                      Timekeeper& keeper, const std::stop_token& stop = {},
                                                      double script_seconds = 10);

/// Runs all rules. For who has neither a session nor a RuleKeeper.
[[nodiscard]] std::vector<Finding> find(const World& world, const Project& project, const Analysis& analysis,
                                        bool with_fixes = true, std::optional<std::uint32_t> idcode_read = {});

/// What the rules look at; world, project and the results of the analysis outlive it.
[[nodiscard]] RuleInput rule_input(const World& world, const Project& project, const Analysis& analysis);

}  // namespace kp
