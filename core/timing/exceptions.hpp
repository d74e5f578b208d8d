// SPDX-License-Identifier: GPL-3.0-or-later
// Path exceptions as states that arrivals carry: which exceptions a path has started and how many -through it has met.
// Exceptions that only name clocks or endpoints need no state; they are decided at the endpoint.
#pragma once

#include "core/timing/graph.hpp"

#include <array>
#include <map>
#include <optional>
#include <vector>

namespace kp::timing {

class Exceptions {
public:
    using StateId = std::uint32_t;
    Exceptions(const Graph& graph, const Constraints& constraints);
    /// Reads the rules again, after a change that leaves alone what states are made of (see change.hpp).
    void reload();

    /// State of a path that starts at `start` (a port or a register's clock pin) with this edge there.
    [[nodiscard]] StateId start(NodeId start, int edge);
    /// State after the path has passed `node` with `edge`.
    [[nodiscard]] StateId advance(StateId state, NodeId node, int edge);
    /// True when advance can change a state at this node.
    [[nodiscard]] bool is_through_point(NodeId node) const { return through_node_[node]; }

    struct End {
        StateId state = 0;
        std::uint32_t launch_clock = no_id, capture_clock = no_id;
        int launch_edge = rise, capture_edge = rise;
        NodeId node = 0;  ///< endpoint
        int edge = rise;  ///< data edge there
        bool setup = true;
    };
    struct Verdict {
        bool is_false = false;
        const PathException* bound = nullptr;  ///< max or min delay
        const PathException* cycles_setup = nullptr;
        const PathException* cycles_hold = nullptr;
        bool operator==(const Verdict&) const = default;
    };
    /// Which exception governs this end of a path. Marks those that were met as used.
    [[nodiscard]] Verdict judge(const End& end);
    /// Per exception of the constraints: it met at least one path.
    [[nodiscard]] const std::vector<bool>& used() const { return used_; }

private:
    struct Progress {
        std::uint32_t exception, passed;
        auto operator<=>(const Progress&) const = default;
    };
    struct Nodes {
        std::vector<NodeId> nodes;  ///< sorted
        std::vector<std::uint32_t> clocks;
        bool rise = true, fall = true;
        [[nodiscard]] bool has(NodeId node) const;
        [[nodiscard]] bool has_clock(std::uint32_t clock) const;
    };
    struct Rule {
        std::optional<Nodes> from, to;
        std::vector<Nodes> through;
        bool stateful = false;
    };
    Nodes collect(const PathException::Point& point, int role) const;
    StateId intern(std::vector<Progress> state);
    [[nodiscard]] int specificity(const Rule& rule, const End& end) const;
    [[nodiscard]] Verdict decide(const End& end);

    const Graph& g_;
    const Constraints& constraints_;
    std::vector<Rule> rules_;
    std::vector<bool> through_node_, from_node_, to_node_, used_, check_clock_, check_data_;
    bool any_start_ = false;                                 ///< some rule begins at starts that it does not name
    std::map<std::array<std::uint32_t, 4>, Verdict> known_;  ///< for ends that no rule names
    std::vector<std::vector<Progress>> states_;
    std::map<std::vector<Progress>, StateId> ids_;
};

}  // namespace kp::timing
