// SPDX-License-Identifier: GPL-3.0-or-later
// The times of one corner: arrivals and required times of all slots, in one pass over the levels or only where
// something changed.
#pragma once

#include "core/timing/slots.hpp"

#include <span>

namespace kp::timing {

/// When an open latch lets data through, counted from its opening edge, ns.
struct LatchWindow {
    double shift = 0;   ///< launch edge of the data, seen from the opening edge
    double latest = 0;  ///< the closing edge with its early latency: later data count as if they came then
    double waits = 0;   ///< the opening edge with its late latency: earlier data wait for the enable
    bool open = false;
};

/// What a pass needs of one corner.
struct View {
    const Graph& g;
    const Slots& slots;
    const Delays& delays;
    std::span<const Lanes> source;  ///< per start
    std::span<const LatchWindow> windows;
};

/// Time at the output of an open latch from one of its data = max(opening latency + enable to output, arrival - opening
/// edge + data to output), the arrival no later than the closing edge lets it be; the first of the two is the start of
/// the enable itself.
[[nodiscard]] Lanes through_latch(const View& view, const Start& start, const std::vector<Lanes>& arrival);

/// Lanes behind an arc, of those in front of it; and required lanes in front of it, of those behind.
[[nodiscard]] Lanes forward(const Delays& delays, std::uint32_t way, const Lanes& from);
[[nodiscard]] Lanes backward(const Delays& delays, std::uint32_t way, const Lanes& to);

/// The arrival of one slot from all that leads to it.
[[nodiscard]] Lanes arrival_of(const View& view, const std::vector<Lanes>& arrival, SlotId slot);

/// All arrivals, level by level, on all processors. False when cancelled.
bool all_arrivals(const View& view, std::vector<Lanes>& arrival, const std::stop_token& stop);

/// All required times, against the levels; what is in `required` before are the limits of what ends in each slot.
void all_required(const View& view, std::vector<Lanes>& required);

/// Slots to be looked at again, nearest the starts (or the ends) first, each once.
class Wave {
public:
    explicit Wave(size_t slots) : waiting_(slots, false) {}
    void add(SlotId slot) {
        if (waiting_[slot]) return;
        waiting_[slot] = true;
        heap_.push_back(slot);
        std::push_heap(heap_.begin(), heap_.end(), std::greater<>());
    }
    [[nodiscard]] bool empty() const { return heap_.empty(); }
    SlotId next() {
        std::pop_heap(heap_.begin(), heap_.end(), std::greater<>());
        const auto slot = heap_.back();
        heap_.pop_back();
        waiting_[slot] = false;
        return slot;
    }

private:
    std::vector<bool> waiting_;
    std::vector<SlotId> heap_;
};

}  // namespace kp::timing
