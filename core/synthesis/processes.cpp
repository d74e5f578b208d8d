// SPDX-License-Identifier: GPL-3.0-or-later
// always and initial: what statements set becomes registers, memories, latches or logic. The asynchronous clear or
// preset of a register is the first condition of its process (IEEE 1364.1-2002, 5.2.2). Linear in what is set.
#include "core/synthesis/elaborator.hpp"
#include "core/base/said.hpp"

#include <algorithm>

namespace kp::synthesis {

namespace {

std::string bit_name(const Signal& s, size_t at) {
    std::string out = s.name + "_reg";
    const auto width = static_cast<size_t>(s.width());
    if (s.words > 0) out += "[" + std::to_string(s.first_word + static_cast<int>(at / width)) + "]";
    if (!s.shape.vector) return out;
    const auto p = static_cast<int>(at % width);
    const int index = s.shape.left >= s.shape.right ? s.shape.right + p : s.shape.right - p;
    return out + "[" + std::to_string(index) + "]";
}

}  // namespace

void Elaborator::always(const Item& item, Scope& scope) {
    const auto edges = std::count_if(item.events.begin(), item.events.end(),
                                     [](const source::Event& e) { return e.edge != source::Event::any; });
    if (edges != 0 && edges != static_cast<long>(item.events.size()))
        return fail(item.place, "An always waits for edges, or for values, not for both.");
    if (item.word == "always_ff" && edges == 0)
        return fail(item.place, "always_ff needs @(posedge …) or @(negedge …).");
    if (edges)
        clocked(item, scope);
    else
        unclocked(item, scope);
}

/// Takes off the conditions on asynchronous signals; gives what runs at the clock.
const Statement* Elaborator::asynchronous(const Item& item, Scope& scope, std::vector<Lit>& events,
                                          std::vector<Async>& out) {
    const auto* body = &item.body[0];
    while (events.size() > 1 && !bad()) {
        while (body->kind == Statement::block && body->parts.size() == 1) body = &body->parts[0];
        const auto needs = [&] {
            fail(body->place,
                 "With several edges an always begins with 'if' on the asynchronous one: its reset first, what the "
                 "clock does behind 'else'.");
            return nullptr;
        };
        if (body->kind != Statement::choose) return needs();
        Process look;
        look.clocked = true;
        process_ = &look;
        const auto when = truth(body->exprs[0], scope);
        const auto at = std::find(events.begin(), events.end(), when);
        process_ = nullptr;
        if (bad() || at == events.end()) return bad() ? nullptr : needs();
        events.erase(at);
        Async a;
        a.when = when;
        Process p;
        p.clocked = true;
        a.values = outcome(p, body->parts[0], scope);
        out.push_back(std::move(a));
        static const Statement empty;
        body = body->parts.size() > 1 ? &body->parts[1] : &empty;
    }
    return body;
}

SignalBits Elaborator::outcome(Process& p, const Statement& body, Scope& scope) {
    process_ = &p;
    run(body, scope);
    process_ = nullptr;
    auto out = p.layers[0].now;
    for (const auto& [signal, bits] : p.layers[0].next) out[signal] = bits;
    return out;
}

void Elaborator::clocked(const Item& item, Scope& scope) {
    std::vector<Lit> events;
    for (const auto& e : item.events) {
        const auto v = self(e.of, scope);
        if (bad()) return;
        if (v.width() != 1) return fail(item.place, "An edge is one of a single bit.");
        events.push_back(e.edge == source::Event::fall ? invert(v.bits[0]) : v.bits[0]);
    }
    std::vector<Async> asyncs;
    const auto* body = asynchronous(item, scope, events, asyncs);
    if (!body || bad()) return;
    Process p;
    p.clocked = true;
    auto all = outcome(p, *body, scope);
    if (!bad()) registers(std::move(all), events[0], asyncs, item.place);
}

void Elaborator::registers(SignalBits all, Lit clock, const std::vector<Async>& asyncs, SourcePlace place) {
    for (const auto& a : asyncs)
        for (const auto& [signal, bits] : a.values)
            all.emplace(signal, signal->bits.empty() ? Bits(signal->size(), zero) : signal->bits);
    for (auto& [signal, bits] : all) {
        if (signal->owner) memory_write(*signal->owner, all, clock, place);
        if (signal->local || signal->loop_variable) continue;
        for (size_t i = 0; i < bits.size() && !bad(); ++i) {
            RegisterBit r;
            r.data = bits[i];
            r.clock = clock;
            bool touched = bits[i] != signal->bits[i];
            for (const auto& a : asyncs) {
                const auto at = a.values.find(signal);
                const auto v = at == a.values.end() ? signal->bits[i] : at->second[i];
                if (v == signal->bits[i]) {
                    r.data = g_.choose(a.when, signal->bits[i], r.data);
                    continue;
                }
                touched = true;
                if (!is_constant(v))
                    return fail(place, said("'{}' is set to a value that is not a constant when its reset comes; a "
                                            "register can be cleared or preset only.",
                                            signal->name));
                if ((v == one ? r.clear : r.preset) != zero)
                    return fail(place,
                                said("'{}' is cleared by one signal and preset by another; no register has both.",
                                     signal->name));
                auto& line = v == one ? r.preset : r.clear;
                line = g_.either(line, a.when);
            }
            if (!touched) continue;
            r.name = bit_name(*signal, i);
            r.q = g_.source();
            r.initial = signal->initial.empty() ? 'x' : signal->initial[i];
            drive(signal->bits[i], r.q, one, place);
            m_.registers.push_back(std::move(r));
        }
    }
}

void Elaborator::memory_write(Signal& s, const SignalBits& all, Lit clock, SourcePlace place) {
    auto& memory = m_.memories[static_cast<size_t>(s.memory)];
    if (memory.write != zero)
        return fail(place,
                    said("The memory {} is written in two places; a memory cell has one port for that.", s.name));
    memory.clock = clock;
    memory.write = all.at(s.write)[0];
    memory.address = all.at(s.address);
    memory.data = all.at(s.data);
}

/// Nodes from `from` on that depend on what a process would have to remember.
std::vector<bool> Elaborator::remembering(const Process& p, std::uint32_t from) const {
    std::vector<bool> out(g_.size() - from, false);
    for (const auto& [signal, bits] : p.kept)
        for (const auto bit : bits) out[node_of(bit) - from] = true;
    for (auto n = from; n < g_.size(); ++n) {
        const auto& node = g_.node(n);
        if (node.kind != Gates::both_of) continue;
        for (const auto in : {node.a, node.b})
            if (node_of(in) >= from && out[node_of(in) - from]) out[n - from] = true;
    }
    return out;
}

void Elaborator::unclocked(const Item& item, Scope& scope) {
    const auto from = g_.size();
    Process p;
    const auto all = outcome(p, item.body[0], scope);
    if (bad()) return;
    const auto marks = remembering(p, from);
    for (auto& [signal, bits] : all) {
        if (signal->owner)
            return fail(item.place, said("The memory {} is written without a clock.", signal->owner->name));
        if (signal->local || signal->loop_variable) continue;
        const auto kept = p.kept.find(signal);
        for (size_t i = 0; i < bits.size(); ++i) {
            const auto old = kept == p.kept.end() ? no_lit : kept->second[i];
            if (bits[i] == old) continue;
            const auto node = node_of(bits[i]);
            if (old != no_lit && node >= from && node - from < marks.size() && marks[node - from])
                latch(*signal, i, bits[i], old, from, item);
            else
                drive(signal->bits[i], bits[i], one, item.place);
        }
    }
}

/// `of` with a source replaced, as far as its nodes are from this process.
Lit Elaborator::with(Lit of, Lit source, Lit value, std::uint32_t from, std::unordered_map<std::uint32_t, Lit>& done) {
    std::vector<std::uint32_t> todo{node_of(of)};
    while (!todo.empty()) {
        const auto n = todo.back();
        const auto node = g_.node(n);
        if (done.count(n)) {
            todo.pop_back();
        } else if (n == node_of(source)) {
            done[n] = value;
        } else if (n < from || node.kind != Gates::both_of) {
            done[n] = n * 2;
        } else if (!done.count(node_of(node.a))) {
            todo.push_back(node_of(node.a));
        } else if (!done.count(node_of(node.b))) {
            todo.push_back(node_of(node.b));
        } else {
            const auto a = done[node_of(node.a)] ^ (node.a & 1U), b = done[node_of(node.b)] ^ (node.b & 1U);
            done[n] = g_.both(a, b);
        }
    }
    return done[node_of(of)] ^ (of & 1U);
}

void Elaborator::latch(Signal& s, size_t bit, Lit value, Lit kept, std::uint32_t from, const Item& item) {
    std::unordered_map<std::uint32_t, Lit> zeros, ones;
    const auto low = with(value, kept, zero, from, zeros), high = with(value, kept, one, from, ones);
    const auto open = invert(g_.differ(low, high));
    if (open == one) return drive(s.bits[bit], low, one, item.place);
    if (item.word != "always_latch" && !s.latch_told) {
        s.latch_told = true;
        find(item.place, Severity::caution, Code::latch,
             said("'{}' keeps its value when no branch sets it: this is a latch. Set it in every branch, or before "
                  "them, if none is meant.",
                  s.name));
    }
    RegisterBit r;
    r.latch = true;
    r.name = bit_name(s, bit);
    r.q = g_.source();
    r.data = low;
    r.clock = open;
    r.initial = s.initial.empty() ? 'x' : s.initial[bit];
    drive(s.bits[bit], r.q, one, item.place);
    m_.registers.push_back(std::move(r));
}

void Elaborator::initial(const Item& item, Scope& scope) {
    Process p;
    p.initial = true;
    const auto all = outcome(p, item.body[0], scope);
    if (bad()) return;
    for (auto& [signal, bits] : all) {
        if (signal->local || signal->loop_variable) continue;
        signal->initial.resize(signal->size(), 'x');
        for (size_t i = 0; i < bits.size(); ++i) {
            if (bits[i] == signal->bits[i]) continue;
            if (!is_constant(bits[i]))
                return fail(item.place, said("The value '{}' begins with has to be a constant.", signal->name));
            signal->initial[i] = bits[i] == one ? '1' : '0';
        }
    }
}

}  // namespace kp::synthesis
