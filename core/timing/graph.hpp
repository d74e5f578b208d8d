// SPDX-License-Identifier: GPL-3.0-or-later
// The timing graph: a node for each instance pin and each port, an arc for each way a transition can go.
// Nodes 0 … pins-1 are instance pins, then come the ports. A port in both directions has a second node behind them, for
// what enters: what leaves by it does not come back in.
#pragma once

#include "core/timing/analyse.hpp"

#include <array>
#include <string>
#include <vector>

namespace kp::timing {

using NodeId = std::uint32_t;
using ArcId = std::uint32_t;
constexpr int rise = 0, fall = 1;
constexpr int early = 0, late = 1;

/// Delay by side (early, late), input edge, output edge; NaN where no transition passes.
using DelayMatrix = std::array<std::array<std::array<double, 2>, 2>, 2>;

struct Arc {
    /// launch: clock pin (or enable) to output of a register; through: data to output of a latch, while it is open
    enum Kind : std::uint8_t { net, cell, launch, through } kind = net;
    NodeId from = 0, to = 0;
    const LibraryArc* library = nullptr;
    bool annotated[2][2][2] = {};  ///< [side][in][out]: given by SDF
    DelayMatrix delay{};
};

/// A setup, hold, recovery or removal check at a data or asynchronous pin.
struct Check {
    NodeId data = 0, clock = 0;
    const LibraryArc* library = nullptr;
    bool setup_like = true;        ///< setup and recovery
    bool asynchronous = false;     ///< recovery and removal
    int clock_edge = rise;
    bool off = false;              ///< by set_disable_timing
    double annotated[2];           ///< by data edge; NaN: from the table
    double value[2] = {0, 0};
};

/// What library or SDF ask of the pulses at a clock pin, ns; 0: nothing.
struct PulseLimit {
    NodeId pin = 0;
    double width[2] = {0, 0};  ///< high, low
    double period = 0;
};

struct Graph {
    const Netlist* netlist = nullptr;
    const Library* library = nullptr;
    size_t pins = 0, nodes = 0;
    std::vector<Arc> arcs;
    std::vector<Check> checks;
    std::vector<std::uint32_t> fanout_start, fanin_start;  ///< per node, into the two lists below; one extra at the end
    std::vector<ArcId> fanout, fanin;
    std::vector<NodeId> order;     ///< topological, cut arcs left out
    std::vector<bool> cut;         ///< per arc: taken out to open a loop, or since nothing passes it
    std::vector<std::int8_t> fixed;  ///< per node: 0 or 1 where it never changes, 2 or 3 where it only rises or falls, -1 elsewhere
    std::vector<DelayMatrix> clock_delay;  ///< per arc, as clocks take it; empty when that is `delay`
    std::vector<std::array<std::array<double, 2>, 2>> slew;  ///< per node [side][edge]
    std::vector<std::array<double, 2>> load;                 ///< per node [edge], pF; for drivers
    std::vector<PulseLimit> pulse_limits;
    std::vector<Message> messages;

    [[nodiscard]] NodeId port_node(std::uint32_t port) const { return static_cast<NodeId>(pins + port); }
    /// Where paths start at a port; for a port in one direction the same node.
    [[nodiscard]] NodeId input_node(std::uint32_t port) const { return entry[port] == no_id ? port_node(port) : entry[port]; }
    [[nodiscard]] std::uint32_t port_of(NodeId node) const { return node < pins + netlist->ports.size() ? static_cast<std::uint32_t>(node - pins) : both_ways[node - pins - netlist->ports.size()]; }
    std::vector<std::uint32_t> entry, both_ways;  ///< per port: its second node; per second node: its port
    [[nodiscard]] bool is_port(NodeId node) const { return node >= pins; }
    [[nodiscard]] std::string name(NodeId node) const {
        if (!is_port(node)) return netlist->pin_name(node);
        const auto& port = netlist->ports[port_of(node)];
        return port.name;
    }
    [[nodiscard]] const LibraryCell* cell_of(NodeId pin) const { return cell_types[netlist->cells[netlist->pins[pin].cell].type]; }
    std::vector<const LibraryCell*> cell_types;  ///< per type of the netlist
};

/// Finds what constants and case analysis leave fixed, and cuts the arcs nothing passes any more: those of fixed pins, of
/// outputs that no longer depend on the input, those whose condition is false, and those of set_disable_timing. Narrows arcs
/// that pass both senses to the one that is left (engine.md, settled details).
void fix_and_cut(Graph& graph, const Constraints& constraints);

/// Delays of clocks and of data with the factors of set_timing_derate; checks too.
void apply_derates(Graph& graph, const Constraints& constraints);

/// Nodes, arcs, checks and order; loops are cut at the arc that closes them, found from the lowest node, and reported.
[[nodiscard]] Graph build_graph(const TimingInput& input);

/// Takes the values of an SDF file over into arcs and checks. Messages for entries that fit nothing, at most 20.
void annotate(Graph& graph, const DelayFile& delays, const TimingOptions& options);

/// Slews and Liberty delays in topological order, for arcs and checks without annotation. `ideal_clock_slew` per node is
/// NaN except at register clock pins of ideal clocks.
void calculate_delays(Graph& graph, const Constraints& constraints, const std::vector<double>& ideal_clock_slew);

}  // namespace kp::timing
