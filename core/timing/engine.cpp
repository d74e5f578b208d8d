// SPDX-License-Identifier: GPL-3.0-or-later
// Arrivals level by level and slack at the ends (Hitchcock, Smith and Cheng 1982), in parallel over a level. What a
// change reaches is computed again from there and nothing else; the bits are those of a run from the start.
#include "core/timing/engine.hpp"

#include "core/timing/engine_state.hpp"

#include <algorithm>
#include <chrono>
#include <cmath>
#include <cstring>
#include <map>
#include <tbb/enumerable_thread_specific.h>
#include <tbb/parallel_for.h>

namespace kp {

using namespace timing;

namespace {

double seconds_since(std::chrono::steady_clock::time_point from) {
    return std::chrono::duration<double>(std::chrono::steady_clock::now() - from).count();
}

template <class Each>
void each_of(size_t count, Each each) {
    if (count < 512) {
        for (size_t i = 0; i < count; ++i) each(i);
        return;
    }
    tbb::parallel_for(tbb::blocked_range<size_t>(0, count, 256), [&](const auto& r) {
        for (size_t i = r.begin(); i < r.end(); ++i) each(i);
    });
}

}  // namespace

/// Transitions of ideal clocks at registers; most clock pins have the same few.
IdealSlews timing::ideal_slews(const Graph& g, const Constraints& k, const ClockSet& clocks,
                               const std::vector<bool>& propagated) {
    IdealSlews out;
    out.which.assign(g.nodes, 0);
    std::map<std::vector<std::pair<std::uint32_t, bool>>, std::uint32_t> known;
    const auto value = [&](const ClockAt& c, int side, int edge) {
        double slew = 0;
        for (const auto& t : k.clock_transitions)
            if ((c.clock_edge(edge) == rise ? t.rise : t.fall) && (side == early ? t.minimum : t.maximum) &&
                std::find(t.clocks.begin(), t.clocks.end(), c.clock) != t.clocks.end())
                slew = t.value;
        return slew;
    };
    const auto at_register = [&](NodeId pin) {
        if (out.which[pin] != 0) return;
        std::vector<std::pair<std::uint32_t, bool>> ideal;
        for (const auto& c : clocks[pin])
            if (!propagated[c.clock]) ideal.emplace_back(c.clock, c.inverted);
        if (ideal.empty()) return;
        const auto [at, fresh] = known.try_emplace(ideal, static_cast<std::uint32_t>(out.sets.size() + 1));
        out.which[pin] = at->second;
        if (!fresh) return;
        auto& set = out.sets.emplace_back();
        for (const int side : {early, late})
            for (const int edge : {rise, fall})
                for (size_t i = 0; i < ideal.size(); ++i) {
                    const double v = value(ClockAt{ideal[i].first, ideal[i].second}, side, edge);
                    double& s = set[static_cast<size_t>(side)][static_cast<size_t>(edge)];
                    s = i == 0 ? v : side == late ? std::max(s, v) : std::min(s, v);
                }
    };
    for (const auto& c : g.checks) at_register(c.clock);
    for (ArcId a = 0; a < g.arcs(); ++a)
        if (g.way[a] == Way::launch) at_register(g.from[a]);
    return out;
}

TimingEngine::State::State(const TimingInput& input, const TimingOptions& o, std::vector<TimingCorner> corners,
                           const std::stop_token& stop)
    : k(input.constraints), options(o) {
    const auto from = std::chrono::steady_clock::now();
    g = build_graph(input.netlist, input.library, o.clear_arcs, stop);
    if (stop.stop_requested()) {
        refused = Message{Severity::stop, Code::cancelled, "The analysis was cancelled."};
        return;
    }
    if (g.arcs() > most_arcs) {
        refused = Message{Severity::stop, Code::size,
                          "The netlist has more than 268 million timing arcs; time its parts one by one."};
        return;
    }
    seconds_build = seconds_since(from);
    if (corners.empty()) corners.push_back({"", nullptr, input.delays, {}, "", o.early_member, o.late_member});
    for (const auto& c : corners)
        if (!refused) add_corner(c);
    if (corners.size() == 1 && !runs.empty()) runs[0].corner.name.clear();
}

void TimingEngine::State::add_corner(const TimingCorner& c) {
    auto members = options;
    members.early_member = c.early_member;
    members.late_member = c.late_member;
    auto corner = start_corner(g, c.library ? *c.library : *g.library, c.name, members);
    if (!corner) {
        refused = corner.first();
        return;
    }
    auto& run = runs.emplace_back();
    run.corner = corner.take();
    run.corner.factor[early] = c.early_factor;
    run.corner.factor[timing::late] = c.late_factor;
    if (c.delays || c.read) annotate(c, run.corner);
    for (auto& m : without_delay(g, run.corner)) messages.push_back(std::move(m));
}

void TimingEngine::State::annotate(const TimingCorner& c, Corner& corner) {
    Annotator annotator(g, corner, c.delays ? c.delays->file : c.file);
    for (size_t i = 0; c.delays && i < c.delays->size(); ++i) annotator.take((*c.delays)[i]);
    if (c.read)
        for (auto& m : c.read(annotator)) {
            if (m.severity == Severity::stop && !refused) refused = m;
            messages.push_back(std::move(m));
        }
    for (auto& m : annotator.finish()) messages.push_back(std::move(m));
}

void TimingEngine::State::set_constraints(const Constraints& next) {
    auto change = compare(k, next);
    k = next;
    if (change.reach == ConstraintChange::io_values && pending == ConstraintChange::nothing) {
        io_changed.insert(io_changed.end(), change.io.begin(), change.io.end());
        values_pending = true;
        return;
    }
    if (change.reach == ConstraintChange::io_values) change.reach = ConstraintChange::ends;
    pending = std::max(pending, change.reach);
    delays_changed |= change.delays;
}

void TimingEngine::State::forget() {
    pending = ConstraintChange::structure;
    delays_changed = true;
    clear_touched();
}

void TimingEngine::State::clear_touched() {
    io_changed.clear();
    launches_changed.clear();
    touched.clear();
    touched_back.clear();
    groups_touched.clear();
    clocks_changed = values_pending = times_forgotten = false;
}

bool TimingEngine::State::update(const std::stop_token& stop) {
    if (refused) return true;
    work = {};
    bool done = true;
    if (pending == ConstraintChange::structure) {
        done = structure(stop);
    } else if (pending == ConstraintChange::ends || (values_pending && slots.windows > 0)) {
        // Open latches let times decide what arrives, so with them every change of a number is a change of the ends.
        const auto from = std::chrono::steady_clock::now();
        if (values_pending) pending = ConstraintChange::ends;
        propagated = propagated_clocks(k, options.propagated);
        for (auto& run : runs) {
            if (delays_changed) delays(run);
            clocks(run);
            sources(run);
        }
        done = arrivals(stop);
        if (done) {
            exceptions->reload();
            make_ends();
            end_times();
            seconds_update = seconds_since(from);
        }
    } else if (times_forgotten) {
        const auto from = std::chrono::steady_clock::now();
        for (auto& run : runs) {
            clocks(run);
            sources(run);
        }
        done = arrivals(stop);
        if (done) {
            for (auto& run : runs)
                run.ends = std::make_unique<EndTimes>(g, k, slots, ends, run.corner, run.clocks, *run.clock_times,
                                                      options.common_path_credit);
            end_times();
        }
        seconds_update = seconds_since(from);
    } else if (values_pending) {
        done = follow(stop);
    }
    if (!done) {
        forget();
        return false;
    }
    pending = ConstraintChange::nothing;
    delays_changed = false;
    clear_touched();
    return true;
}

bool TimingEngine::State::structure(const std::stop_token& stop) {
    auto from = std::chrono::steady_clock::now();
    work.structure = true;
    g.messages.clear();
    fix_and_cut(g, k);
    put_in_order(g);
    propagated = propagated_clocks(k, options.propagated);
    exceptions = std::make_unique<Exceptions>(g, k);
    const ClockSet spread = spread_clocks(g, k);
    auto made = make_slots(g, k, spread, *exceptions, stop);
    if (!made) return false;
    slots = std::move(*made);
    double built = seconds_since(from);
    from = std::chrono::steady_clock::now();
    for (auto& run : runs) {
        run.clocks = spread;
        delays(run);
        clocks(run);
        sources(run);
    }
    if (!arrivals(stop)) return false;
    seconds_update = seconds_since(from);
    from = std::chrono::steady_clock::now();
    make_ends();
    built += seconds_since(from);
    from = std::chrono::steady_clock::now();
    end_times();
    seconds_update += seconds_since(from);
    seconds_build += built;
    return true;
}

void TimingEngine::State::delays(Run& run) {
    calculate_delays(g, k, ideal_slews(g, k, run.clocks, propagated), run.corner);
}

void TimingEngine::State::clocks(Run& run) {
    time_clocks(g, k, run.corner.clock_delays(), run.clocks);
    run.clock_times = std::make_unique<ClockTimes>(g, k, run.corner.clock_delays(), run.clocks, propagated);
    run.sources = std::make_unique<Sources>(g, k, slots, run.corner, run.clocks, *run.clock_times);
}

void TimingEngine::State::sources(Run& run) {
    run.source.resize(slots.starts.size());
    run.windows.resize(slots.windows);
    each_of(slots.starts.size(), [&](size_t i) {
        const auto& s = slots.starts[i];
        run.source[i] = run.sources->lanes(s);
        if (s.kind == Start::borrowed) run.windows[s.window] = run.sources->window(s);
    });
}

bool TimingEngine::State::arrivals(const std::stop_token& stop) {
    for (auto& run : runs)
        if (!all_arrivals(view(run), run.arrival, stop)) return false;
    work.slots = work.recomputed = slots.size();
    return true;
}

void TimingEngine::State::make_ends() {
    work.ends = true;
    std::vector<const std::vector<Lanes>*> all;
    std::vector<const Corner*> corners;
    for (const auto& run : runs) {
        all.push_back(&run.arrival);
        corners.push_back(&run.corner);
    }
    ends = timing::make_ends({g, k, slots, runs[0].clocks, propagated, corners, all, options.common_path_credit},
                             *exceptions);
    for (auto& run : runs)
        run.ends = std::make_unique<EndTimes>(g, k, slots, ends, run.corner, run.clocks, *run.clock_times,
                                              options.common_path_credit);
    any_by_start =
        std::any_of(ends.groups.begin(), ends.groups.end(), [](const Group& group) { return group.by_start; });
    ordinal.assign(ends.groups.size(), 0);
    size_t count[kinds] = {};
    for (size_t i = 0; i < ends.groups.size(); ++i)
        ordinal[i] = static_cast<std::uint32_t>(count[static_cast<size_t>(ends.groups[i].kind)]++);
    for (size_t i = 0; i < kinds; ++i) tally[i].resize(count[i]);
    group_touched.assign(ends.groups.size(), false);
}

void TimingEngine::State::refresh(std::uint32_t group, Run& run) {
    for (auto i = ends.groups[group].first; i < ends.groups[group].last; ++i) run.ends->refresh_limit(i, run.arrival);
    run.ends->refresh(group, run.arrival);
}

/// The slack of groups whose credit depends on the start is that of their worst path.
void TimingEngine::State::by_start(const std::vector<std::uint32_t>& groups) {
    for (auto& run : runs) {
        const auto now = timed(run);
        tbb::enumerable_thread_specific<PathSearch> searches([&] { return PathSearch(now); });
        each_of(groups.size(), [&](size_t i) {
            auto& search = searches.local();
            if (const auto& found = search.search(ends.groups[groups[i]], 1); !found.empty()) {
                run.ends->worst[groups[i]] = found[0].slack;
                run.ends->worst_of[groups[i]] = search.comparison_of(found[0]);
            }
        });
    }
}

size_t TimingEngine::State::worst_run(std::uint32_t group) const {
    size_t best = 0;
    for (size_t i = 1; i < runs.size(); ++i)
        if (runs[i].ends->worst[group] < runs[best].ends->worst[group]) best = i;
    return best;
}

void TimingEngine::State::tally_all() {
    for (std::uint32_t i = 0; i < ends.groups.size(); ++i)
        tally[static_cast<size_t>(ends.groups[i].kind)].set(ordinal[i], worst(i), false);
    for (auto& t : tally) t.build();
}

void TimingEngine::State::end_times() {
    std::vector<std::uint32_t> credited;
    for (std::uint32_t i = 0; i < ends.groups.size(); ++i)
        if (ends.groups[i].by_start) credited.push_back(i);
    for (auto& run : runs) {
        run.ends->prepare();
        each_of(ends.groups.size(), [&](size_t i) { refresh(static_cast<std::uint32_t>(i), run); });
    }
    by_start(credited);
    tally_all();
    work.endpoints = ends.groups.size();
    if (required_wanted)
        for (auto& run : runs) all_required(run);
}

void TimingEngine::State::all_required(Run& run) {
    run.required.assign(slots.size(), Lanes{{free_lane, free_lane, free_lane, free_lane}});
    run.ends->put_limits(run.required);
    timing::all_required(view(run), run.required);
}

void TimingEngine::State::require() {
    if (required_wanted || refused || pending == ConstraintChange::structure) {
        required_wanted = true;
        return;
    }
    required_wanted = true;
    for (auto& run : runs) all_required(run);
}

std::optional<NodeId> TimingEngine::State::node(const std::string& name, bool drives) const {
    if (!index_) index_ = std::make_unique<NetlistIndex>(*g.netlist);
    if (const auto pin = index_->pin(name); pin != no_id) return pin;
    const auto port = index_->port(name);
    if (port == no_id) return std::nullopt;
    return drives ? g.input_node(port) : g.port_node(port);
}

TimingEngine::TimingEngine(const TimingInput& input, const TimingOptions& options, std::vector<TimingCorner> corners,
                           const std::stop_token& stop)
    : s_(std::make_unique<State>(input, options, std::move(corners), stop)) {}
TimingEngine::~TimingEngine() = default;

const std::optional<Message>& TimingEngine::refused() const {
    return s_->refused;
}
void TimingEngine::set_constraints(const Constraints& constraints) {
    s_->set_constraints(constraints);
}
const Constraints& TimingEngine::constraints() const {
    return s_->k;
}
size_t TimingEngine::arcs() const {
    return s_->g.arcs();
}
void TimingEngine::set_pad_delays(const std::map<std::string, double>& ns) {
    s_->set_pad_delays(ns);
}
bool TimingEngine::update(std::stop_token stop) {
    return s_->update(stop);
}
void TimingEngine::forget() {
    s_->forget();
}
void TimingEngine::require() {
    s_->require();
}
TimingReport TimingEngine::report(std::stop_token stop) const {
    return s_->report(stop);
}
const TimingEngine::Work& TimingEngine::work() const {
    return s_->work;
}
std::vector<TimingPath> TimingEngine::worst_paths(size_t overall, size_t per_endpoint, std::stop_token stop) const {
    return s_->paths(overall, per_endpoint, stop);
}

bool TimingEngine::what_if(const Constraints& other, const std::function<void(const TimingEngine&)>& ask,
                           std::stop_token stop) {
    const Constraints before = constraints();
    set_constraints(other);
    const bool there = update(stop);
    if (there) ask(*this);
    set_constraints(before);
    return there && update(stop);
}

void TimingEngine::forget_times() {
    s_->times_forgotten = true;
}

std::vector<std::uint32_t> TimingEngine::arcs_at(const std::string& pin) const {
    std::vector<std::uint32_t> out;
    const auto& g = s_->g;
    if (const auto to = s_->node(pin))
        for (auto a = g.fanin_first[*to]; a < g.fanin_last[*to]; ++a) out.push_back(a);
    if (const auto from = s_->node(pin, true))
        for (const auto a : g.leaving(*from)) out.push_back(a);
    return out;
}

TimingEngine::DelayEdges TimingEngine::delay_edges() const {
    DelayEdges out;
    const auto& slots = s_->slots;
    const auto& delays = s_->runs[0].corner.delays();
    out.vertices = slots.size();
    for (SlotId s = 0; s < slots.size(); ++s) {
        if (slots.start_at[s] != no_id) out.begin.push_back(s);
        for (auto i = slots.in_start[s]; i < slots.in_start[s + 1]; ++i) {
            double longest = 0;
            for (const int in : {rise, fall})
                for (const int o : {rise, fall})
                    if (const double d = delays.at(slots.in_way[i] >> 4, timing::late, in, o); d > longest) longest = d;
            out.from.push_back(slots.in_from[i]);
            out.to.push_back(s);
            out.longest.push_back(longest);
        }
    }
    return out;
}

std::optional<std::uint32_t> TimingEngine::arc(const std::string& from, const std::string& to) const {
    const auto a = s_->node(from, true), b = s_->node(to);
    if (!a || !b) return std::nullopt;
    for (auto i = s_->g.fanin_first[*b]; i < s_->g.fanin_last[*b]; ++i)
        if (s_->g.from[i] == *a) return i;
    return std::nullopt;
}

double TimingEngine::delay(std::uint32_t arc, bool late, bool in_rise, bool out_rise, size_t corner) const {
    return s_->runs[corner].corner.base.at(arc, late ? timing::late : early, in_rise ? rise : fall,
                                           out_rise ? rise : fall);
}
void TimingEngine::set_delay(std::uint32_t arc, bool late, bool in_rise, bool out_rise, double ns, size_t corner) {
    s_->set_delay(arc, late ? timing::late : early, in_rise ? rise : fall, out_rise ? rise : fall, ns, corner);
}

CheckSummary TimingEngine::State::summary(size_t kind) const {
    const auto& t = tally[kind].all();
    CheckSummary out;
    if (t.count > 0) out.wns = t.worst;
    out.tns = t.negative;
    out.failing = static_cast<int>(t.failing);
    out.endpoints = static_cast<int>(t.count);
    return out;
}

CheckSummary TimingEngine::summary(CheckKind kind) const {
    return s_->summary(static_cast<size_t>(kind));
}

std::optional<double> TimingEngine::slack(CheckKind kind, const std::string& endpoint) const {
    const auto node = s_->node(endpoint);
    if (!node || s_->refused) return std::nullopt;
    const auto& groups = s_->ends.groups;
    for (auto i = s_->ends.group_at[*node]; i < groups.size() && groups[i].node == *node; ++i)
        if (static_cast<size_t>(groups[i].kind) == static_cast<size_t>(kind))
            if (const double w = s_->worst(i); std::isfinite(w)) return w;
    return std::nullopt;
}

std::optional<double> TimingEngine::arrival(const std::string& pin, bool is_late, bool is_rise, size_t corner) const {
    const auto node = s_->node(pin);
    if (!node || s_->refused) return std::nullopt;
    Lanes all;
    const auto [first, last] = s_->slots.at(s_->g, *node);
    for (auto i = first; i < last; ++i) raise(all, s_->runs[corner].arrival[i]);
    const int side = is_late ? timing::late : early, edge = is_rise ? rise : fall;
    if (!all.reached(side, edge)) return std::nullopt;
    return all.time(side, edge);
}

std::optional<double> TimingEngine::pin_slack(const std::string& pin, bool is_late, size_t corner) {
    require();
    const auto node = s_->node(pin);
    if (!node || s_->refused) return std::nullopt;
    const auto& run = s_->runs[corner];
    double worst = free_lane;
    const auto [first, last] = s_->slots.at(s_->g, *node);
    for (auto i = first; i < last; ++i)
        for (const int e : {rise, fall}) {
            const int lane = lane_of(is_late ? timing::late : early, e);
            if (run.arrival[i].v[lane] != never)
                worst = std::min(worst, run.required[i].v[lane] - run.arrival[i].v[lane]);
        }
    if (!std::isfinite(worst)) return std::nullopt;
    return worst;
}

std::uint64_t TimingEngine::fingerprint() const {
    std::uint64_t h = 1469598103934665603ull;  // FNV-1a, Fowler, Noll and Vo
    const auto add = [&](double v) {
        std::uint64_t bits;
        std::memcpy(&bits, &v, sizeof bits);
        h = (h ^ bits) * 1099511628211ull;
    };
    for (const auto& run : s_->runs) {
        for (const auto* list : {&run.arrival, &run.required})
            for (const auto& l : *list)
                for (const double v : l.v) add(v);
        if (run.ends)
            for (const double v : run.ends->worst) add(v);
    }
    for (const auto& t : s_->tally) {
        add(t.all().worst);
        add(t.all().negative);
    }
    return h;
}

}  // namespace kp
