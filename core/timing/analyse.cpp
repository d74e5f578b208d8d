// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/timing/analyse.hpp"

#include "core/base/text.hpp"
#include "core/timing/coverage.hpp"
#include "core/timing/paths.hpp"
#include "core/timing/pulses.hpp"

#include <algorithm>
#include <chrono>
#include <cmath>
#include <map>
#include <optional>

namespace kp {

namespace {

using namespace timing;

struct Group {
    std::vector<Seed*> seeds;
    double worst = 0;
    std::optional<TimingPath> best;  ///< its worst path, where credit depends on the start
    [[nodiscard]] bool by_start() const { return std::any_of(seeds.begin(), seeds.end(), [](const Seed* s) { return s->by_start; }); }
};

void count(CheckSummary& s, double slack) {
    ++s.endpoints;
    s.wns = s.wns ? std::min(*s.wns, slack) : slack;
    if (slack < 0) ++s.failing, s.tns += slack;
}

/// NaN where the calculated slew counts, otherwise the slew of an ideal clock at a register.
std::vector<double> ideal_slews(const Graph& g, const Constraints& constraints, const std::vector<std::vector<ClockAt>>& clocks_at, const std::vector<bool>& propagated) {
    std::vector<double> slew(g.nodes, absent);
    const auto at_register = [&](NodeId pin) {
        if (clocks_at[pin].empty() || propagated[clocks_at[pin][0].clock]) return;
        double value = 0;
        for (const auto& t : constraints.clock_transitions)
            if (std::find(t.clocks.begin(), t.clocks.end(), clocks_at[pin][0].clock) != t.clocks.end()) value = t.value;
        slew[pin] = value;
    };
    for (const auto& c : g.checks) at_register(c.clock);
    for (const auto& a : g.arcs)
        if (a.kind == Arc::launch) at_register(a.from);
    return slew;
}

void summarise(const std::map<std::pair<std::string, NodeId>, Group>& groups, TimingReport& report) {
    for (const auto& [key, group] : groups) {
        auto& s = key.first == "setup" ? report.setup : key.first == "hold" ? report.hold : key.first == "recovery" ? report.recovery : report.removal;
        count(s, group.worst);
    }
}

void report_clocks(const Graph& g, const Constraints& constraints, const std::vector<std::vector<ClockAt>>& clocks_at, const CheckResult& checks, const Propagation& p, TimingReport& report) {
    std::vector<int> registers(constraints.clocks.size(), 0);
    std::vector<bool> counted(g.nodes, false);
    for (const auto& a : g.arcs)
        if (a.kind == Arc::launch && !counted[a.from]) {
            counted[a.from] = true;
            for (const auto& c : clocks_at[a.from]) ++registers[c.clock];
        }
    for (std::uint32_t i = 0; i < constraints.clocks.size(); ++i) {
        const auto& c = constraints.clocks[i];
        ClockReport r{c.name, c.period, c.waveform, c.generated, {}, std::nullopt, registers[i]};
        for (const auto& o : c.sources) r.sources.push_back(o.kind == ObjectKind::port ? g.netlist->ports[o.id].name : o.kind == ObjectKind::pin ? g.netlist->pin_name(o.id) : o.kind == ObjectKind::net ? g.netlist->net_names[o.id] : "");
        // The period at which the worst setup of this clock against itself just closes, its edges scaled along.
        double least = 0;
        for (const auto& s : checks.seeds) {
            if (!s.setup || s.capture != i || p.tags[s.tag].clock != i || !s.exception.empty()) continue;
            const double separation = s.edges.capture - s.edges.launch;
            least = std::max(least, c.period * (separation - s.slack) / separation);
        }
        if (least > 0) r.fmax_mhz = 1000.0 / least;
        report.clocks.push_back(std::move(r));
    }
}

/// One endpoint for each pin and kind, as for the other checks.
void report_pulses(const Graph& g, const Constraints& constraints, const std::vector<PulseSlack>& pulses, const TimingOptions& options, TimingReport& report) {
    std::map<std::pair<bool, NodeId>, const PulseSlack*> worst;
    for (const auto& p : pulses)
        if (auto& at = worst[{p.period, p.pin}]; !at || p.slack < at->slack) at = &p;
    for (const auto& [key, p] : worst) {
        count(key.first ? report.period : report.pulse_width, p->slack);
        if (options.all_endpoints) report.endpoints.push_back({key.first ? "period" : "pulse_width", g.name(p->pin), p->high, p->slack, constraints.clocks[p->clock].name, constraints.clocks[p->clock].name});
    }
}

double seconds_since(std::chrono::steady_clock::time_point from) { return std::chrono::duration<double>(std::chrono::steady_clock::now() - from).count(); }

}  // namespace

TimingReport analyse_timing(const TimingInput& input, const TimingOptions& options, std::stop_token stop) {
    using Clock = std::chrono::steady_clock;
    TimingReport report;
    auto mark = Clock::now();
    Graph g = build_graph(input);
    auto clocks_at = spread_clocks(g, input.constraints);
    report.arcs = g.arcs.size();
    report.seconds_build = seconds_since(mark);
    mark = Clock::now();
    if (input.delays) annotate(g, *input.delays, options);
    auto propagated = propagated_clocks(input.constraints, options.propagated);
    calculate_delays(g, input.constraints, ideal_slews(g, input.constraints, clocks_at, propagated));
    apply_derates(g, input.constraints);
    time_clocks(g, input.constraints, clocks_at);
    const ClockTimes times(g, input.constraints, clocks_at, std::move(propagated));
    Exceptions exceptions(g, input.constraints);
    Propagation propagation(g, input.constraints, clocks_at, times, exceptions);
    report.messages = g.messages;
    if (!propagation.run(stop)) {
        report.messages.insert(report.messages.begin(), {Severity::stop, "cancelled", "The analysis was cancelled.", "", 0, 0});
        return report;
    }
    auto checks = check_endpoints(propagation, options);
    report.messages.insert(report.messages.end(), checks.messages.begin(), checks.messages.end());
    report.seconds_update = seconds_since(mark);
    mark = Clock::now();

    std::map<std::pair<std::string, NodeId>, Group> groups;
    for (auto& s : checks.seeds) {
        auto& group = groups[{s.check, s.node}];
        group.worst = group.seeds.empty() ? s.slack : std::min(group.worst, s.slack);
        group.seeds.push_back(&s);
    }
    for (auto& [key, group] : groups)
        if (group.by_start() && !stop.stop_requested())
            if (auto best = worst_paths(propagation, group.seeds, 1); !best.empty()) {
                group.worst = best[0].slack, group.best = std::move(best[0]);
                // None of them is worse with its credit.
                for (auto* s : group.seeds) s->slack = std::max(s->slack, group.worst);
            }
    summarise(groups, report);
    const auto pulses = check_pulses(g, input.constraints, clocks_at, times, options.common_path_credit);
    report_pulses(g, input.constraints, pulses, options, report);
    report_clocks(g, input.constraints, clocks_at, checks, propagation, report);
    std::vector<const std::pair<const std::pair<std::string, NodeId>, Group>*> order;
    for (const auto& entry : groups) order.push_back(&entry);
    std::stable_sort(order.begin(), order.end(), [](const auto* a, const auto* b) { return a->second.worst < b->second.worst; });
    const auto clock_name = [&](std::uint32_t id) { return id == no_id ? std::string() : input.constraints.clocks[id].name; };
    for (const auto* entry : order) {
        const auto& group = entry->second;
        const auto* worst = *std::min_element(group.seeds.begin(), group.seeds.end(), [](const Seed* a, const Seed* b) { return a->slack < b->slack; });
        if (options.all_endpoints && group.best) report.endpoints.push_back({entry->first.first, group.best->endpoint, group.best->points.back().rise, group.best->slack, group.best->launch_clock, group.best->capture_clock});
        else if (options.all_endpoints) report.endpoints.push_back({entry->first.first, g.name(entry->first.second), worst->edge == rise, worst->slack, clock_name(propagation.tags[worst->tag].clock), clock_name(worst->capture)});
    }
    // The N worst overall lie in the endpoints whose worst slack is among the N smallest.
    for (size_t i = 0; i < std::min(order.size(), options.paths) && !stop.stop_requested(); ++i) {
        const auto& group = order[i]->second;
        if (group.best && options.per_endpoint == 1) {
            report.paths.push_back(*group.best);
            continue;
        }
        auto more = worst_paths(propagation, group.seeds, options.per_endpoint);
        report.paths.insert(report.paths.end(), std::make_move_iterator(more.begin()), std::make_move_iterator(more.end()));
    }
    std::stable_sort(report.paths.begin(), report.paths.end(), [](const TimingPath& a, const TimingPath& b) { return a.slack < b.slack; });
    if (report.paths.size() > options.paths) report.paths.resize(options.paths);
    cover(propagation, checks, report);
    for (size_t i = 0; i < exceptions.used().size(); ++i)
        if (!exceptions.used()[i]) {
            const auto& span = input.constraints.exceptions[i].span;
            const auto file = static_cast<size_t>(span.file);
            report.messages.push_back({Severity::note, "unused-exception", "This exception meets no path.", file < input.constraints.files.size() ? input.constraints.files[file] : "", span.line, 0});
        }
    report.seconds_report = seconds_since(mark);
    return report;
}

}  // namespace kp
