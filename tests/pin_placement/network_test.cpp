// SPDX-License-Identifier: GPL-3.0-or-later
// Flow, assignment and explanation against naive searches: duality is what the bound of placing rests on.
#include "core/pin_placement/explain.hpp"
#include "core/pin_placement/network.hpp"

#include <gtest/gtest.h>

#include <algorithm>
#include <limits>
#include <map>
#include <numeric>
#include <queue>
#include <random>
#include <set>

namespace kp::pin_placement {
namespace {

/// Augmenting paths by breadth (Edmonds and Karp 1972).
long long naive_flow(int nodes, int source, int target, const std::vector<FlowEdge>& edges) {
    std::vector<std::map<int, long long>> left(static_cast<size_t>(nodes));
    for (const auto& e : edges) left[static_cast<size_t>(e.from)][e.to] += e.capacity;
    long long total = 0;
    for (;;) {
        std::vector<int> before(static_cast<size_t>(nodes), -1);
        std::queue<int> open;
        open.push(source);
        before[static_cast<size_t>(source)] = source;
        while (!open.empty()) {
            const int at = open.front();
            open.pop();
            for (const auto& [to, room] : left[static_cast<size_t>(at)])
                if (room > 0 && before[static_cast<size_t>(to)] < 0) {
                    before[static_cast<size_t>(to)] = at;
                    open.push(to);
                }
        }
        if (before[static_cast<size_t>(target)] < 0) return total;
        long long most = std::numeric_limits<long long>::max();
        for (int at = target; at != source; at = before[static_cast<size_t>(at)])
            most = std::min(most, left[static_cast<size_t>(before[static_cast<size_t>(at)])][at]);
        for (int at = target; at != source; at = before[static_cast<size_t>(at)]) {
            left[static_cast<size_t>(before[static_cast<size_t>(at)])][at] -= most;
            left[static_cast<size_t>(at)][before[static_cast<size_t>(at)]] += most;
        }
        total += most;
    }
}

TEST(Network, TheFlowIsTheGreatestAndTheCutIsAsNarrow) {
    for (unsigned seed = 0; seed < 400; ++seed) {
        std::mt19937 r(seed);
        const int nodes = 4 + static_cast<int>(r() % 8);
        std::vector<FlowEdge> edges;
        for (int i = 0; i < nodes * 3; ++i) {
            const int a = static_cast<int>(r() % static_cast<unsigned>(nodes)),
                      b = static_cast<int>(r() % static_cast<unsigned>(nodes));
            if (a != b && b != 0 && a != 1) edges.push_back({a, b, static_cast<long long>(r() % 9)});
        }
        const auto flow = greatest_flow(nodes, 0, 1, edges);
        EXPECT_EQ(flow.value, naive_flow(nodes, 0, 1, edges)) << seed;
        long long cut = 0;
        std::vector<long long> net(static_cast<size_t>(nodes), 0);
        for (size_t i = 0; i < edges.size(); ++i) {
            EXPECT_GE(flow.on[i], 0);
            EXPECT_LE(flow.on[i], edges[i].capacity);
            net[static_cast<size_t>(edges[i].from)] -= flow.on[i];
            net[static_cast<size_t>(edges[i].to)] += flow.on[i];
            if (flow.source_side[static_cast<size_t>(edges[i].from)] &&
                !flow.source_side[static_cast<size_t>(edges[i].to)])
                cut += edges[i].capacity;
        }
        EXPECT_EQ(cut, flow.value) << "seed " << seed << ": greatest flow, narrowest cut (Ford and Fulkerson 1956)";
        for (int n = 2; n < nodes; ++n) EXPECT_EQ(net[static_cast<size_t>(n)], 0) << "what comes in goes out";
    }
}

TEST(Network, TheAssignmentIsTheCheapestAndItsPricesProveIt) {
    for (unsigned seed = 0; seed < 300; ++seed) {
        std::mt19937 r(seed);
        const int lefts = 1 + static_cast<int>(r() % 5), rights = lefts + static_cast<int>(r() % 3);
        std::map<std::pair<int, int>, long long> cost;
        std::vector<AssignmentEdge> edges;
        for (int l = 0; l < lefts; ++l)
            for (int k = 0; k < rights; ++k)
                if (r() % 3) {
                    const auto c = static_cast<long long>(r() % 50);
                    cost[{l, k}] = c;
                    edges.push_back({l, k, c});
                }
        std::vector<int> order(static_cast<size_t>(rights));
        std::iota(order.begin(), order.end(), 0);
        long long best = -1;
        do {
            long long sum = 0;
            bool whole = true;
            for (int l = 0; l < lefts && whole; ++l) {
                const auto at = cost.find({l, order[static_cast<size_t>(l)]});
                whole = at != cost.end();
                if (whole) sum += at->second;
            }
            if (whole && (best < 0 || sum < best)) best = sum;
        } while (std::next_permutation(order.begin(), order.end()));
        const auto found = cheapest_assignment(lefts, rights, edges);
        ASSERT_EQ(found.whole, best >= 0) << seed;
        if (!found.whole) continue;
        EXPECT_EQ(found.cost, best) << seed;
        std::set<int> used(found.right_of.begin(), found.right_of.end());
        EXPECT_EQ(used.size(), static_cast<size_t>(lefts)) << "no right twice";
        for (const auto& e : edges) {
            const auto reduced = e.cost + found.left_price[static_cast<size_t>(e.left)] -
                                 found.right_price[static_cast<size_t>(e.right)];
            EXPECT_GE(reduced, 0) << seed;
            if (found.right_of[static_cast<size_t>(e.left)] == e.right) EXPECT_EQ(reduced, 0) << seed;
        }
    }
}

TEST(Explain, ConflictsAreMinimalWhateverThePlantedOnesAre) {
    for (unsigned seed = 0; seed < 300; ++seed) {
        std::mt19937 r(seed);
        const int facts = 3 + static_cast<int>(r() % 30);
        // Some sets that cannot be together; anything that holds one of them is impossible.
        std::vector<std::set<int>> planted(1 + r() % 3);
        for (auto& set : planted)
            for (size_t n = 1 + r() % 4; n > 0; --n) set.insert(static_cast<int>(r() % static_cast<unsigned>(facts)));
        size_t asked = 0;
        const auto possible = [&](const std::vector<int>& some) {
            ++asked;
            const std::set<int> have(some.begin(), some.end());
            return std::none_of(planted.begin(), planted.end(), [&](const std::set<int>& set) {
                return std::includes(have.begin(), have.end(), set.begin(), set.end());
            });
        };
        std::vector<int> all(static_cast<size_t>(facts));
        std::iota(all.begin(), all.end(), 0);
        const auto found = smallest_conflict(all, possible);
        ASSERT_FALSE(found.empty());
        EXPECT_LT(asked, 80u) << "far fewer questions than subsets";
        EXPECT_FALSE(possible(found));
        for (const int left_out : found) {
            auto without = found;
            std::erase(without, left_out);
            EXPECT_TRUE(possible(without)) << "seed " << seed << ": " << left_out << " is not needed";
        }
    }
    EXPECT_TRUE(smallest_conflict({}, [](const auto&) { return true; }).empty());
    EXPECT_TRUE(smallest_conflict({1, 2}, [](const auto&) { return false; }).empty());
}

}  // namespace
}  // namespace kp::pin_placement
