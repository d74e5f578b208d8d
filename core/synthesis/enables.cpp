// SPDX-License-Identifier: GPL-3.0-or-later
// A register whose data is "condition ? new : itself" keeps its value by its enable pin. A condition is taken where it
// is a signal by itself, or where three registers or more share it: else it costs a cell and saves none. Linear.
#include "core/synthesis/tidy.hpp"

#include <map>

namespace kp::synthesis {

namespace {

struct Choice {
    Lit condition = no_lit, then = no_lit, otherwise = no_lit;
};

/// The choice a literal is, if its two levels have that shape.
Choice choice_of(const Gates& g, Lit of) {
    const auto& top = g.node(node_of(of));
    if (top.kind != Gates::both_of || !inverted(top.a) || !inverted(top.b)) return {};
    const auto &p = g.node(node_of(top.a)), &q = g.node(node_of(top.b));
    if (p.kind != Gates::both_of || q.kind != Gates::both_of) return {};
    // of = not (not p and not q) when it is inverted: p or q; else neither.
    const auto turn = inverted(of) ? 0U : 1U;
    for (const auto& [c, t] : {std::pair(p.a, p.b), std::pair(p.b, p.a)})
        for (const auto& [d, e] : {std::pair(q.a, q.b), std::pair(q.b, q.a)})
            if (c == invert(d)) return {c, t ^ turn, e ^ turn};
    return {};
}

/// Takes conditions off as long as one side is the register itself; no_lit when there is none.
std::pair<Lit, Lit> peel(Gates& g, const RegisterBit& r) {
    Lit enable = one, data = r.data;
    for (int step = 0; step < 16; ++step) {
        auto c = choice_of(g, data);
        if (c.condition == no_lit) break;
        // Either leg may be the register; the choice may be written both ways round.
        if (c.then == r.q) {
            std::swap(c.then, c.otherwise);
            c.condition = invert(c.condition);
        }
        if (c.otherwise != r.q) break;
        enable = g.both(enable, c.condition);
        data = c.then;
    }
    return {enable, data};
}

}  // namespace

void find_enables(Mapping& m, const CellSet& cells) {
    std::map<std::pair<Lit, Lit>, int> shared;
    std::vector<std::pair<Lit, Lit>> found;
    for (const auto& r : m.registers) {
        const RegisterKind kind{true, r.clear != zero, r.preset != zero, inverted(r.clock)};
        found.emplace_back(no_lit, no_lit);
        if (r.latch || r.enable != one || !cells.register_of(kind)) continue;
        found.back() = peel(m.gates, r);
        if (found.back().first == one)
            found.back() = {no_lit, no_lit};
        else
            ++shared[{found.back().first, r.clock}];
    }
    for (size_t i = 0; i < found.size(); ++i) {
        const auto [enable, data] = found[i];
        auto& r = m.registers[i];
        if (enable == no_lit) continue;
        const bool signal = m.gates.node(node_of(enable)).kind != Gates::both_of && !inverted(enable);
        if (!signal && shared[{enable, r.clock}] < 3) continue;
        r.enable = enable;
        r.data = data;
    }
}

}  // namespace kp::synthesis
