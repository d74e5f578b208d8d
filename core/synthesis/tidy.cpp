// SPDX-License-Identifier: GPL-3.0-or-later
// The logic is built anew from the outputs back: wires vanish, constants fold, what nobody reads is not built. Again
// while registers turn out to be constant. Linear in the graph each time.
#include "core/synthesis/tidy.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <deque>
#include <set>

namespace kp::synthesis {

namespace {

constexpr int most_rounds = 20;

class Tidier {
public:
    Tidier(Mapping& from, const std::unordered_map<std::uint32_t, Lit>& fixed)
        : from_(from), fixed_(fixed), done_(from.gates.size(), no_lit), state_(from.gates.size(), 0) {
        for (std::uint32_t i = 0; i < from.registers.size(); ++i)
            owner_[node_of(from.registers[i].q)] = {Owner::register_bit, i};
        for (std::uint32_t i = 0; i < from.carries.size(); ++i) {
            owner_[node_of(from.carries[i].sum)] = {Owner::carry, i};
            owner_[node_of(from.carries[i].carry_out)] = {Owner::carry, i};
        }
        for (std::uint32_t i = 0; i < from.boxes.size(); ++i)
            for (const auto& [pin, lit] : from.boxes[i].outputs) owner_[node_of(lit)] = {Owner::box, i};
    }

    Mapping run() {
        to_.top = from_.top;
        to_.messages = std::move(from_.messages);
        to_.ports = from_.ports;
        done_[0] = zero;
        for (auto& p : to_.ports)
            if (p.inside != no_lit) p.inside = translate(p.inside);
        for (auto& p : to_.ports) {
            if (p.boxed || p.value == no_lit) continue;
            p.value = translate(p.value);
            p.enable = translate(p.enable);
        }
        for (std::uint32_t i = 0; i < from_.boxes.size(); ++i)
            if (from_.boxes[i].wanted) want({Owner::box, i});
        while (!wanted_.empty()) {
            const auto next = wanted_.front();
            wanted_.pop_front();
            build(next);
        }
        for (const auto& [wires, message] : from_.open) told(wires, message);
        put_in_order();
        return std::move(to_);
    }

private:
    struct Owner {
        enum Kind : std::uint8_t { register_bit, carry, box } kind = register_bit;
        std::uint32_t at = 0;
        auto operator<=>(const Owner&) const = default;
    };

    void want(Owner o) {
        if (seen_.insert(o).second) wanted_.push_back(o);
    }

    void build(Owner o) {
        if (o.kind == Owner::register_bit) {
            auto r = from_.registers[o.at];
            for (auto* lit : {&r.q, &r.data, &r.clock, &r.enable, &r.clear, &r.preset}) *lit = translate(*lit);
            order_[0].push_back(o.at);
            to_.registers.push_back(std::move(r));
        } else {
            auto b = from_.boxes[o.at];
            for (auto& [pin, lit] : b.inputs) lit = translate(lit);
            for (auto& [pin, lit] : b.outputs) lit = translate(lit);
            order_[2].push_back(o.at);
            to_.boxes.push_back(std::move(b));
        }
    }

    /// Things are found from the outputs back; they are kept in the order of the source.
    template <class T>
    static void sort_by(std::vector<T>& things, const std::vector<std::uint32_t>& order) {
        std::vector<size_t> at(things.size());
        for (size_t i = 0; i < at.size(); ++i) at[i] = i;
        std::sort(at.begin(), at.end(), [&](size_t a, size_t b) { return order[a] < order[b]; });
        std::vector<T> out;
        for (const auto i : at) out.push_back(std::move(things[i]));
        things = std::move(out);
    }
    void put_in_order() {
        sort_by(to_.registers, order_[0]);
        sort_by(to_.carries, order_[1]);
        sort_by(to_.boxes, order_[2]);
    }

    void told(const Bits& wires, const Message& message) {
        for (const auto wire : wires)
            if (done_[node_of(wire)] != no_lit) {
                to_.messages.push_back(message);
                return;
            }
    }

    void loop(std::uint32_t node, const std::vector<std::uint32_t>& stack) {
        std::string through;
        int count = 0;
        for (auto at = stack.rbegin(); at != stack.rend(); ++at) {
            const auto name = from_.names.find(*at);
            if (name != from_.names.end() && count++ < 4) through += (through.empty() ? "" : ", ") + name->second;
            if (*at == node && at != stack.rbegin()) break;
        }
        if (loops_++ < 20)
            to_.messages.push_back({Severity::stop, Code::loop,
                                    said("Logic feeds itself without a register in between{}. Put a register into the "
                                         "loop, or take it apart.",
                                         (through.empty() ? std::string() : ", through " + through))});
        done_[node] = zero;
    }

    Lit translate(Lit of) {
        if (done_[node_of(of)] == no_lit) visit(node_of(of));
        return done_[node_of(of)] ^ (of & 1U);
    }

    void visit(std::uint32_t root) {
        std::vector<std::uint32_t> stack{root};
        while (!stack.empty()) {
            const auto n = stack.back();
            if (done_[n] != no_lit) {
                stack.pop_back();
                continue;
            }
            const auto& node = from_.gates.node(n);
            if (const auto same = fixed_.find(n); same != fixed_.end() && node.kind == Gates::both_of) {
                state_[n] = 1;
                if (!ready(same->second, stack)) continue;
                done_[n] = done_[node_of(same->second)] ^ (same->second & 1U);
                continue;
            }
            if (node.kind == Gates::from_outside) {
                const auto at = owner_.find(n);
                if (at != owner_.end() && at->second.kind == Owner::carry) {
                    state_[n] = 1;
                    carry(at->second.at, stack);
                } else {
                    outside(n);
                }
                continue;
            }
            if (node.kind == Gates::place && node.a == no_lit) {
                done_[n] = zero;
                continue;
            }
            state_[n] = 1;
            if (!ready(node.a, stack)) continue;
            if (node.kind == Gates::place) {
                done_[n] = done_[node_of(node.a)] ^ (node.a & 1U);
            } else {
                if (!ready(node.b, stack)) continue;
                done_[n] =
                    to_.gates.both(done_[node_of(node.a)] ^ (node.a & 1U), done_[node_of(node.b)] ^ (node.b & 1U));
            }
            name(n);
        }
    }

    /// Sum and carry of one bit, once its inputs are known: two that are equal carry themselves, two that are opposite
    /// the third.
    void carry(std::uint32_t which, std::vector<std::uint32_t>& stack) {
        auto c = from_.carries[which];
        for (const auto in : {c.a, c.b, c.carry_in})
            if (!ready(in, stack)) return;
        const auto sum = node_of(c.sum), out = node_of(c.carry_out);
        for (auto* in : {&c.a, &c.b, &c.carry_in}) *in = done_[node_of(*in)] ^ (*in & 1U);
        const Lit in[3] = {c.a, c.b, c.carry_in};
        for (size_t k = 0; k < 3; ++k) {
            const auto x = in[k], y = in[(k + 1) % 3], z = in[(k + 2) % 3];
            if (x != y && x != invert(y)) continue;
            done_[sum] = x == y ? z : invert(z);
            done_[out] = x == y ? x : z;
            return;
        }
        done_[sum] = c.sum = to_.gates.source();
        done_[out] = c.carry_out = to_.gates.source();
        name(sum);
        order_[1].push_back(which);
        to_.carries.push_back(c);
    }

    bool ready(Lit of, std::vector<std::uint32_t>& stack) {
        const auto n = node_of(of);
        if (done_[n] != no_lit) return true;
        if (state_[n] == 1) {
            loop(n, stack);
            return true;
        }
        stack.push_back(n);
        return false;
    }

    void outside(std::uint32_t n) {
        if (const auto at = fixed_.find(n); at != fixed_.end()) {
            done_[n] = at->second;
            return;
        }
        done_[n] = to_.gates.source();
        if (const auto at = owner_.find(n); at != owner_.end()) want(at->second);
        name(n);
    }

    void name(std::uint32_t n) {
        const auto at = from_.names.find(n);
        if (at != from_.names.end() && !is_constant(done_[n])) to_.names.emplace(node_of(done_[n]), at->second);
    }

    Mapping& from_;
    const std::unordered_map<std::uint32_t, Lit>& fixed_;
    Mapping to_;
    std::vector<Lit> done_;
    std::vector<std::uint8_t> state_;
    std::unordered_map<std::uint32_t, Owner> owner_;
    std::set<Owner> seen_;
    std::deque<Owner> wanted_;
    std::vector<std::uint32_t> order_[3];
    int loops_ = 0;
};

/// Registers that never leave one value.
std::unordered_map<std::uint32_t, Lit> constants_in(const Mapping& m) {
    std::unordered_map<std::uint32_t, Lit> out;
    for (const auto& r : m.registers) {
        if (r.latch) continue;
        const auto start = r.initial == '1' ? one : zero;
        const bool holds = r.data == r.q || r.enable == zero || is_constant(r.clock);
        Lit value = no_lit;
        // One without a first value begins at 0, as the part does after configuration.
        if ((is_constant(r.data) && start == r.data) || holds) value = start;
        if (value == no_lit || (value == zero && r.preset != zero) || (value == one && r.clear != zero)) continue;
        out.emplace(node_of(r.q), value);
    }
    return out;
}

}  // namespace

void tidy(Mapping& m, std::unordered_map<std::uint32_t, Lit> same) {
    auto fixed = std::move(same);
    for (int round = 0; round < most_rounds; ++round) {
        m = Tidier(m, fixed).run();
        fixed = constants_in(m);
        if (fixed.empty()) return;
    }
}

}  // namespace kp::synthesis
