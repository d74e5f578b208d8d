// SPDX-License-Identifier: GPL-3.0-or-later
// What an update does when only numbers changed: it goes on from the places they belong to, and stops where nothing is
// different.
#include "core/timing/engine_state.hpp"

#include <algorithm>
#include <cmath>

namespace kp {

using namespace timing;

void TimingEngine::State::touch(SlotId slot) {
    touched.push_back(slot);
}

void TimingEngine::State::touch_group(std::uint32_t group) {
    if (group_touched[group]) return;
    group_touched[group] = true;
    groups_touched.push_back(group);
}

void TimingEngine::State::touch_node(NodeId node) {
    for (auto i = ends.group_at[node]; i < ends.groups.size() && ends.groups[i].node == node; ++i) touch_group(i);
}

void TimingEngine::State::set_delay(ArcId arc, int side, int in, int out, double ns, size_t corner) {
    auto& run = runs[corner];
    if (std::isnan(run.corner.base.at(arc, side, in, out)) || !(g.passes[arc] & pair_bit(in, out))) return;
    run.corner.base.set(arc, side, in, out, ns);
    run.corner.given[arc] |= static_cast<std::uint8_t>(1u << (side * 4 + in * 2 + out));
    if (pending != ConstraintChange::nothing || run.corner.data) {
        pending = std::max(pending, ConstraintChange::ends);
        delays_changed = true;
        return;
    }
    values_pending = true;
    const NodeId from = g.from[arc], to = g.to[arc];
    clocks_changed |=
        !run.clocks[from].empty() && std::any_of(propagated.begin(), propagated.end(), [](bool p) { return p; });
    if (g.way[arc] == Way::launch) {
        launches_changed.push_back(arc);
        return;
    }
    const auto [first, last] = slots.at(g, to);
    for (auto s = first; s < last; ++s) touch(s);
    const auto [back, end] = slots.at(g, from);
    for (auto s = back; s < end; ++s) touched_back.push_back(s);
}

/// The delay of a wire without its pad is kept, so that taking the pad's back leaves the bits that were there.
void TimingEngine::State::set_pad_delays(const std::map<std::string, double>& ns) {
    if (refused) return;
    auto all = ns;
    for (const auto& [port, before] : pads) all.try_emplace(port, 0);
    for (const auto& [port, now] : all) {
        const auto at = pads.find(port);
        const auto from = node(port, true);
        if (!from || !g.is_port(*from) || now == (at == pads.end() ? 0 : at->second)) continue;
        for (auto& run : runs)
            for (const auto arc : g.leaving(*from)) {
                const auto own = run.without_pad.try_emplace(arc, *run.corner.base.lanes(arc)).first->second;
                for (const int side : {early, late})
                    for (const int edge : {rise, fall})
                        set_delay(arc, side, edge, edge, own.time(side, edge) + now,
                                  static_cast<size_t>(&run - runs.data()));
                if (now == 0) run.without_pad.erase(arc);
            }
    }
    pads = ns;
}

/// Latencies may have moved anywhere behind a changed clock arc: all starts and captures are worked out again, and
/// those that are different go on.
void TimingEngine::State::follow_clocks(Run& run) {
    clocks(run);
    run.ends = std::make_unique<EndTimes>(g, k, slots, ends, run.corner, run.clocks, *run.clock_times,
                                          options.common_path_credit);
    run.ends->prepare();
    for (std::uint32_t i = 0; i < slots.starts.size(); ++i) {
        const Lanes now = run.sources->lanes(slots.starts[i]);
        if (now == run.source[i]) continue;
        run.source[i] = now;
        touch(slots.starts[i].slot);
    }
    for (std::uint32_t i = 0; i < ends.groups.size(); ++i) touch_group(i);
}

void TimingEngine::State::follow_io(Run& run) {
    const auto again = [&](NodeId node) {
        const auto [first, last] = slots.at(g, node);
        for (auto s = first; s < last; ++s)
            for (auto i = slots.start_at[s]; i < slots.starts.size() && slots.starts[i].slot == s; ++i) {
                run.source[i] = run.sources->lanes(slots.starts[i]);
                touch(s);
            }
    };
    for (const auto a : launches_changed) again(g.to[a]);
    for (const auto i : io_changed) {
        const auto& d = k.io_delays[i];
        if (d.input)
            again(g.input_node(d.port));
        else
            touch_node(g.port_node(d.port));
    }
}

/// Where credit depends on the start, a path may become the worst that was not even the latest: all ends that can be
/// reached count.
void TimingEngine::State::reach_by_start() {
    if (!any_by_start) return;
    std::vector<SlotId> open = touched;
    std::unordered_set<SlotId> seen(open.begin(), open.end());
    while (!open.empty()) {
        const auto s = open.back();
        open.pop_back();
        touch_node(slots.node[s]);
        for (auto i = slots.out_start[s]; i < slots.out_start[s + 1]; ++i)
            if (const auto to = slots.out_to[i]; seen.insert(to).second) open.push_back(to);
    }
}

void TimingEngine::State::spread(Run& run) {
    Wave wave(slots.size());
    for (const auto s : touched) wave.add(s);
    const auto now = view(run);
    while (!wave.empty()) {
        const auto s = wave.next();
        ++work.recomputed;
        const Lanes arrival = arrival_of(now, run.arrival, s);
        if (arrival == run.arrival[s]) continue;
        run.arrival[s] = arrival;
        touch_node(slots.node[s]);
        for (auto i = slots.out_start[s]; i < slots.out_start[s + 1]; ++i) wave.add(slots.out_to[i]);
    }
}

void TimingEngine::State::spread_required(Run& run) {
    // The wave runs towards the starts: slots are counted from the end.
    const auto last = static_cast<SlotId>(slots.size() - 1);
    Wave wave(slots.size());
    for (const auto s : touched_back) wave.add(last - s);
    for (const auto group : groups_touched) {
        const auto [first, end] = slots.at(g, ends.groups[group].node);
        for (auto s = first; s < end; ++s) wave.add(last - s);
    }
    const auto& delays = run.corner.delays();
    while (!wave.empty()) {
        const auto s = last - wave.next();
        Lanes required = run.ends->limits_of(s);
        for (auto i = slots.out_start[s]; i < slots.out_start[s + 1]; ++i)
            lower(required, backward(delays, slots.out_way[i], run.required[slots.out_to[i]]));
        if (required == run.required[s]) continue;
        run.required[s] = required;
        for (auto i = slots.in_start[s]; i < slots.in_start[s + 1]; ++i) wave.add(last - slots.in_from[i]);
    }
}

bool TimingEngine::State::follow(const std::stop_token& stop) {
    work.slots = slots.size();
    const auto shared = touched, shared_back = touched_back;
    for (auto& run : runs) {
        touched = shared;
        touched_back = shared_back;
        if (clocks_changed) follow_clocks(run);
        follow_io(run);
        reach_by_start();
        spread(run);
        if (stop.stop_requested()) return false;
    }
    for (const auto group : ends.data_groups) touch_group(group);
    std::vector<std::uint32_t> credited;
    for (const auto group : groups_touched) {
        for (auto& run : runs) refresh(group, run);
        if (ends.groups[group].by_start) credited.push_back(group);
    }
    by_start(credited);
    for (const auto group : groups_touched)
        tally[static_cast<size_t>(ends.groups[group].kind)].set(ordinal[group], worst(group));
    if (required_wanted)
        for (auto& run : runs) spread_required(run);
    for (const auto group : groups_touched) group_touched[group] = false;
    work.endpoints = groups_touched.size();
    return true;
}

}  // namespace kp
