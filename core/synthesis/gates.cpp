// SPDX-License-Identifier: GPL-3.0-or-later
// Constants fold, equal nodes are one, and two levels are looked at: an and with one of its own inputs, or with its
// opposite, is known (R. Brummayer and A. Biere, "Local two-level and-inverter graph minimization without blowup",
// MEMICS 2006). Constant time a node.
#include "core/synthesis/gates.hpp"

#include <utility>

namespace kp::synthesis {

Lit Gates::add(Kind kind, Lit a, Lit b) {
    if (full()) return (size() - 1) * 2;
    Node n;
    n.kind = kind;
    n.a = a;
    n.b = b;
    nodes_.push_back(n);
    return (size() - 1) * 2;
}

Lit Gates::both(Lit a, Lit b) {
    ++questions_;
    if (full()) return zero;
    if (a < b) std::swap(a, b);
    if (b == zero || a == invert(b)) return zero;
    if (b == one || a == b) return a;
    for (int turn = 0; turn < 2; ++turn, std::swap(a, b)) {
        const auto& n = nodes_[node_of(a)];
        if (n.kind != both_of) continue;
        if (!inverted(a)) {
            if (n.a == b || n.b == b) return a;
            if (n.a == invert(b) || n.b == invert(b)) return zero;
        } else {
            // not (p and q), and b: b alone when p or q is not b; not q and b when p is b.
            if (n.a == invert(b) || n.b == invert(b)) return b;
            if (n.a == b) return both(invert(n.b), b);
            if (n.b == b) return both(invert(n.a), b);
        }
    }
    if (a < b) std::swap(a, b);
    const auto key = (std::uint64_t{a} << 32) | b;
    const auto [at, fresh] = known_.try_emplace(key, size());
    if (!fresh) return at->second * 2;
    return add(both_of, a, b);
}

Lit Gates::differ(Lit a, Lit b) {
    const bool turned = inverted(a) != inverted(b);
    a &= ~1U;
    b &= ~1U;
    if (a < b) std::swap(a, b);
    const auto out = a == b ? zero : b == zero ? a : both(invert(both(a, b)), invert(both(invert(a), invert(b))));
    return turned ? invert(out) : out;
}

Lit Gates::choose(Lit c, Lit t, Lit e) {
    if (c == one || t == e) return t;
    if (c == zero) return e;
    if (inverted(c)) return choose(invert(c), e, t);
    if (t == invert(e)) return differ(c, e);
    if (t == c) t = one;
    if (t == invert(c)) t = zero;
    if (e == c) e = zero;
    if (e == invert(c)) e = one;
    return invert(both(invert(both(c, t)), invert(both(invert(c), e))));
}

Lit Gates::all(std::span<const Lit> of) {
    if (of.empty()) return one;
    if (of.size() == 1) return of[0];
    const auto half = of.size() / 2;
    return both(all(of.first(half)), all(of.subspan(half)));
}

Lit Gates::any(std::span<const Lit> of) {
    if (of.empty()) return zero;
    if (of.size() == 1) return of[0];
    const auto half = of.size() / 2;
    return either(any(of.first(half)), any(of.subspan(half)));
}

Lit Gates::odd(std::span<const Lit> of) {
    if (of.empty()) return zero;
    if (of.size() == 1) return of[0];
    const auto half = of.size() / 2;
    return differ(odd(of.first(half)), odd(of.subspan(half)));
}

}  // namespace kp::synthesis
