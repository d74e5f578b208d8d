// SPDX-License-Identifier: GPL-3.0-or-later
// The timing graph: a node for each instance pin and each port, an arc for each way a transition can go. Structure
// only; what depends on a corner is in delays.hpp and corner.hpp. Nodes 0 … pins-1 are instance pins, then come the
// ports. A port in both directions has a second node behind them, for what enters: what leaves by it does not come back
// in. Arcs are numbered in the order their ends are reached from the starts, those into one node together, so that a
// pass over the graph reads them one after the other.
#pragma once

#include "core/timing/analyse.hpp"
#include "core/timing/delays.hpp"

#include <span>
#include <string>
#include <vector>

namespace kp::timing {

using NodeId = std::uint32_t;

/// launch: clock pin (or enable) to output of a register; through: data to output of a latch, while it is open
enum class Way : std::uint8_t { net, cell, launch, through };

/// A setup, hold, recovery or removal check at a data or asynchronous pin.
struct Check {
    NodeId data = 0, clock = 0;
    std::uint16_t library = 0;  ///< position in the arcs of its cell
    bool setup_like = true;     ///< setup and recovery
    bool asynchronous = false;  ///< recovery and removal
    std::uint8_t clock_edge = rise;
    bool off = false;  ///< by set_disable_timing
};

struct Graph {
    const Netlist* netlist = nullptr;
    const Library* library = nullptr;
    size_t pins = 0, nodes = 0;

    // Arcs.
    std::vector<NodeId> from, to;
    std::vector<Way> way;
    std::vector<std::uint16_t> library_arc;  ///< position in the arcs of its cell; meaningless for wires
    std::vector<EdgePairs> passes;           ///< by the sense of the cell
    std::vector<EdgePairs>
        allowed;  ///< of these, what constants, case analysis, disabled arcs and cut loops leave; 0: nothing
    std::vector<std::uint32_t> fanin_first, fanin_last;  ///< per node: its arcs
    std::vector<std::uint32_t> fanout_start;             ///< per node, into `fanout`; one extra at the end
    std::vector<ArcId> fanout;

    std::vector<Check> checks;               ///< by cell
    std::vector<NodeId> order;               ///< by level: each node behind all that feed it
    std::vector<std::uint32_t> rank;         ///< per node: its position in `order`
    std::vector<std::uint32_t> level_start;  ///< per level, into `order`; one extra at the end
    std::vector<std::int8_t>
        fixed;  ///< per node: 0 or 1 where it never changes, 2 or 3 where it only rises or falls, -1 elsewhere
    std::vector<std::uint32_t> entry, both_ways;  ///< per port: its second node; per second node: its port
    std::vector<const LibraryCell*> cell_types;   ///< per type of the netlist
    std::vector<std::vector<std::int16_t>>
        pin_of_name;  ///< per type: position of a pin name of the netlist in the cell; -1: none
    std::vector<Message> messages;

    [[nodiscard]] size_t arcs() const { return from.size(); }
    [[nodiscard]] std::span<const ArcId> leaving(NodeId node) const {
        return {fanout.data() + fanout_start[node], fanout.data() + fanout_start[node + 1]};
    }
    [[nodiscard]] bool lets(ArcId arc, int in, int out) const { return allowed[arc] & pair_bit(in, out); }
    [[nodiscard]] bool cut(ArcId arc) const { return allowed[arc] == 0; }
    [[nodiscard]] NodeId port_node(std::uint32_t port) const { return static_cast<NodeId>(pins + port); }
    /// Where paths start at a port; for a port in one direction the same node.
    [[nodiscard]] NodeId input_node(std::uint32_t port) const {
        return entry[port] == no_id ? port_node(port) : entry[port];
    }
    [[nodiscard]] std::uint32_t port_of(NodeId node) const {
        return node < pins + netlist->ports.size() ? static_cast<std::uint32_t>(node - pins)
                                                   : both_ways[node - pins - netlist->ports.size()];
    }
    [[nodiscard]] bool is_port(NodeId node) const { return node >= pins; }
    [[nodiscard]] std::string name(NodeId at) const {
        return is_port(at) ? netlist->ports[port_of(at)].name : netlist->pin_name(at);
    }
    [[nodiscard]] std::uint32_t type_of(NodeId pin) const { return netlist->cells[netlist->pins[pin].cell].type; }
    [[nodiscard]] const LibraryCell* cell_of(NodeId pin) const { return cell_types[type_of(pin)]; }
    /// Position of an instance pin among the pins of its cell; -1: the cell has no such pin.
    [[nodiscard]] int cell_pin(NodeId pin) const {
        const auto& names = pin_of_name[type_of(pin)];
        const auto name = netlist->pins[pin].name;
        return name < names.size() ? names[name] : -1;
    }
    /// What the library of `types` says of an arc; null for wires.
    [[nodiscard]] const LibraryArc* library_of(ArcId arc, std::span<const LibraryCell* const> types) const {
        return way[arc] == Way::net ? nullptr : &types[type_of(from[arc])]->arcs[library_arc[arc]];
    }
    [[nodiscard]] const LibraryArc* library_of(ArcId arc) const { return library_of(arc, cell_types); }
    [[nodiscard]] const LibraryArc& library_of(const Check& check, std::span<const LibraryCell* const> types) const {
        return types[type_of(check.data)]->arcs[check.library];
    }
    /// The edge of the clock pin that a launching arc answers to.
    [[nodiscard]] int launch_edge(ArcId arc) const {
        return library_of(arc)->kind == ArcKind::rising_edge ? rise : fall;
    }
};

/// Sense of a combinational arc: as the library says, else from the cell's function.
[[nodiscard]] Sense sense_of(const LibraryCell& cell, const LibraryArc& arc);

/// Finds what constants and case analysis leave fixed, and closes the arcs nothing passes any more: those of fixed
/// pins, of outputs that no longer depend on the input, those whose condition is false, and those of
/// set_disable_timing. Narrows arcs that pass both senses to the one that is left (docs/timing.md, settled details).
void fix_and_cut(Graph& graph, const Constraints& constraints);

/// Levels of the nodes over arcs that are not cut. Loops are cut at the arc that closes them, found from the lowest
/// node, and reported.
void put_in_order(Graph& graph);

/// Nodes, arcs and checks of a netlist, without what constraints do to them: fix_and_cut and put_in_order come next.
[[nodiscard]] Graph build_graph(const Netlist& netlist, const Library& library, bool clear_arcs = false,
                                const std::stop_token& stop = {});

}  // namespace kp::timing
