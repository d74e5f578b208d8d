// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/session/derive.hpp"

#include "core/format/sdc/read.hpp"
#include "core/rules/rules.hpp"
#include "core/session/timekeeper.hpp"

#include <chrono>
#include <functional>

namespace kp {

std::vector<sdc::Script> analysis_scripts(const Project& project, const std::string& folder) {
    std::vector<sdc::Script> out;
    for (const auto& file : project.constraints)
        if (file.analysis) out.push_back({file.path, join_path(folder, file.path), file.text});
    return out;
}

sdc::RunLimits script_limits(const World& world, double seconds) {
    sdc::RunLimits limits;
    limits.seconds = seconds;
    limits.refuse = [reach = world.reach](const std::string& path) {
        const auto why = reach ? reach->refuse(path) : std::nullopt;
        return why ? why->sentence() : std::string();
    };
    return limits;
}

namespace {

using Report = std::function<TimingReport(const Constraints&)>;

std::shared_ptr<const Analysis> analyse(const World& world, const Project& project, const std::string& folder, const std::stop_token& stop, double script_seconds, const Report& report) {
    const auto limits = script_limits(world, script_seconds);
    const auto from = std::chrono::steady_clock::now();
    auto out = std::make_shared<Analysis>();
    for (const auto& file : project.constraints)
        if (file.analysis) out->texts[file.path] = file.text;
    out->constraints = read_sdc(analysis_scripts(project, folder), world.netlist, *world.index, world.library, limits, stop);
    if (!stop.stop_requested()) out->timing = report(out->constraints);
    if (!stop.stop_requested()) out->design = design_facts(world.netlist, world.library, out->constraints);
    out->cancelled = stop.stop_requested();
    out->seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - from).count();
    return out;
}

}  // namespace

std::shared_ptr<const Analysis> analyse(const World& world, const Project& project, const std::string& folder, const TimingOptions& options, std::stop_token stop, double script_seconds) {
    Timekeeper once;
    const std::shared_ptr<const World> borrowed(std::shared_ptr<const World>(), &world);  // outlives the call
    return analyse(borrowed, project, folder, options, once, stop, script_seconds);
}

std::shared_ptr<const Analysis> analyse(const std::shared_ptr<const World>& world, const Project& project, const std::string& folder, const TimingOptions& options, Timekeeper& keeper, std::stop_token stop, double script_seconds) {
    return analyse(*world, project, folder, stop, script_seconds, [&](const Constraints& k) { return keeper.report(world, k, pad_delays(*world, project), options, stop); });
}

RuleInput rule_input(const World& world, const Project& project, const Analysis& analysis) { return {world.part, world.board, world.standards, world.netlist.ports, project, analysis.constraints, analysis.timing, analysis.design}; }

std::vector<Finding> find(const World& world, const Project& project, const Analysis& analysis, bool with_fixes, std::optional<std::uint32_t> idcode_read) {
    auto input = rule_input(world, project, analysis);
    input.with_fixes = with_fixes;
    input.idcode_read = idcode_read;
    return run_rules(input);
}

}  // namespace kp
