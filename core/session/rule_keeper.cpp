// SPDX-License-Identifier: GPL-3.0-or-later
// A first run costs every rule at every port; following an edit costs what LiveRules finds touched.
#include "core/session/rule_keeper.hpp"

namespace kp {

namespace {

RuleInput without_fixes(RuleInput input, std::optional<std::uint32_t> idcode_read) {
    input.with_fixes = false;
    input.idcode_read = idcode_read;
    return input;
}

}  // namespace

RuleKeeper::RuleKeeper(std::shared_ptr<const World> world, Project project, Analysis analysis,
                       std::optional<std::uint32_t> idcode_read)
    : world_(std::move(world)),
      project_(std::move(project)),
      analysis_(std::move(analysis)),
      input_(without_fixes(rule_input(*world_, project_, analysis_), idcode_read)),
      live_(input_) {}

bool RuleKeeper::follow(const Edit& edit) {
    if (!kp::apply(project_, edit)) return false;
    live_.update(input_, edit);
    return true;
}

std::vector<Finding> RuleKeeper::findings_after(const Edit& edit) {
    if (!follow(edit)) return findings();
    auto out = findings();
    (void)follow(edit.inverse());
    return out;
}

std::vector<Fix> RuleKeeper::fixes_of(const Finding& finding) {
    input_.with_fixes = true;
    auto fixes = kp::fixes_of(input_, finding);
    input_.with_fixes = false;
    return fixes;
}

}  // namespace kp
