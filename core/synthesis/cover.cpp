// SPDX-License-Identifier: GPL-3.0-or-later
// Each node keeps a few cuts of at most four leaves, made of those of its two inputs. First the shallowest is taken,
// then, where there is time, the one of least area flow, then the one that adds the fewest cells. Linear in the nodes,
// times the cuts kept squared.
#include "core/synthesis/cover.hpp"

#include <algorithm>
#include <array>
#include <bit>
#include <limits>

namespace kp::synthesis {

namespace {

constexpr size_t most_cuts = 10;
constexpr int never = std::numeric_limits<int>::max() / 2;

struct Cut {
    std::array<std::uint32_t, 4> leaf{};
    std::uint8_t size = 0;
    std::uint16_t table = 0;
    std::uint32_t signature = 0;
    int depth = 0;
    float area = 0;
};

/// A table over the leaves of one cut, said over those of a larger one.
std::uint16_t spread(std::uint16_t table, const Cut& from, const Cut& to) {
    std::array<unsigned, 4> at{};
    for (unsigned i = 0, k = 0; i < from.size; ++i) {
        while (to.leaf[k] != from.leaf[i]) ++k;
        at[i] = k;
    }
    std::uint16_t out = 0;
    for (unsigned v = 0; v < 16; ++v) {
        unsigned mine = 0;
        for (unsigned i = 0; i < from.size; ++i) mine |= ((v >> at[i]) & 1U) << i;
        out |= static_cast<std::uint16_t>(((table >> mine) & 1U) << v);
    }
    return out;
}

/// Leaves that the function does not depend on are dropped.
void shrink(Cut& c) {
    for (unsigned i = c.size; i-- > 0;) {
        bool used = false;
        for (unsigned v = 0; v < 16 && !used; ++v) used = ((c.table >> v) & 1U) != ((c.table >> (v ^ (1U << i))) & 1U);
        if (used) continue;
        std::uint16_t table = 0;
        for (unsigned v = 0; v < 16; ++v) {
            const unsigned low = v & ((1U << i) - 1), high = (v >> i) << (i + 1);
            const unsigned from = (low | high) & 15U;
            table |= static_cast<std::uint16_t>(((c.table >> from) & 1U) << v);
        }
        c.table = table;
        for (unsigned k = i; k + 1 < c.size; ++k) c.leaf[k] = c.leaf[k + 1];
        c.leaf[--c.size] = 0;
    }
}

class Coverer {
public:
    Coverer(const Gates& g, std::span<const Lit> wanted)
        : g_(g),
          wanted_(wanted),
          cuts_(g.size()),
          best_(g.size()),
          refs_(g.size(), 0),
          estimate_(g.size(), 0),
          required_(g.size(), never),
          flow_(g.size(), 0),
          depth_(g.size(), 0) {
        mark();
        for (const auto n : order_) {
            ++estimate_[node_of(g.node(n).a)];
            ++estimate_[node_of(g.node(n).b)];
        }
        for (const auto l : wanted) ++estimate_[node_of(l)];
    }

    Cover run() {
        for (int round = 0; round < 4; ++round) {
            exact_ = round == 3;
            by_area_ = round > 0;
            for (const auto n : order_) choose(n);
            count();
        }
        Cover out;
        out.same = std::move(same_);
        for (const auto n : order_)
            if (refs_[n] > 0) {
                out.depth = std::max(out.depth, depth_[n]);
                LookUp look;
                for (unsigned i = 0; i < best_[n].size; ++i) look.inputs.push_back(best_[n].leaf[i]);
                look.table = best_[n].table;
                out.at.emplace(n, std::move(look));
            }
        return out;
    }

private:
    bool is_gate(std::uint32_t n) const { return g_.node(n).kind == Gates::both_of; }

    /// The gates that are needed, inputs first.
    void mark() {
        std::vector<bool> seen(g_.size(), false);
        std::vector<std::uint32_t> todo;
        for (const auto l : wanted_) todo.push_back(node_of(l));
        while (!todo.empty()) {
            const auto n = todo.back();
            todo.pop_back();
            if (seen[n] || !is_gate(n)) continue;
            seen[n] = true;
            order_.push_back(n);
            todo.push_back(node_of(g_.node(n).a));
            todo.push_back(node_of(g_.node(n).b));
        }
        std::sort(order_.begin(), order_.end());
    }

    Cut trivial(std::uint32_t n) const {
        Cut c;
        c.leaf[0] = n;
        c.size = 1;
        c.table = 0xAAAA;
        c.signature = 1U << (n % 32);
        return c;
    }

    static bool join(const Cut& a, const Cut& b, Cut& out) {
        if (std::popcount(a.signature | b.signature) > 4) return false;
        unsigned i = 0, k = 0, n = 0;
        while (i < a.size || k < b.size) {
            if (n == 4) return false;
            if (k == b.size || (i < a.size && a.leaf[i] < b.leaf[k]))
                out.leaf[n++] = a.leaf[i++];
            else if (i == a.size || b.leaf[k] < a.leaf[i])
                out.leaf[n++] = b.leaf[k++];
            else {
                out.leaf[n++] = a.leaf[i++];
                ++k;
            }
        }
        out.size = static_cast<std::uint8_t>(n);
        out.signature = a.signature | b.signature;
        return true;
    }

    void cost(Cut& c, std::uint32_t n) {
        c.depth = 0;
        for (unsigned i = 0; i < c.size; ++i) c.depth = std::max(c.depth, depth_[c.leaf[i]]);
        ++c.depth;
        if (exact_) {
            c.area = static_cast<float>(take(c));
            give_back(c);
            return;
        }
        c.area = 1;
        for (unsigned i = 0; i < c.size; ++i) c.area += flow_[c.leaf[i]];
        static_cast<void>(n);
    }

    bool better(const Cut& a, const Cut& b) const {
        if (!by_area_ && a.depth != b.depth) return a.depth < b.depth;
        if (a.area != b.area) return a.area < b.area;
        if (a.depth != b.depth) return a.depth < b.depth;
        if (a.size != b.size) return a.size < b.size;
        return a.leaf < b.leaf;
    }

    void choose(std::uint32_t n) {
        if (exact_ && refs_[n] > 0) give_back(best_[n]);
        const auto& node = g_.node(n);
        std::vector<Cut> found;
        if (by_area_) {  // the one it has stays among them
            found.push_back(best_[n]);
            cost(found.back(), n);
        }
        const auto own_a = trivial(node_of(node.a)), own_b = trivial(node_of(node.b));
        const auto &left = cuts_[node_of(node.a)], &right = cuts_[node_of(node.b)];
        for (size_t i = 0; i <= left.size(); ++i)
            for (size_t k = 0; k <= right.size(); ++k) {
                const auto &a = i ? left[i - 1] : own_a, &b = k ? right[k - 1] : own_b;
                Cut c;
                if (!join(a, b, c)) continue;
                const auto x = spread(a.table, a, c), y = spread(b.table, b, c);
                c.table = static_cast<std::uint16_t>((inverted(node.a) ? ~x : x) & (inverted(node.b) ? ~y : y));
                shrink(c);
                if (!by_area_) sweep(n, c);
                cost(c, n);
                found.push_back(c);
            }
        keep(n, found);
    }

    /// A function of the same leaves that an earlier node has too, or its opposite.
    void sweep(std::uint32_t n, const Cut& c) {
        if (same_.count(n)) return;
        if (c.size == 0) {
            same_[n] = (c.table & 1) ? one : zero;
        } else if (c.size == 1) {
            same_[n] = c.leaf[0] * 2 + ((c.table & 1) ? 1 : 0);
        } else {
            const bool turn = (c.table & 1) != 0;
            const Shape key{c.leaf, c.size, static_cast<std::uint16_t>(turn ? ~c.table : c.table)};
            const auto [at, fresh] = shapes_.try_emplace(key, n * 2 + turn);
            if (!fresh && node_of(at->second) != n) same_[n] = at->second ^ (turn ? 1U : 0U);
        }
    }

    void keep(std::uint32_t n, std::vector<Cut>& found) {
        std::sort(found.begin(), found.end(), [&](const Cut& a, const Cut& b) { return better(a, b); });
        found.erase(std::unique(found.begin(), found.end(),
                                [](const Cut& a, const Cut& b) {
                                    return a.size == b.size &&
                                           std::equal(a.leaf.begin(), a.leaf.begin() + a.size, b.leaf.begin());
                                }),
                    found.end());
        size_t best = 0;
        while (best < found.size() && found[best].depth > required_[n]) ++best;
        if (best == found.size())
            best = static_cast<size_t>(std::min_element(found.begin(), found.end(),
                                                        [](const Cut& a, const Cut& b) { return a.depth < b.depth; }) -
                                       found.begin());
        best_[n] = found[best];
        depth_[n] = best_[n].depth;
        flow_[n] = best_[n].area / static_cast<float>(std::max(1, estimate_[n]));
        if (exact_) {
            float area = 1;
            for (unsigned i = 0; i < best_[n].size; ++i) area += flow_[best_[n].leaf[i]];
            flow_[n] = area / static_cast<float>(std::max(1, estimate_[n]));
            if (refs_[n] > 0) static_cast<void>(take(best_[n]));
        }
        found.resize(std::min(found.size(), most_cuts));
        cuts_[n] = std::move(found);
    }

    /// Cells a cut brings along that nothing else needs.
    int take(const Cut& c) {
        int out = 1;
        for (unsigned i = 0; i < c.size; ++i)
            if (const auto l = c.leaf[i]; refs_[l]++ == 0 && is_gate(l)) out += take(best_[l]);
        return out;
    }
    void give_back(const Cut& c) {
        for (unsigned i = 0; i < c.size; ++i)
            if (const auto l = c.leaf[i]; --refs_[l] == 0 && is_gate(l)) give_back(best_[l]);
    }

    /// Uses of each node and the time it has, from what is wanted back.
    void count() {
        std::fill(refs_.begin(), refs_.end(), 0);
        std::fill(required_.begin(), required_.end(), never);
        int deepest = 0;
        for (const auto l : wanted_) {
            ++refs_[node_of(l)];
            deepest = std::max(deepest, depth_[node_of(l)]);
        }
        if (limit_ == 0) limit_ = deepest;
        for (const auto l : wanted_) required_[node_of(l)] = limit_;
        for (auto at = order_.rbegin(); at != order_.rend(); ++at) {
            const auto n = *at;
            if (refs_[n] == 0) continue;
            const auto& c = best_[n];
            for (unsigned i = 0; i < c.size; ++i) {
                ++refs_[c.leaf[i]];
                required_[c.leaf[i]] = std::min(required_[c.leaf[i]], required_[n] - 1);
            }
        }
        for (const auto n : order_) estimate_[n] = (2 * refs_[n] + estimate_[n]) / 3;
    }

    struct Shape {
        std::array<std::uint32_t, 4> leaf;
        std::uint8_t size;
        std::uint16_t table;
        bool operator==(const Shape&) const = default;
    };
    struct ShapeHash {
        size_t operator()(const Shape& s) const {
            std::uint64_t h = s.table;
            for (unsigned i = 0; i < s.size; ++i) h = (h ^ s.leaf[i]) * 0x9E3779B97F4A7C15ULL;
            return static_cast<size_t>(h ^ (h >> 29));
        }
    };

    const Gates& g_;
    std::span<const Lit> wanted_;
    std::unordered_map<std::uint32_t, Lit> same_;
    std::unordered_map<Shape, Lit, ShapeHash> shapes_;
    std::vector<std::uint32_t> order_;
    std::vector<std::vector<Cut>> cuts_;
    std::vector<Cut> best_;
    std::vector<int> refs_, estimate_, required_;
    std::vector<float> flow_;
    std::vector<int> depth_;
    int limit_ = 0;
    bool by_area_ = false, exact_ = false;
};

}  // namespace

Cover cover(const Gates& gates, std::span<const Lit> wanted) {
    return Coverer(gates, wanted).run();
}

}  // namespace kp::synthesis
