// SPDX-License-Identifier: GPL-3.0-or-later
// The inner loop: maximum and minimum over what enters a slot. Four lanes (side by edge) lie side by side, so that
// the compiler makes vectors of them.
#include "core/timing/times.hpp"

#include <tbb/blocked_range.h>
#include <tbb/parallel_for.h>

namespace kp::timing {

namespace {

// A level below this size is not worth the hand-over between threads.
constexpr size_t worth_sharing = 4096, share = 2048;
// Slots this far ahead are asked of memory while the current one is computed.
constexpr std::uint32_t ahead = 24;

/// Only the given pairs of edges; lanes without one are never reached.
Lanes masked(const Delays& delays, ArcId arc, EdgePairs pairs, const Lanes& from) {
    Lanes out;
    for (const int side : {early, late})
        for (const int in : {rise, fall})
            for (const int o : {rise, fall}) {
                if (!(pairs & pair_bit(in, o))) continue;
                const double d = delays.at(arc, side, in, o);
                if (std::isnan(d)) continue;
                double& v = out.v[lane_of(side, o)];
                v = std::max(v, from.v[lane_of(side, in)] + (side == early ? 0.0 - d : d));
            }
    return out;
}

Lanes masked_back(const Delays& delays, ArcId arc, EdgePairs pairs, const Lanes& to) {
    Lanes out{{free_lane, free_lane, free_lane, free_lane}};
    for (const int side : {early, late})
        for (const int in : {rise, fall})
            for (const int o : {rise, fall}) {
                if (!(pairs & pair_bit(in, o))) continue;
                const double d = delays.at(arc, side, in, o);
                if (std::isnan(d)) continue;
                double& v = out.v[lane_of(side, in)];
                v = std::min(v, to.v[lane_of(side, o)] - (side == early ? 0.0 - d : d));
            }
    return out;
}

template <class Each>
void shared(SlotId first, SlotId last, Each each) {
    if (last - first < worth_sharing) return each(first, last);
    tbb::parallel_for(tbb::blocked_range<SlotId>(first, last, share), [&](const auto& r) { each(r.begin(), r.end()); });
}

}  // namespace

inline Lanes forward_of(const Delays& delays, std::uint32_t way, const Lanes& from) {
    const ArcId arc = way >> 4;
    if ((way & 15) != all_pairs) return masked(delays, arc, way & 15, from);
    const Lanes* d = delays.lanes(arc);
    switch (delays.shape(arc)) {
        case Delays::straight: return sum(from, d[0]);
        case Delays::crossed: return sum(swapped(from), d[0]);
        case Delays::either: return sum(larger(from, swapped(from)), d[0]);
        case Delays::both: break;
    }
    return larger(sum(from, d[0]), sum(swapped(from), d[1]));
}

Lanes forward(const Delays& delays, std::uint32_t way, const Lanes& from) {
    return forward_of(delays, way, from);
}

inline Lanes backward_of(const Delays& delays, std::uint32_t way, const Lanes& to) {
    const ArcId arc = way >> 4;
    if ((way & 15) != all_pairs) return masked_back(delays, arc, way & 15, to);
    const Lanes* d = delays.lanes(arc);
    const Lanes first = difference(to, d[0]);
    switch (delays.shape(arc)) {
        case Delays::straight: return first;
        case Delays::crossed: return swapped(first);
        case Delays::either: return smaller(first, swapped(first));
        case Delays::both: break;
    }
    return smaller(first, swapped(difference(to, d[1])));
}

Lanes backward(const Delays& delays, std::uint32_t way, const Lanes& to) {
    return backward_of(delays, way, to);
}

Lanes through_latch(const View& v, const Start& s, const std::vector<Lanes>& arrival) {
    Lanes out;
    const auto& w = v.windows[s.window];
    const auto& from = arrival[s.from];
    if (!w.open || !from.reached(late, s.pin_edge)) return out;
    const double behind = std::min(from.time(late, s.pin_edge) + w.shift, w.latest);
    if (behind <= w.waits) return out;  // it was there before: the enable's own start counts
    for (const int e : {rise, fall})
        if (s.edges >> e & 1) out.set(late, e, behind + v.delays.at(s.arc, late, s.pin_edge, e));
    return out;
}

Lanes arrival_of(const View& v, const std::vector<Lanes>& arrival, SlotId slot) {
    Lanes out;
    for (auto i = v.slots.start_at[slot]; i < v.slots.starts.size() && v.slots.starts[i].slot == slot; ++i)
        raise(out,
              v.slots.starts[i].kind == Start::borrowed ? through_latch(v, v.slots.starts[i], arrival) : v.source[i]);
    for (auto i = v.slots.in_start[slot]; i < v.slots.in_start[slot + 1]; ++i)
        raise(out, forward_of(v.delays, v.slots.in_way[i], arrival[v.slots.in_from[i]]));
    return out;
}

bool all_arrivals(const View& v, std::vector<Lanes>& arrival, const std::stop_token& stop) {
    arrival.resize(v.slots.size());
    const auto links = static_cast<std::uint32_t>(v.slots.in_from.size());
    for (size_t level = 0; level + 1 < v.slots.level.size(); ++level) {
        if (stop.stop_requested()) return false;
        shared(v.slots.level[level], v.slots.level[level + 1], [&](SlotId first, SlotId last) {
            auto asked = v.slots.in_start[first];
            for (auto s = first; s < last; ++s) {
                for (const auto until = std::min(links, v.slots.in_start[s + 1] + ahead); asked < until; ++asked)
                    __builtin_prefetch(&arrival[v.slots.in_from[asked]]);
                arrival[s] = arrival_of(v, arrival, s);
            }
        });
    }
    return true;
}

void all_required(const View& v, std::vector<Lanes>& required) {
    const auto links = static_cast<std::uint32_t>(v.slots.out_to.size());
    for (size_t level = v.slots.level.size() - 1; level-- > 0;)
        shared(v.slots.level[level], v.slots.level[level + 1], [&](SlotId first, SlotId last) {
            auto asked = v.slots.out_start[first];  // links whose memory was asked for already
            for (auto s = first; s < last; ++s) {
                for (const auto until = std::min(links, v.slots.out_start[s + 1] + ahead); asked < until; ++asked) {
                    __builtin_prefetch(&required[v.slots.out_to[asked]]);
                    __builtin_prefetch(v.delays.lanes(v.slots.out_way[asked] >> 4));
                    if (asked + ahead < links) v.delays.expect(v.slots.out_way[asked + ahead] >> 4);
                }
                Lanes out = required[s];
                for (auto i = v.slots.out_start[s]; i < v.slots.out_start[s + 1]; ++i)
                    lower(out, backward_of(v.delays, v.slots.out_way[i], required[v.slots.out_to[i]]));
                required[s] = out;
            }
        });
}

}  // namespace kp::timing
