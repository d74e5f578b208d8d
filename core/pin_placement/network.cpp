// SPDX-License-Identifier: GPL-3.0-or-later
// Graphs of LEMON are built, solved and thrown away; the only file that includes it, and compiled as C++17.
#include "core/pin_placement/network.hpp"

#include <lemon/network_simplex.h>
#include <lemon/preflow.h>
#include <lemon/smart_graph.h>

namespace kp::pin_placement {

Flow greatest_flow(int nodes, int source, int target, const std::vector<FlowEdge>& edges) {
    lemon::SmartDigraph graph;
    graph.reserveNode(nodes);
    graph.reserveArc(static_cast<int>(edges.size()));
    for (int i = 0; i < nodes; ++i) graph.addNode();
    std::vector<lemon::SmartDigraph::Arc> arcs;
    lemon::SmartDigraph::ArcMap<long long> capacity(graph);
    for (const auto& e : edges) arcs.push_back(graph.addArc(graph.nodeFromId(e.from), graph.nodeFromId(e.to)));
    for (std::size_t i = 0; i < edges.size(); ++i) capacity[arcs[i]] = edges[i].capacity;
    lemon::Preflow<lemon::SmartDigraph, lemon::SmartDigraph::ArcMap<long long>> flow(
        graph, capacity, graph.nodeFromId(source), graph.nodeFromId(target));
    flow.run();
    Flow out;
    out.value = flow.flowValue();
    for (const auto& a : arcs) out.on.push_back(flow.flow(a));
    for (int i = 0; i < nodes; ++i) out.source_side.push_back(flow.minCut(graph.nodeFromId(i)));
    return out;
}

Assignment cheapest_assignment(int lefts, int rights, const std::vector<AssignmentEdge>& edges) {
    lemon::SmartDigraph graph;
    const int nodes = lefts + rights + 1;
    for (int i = 0; i < nodes; ++i) graph.addNode();
    const auto left = [&](int i) { return graph.nodeFromId(i); };
    const auto right = [&](int i) { return graph.nodeFromId(lefts + i); };
    const auto sink = graph.nodeFromId(lefts + rights);
    std::vector<lemon::SmartDigraph::Arc> arcs;
    for (const auto& e : edges) arcs.push_back(graph.addArc(left(e.left), right(e.right)));
    for (int i = 0; i < rights; ++i) graph.addArc(right(i), sink);
    lemon::SmartDigraph::ArcMap<long long> cost(graph, 0), capacity(graph, 1);
    for (std::size_t i = 0; i < edges.size(); ++i) cost[arcs[i]] = edges[i].cost;
    lemon::SmartDigraph::NodeMap<long long> supply(graph, 0);
    for (int i = 0; i < lefts; ++i) supply[left(i)] = 1;
    supply[sink] = -lefts;
    lemon::NetworkSimplex<lemon::SmartDigraph, long long, long long> simplex(graph);
    simplex.upperMap(capacity).costMap(cost).supplyMap(supply);
    Assignment out;
    out.whole = simplex.run() == lemon::NetworkSimplex<lemon::SmartDigraph, long long, long long>::OPTIMAL;
    if (!out.whole) return out;
    out.cost = simplex.totalCost<long long>();
    out.right_of.assign(static_cast<std::size_t>(lefts), -1);
    for (std::size_t i = 0; i < edges.size(); ++i)
        if (simplex.flow(arcs[i]) > 0) out.right_of[static_cast<std::size_t>(edges[i].left)] = edges[i].right;
    for (int i = 0; i < lefts; ++i) out.left_price.push_back(simplex.potential(left(i)));
    for (int i = 0; i < rights; ++i) out.right_price.push_back(simplex.potential(right(i)));
    return out;
}

}  // namespace kp::pin_placement
