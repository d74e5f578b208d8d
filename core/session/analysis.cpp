// SPDX-License-Identifier: GPL-3.0-or-later
// The stages in their order: text to constraints (a process of its own runs the Tcl), netlist and constraints to facts,
// graph and constraints to the report. Each is a function of what it is given and of nothing else, so that Deriver can
// leave out those whose inputs are the same as before.
#include "core/session/analysis.hpp"

#include "core/base/bytes.hpp"
#include "core/format/sdc/read.hpp"
#include "core/rules/rules.hpp"
#include "core/session/timekeeper.hpp"

#include <chrono>

namespace kp {

namespace {

template <class T>
const T& or_empty(const T* value) {
    static const T empty{};
    return value ? *value : empty;
}

}  // namespace

const Constraints& Analysis::constraints() const {
    return or_empty(interpretation ? &interpretation->constraints : nullptr);
}
const std::map<std::string, std::string>& Analysis::texts() const {
    return or_empty(interpretation ? &interpretation->texts : nullptr);
}
const DesignFacts& Analysis::design() const {
    return or_empty(facts.get());
}
const TimingReport& Analysis::timing() const {
    return or_empty(report.get());
}

const TimingIndex& Analysis::timing_index() const {
    static const TimingIndex none{TimingReport{}};
    return report_index ? *report_index : none;
}
void Analysis::set_report(TimingReport made) {
    report = std::make_shared<const TimingReport>(std::move(made));
    report_index = std::make_shared<const TimingIndex>(*report);
}

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

std::shared_ptr<const Interpretation> interpret(const World& world, const Project& project, const std::string& folder,
                                                double script_seconds, const std::stop_token& stop) {
    auto out = std::make_shared<Interpretation>();
    for (const auto& file : project.constraints)
        if (file.analysis) out->texts[file.path] = file.text;
    out->constraints = read_sdc(analysis_scripts(project, folder), world.netlist, *world.index, world.library,
                                script_limits(world, script_seconds), stop);
    return out;
}

std::shared_ptr<const Analysis> analyse(const World& world, const Project& project, const std::string& folder,
                                        const TimingOptions& options, const std::stop_token& stop,
                                        double script_seconds) {
    Timekeeper once;
    const std::shared_ptr<const World> borrowed(std::shared_ptr<const World>(), &world);
    return analyse(borrowed, project, folder, options, once, stop, script_seconds);
}

std::shared_ptr<const Analysis> analyse(const std::shared_ptr<const World>& world, const Project& project,
                                        const std::string& folder, const TimingOptions& options, Timekeeper& keeper,
                                        const std::stop_token& stop, double script_seconds) {
    const auto from = std::chrono::steady_clock::now();
    auto out = std::make_shared<Analysis>();
    out->interpretation = interpret(*world, project, folder, script_seconds, stop);
    if (!stop.stop_requested())
        out->set_report(keeper.report(world, out->constraints(), pad_delays(*world, project), options, stop));
    if (!stop.stop_requested())
        out->facts =
            std::make_shared<const DesignFacts>(design_facts(world->netlist, world->library, out->constraints(), stop));
    out->cancelled = stop.stop_requested();
    out->seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - from).count();
    return out;
}

RuleInput rule_input(const World& world, const Project& project, const Analysis& analysis) {
    RuleInput out{world.part,          world.board,      world.standards,
                  world.netlist.ports, project,          analysis.constraints(),
                  analysis.timing(),   analysis.design()};
    out.swapped = world.swapped;
    return out;
}

std::vector<Finding> find(const World& world, const Project& project, const Analysis& analysis, bool with_fixes,
                          std::optional<std::uint32_t> idcode_read) {
    auto input = rule_input(world, project, analysis);
    input.with_fixes = with_fixes;
    input.idcode_read = idcode_read;
    return run_rules(input);
}

}  // namespace kp
