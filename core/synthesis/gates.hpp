// SPDX-License-Identifier: GPL-3.0-or-later
// Logic as a graph of two-input ands with inverted edges, each node once (A. Kuehlmann, V. Paruthi, F. Krohm and
// M. Ganai, "Robust Boolean reasoning for equivalence checking and functional property verification", IEEE TCAD 21,
// 2002).
#pragma once

#include <cstdint>
#include <span>
#include <string>
#include <unordered_map>
#include <vector>

namespace kp::synthesis {

/// An edge: twice the number of a node, plus one when it is inverted.
using Lit = std::uint32_t;
constexpr Lit zero = 0, one = 1;
constexpr Lit no_lit = 0xFFFFFFFFu;
[[nodiscard]] constexpr Lit invert(Lit a) {
    return a ^ 1U;
}
[[nodiscard]] constexpr std::uint32_t node_of(Lit a) {
    return a >> 1;
}
[[nodiscard]] constexpr bool inverted(Lit a) {
    return (a & 1U) != 0;
}
[[nodiscard]] constexpr bool is_constant(Lit a) {
    return a <= one;
}

class Gates {
public:
    enum Kind : std::uint8_t { constant, from_outside, place, both_of };
    struct Node {
        Lit a = no_lit, b = no_lit;  ///< of an and: a > b; of a wire: a is what drives it
        Kind kind = constant;
    };

    Gates() { nodes_.push_back({}); }
    /// From more nodes, or more questions for one, on nothing is made any more, and what is answered means nothing.
    void limit(size_t nodes, size_t questions) {
        most_nodes_ = nodes;
        most_questions_ = questions;
    }
    [[nodiscard]] bool full() const { return nodes_.size() >= most_nodes_ || questions_ >= most_questions_; }
    /// What comes from outside of the logic: a port, a register, a carry, a memory.
    Lit source() { return add(from_outside, no_lit, no_lit); }
    /// A place whose driver is told later.
    Lit wire() { return add(place, no_lit, no_lit); }
    void drive(Lit wire, Lit by) { nodes_[node_of(wire)].a = by; }

    Lit both(Lit a, Lit b);
    Lit either(Lit a, Lit b) { return invert(both(invert(a), invert(b))); }
    Lit differ(Lit a, Lit b);
    /// `condition ? then : otherwise`.
    Lit choose(Lit condition, Lit then, Lit otherwise);
    /// All of many, as a tree; one for none.
    Lit all(std::span<const Lit> of);
    Lit any(std::span<const Lit> of);
    Lit odd(std::span<const Lit> of);

    [[nodiscard]] const Node& node(std::uint32_t id) const { return nodes_[id]; }
    [[nodiscard]] std::uint32_t size() const { return static_cast<std::uint32_t>(nodes_.size()); }

private:
    Lit add(Kind kind, Lit a, Lit b);
    std::vector<Node> nodes_;
    std::unordered_map<std::uint64_t, std::uint32_t> known_;
    size_t most_nodes_ = 1U << 30, most_questions_ = SIZE_MAX, questions_ = 0;
};

}  // namespace kp::synthesis
