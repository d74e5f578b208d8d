// SPDX-License-Identifier: GPL-3.0-or-later
// What an analysis says, in names.
#include "core/timing/analyse.hpp"

#include "core/base/text.hpp"
#include "core/timing/coverage.hpp"
#include "core/timing/engine_state.hpp"
#include "core/timing/pulses.hpp"

#include <algorithm>
#include <chrono>
#include <cmath>
#include <map>
#include <tbb/enumerable_thread_specific.h>
#include <tbb/parallel_for.h>

namespace kp {

using namespace timing;

namespace {

void count(CheckSummary& s, double slack) {
    ++s.endpoints;
    s.wns = s.wns ? std::min(*s.wns, slack) : slack;
    if (slack < 0) {
        ++s.failing;
        s.tns += slack;
    }
}

/// Per clock, the period at which its worst setup against itself just closes, its edges scaled along; 0: it has none.
std::vector<double> least_periods(const TimingEngine::State& s);

}  // namespace

/// Reads a state and writes a report; short-lived.
class Reporter {
public:
    Reporter(const TimingEngine::State& s) : s_(s), g_(s.g), k_(s.k) {}

    TimingReport run(const std::stop_token& stop) {
        const auto from = std::chrono::steady_clock::now();
        report_.messages = s_.messages;
        report_.messages.insert(report_.messages.end(), g_.messages.begin(), g_.messages.end());
        report_.messages.insert(report_.messages.end(), s_.ends.messages.begin(), s_.ends.messages.end());
        report_.arcs = g_.arcs();
        report_.setup = s_.summary(0);
        report_.hold = s_.summary(1);
        report_.recovery = s_.summary(2);
        report_.removal = s_.summary(3);
        corners();
        pulses();
        clocks();
        if (s_.options.all_endpoints) endpoints();
        report_.paths = s_.paths(s_.options.paths, s_.options.per_endpoint, stop);
        coverage();
        unused();
        report_.seconds_build = s_.seconds_build;
        report_.seconds_update = s_.seconds_update;
        report_.seconds_report = std::chrono::duration<double>(std::chrono::steady_clock::now() - from).count();
        return std::move(report_);
    }

private:
    [[nodiscard]] std::string clock_name(std::uint32_t id) const {
        return id == no_id ? std::string() : k_.clocks[id].name;
    }

    void corners() {
        if (s_.runs.size() < 2) return;
        for (const auto& run : s_.runs) {
            CornerReport c{run.corner.name, {}, {}, {}, {}};
            CheckSummary* const by_kind[] = {&c.setup, &c.hold, &c.recovery, &c.removal};
            for (size_t i = 0; i < s_.ends.groups.size(); ++i)
                if (std::isfinite(run.ends->worst[i]))
                    count(*by_kind[static_cast<size_t>(s_.ends.groups[i].kind)], run.ends->worst[i]);
            report_.corners.push_back(std::move(c));
        }
    }

    /// One endpoint for each pin and kind, as for the other checks.
    void pulses() {
        std::map<std::pair<bool, NodeId>, std::pair<PulseSlack, const std::string*>> worst;
        for (const auto& run : s_.runs)
            for (const auto& p :
                 check_pulses(g_, k_, run.corner, run.clocks, *run.clock_times, s_.options.common_path_credit)) {
                const auto [at, fresh] = worst.try_emplace({p.period, p.pin}, p, &run.corner.name);
                if (!fresh && p.slack < at->second.first.slack) at->second = {p, &run.corner.name};
            }
        for (const auto& [key, w] : worst) {
            const auto& p = w.first;
            count(key.first ? report_.period : report_.pulse_width, p.slack);
            if (s_.options.all_endpoints)
                report_.endpoints.push_back({key.first ? "period" : "pulse_width", g_.name(p.pin), p.high, p.slack,
                                             clock_name(p.clock), clock_name(p.clock), *w.second});
        }
    }

    void clocks() {
        std::vector<int> registers(k_.clocks.size(), 0);
        std::vector<bool> counted(g_.nodes, false);
        for (ArcId a = 0; a < g_.arcs(); ++a)
            if (g_.way[a] == Way::launch && !counted[g_.from[a]]) {
                counted[g_.from[a]] = true;
                for (const auto& c : s_.runs[0].clocks[g_.from[a]]) ++registers[c.clock];
            }
        const auto least = least_periods(s_);
        for (std::uint32_t i = 0; i < k_.clocks.size(); ++i) {
            const auto& c = k_.clocks[i];
            ClockReport r{c.name, c.period, c.waveform, c.generated, {}, std::nullopt, registers[i]};
            for (const auto& o : c.sources)
                r.sources.push_back(o.kind == ObjectKind::port  ? g_.netlist->ports[o.id].name
                                    : o.kind == ObjectKind::pin ? g_.netlist->pin_name(o.id)
                                    : o.kind == ObjectKind::net ? g_.netlist->net_names[o.id]
                                                                : "");
            if (least[i] > 0) r.fmax_mhz = 1000.0 / least[i];
            report_.clocks.push_back(std::move(r));
        }
    }

    /// Of checks with an arrival, worst first.
    void endpoints() {
        std::vector<std::uint32_t> order;
        std::vector<double> worst(s_.ends.groups.size());
        for (std::uint32_t i = 0; i < worst.size(); ++i) {
            worst[i] = s_.worst(i);
            if (std::isfinite(worst[i])) order.push_back(i);
        }
        // Of equals, by kind and then by name of the check's place, as they stand.
        std::stable_sort(order.begin(), order.end(), [&](auto a, auto b) { return worst[a] < worst[b]; });
        report_.endpoints.reserve(report_.endpoints.size() + order.size());
        for (const auto i : order) {
            const auto& run = s_.runs[s_.worst_run(i)];
            const auto& c = s_.ends.comparisons[run.ends->worst_of[i]];
            const auto launch = s_.slots.tags[s_.slots.tag[c.slot]].clock;
            const auto capture = c.relation == no_id ? launch : s_.ends.captures[c.capture].clock;
            report_.endpoints.push_back({name_of(s_.ends.groups[i].kind), g_.name(s_.ends.groups[i].node),
                                         c.edge == rise, worst[i], clock_name(launch), clock_name(capture),
                                         run.corner.name});
        }
    }

    void coverage() {
        std::vector<std::uint8_t> done(g_.nodes, 0);
        for (std::uint32_t i = 0; i < s_.ends.groups.size(); ++i)
            if (std::isfinite(s_.worst(i))) done[s_.ends.groups[i].node] |= setup_like(s_.ends.groups[i].kind) ? 1 : 2;
        cover({g_, k_, s_.runs[0].clocks, s_.ends, s_.runs[0].corner.delays(), done, s_.options.other_starts}, report_);
    }

    void unused() {
        const auto& used = s_.exceptions->used();
        for (size_t i = 0; i < used.size(); ++i) {
            if (used[i]) continue;
            const auto& span = k_.exceptions[i].span;
            const auto file = static_cast<size_t>(span.file);
            report_.messages.push_back({Severity::note, Code::unused_exception, "This exception matches no path.",
                                        file < k_.files.size() ? k_.files[file] : "", span.line});
        }
    }

    const TimingEngine::State& s_;
    const Graph& g_;
    const Constraints& k_;
    TimingReport report_;
};

namespace {

std::vector<double> least_periods(const TimingEngine::State& s) {
    std::vector<double> least(s.k.clocks.size(), 0);
    for (const auto& run : s.runs)
        for (std::uint32_t i = 0; i < s.ends.groups.size(); ++i) {
            const auto& group = s.ends.groups[i];
            if (!setup_like(group.kind)) continue;
            for (auto c = group.first; c < group.last; ++c) {
                const auto relation = s.ends.comparisons[c].relation;
                if (relation == no_id) continue;
                const auto& r = s.ends.relations[relation];
                if (r.launch == no_id || r.launch != r.capture || !r.exception.empty()) continue;
                double slack = run.ends->slack(c, run.arrival);
                if (!std::isfinite(slack)) continue;
                // With credit by start, none is worse than the worst path.
                if (group.by_start) slack = std::max(slack, run.ends->worst[i]);
                const double separation = r.edges.capture - r.edges.launch;
                least[r.capture] =
                    std::max(least[r.capture], s.k.clocks[r.capture].period * (separation - slack) / separation);
            }
        }
    return least;
}

}  // namespace

TimingReport TimingEngine::State::report(const std::stop_token& stop) const {
    if (refused) {
        TimingReport out;
        out.messages.push_back(*refused);
        return out;
    }
    return Reporter(*this).run(stop);
}

/// The worst overall lie in the endpoints whose worst slack is among the smallest. First it is found how many paths
/// each of them has among the worst, with a bound that falls as paths are found; only those are told.
std::vector<TimingPath> TimingEngine::State::paths(size_t overall, size_t per_endpoint,
                                                   const std::stop_token& stop) const {
    std::vector<std::pair<double, std::uint32_t>> order;
    for (std::uint32_t i = 0; i < ends.groups.size(); ++i)
        if (const double w = worst(i); std::isfinite(w)) order.emplace_back(w, i);
    if (order.size() > overall) {
        std::nth_element(order.begin(), order.begin() + static_cast<long>(overall), order.end());
        order.resize(overall);
    }
    std::sort(order.begin(), order.end());
    std::vector<Timed> now;
    for (const auto& run : runs) now.push_back(timed(run));
    using Searches = std::vector<PathSearch>;
    tbb::enumerable_thread_specific<Searches> searches([&] { return Searches(now.begin(), now.end()); });
    const auto each = [&](size_t first, size_t end, auto body) {
        tbb::parallel_for(tbb::blocked_range<size_t>(first, end, 16), [&](const auto& r) {
            auto& mine = searches.local();
            for (size_t i = r.begin(); i < r.end() && !stop.stop_requested(); ++i)
                body(i, mine[worst_run(order[i].second)], ends.groups[order[i].second]);
        });
    };
    std::vector<size_t> count(order.size(), std::min<size_t>(per_endpoint, 1));
    if (per_endpoint > 1) count = counts(order, overall, per_endpoint, each);
    std::vector<std::vector<TimingPath>> found(order.size());
    each(0, order.size(), [&](size_t i, PathSearch& search, const Group& group) {
        if (count[i] == 0) return;
        for (const auto& f : search.search(group, count[i])) {
            found[i].push_back(search.tell(f));
            found[i].back().corner = runs[worst_run(order[i].second)].corner.name;
        }
    });
    std::vector<TimingPath*> sorted;
    for (auto& list : found)
        for (auto& path : list) sorted.push_back(&path);
    std::stable_sort(sorted.begin(), sorted.end(),
                     [](const TimingPath* a, const TimingPath* b) { return a->slack < b->slack; });
    std::vector<TimingPath> out;
    out.reserve(std::min(overall, sorted.size()));
    for (size_t i = 0; i < std::min(overall, sorted.size()); ++i) out.push_back(std::move(*sorted[i]));
    return out;
}

template <class Each>
std::vector<size_t> TimingEngine::State::counts(const std::vector<std::pair<double, std::uint32_t>>& order,
                                                size_t overall, size_t per_endpoint, const Each& each) const {
    constexpr size_t at_once = 256;
    double bound = order.size() < overall || order.empty() ? free_lane : order.back().first;
    std::vector<std::pair<double, size_t>> all;
    std::vector<std::vector<double>> slacks(order.size());
    const auto keep_worst = [&] {
        if (all.size() <= overall) return;
        std::nth_element(all.begin(), all.begin() + static_cast<long>(overall - 1), all.end());
        all.resize(overall);
        bound = std::min(bound, all.back().first);
    };
    for (size_t first = 0; first < order.size() && order[first].first <= bound; first += at_once) {
        const auto end = std::min(order.size(), first + at_once);
        each(first, end, [&](size_t i, PathSearch& search, const Group& group) {
            for (const auto& f : search.search(group, per_endpoint, bound)) slacks[i].push_back(f.slack);
        });
        for (size_t i = first; i < end; ++i)
            for (const double s : slacks[i]) all.emplace_back(s, i);
        keep_worst();
    }
    std::vector<size_t> out(order.size(), 0);
    for (const auto& [slack, i] : all) ++out[i];
    return out;
}

TimingReport analyse_timing(const TimingInput& input, const TimingOptions& options, std::stop_token stop) {
    TimingEngine engine(input, options);
    if (engine.update(stop)) return engine.report(stop);
    TimingReport report;
    report.messages.push_back({Severity::stop, Code::cancelled, "The analysis was cancelled."});
    return report;
}

}  // namespace kp
