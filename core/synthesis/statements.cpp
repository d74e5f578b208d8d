// SPDX-License-Identifier: GPL-3.0-or-later
// Statements worked out symbolically: both ways of a condition are run, and what they set is chosen between. A case
// over few bits with constant labels becomes one table; others are tried in order. Work: statements run, times what
// each branch sets.
#include "core/synthesis/elaborator.hpp"

#include "core/base/text.hpp"
#include "core/base/said.hpp"

#include <algorithm>

namespace kp::synthesis {

namespace {
constexpr long long most_turns = 100'000;
constexpr size_t widest_table = 10;

Layer& top_of(Process& p) {
    return p.layers.back();
}
}  // namespace

const Bits* Elaborator::known(Signal& s, bool blocking) const {
    for (auto layer = process_->layers.rbegin(); layer != process_->layers.rend(); ++layer) {
        const auto& map = blocking ? layer->now : layer->next;
        if (const auto at = map.find(&s); at != map.end()) return &at->second;
    }
    return nullptr;
}

Bits Elaborator::current(Signal& s, bool blocking) {
    if (const auto* bits = known(s, blocking)) return *bits;
    return s.bits.empty() ? Bits(s.size(), zero) : s.bits;
}

/// What an assignment to a part leaves as it was.
Bits Elaborator::so_far(Signal& s, bool blocking) {
    if (const auto* bits = known(s, blocking)) return *bits;
    return base(s);
}

Bits Elaborator::base(Signal& s) {
    if (s.bits.empty()) return Bits(s.size(), zero);
    if (process_->clocked || process_->initial) return s.bits;
    auto& kept = process_->kept[&s];
    while (kept.size() < s.size()) kept.push_back(g_.source());
    return kept;
}

void Elaborator::put(Signal& s, Bits bits, bool blocking) {
    auto& layer = top_of(*process_);
    (blocking ? layer.now : layer.next)[&s] = std::move(bits);
}

void Elaborator::run(const Statement& s, Scope& scope) {
    if (bad()) return;
    if (!spend(s.place, 1)) return;
    switch (s.kind) {
        case Statement::block: return run_block(s, scope);
        case Statement::choose: return run_choice(s, scope);
        case Statement::select: return run_select(s, scope);
        case Statement::loop: return run_loop(s, scope);
        case Statement::repeat: {
            const auto n = constant_or_fail(s.exprs[0], scope, "How often a statement is repeated");
            if (n > most_turns) return fail(s.place, "This loop has more than 100,000 turns.");
            for (long long i = 0; i < n && !bad(); ++i) run(s.parts[0], scope);
            return;
        }
        case Statement::assign: return run_assign(s, scope);
        case Statement::declare: return run_declare(s, scope);
        case Statement::nothing: return;
    }
}

void Elaborator::run_block(const Statement& s, Scope& scope) {
    const bool own =
        std::any_of(s.parts.begin(), s.parts.end(), [](const Statement& p) { return p.kind == Statement::declare; });
    auto& inner = own ? *child(scope, s.word.empty() ? "block" : s.word, false) : scope;
    for (const auto& part : s.parts) {
        run(part, inner);
        if (bad()) return;
    }
}

void Elaborator::run_declare(const Statement& s, Scope& scope) {
    for (const auto& d : s.locals) {
        if (d.kind == Declaration::local_parameter) {
            parameter(d, scope, {});
            continue;
        }
        if (!d.words.empty()) return fail(d.place, "An array inside a block cannot be built; declare it outside.");
        auto* signal = local(d.name, shape_of(d.type, scope, d.place), d.place);
        Symbol symbol;
        symbol.kind = Symbol::signal;
        symbol.of = signal;
        scope.symbols[d.name] = symbol;
        if (!d.initial.empty()) put(*signal, assigned(d.initial[0], signal->width(), scope).bits, true);
    }
}

Layer Elaborator::branch(const Statement& s, Scope& scope) {
    process_->layers.emplace_back();
    run(s, scope);
    auto out = std::move(process_->layers.back());
    process_->layers.pop_back();
    return out;
}

void Elaborator::run_choice(const Statement& s, Scope& scope) {
    const auto when = truth(s.exprs[0], scope);
    if (bad()) return;
    if (is_constant(when)) {
        if (when == one)
            run(s.parts[0], scope);
        else if (s.parts.size() > 1)
            run(s.parts[1], scope);
        return;
    }
    std::vector<Layer> layers;
    layers.push_back(branch(s.parts[0], scope));
    if (s.parts.size() > 1) layers.push_back(branch(s.parts[1], scope));
    const std::vector<Lit> conditions{when};
    merge(conditions, layers);
}

std::vector<Signal*> Elaborator::set_in(const std::vector<Layer>& layers, bool blocking) {
    std::vector<Signal*> out;
    for (const auto& layer : layers)
        for (const auto& [signal, bits] : blocking ? layer.now : layer.next) out.push_back(signal);
    std::sort(out.begin(), out.end(), BySerial());
    out.erase(std::unique(out.begin(), out.end()), out.end());
    return out;
}

std::vector<Bits> Elaborator::versions(Signal& s, const std::vector<Layer>& layers, bool blocking) {
    std::vector<Bits> out;
    bool all = true;
    for (const auto& layer : layers) {
        const auto& map = blocking ? layer.now : layer.next;
        const auto at = map.find(&s);
        all &= at != map.end();
        out.push_back(at == map.end() ? Bits() : at->second);
    }
    // Where everything sets it, what it was before is not asked for: asking would make it remember.
    const auto before = s.any_base ? Bits(s.size(), no_lit) : so_far(s, blocking);
    for (auto& bits : out)
        if (bits.empty()) bits = before;
    out.push_back(before);
    return out;
}

/// Of several branches the first whose condition holds; one more branch than conditions is what holds otherwise.
void Elaborator::merge(std::span<const Lit> when, std::vector<Layer>& layers) {
    if (bad()) return;
    for (const bool blocking : {true, false})
        for (auto* signal : set_in(layers, blocking)) {
            const auto all = versions(*signal, layers, blocking);
            Bits out = layers.size() > when.size() ? all[when.size()] : all.back();
            for (size_t k = when.size(); k-- > 0;)
                for (size_t i = 0; i < out.size(); ++i) {
                    const auto bit = all[k][i];
                    out[i] = bit == no_lit ? out[i] : out[i] == no_lit ? bit : g_.choose(when[k], bit, out[i]);
                }
            for (auto& bit : out)
                if (bit == no_lit) bit = zero;
            put(*signal, std::move(out), blocking);
        }
}

/// The branch that stands at the value of `at`; layers.size() for none.
void Elaborator::merge_table(std::span<const Lit> at, const std::vector<size_t>& arm_of, std::vector<Layer>& layers) {
    for (const bool blocking : {true, false})
        for (auto* signal : set_in(layers, blocking)) {
            const auto all = versions(*signal, layers, blocking);
            Bits out(signal->size(), zero), of(arm_of.size());
            for (size_t i = 0; i < out.size(); ++i) {
                for (size_t v = 0; v < of.size(); ++v) of[v] = all[arm_of[v]][i];
                out[i] = pick(at, of);
                if (out[i] == no_lit) out[i] = zero;
            }
            put(*signal, std::move(out), blocking);
        }
}

Lit Elaborator::label_match(const Value& at, const Value& label, const std::string& kind) {
    std::vector<Lit> same;
    for (size_t i = 0; i < at.bits.size(); ++i) {
        const char odd = label.odd.empty() ? '0' : label.odd[i];
        if (odd == 'z' && kind != "case") continue;
        if (odd == 'x' && kind == "casex") continue;
        if (odd != '0') return zero;  // never equal to what a circuit has
        same.push_back(invert(g_.differ(at.bits[i], label.bits[i])));
    }
    return g_.all(same);
}

bool Elaborator::covers_all(const Value& at, const std::vector<std::vector<Value>>& labels) {
    size_t n = at.bits.size();
    while (n > 0 && at.bits[n - 1] == zero) --n;
    if (n > 12) return false;
    std::set<long long> seen;
    for (const auto& arm : labels)
        for (const auto& label : arm)
            if (const auto v = number_in(Value{label.bits, false, label.odd, {}}); v && *v >= 0 && *v < 1LL << n)
                seen.insert(*v);
    return seen.size() == size_t{1} << n;
}

void Elaborator::run_select(const Statement& s, Scope& scope) {
    Width as = width_of(s.exprs[0], scope);
    for (const auto& arm : s.labels)
        for (const auto& label : arm) {
            const auto w = width_of(label, scope);
            as = {std::max(as.bits, w.bits), as.is_signed && w.is_signed};
        }
    const auto at = value(s.exprs[0], as, scope);
    std::vector<std::vector<Value>> labels;
    size_t count = 0;
    for (const auto& arm : s.labels) {
        labels.emplace_back();
        for (const auto& label : arm) labels.back().push_back(value(label, as, scope));
        count += arm.size();
    }
    if (bad()) return;
    if (count > 3 && run_table(s, at, labels, scope)) return;
    std::vector<Lit> when;
    for (const auto& arm : labels) {
        std::vector<Lit> any;
        for (const auto& label : arm) any.push_back(label_match(at, label, s.word));
        when.push_back(arm.empty() ? no_lit : g_.any(any));
    }
    const bool has_default = std::find(when.begin(), when.end(), no_lit) != when.end();
    if (!has_default && !when.empty() && covers_all(at, labels)) {
        // What no label names cannot come, so the last one holds where none before it does.
        for (size_t k = when.size(); k-- > 0;)
            if (when[k] != zero) {
                when[k] = one;
                break;
            }
    }
    run_chain(s, when, scope);
}

/// One table over the selector; false when the labels do not allow it.
bool Elaborator::run_table(const Statement& s, const Value& at, const std::vector<std::vector<Value>>& labels,
                           Scope& scope) {
    size_t n = at.bits.size();
    while (n > 0 && at.bits[n - 1] == zero) --n;
    if (n == 0 || n > widest_table || std::all_of(at.bits.begin(), at.bits.end(), is_constant)) return false;
    const auto none = s.parts.size();
    std::vector<size_t> arm_of(size_t{1} << n, none);
    size_t otherwise = none;
    for (size_t k = 0; k < labels.size(); ++k) {
        if (labels[k].empty()) otherwise = k;
        for (const auto& label : labels[k]) {
            if (!std::all_of(label.bits.begin(), label.bits.end(), is_constant)) return false;
            for (const char c : label.odd)
                if (c != '0' && s.word != "case") return false;
            const auto v = number_in(Value{label.bits, false, label.odd, {}});
            if (v && *v >= 0 && *v < static_cast<long long>(arm_of.size()) && arm_of[static_cast<size_t>(*v)] == none)
                arm_of[static_cast<size_t>(*v)] = k;
        }
    }
    std::vector<Layer> layers;
    for (const auto& part : s.parts) layers.push_back(branch(part, scope));
    if (bad()) return true;
    const bool gap = std::find(arm_of.begin(), arm_of.end(), none) != arm_of.end();
    if (gap)
        for (auto& arm : arm_of)
            if (arm == none) arm = otherwise;
    merge_table(std::span(at.bits).first(n), arm_of, layers);
    return true;
}

void Elaborator::run_chain(const Statement& s, const std::vector<Lit>& when, Scope& scope) {
    std::vector<Lit> conditions;
    std::vector<size_t> arms;
    size_t otherwise = s.parts.size();
    for (size_t k = 0; k < when.size(); ++k) {
        if (when[k] == no_lit) {
            otherwise = k;
        } else if (when[k] == one) {
            otherwise = k;
            break;
        } else if (when[k] != zero) {
            conditions.push_back(when[k]);
            arms.push_back(k);
        }
    }
    if (conditions.empty()) {
        if (otherwise < s.parts.size()) run(s.parts[otherwise], scope);
        return;
    }
    std::vector<Layer> layers;
    for (const auto k : arms) layers.push_back(branch(s.parts[k], scope));
    if (otherwise < s.parts.size()) layers.push_back(branch(s.parts[otherwise], scope));
    merge(conditions, layers);
}

void Elaborator::run_loop(const Statement& s, Scope& scope) {
    auto* inner = &scope;
    const auto& first = s.parts[0];
    if (first.kind == Statement::declare) inner = child(scope, "loop", false);
    run(first, *inner);
    if (first.kind == Statement::assign && first.exprs[0].kind == Expr::name)
        if (auto* symbol = lookup(first.exprs[0].word, *inner, s.place); symbol && symbol->of)
            symbol->of->loop_variable = true;
    for (long long turn = 0; !bad(); ++turn) {
        const auto go = truth(s.exprs[0], *inner);
        if (bad() || go == zero) return;
        if (go != one) return fail(s.place, "How often this loop runs has to be known when it is built.");
        if (turn >= most_turns) return fail(s.place, "This loop has more than 100,000 turns.");
        run(s.parts[2], *inner);
        run(s.parts[1], *inner);
    }
}

void Elaborator::run_assign(const Statement& s, Scope& scope) {
    std::vector<const Expr*> targets;
    if (s.exprs[0].kind == Expr::concat)
        for (auto e = s.exprs[0].args.rbegin(); e != s.exprs[0].args.rend(); ++e) targets.push_back(&*e);
    else
        targets.push_back(&s.exprs[0]);
    std::vector<Select> parts;
    int width = 0;
    for (const auto* e : targets) {
        auto part = select(*e, scope);
        if (!part) return;
        width += part->width;
        parts.push_back(std::move(*part));
    }
    const auto v = assigned(s.exprs[1], width, scope);
    if (bad()) return;
    for (const auto l : v.drive)
        if (l != one)
            return fail(s.place, "A value that is not driven (z) can be built by an assign outside of always only.");
    int at = 0;
    for (const auto& part : parts) {
        Value own;
        own.bits.assign(v.bits.begin() + at, v.bits.begin() + at + part.width);
        at += part.width;
        store(part, own, s.blocking, s.place);
    }
}

Value Elaborator::function(const Expr& e, Symbol& s, Scope& scope) {
    const auto code = s.code;
    if (!calling_.insert(code.get()).second) {
        fail(e.place, said("The function '{}' calls itself; a circuit has no recursion.", e.word), Code::recursion);
        return {};
    }
    auto& inner = *child(*s.home, e.word, false);
    Process own;
    auto* outer = process_;
    std::vector<std::pair<Signal*, Bits>> given;
    if (e.args.size() != code->arguments.size())
        fail(e.place, said("The function '{}' takes {}, not {}.", e.word, counted(code->arguments.size(), "value"),
                           e.args.size()));
    const auto add = [&](const std::string& name, const source::DataType& type, SourcePlace place) {
        Symbol symbol;
        symbol.kind = Symbol::signal;
        symbol.of = local(name, shape_of(type, *s.home, place), place);
        inner.symbols[name] = symbol;
        return symbol.of;
    };
    for (size_t k = 0; k < code->arguments.size() && !bad(); ++k) {
        const auto& d = code->arguments[k];
        auto* argument = add(d.name, d.type, d.place);
        given.emplace_back(argument, assigned(e.args[k], argument->width(), scope).bits);
    }
    auto* result = add(code->name, code->type, code->place);
    if (!outer) process_ = &own;
    for (auto& [signal, bits] : given) put(*signal, std::move(bits), true);
    Statement locals;
    locals.locals = code->locals;
    if (!bad()) run_declare(locals, inner);
    for (const auto& part : code->body.parts)
        if (!bad()) run(part, inner);
    Value out;
    out.bits = current(*result, true);
    out.is_signed = result->shape.is_signed;
    process_ = outer;
    calling_.erase(code.get());
    return out;
}

}  // namespace kp::synthesis
