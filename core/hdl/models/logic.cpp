// SPDX-License-Identifier: GPL-3.0-or-later
// Structural hashing with the simplifications of constants, equals and opposites: enough that `c ? d : q` becomes what
// a library would write, and no more. Linear in what is built; writing out is limited.
#include "core/hdl/models/logic.hpp"

#include <algorithm>
#include <set>

namespace kp::models {

namespace {
constexpr size_t longest = 4096, deepest_function = 60;
}

Logic::Logic() {
    items_ = {{Op::constant, 0, 0}, {Op::constant, 1, 0}};
}

Logic::Node Logic::make(Op op, Node a, Node b) {
    const auto [at, fresh] = known_.try_emplace({op, a, b}, static_cast<Node>(items_.size()));
    if (fresh) items_.push_back({op, a, b});
    return at->second;
}

Logic::Node Logic::input(const std::string& name) {
    const auto [at, fresh] = by_name_.try_emplace(name, 0);
    if (fresh) {
        at->second = make(Op::input, static_cast<Node>(names_.size()), 0);
        names_.push_back(name);
    }
    return at->second;
}

Logic::Node Logic::invert(Node a) {
    if (a == unknown) return unknown;
    if (a <= 1) return 1 - a;
    const auto& item = items_[static_cast<size_t>(a)];
    return item.op == Op::invert ? item.a : make(Op::invert, a, 0);
}

Logic::Node Logic::both(Node a, Node b) {
    if (a == 0 || b == 0) return 0;  // also of an unknown one
    if (a == unknown || b == unknown) return unknown;
    if (a == 1 || a == b) return b;
    if (b == 1) return a;
    if (a == invert(b)) return 0;
    return make(Op::both, std::min(a, b), std::max(a, b));
}

Logic::Node Logic::either(Node a, Node b) {
    if (a == 1 || b == 1) return 1;
    if (a == unknown || b == unknown) return unknown;
    if (a == 0 || a == b) return b;
    if (b == 0) return a;
    if (a == invert(b)) return 1;
    return make(Op::either, std::min(a, b), std::max(a, b));
}

Logic::Node Logic::differ(Node a, Node b) {
    if (a == unknown || b == unknown) return unknown;
    if (a == b) return 0;
    if (a == 0) return b;
    if (b == 0) return a;
    if (a == 1) return invert(b);
    if (b == 1) return invert(a);
    if (a == invert(b)) return 1;
    return make(Op::differ, std::min(a, b), std::max(a, b));
}

Logic::Node Logic::choose(Node condition, Node then, Node otherwise) {
    if (then == otherwise) return then;
    if (condition == 1) return then;
    if (condition == 0) return otherwise;
    return either(both(condition, then), both(invert(condition), otherwise));
}

Logic::Node Logic::rebuild(Node of, Node which, bool value, std::map<Node, Node>& done) {
    if (of <= 1) return of;
    if (const auto at = done.find(of); at != done.end()) return at->second;
    const auto item = items_[static_cast<size_t>(of)];
    Node out = of;
    switch (item.op) {
        case Op::constant: break;
        case Op::input: out = of == which ? constant(value) : of; break;
        case Op::invert: out = invert(rebuild(item.a, which, value, done)); break;
        case Op::both: out = both(rebuild(item.a, which, value, done), rebuild(item.b, which, value, done)); break;
        case Op::either: out = either(rebuild(item.a, which, value, done), rebuild(item.b, which, value, done)); break;
        case Op::differ: out = differ(rebuild(item.a, which, value, done), rebuild(item.b, which, value, done)); break;
    }
    return done[of] = out;
}

Logic::Node Logic::with(Node of, const std::string& name, bool value) {
    const auto at = by_name_.find(name);
    if (of == unknown || at == by_name_.end()) return of;
    std::map<Node, Node> done;
    return rebuild(of, at->second, value, done);
}

bool Logic::depends(Node of, const std::string& name) const {
    const auto at = by_name_.find(name);
    if (of <= 1 || at == by_name_.end()) return false;
    std::set<Node> seen;
    std::vector<Node> open{of};
    while (!open.empty()) {
        const Node now = open.back();
        open.pop_back();
        if (now <= 1 || !seen.insert(now).second) continue;
        if (now == at->second) return true;
        const auto& item = items_[static_cast<size_t>(now)];
        if (item.op == Op::input) continue;
        open.push_back(item.a);
        if (item.op != Op::invert) open.push_back(item.b);
    }
    return false;
}

std::optional<bool> Logic::value(Node of) const {
    if (of < 0 || of > 1) return {};
    return of == 1;
}

bool Logic::write(Node of, BooleanFunction& out, std::map<Node, std::int16_t>& inputs, size_t& depth,
                  size_t level) const {
    if (out.code.size() > longest || level > 1000) return false;
    const auto& item = items_[static_cast<size_t>(of)];
    if (item.op == Op::constant || item.op == Op::input) {
        if (++depth > deepest_function) return false;
        if (item.op == Op::constant) {
            out.code.push_back(of ? BooleanFunction::op_one : BooleanFunction::op_zero);
            return true;
        }
        const auto [at, fresh] = inputs.try_emplace(item.a, static_cast<std::int16_t>(out.inputs.size()));
        if (fresh) out.inputs.push_back(names_[static_cast<size_t>(item.a)]);
        out.code.push_back(at->second);
        return out.inputs.size() <= 64;
    }
    if (!write(item.a, out, inputs, depth, level + 1)) return false;
    if (item.op == Op::invert) {
        out.code.push_back(BooleanFunction::op_not);
        return true;
    }
    if (!write(item.b, out, inputs, depth, level + 1)) return false;
    --depth;
    out.code.push_back(item.op == Op::both     ? BooleanFunction::op_and
                       : item.op == Op::either ? BooleanFunction::op_or
                                               : BooleanFunction::op_xor);
    return true;
}

std::optional<BooleanFunction> Logic::function(Node of) const {
    if (of == unknown) return {};
    BooleanFunction out;
    std::map<Node, std::int16_t> inputs;
    size_t depth = 0;
    if (!write(of, out, inputs, depth, 0)) return {};
    return out;
}

}  // namespace kp::models
