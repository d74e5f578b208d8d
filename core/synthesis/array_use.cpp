// SPDX-License-Identifier: GPL-3.0-or-later
// Which arrays can be memory cells: those that one statement writes by whole words, and that begin with nothing.
// Linear in the source.
#include "core/synthesis/elaborator.hpp"

namespace kp::synthesis {

void Elaborator::look_at(const Statement& s, bool initial, bool clocked, std::map<std::string, ArrayUse>& out) {
    for (const auto& part : s.parts) look_at(part, initial, clocked, out);
    if (s.kind != Statement::assign) return;
    const auto& target = s.exprs[0];
    std::vector<const Expr*> targets{&target};
    if (target.kind == Expr::concat) {
        targets.clear();
        for (const auto& e : target.args) targets.push_back(&e);
    }
    for (const auto* e : targets) {
        int depth = 0;
        const auto* base = e;
        for (; base->kind != Expr::name && !base->args.empty(); base = &base->args[0]) ++depth;
        if (base->kind != Expr::name) continue;
        auto& use = out[base->word];
        (initial ? use.initial : use.always) = true;
        use.writes += !initial;
        use.plain &= depth == 1 && e->kind == Expr::index && clocked && !s.blocking;
    }
}

void Elaborator::look_at_arrays(const std::vector<Item>& items, std::map<std::string, ArrayUse>& out) {
    for (const auto& item : items) {
        const bool clocked = !item.events.empty() && item.events[0].edge != source::Event::any;
        for (const auto& s : item.body) look_at(s, item.kind == Item::initial, clocked, out);
        if (item.kind == Item::assign)
            for (size_t k = 0; k < item.exprs.size(); k += 2) {
                const auto* base = &item.exprs[k];
                while (base->kind != Expr::name && !base->args.empty()) base = &base->args[0];
                out[base->word].plain = false;
            }
        for (const auto& branch : item.branches) look_at_arrays(branch, out);
    }
}

}  // namespace kp::synthesis
