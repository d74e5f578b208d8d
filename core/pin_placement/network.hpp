// SPDX-License-Identifier: GPL-3.0-or-later
// Two problems on networks, by LEMON: the greatest flow with its narrowest cut (preflow push-relabel, Goldberg and
// Tarjan 1988), and the cheapest assignment with the prices that prove it (network simplex, Dantzig 1951). The header
// is plain, since the library does not read as C++20.
#pragma once

#include <vector>

namespace kp::pin_placement {

struct FlowEdge {
    int from = 0, to = 0;
    long long capacity = 0;
};
struct Flow {
    long long value = 0;
    std::vector<long long> on;      ///< by edge
    std::vector<bool> source_side;  ///< by node: of the narrowest cut
};
Flow greatest_flow(int nodes, int source, int target, const std::vector<FlowEdge>& edges);

struct AssignmentEdge {
    int left = 0, right = 0;
    long long cost = 0;
};
struct Assignment {
    bool whole = false;  ///< every left has a right
    long long cost = 0;
    std::vector<int> right_of;  ///< by left
    /// cost + price_of_left - price_of_right is at least 0 for every edge, and 0 for those that are taken.
    std::vector<long long> left_price, right_price;
};
Assignment cheapest_assignment(int lefts, int rights, const std::vector<AssignmentEdge>& edges);

}  // namespace kp::pin_placement
