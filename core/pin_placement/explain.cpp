// SPDX-License-Identifier: GPL-3.0-or-later
// Divide and ask (QuickXplain, Junker 2004): some k log(n / k) questions for a conflict of k among n, then k more.
#include "core/pin_placement/explain.hpp"

#include <algorithm>

namespace kp::pin_placement {

namespace {

using Possible = std::function<bool(const std::vector<int>&)>;

std::vector<int> divide(std::vector<int> base, bool added, const std::vector<int>& facts, const Possible& possible) {
    if (added && !possible(base)) return {};
    if (facts.size() == 1) return facts;
    const auto half = facts.begin() + static_cast<std::ptrdiff_t>(facts.size() / 2);
    const std::vector<int> first(facts.begin(), half), second(half, facts.end());
    auto with_first = base;
    with_first.insert(with_first.end(), first.begin(), first.end());
    auto of_second = divide(with_first, true, second, possible);
    base.insert(base.end(), of_second.begin(), of_second.end());
    auto out = divide(base, !of_second.empty(), first, possible);
    out.insert(out.end(), of_second.begin(), of_second.end());
    return out;
}

}  // namespace

std::vector<int> smallest_conflict(const std::vector<int>& facts, const Possible& possible) {
    if (facts.empty() || !possible({})) return {};
    auto out = divide({}, false, facts, possible);
    for (size_t i = 0; i < out.size();) {
        auto without = out;
        without.erase(without.begin() + static_cast<std::ptrdiff_t>(i));
        if (possible(without))
            ++i;
        else
            out = without;
    }
    std::sort(out.begin(), out.end());
    return out;
}

std::vector<int> smallest_conflict_of_alike(const std::vector<std::vector<int>>& blocks, const Possible& possible) {
    std::vector<size_t> count(blocks.size());
    const auto facts_of = [&](const std::vector<int>& which) {
        std::vector<int> out;
        for (const int b : which) {
            const auto& block = blocks[static_cast<size_t>(b)];
            out.insert(out.end(), block.begin(),
                       block.begin() + static_cast<std::ptrdiff_t>(count[static_cast<size_t>(b)]));
        }
        return out;
    };
    std::vector<int> all;
    for (size_t b = 0; b < blocks.size(); ++b) {
        all.push_back(static_cast<int>(b));
        count[b] = blocks[b].size();
    }
    const auto needed = smallest_conflict(all, [&](const std::vector<int>& some) { return possible(facts_of(some)); });
    for (const int b : needed) {
        auto& n = count[static_cast<size_t>(b)];
        for (size_t low = 1, high = n; low < high;) {
            n = low + (high - low) / 2;
            if (possible(facts_of(needed)))
                low = n + 1;
            else
                high = n;
            n = high;
        }
    }
    auto out = facts_of(needed);
    std::sort(out.begin(), out.end());
    return out;
}

}  // namespace kp::pin_placement
