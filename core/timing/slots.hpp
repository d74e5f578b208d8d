// SPDX-License-Identifier: GPL-3.0-or-later
// What arrives where, before any time is known. A slot is one tag at one node: launching clock, its edge, and the state
// of the exceptions. Slots stand in the order of the levels, and so do the links into them, so that a pass reads memory
// forwards.
#pragma once

#include "core/timing/clocks.hpp"
#include "core/timing/exceptions.hpp"

#include <map>
#include <stop_token>
#include <vector>

namespace kp::timing {

struct Tag {
    std::uint32_t clock = no_id;  ///< no_id: a port without a clock
    int clock_edge = rise;
    Exceptions::StateId state = 0;
    bool as_clock = false;  ///< a clock used as data, where it could meet the source of another one and would end there
    auto operator<=>(const Tag&) const = default;
};
using TagId = std::uint32_t;
using SlotId = std::uint32_t;

/// Where a path begins: a register's clock pin (the delay to `node`, its output, included), an input port, a clock used
/// as data, or the data pin of an open latch.
struct Start {
    enum Kind : std::uint8_t { launched, input_delay, clock_edge, bare, borrowed } kind = bare;
    std::uint8_t pin_edge = rise;
    std::uint8_t edges = 3;     ///< data edges it makes, a bit each
    bool shares_source = true;  ///< false when the port delay holds the source latency already
    NodeId node = 0;
    NodeId pin = 0;     ///< the clock pin, the port itself, or the data pin of a latch
    ArcId arc = no_id;  ///< launching arc of a register, or data to output of a latch
    TagId tag = 0;
    SlotId slot = 0;
    std::uint32_t clock_entry = no_id;  ///< in the list of clocks at `pin` (of a latch: at its enable)
    ArcId enable = no_id;               ///< of a latch: its enabling arc
    SlotId from = 0;                    ///< of a latch: what arrives at its data pin
    std::uint32_t window = no_id;       ///< of a latch: position of its window among those of the corner
};

struct Slots {
    std::vector<Tag> tags;
    std::vector<NodeId> node;             ///< per slot
    std::vector<TagId> tag;               ///< per slot
    std::vector<SlotId> of_rank;          ///< per position in the graph's order: its first slot; one extra at the end
    std::vector<SlotId> level;            ///< per level: its first slot; one extra at the end
    std::vector<std::uint32_t> in_start;  ///< per slot, into the two lists below; one extra at the end
    std::vector<SlotId> in_from;
    std::vector<std::uint32_t> in_way;     ///< arc, shifted by four, and the pairs of edges that pass
    std::vector<std::uint32_t> out_start;  ///< per slot, into the two lists below; one extra at the end
    std::vector<SlotId> out_to;
    std::vector<std::uint32_t> out_way;   ///< as in_way
    std::vector<Start> starts;            ///< by slot
    std::vector<std::uint32_t> start_at;  ///< per slot: its first start; no_id: none
    std::uint32_t windows = 0;            ///< number of starts that data begin at open latches
    bool any_unshared = false;            ///< some start has no share in its clock's source latency

    static constexpr std::uint32_t way(ArcId arc, EdgePairs pairs) { return arc << 4 | pairs; }
    [[nodiscard]] size_t size() const { return node.size(); }
    [[nodiscard]] std::pair<SlotId, SlotId> at(const Graph& g, NodeId node_id) const {
        return {of_rank[g.rank[node_id]], of_rank[g.rank[node_id] + 1]};
    }
};

constexpr ArcId most_arcs = (1u << 28) - 1;  ///< four bits of a link are for its edges

/// Tags from all starts through the graph. Empty when cancelled.
[[nodiscard]] std::optional<Slots> make_slots(const Graph& graph, const Constraints& constraints,
                                              const ClockSet& clocks, Exceptions& exceptions,
                                              const std::stop_token& stop);

}  // namespace kp::timing
