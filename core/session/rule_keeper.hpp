// SPDX-License-Identifier: GPL-3.0-or-later
// The findings of an open project, kept from one edit to the next. It owns all that the rules look at, so that it can
// be made on one thread and used on another; one thread at a time.
#pragma once

#include "core/rules/live.hpp"
#include "core/session/analysis.hpp"

#include <cstdint>
#include <memory>
#include <optional>
#include <vector>

namespace kp {

class RuleKeeper {
public:
    /// Runs every rule once.
    RuleKeeper(std::shared_ptr<const World> world, Project project, Analysis analysis,
               std::optional<std::uint32_t> idcode_read);
    RuleKeeper(const RuleKeeper&) = delete;
    RuleKeeper& operator=(const RuleKeeper&) = delete;

    /// Applies an edit that changes no input and asks those again that could answer otherwise. An edit that does not
    /// fit changes nothing and gives false.
    bool follow(const Edit& edit);
    /// Without their fixes.
    [[nodiscard]] const std::vector<Finding>& findings() const { return live_.findings(); }
    /// What the findings would be after such an edit. References into findings() end here too.
    [[nodiscard]] std::vector<Finding> findings_after(const Edit& edit);
    /// The ways out of a finding.
    [[nodiscard]] std::vector<Fix> fixes_of(const Finding& finding);
    /// The plan as it is now; the reference and what hangs on it live until the next follow().
    [[nodiscard]] const Plan& plan() const { return input_; }

private:
    std::shared_ptr<const World> world_;
    Project project_;
    Analysis analysis_;
    RuleInput input_;
    LiveRules live_;
};

}  // namespace kp
