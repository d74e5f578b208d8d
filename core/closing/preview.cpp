// SPDX-License-Identifier: GPL-3.0-or-later
// Costs one run of all rules; with other constraint text also a run of the script, a what-if of the engine and the
// facts of the design.
#include "core/closing/preview.hpp"

#include "core/session/timekeeper.hpp"

namespace kp {

namespace {

constexpr double script_seconds = 0.5;  // somebody looks at a list and goes on; a real run waits longer

TimingReport report_of(const Snapshot& base, const Snapshot& next, const std::stop_token& stop) {
    const auto& grounds = *next.grounds;
    const auto pads = pad_delays(*next.world, *next.project);
    TimingReport out;
    const bool same_graph = base.world == next.world && !base.stale;
    if (same_graph &&
        grounds.timekeeper->what_if(
            next.analysis.constraints(), pads, [&](const TimingEngine& e) { out = e.report(stop); }, stop))
        return out;
    Timekeeper once;
    return once.report(next.world, next.analysis.constraints(), pads, grounds.options, stop);
}

}  // namespace

Result<Snapshot> preview(const Snapshot& base, const Project& project, const std::stop_token& stop) {
    const Message cancelled{Severity::stop, Code::cancelled, "The preview was cancelled."};
    Snapshot next = base;
    next.project = std::make_shared<const Project>(project);
    const auto t = touched(difference_edit(*base.project, project, ""));
    if (t.inputs) {
        auto world = load_world(*base.grounds, project);
        if (!world) return world.messages();
        next.world = world.take();
    }
    auto& a = next.analysis;
    if (t.text || t.inputs) {
        a.interpretation = interpret(*next.world, project, base.grounds->folder, script_seconds, stop);
        if (stop.stop_requested()) return cancelled;
        a.facts = std::make_shared<const DesignFacts>(
            design_facts(next.world->netlist, next.world->library, a.constraints(), stop));
    }
    const bool pads = t.pegs && pad_delays(*next.world, project) != pad_delays(*base.world, *base.project);
    if (t.text || t.inputs || pads) a.set_report(report_of(base, next, stop));
    if (stop.stop_requested()) return cancelled;
    next.findings =
        std::make_shared<const std::vector<Finding>>(find(*next.world, *next.project, a, false, base.grounds->idcode));
    return next;
}

Result<Snapshot> preview(const Snapshot& base, const Edit& edit, const std::stop_token& stop) {
    Project next = *base.project;
    if (auto status = apply(next, edit); !status) return status.messages();
    return preview(base, next, stop);
}

}  // namespace kp
