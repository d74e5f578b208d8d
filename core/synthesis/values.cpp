// SPDX-License-Identifier: GPL-3.0-or-later
// Expressions: a width and a sign are found from the leaves up, then given down again to those whose operator passes
// them on (IEEE 1364-2005, 5.4.1, table 5-22, and 5.5). Linear in the expression for operators that pass widths on.
#include "core/synthesis/elaborator.hpp"

#include "core/base/text.hpp"
#include "core/base/said.hpp"

#include <algorithm>

namespace kp::synthesis {

namespace {

bool is_compare(const std::string& op) {
    return op == "==" || op == "!=" || op == "===" || op == "!==" || op == "<" || op == "<=" || op == ">" || op == ">=";
}
bool is_shift(const std::string& op) {
    return op == "<<" || op == ">>" || op == "<<<" || op == ">>>";
}
bool is_reduction(const std::string& op) {
    return op == "&" || op == "|" || op == "^" || op == "~&" || op == "~|" || op == "~^" || op == "^~" || op == "!";
}

}  // namespace

Symbol* Elaborator::lookup(const std::string& name, Scope& scope, SourcePlace place) {
    for (Scope* s = &scope; s; s = s->parent)
        if (const auto at = s->symbols.find(name); at != s->symbols.end()) return &at->second;
    if (const auto at = outside_.symbols.find(name); at != outside_.symbols.end()) return &at->second;
    fail(place, said("'{}' is not declared; declare it, or mend its spelling.", name), Code::undeclared);
    return nullptr;
}

/// A function's own name is its result inside of it, and the function still where it is called.
Symbol* Elaborator::lookup_function(const Expr& e, Scope& scope) {
    for (Scope* s = &scope; s; s = s->parent)
        if (const auto at = s->symbols.find(e.word); at != s->symbols.end() && at->second.kind == Symbol::function)
            return &at->second;
    const auto at = outside_.symbols.find(e.word);
    if (at != outside_.symbols.end() && at->second.kind == Symbol::function) return &at->second;
    if (lookup(e.word, scope, e.place)) fail(e.place, said("'{}' is not a function.", e.word));
    return nullptr;
}

Value Elaborator::fit(Value v, int width, bool sign) {
    const auto w = static_cast<size_t>(width);
    const auto pad = sign && !v.bits.empty() ? v.bits.back() : zero;
    v.bits.resize(w, pad);
    if (!v.odd.empty()) v.odd.resize(w, sign ? v.odd.back() : '0');
    if (!v.drive.empty()) v.drive.resize(w, one);
    v.is_signed = sign;
    return v;
}

std::optional<long long> Elaborator::number_in(const Value& v) {
    std::uint64_t out = 0;
    for (const char c : v.odd)
        if (c != '0') return std::nullopt;
    for (size_t i = 0; i < v.bits.size(); ++i) {
        if (!is_constant(v.bits[i])) return std::nullopt;
        if (i < 64) out |= std::uint64_t{v.bits[i]} << i;
        const bool sign = v.is_signed && v.bits[63 < i ? 63 : i] == one;
        if (i >= 63 && v.bits[i] != (sign ? one : zero)) return std::nullopt;
    }
    if (v.is_signed && !v.bits.empty() && v.bits.back() == one && v.bits.size() < 64)
        out |= ~std::uint64_t{0} << v.bits.size();
    return static_cast<long long>(out);
}

long long Elaborator::constant_or_fail(const Expr& e, Scope& scope, const char* what) {
    const auto whole = self(e, scope);
    const auto v = bad() ? std::nullopt : number_in(whole);
    if (!v && !bad()) {
        const bool known = whole.odd.empty() && std::all_of(whole.bits.begin(), whole.bits.end(), is_constant);
        fail(e.place, std::string(what) + (known ? " is a number of more than 63 bits." : " has to be a constant."));
    }
    return v.value_or(0);
}

Width Elaborator::width_of(const Expr& e, Scope& scope) {
    if (!spend(e.place, 1)) return {};
    switch (e.kind) {
        case Expr::number: return {static_cast<int>(e.value.bits.size()), e.value.is_signed};
        case Expr::text: return {static_cast<int>(std::max<size_t>(1, e.word.size()) * 8), false};
        case Expr::name: {
            const auto* s = lookup(e.word, scope, e.place);
            if (!s) return {};
            if (s->kind == Symbol::signal) return {s->of->width(), s->of->shape.is_signed};
            return {std::max(1, s->value.width()), s->value.is_signed};
        }
        case Expr::index:
        case Expr::part:
        case Expr::part_up:
        case Expr::part_down: {
            const auto s = select(e, scope);
            return s ? Width{s->width, s->whole && s->of && s->of->shape.is_signed} : Width{};
        }
        case Expr::unary: return is_reduction(e.word) ? Width{1, false} : width_of(e.args[0], scope);
        case Expr::binary: {
            if (is_compare(e.word) || e.word == "&&" || e.word == "||") return {1, false};
            const auto a = width_of(e.args[0], scope);
            if (is_shift(e.word) || e.word == "**") return a;
            const auto b = width_of(e.args[1], scope);
            return {std::max(a.bits, b.bits), a.is_signed && b.is_signed};
        }
        case Expr::choice: {
            const auto a = width_of(e.args[1], scope), b = width_of(e.args[2], scope);
            return {std::max(a.bits, b.bits), a.is_signed && b.is_signed};
        }
        case Expr::concat: {
            long long sum = 0;
            for (const auto& arg : e.args) sum += width_of(arg, scope).bits;
            if (sum > 1 << 20) fail(e.place, "These joined values have more than a million bits.");
            return {static_cast<int>(sum), false};
        }
        case Expr::repeat: {
            const auto n = constant_or_fail(e.args[0], scope, "How often something is repeated");
            const auto w = width_of(e.args[1], scope).bits;
            if (n < 0 || n * w > 1 << 20) fail(e.place, said("A value cannot be repeated {}.", counted(n, "time")));
            return {bad() ? 1 : static_cast<int>(n) * w, false};
        }
        case Expr::call: return width_of_call(e, scope);
    }
    return {};
}

Width Elaborator::width_of_call(const Expr& e, Scope& scope) {
    if (e.word == "$signed" || e.word == "$unsigned")
        return {e.args.empty() ? 1 : width_of(e.args[0], scope).bits, e.word == "$signed"};
    if (e.word == "$clog2" || e.word == "$bits" || e.word == "$countones") return {32, true};
    if (e.word == "$onehot" || e.word == "$onehot0") return {1, false};
    if (e.word[0] == '$') {
        fail(e.place, said("Nothing can be built from {}.", e.word), Code::cannot_build);
        return {};
    }
    const auto* s = lookup_function(e, scope);
    if (!s) return {};
    const auto shape = shape_of(s->code->type, *s->home, e.place);
    return {shape.width(), shape.is_signed};
}

Value Elaborator::self(const Expr& e, Scope& scope) {
    const auto w = width_of(e, scope);
    return bad() ? Value{Bits{zero}, false, {}, {}} : value(e, w, scope);
}

/// What is assigned to `width` bits.
Value Elaborator::assigned(const Expr& e, int width, Scope& scope) {
    auto w = width_of(e, scope);
    const int own = w.bits;
    w.bits = std::max(w.bits, width);
    if (bad() || own > 1 << 20) return {Bits(static_cast<size_t>(width), zero), false, {}, {}};
    return fit(value(e, w, scope), width, w.is_signed);
}

Value Elaborator::value(const Expr& e, Width as, Scope& scope) {
    if (bad()) return {Bits(static_cast<size_t>(as.bits), zero), as.is_signed, {}, {}};
    if (!spend(e.place, 1 + static_cast<size_t>(as.bits) / 16))
        return {Bits(static_cast<size_t>(as.bits), zero), as.is_signed, {}, {}};
    switch (e.kind) {
        case Expr::number: return number(e, as);
        case Expr::text: {
            Value v;
            for (auto c = e.word.rbegin(); c != e.word.rend(); ++c)
                for (int k = 0; k < 8; ++k) v.bits.push_back((static_cast<unsigned char>(*c) >> k) & 1 ? one : zero);
            return fit(v, as.bits, as.is_signed);
        }
        case Expr::name:
        case Expr::index:
        case Expr::part:
        case Expr::part_up:
        case Expr::part_down: {
            const auto s = select(e, scope);
            if (!s) return {Bits(static_cast<size_t>(as.bits), zero), as.is_signed, {}, {}};
            auto v = read(*s, e.place);
            return fit(std::move(v), as.bits, as.is_signed);
        }
        case Expr::unary: return unary(e, as, scope);
        case Expr::binary: return binary(e, as, scope);
        case Expr::choice: return choice(e, as, scope);
        case Expr::concat:
        case Expr::repeat: return fit(joined(e, scope), as.bits, as.is_signed);
        case Expr::call: return fit(call(e, scope), as.bits, as.is_signed);
    }
    return {};
}

Value Elaborator::number(const Expr& e, Width as) {
    Value v;
    v.is_signed = e.value.is_signed;
    const auto& digits = e.value.bits;
    const auto n = e.value.fill ? static_cast<size_t>(as.bits) : digits.size();
    bool odd = false;
    for (size_t i = 0; i < n; ++i) {
        const char c = e.value.fill ? digits[0] : digits[n - 1 - i];
        v.bits.push_back(c == '1' ? one : zero);
        v.odd += c == 'x' || c == 'z' ? c : '0';
        v.drive.push_back(c == 'z' ? zero : one);
        odd |= c == 'x' || c == 'z';
    }
    if (!odd) v.odd.clear();
    if (v.odd.find('z') == std::string::npos) v.drive.clear();
    return fit(std::move(v), as.bits, as.is_signed);
}

Lit Elaborator::truth(const Expr& e, Scope& scope) {
    return g_.any(self(e, scope).bits);
}

Value Elaborator::unary(const Expr& e, Width as, Scope& scope) {
    Value out;
    if (is_reduction(e.word)) {
        const auto v = self(e.args[0], scope).bits;
        const auto& op = e.word;
        Lit bit = op == "&" || op == "~&" ? g_.all(v) : op == "|" || op == "~|" || op == "!" ? g_.any(v) : g_.odd(v);
        if (op[0] == '~' || op == "!" || op == "^~") bit = invert(bit);
        out.bits = {bit};
        return fit(out, as.bits, false);
    }
    auto v = value(e.args[0], as, scope);
    v.odd.clear();
    v.drive.clear();
    if (e.word == "~")
        for (auto& b : v.bits) b = invert(b);
    if (e.word == "-") v.bits = negate(v.bits);
    return v;
}

Value Elaborator::binary(const Expr& e, Width as, Scope& scope) {
    const auto& op = e.word;
    Value out;
    if (op == "&&" || op == "||") {
        const auto a = truth(e.args[0], scope);
        const auto b = truth(e.args[1], scope);
        out.bits = {op == "&&" ? g_.both(a, b) : g_.either(a, b)};
        return fit(out, as.bits, false);
    }
    if (is_compare(op)) return fit(compare(e, scope), as.bits, false);
    if (is_shift(op)) return shift(e, as, scope);
    const auto a = value(e.args[0], as, scope).bits;
    const auto b = op == "**" ? self(e.args[1], scope).bits : value(e.args[1], as, scope).bits;
    if (bad()) return {Bits(static_cast<size_t>(as.bits), zero), as.is_signed, {}, {}};
    work_place_ = e.place;
    out.is_signed = as.is_signed;
    if (op == "+") {
        out.bits = add(a, b, zero);
    } else if (op == "-") {
        Bits turned;
        for (const auto bit : b) turned.push_back(invert(bit));
        out.bits = add(a, turned, one);
    } else if (op == "*") {
        out.bits = multiply(a, b);
    } else if (op == "/" || op == "%") {
        out.bits = divide(a, b, as.is_signed, op == "%", e.place);
    } else if (op == "**") {
        out.bits = power(a, b, e.place);
    } else {
        for (size_t i = 0; i < a.size(); ++i)
            out.bits.push_back(op == "&"   ? g_.both(a[i], b[i])
                               : op == "|" ? g_.either(a[i], b[i])
                               : op == "^" ? g_.differ(a[i], b[i])
                                           : invert(g_.differ(a[i], b[i])));
    }
    out.bits.resize(static_cast<size_t>(as.bits), zero);
    return out;
}

Value Elaborator::compare(const Expr& e, Scope& scope) {
    const auto a = width_of(e.args[0], scope), b = width_of(e.args[1], scope);
    const Width as{std::max(a.bits, b.bits), a.is_signed && b.is_signed};
    const auto x = value(e.args[0], as, scope).bits, y = value(e.args[1], as, scope).bits;
    const auto& op = e.word;
    Value out;
    if (op == "==" || op == "===")
        out.bits = {equal(x, y)};
    else if (op == "!=" || op == "!==")
        out.bits = {invert(equal(x, y))};
    else if (op == "<")
        out.bits = {less(x, y, as.is_signed)};
    else if (op == ">")
        out.bits = {less(y, x, as.is_signed)};
    else if (op == "<=")
        out.bits = {invert(less(y, x, as.is_signed))};
    else
        out.bits = {invert(less(x, y, as.is_signed))};
    return out;
}

Value Elaborator::shift(const Expr& e, Width as, Scope& scope) {
    auto v = value(e.args[0], as, scope);
    const auto by = self(e.args[1], scope).bits;
    const bool left = e.word == "<<" || e.word == "<<<";
    const auto fill = e.word == ">>>" && as.is_signed && !v.bits.empty() ? v.bits.back() : zero;
    const auto n = v.bits.size();
    v.odd.clear();
    v.drive.clear();
    Lit beyond = zero;
    for (size_t k = 0; k < by.size(); ++k) {
        if (k >= 31 || (size_t{1} << k) >= n) {
            beyond = g_.either(beyond, by[k]);
            continue;
        }
        const auto step = size_t{1} << k;
        Bits moved(n, fill);
        for (size_t i = 0; i < n; ++i) {
            if (left && i >= step) moved[i] = v.bits[i - step];
            if (!left && i + step < n) moved[i] = v.bits[i + step];
        }
        for (size_t i = 0; i < n; ++i) v.bits[i] = g_.choose(by[k], moved[i], v.bits[i]);
    }
    for (auto& bit : v.bits) bit = g_.choose(beyond, fill, bit);
    return v;
}

Value Elaborator::choice(const Expr& e, Width as, Scope& scope) {
    const auto c = truth(e.args[0], scope);
    if (c == one) return value(e.args[1], as, scope);
    if (c == zero) return value(e.args[2], as, scope);
    const auto a = value(e.args[1], as, scope), b = value(e.args[2], as, scope);
    Value out;
    out.is_signed = as.is_signed;
    const bool drives = !a.drive.empty() || !b.drive.empty();
    for (size_t i = 0; i < a.bits.size() && i < b.bits.size(); ++i) {
        const auto when_a = a.drive.empty() ? one : a.drive[i], when_b = b.drive.empty() ? one : b.drive[i];
        // What is not known or not driven may be anything: the other value costs nothing.
        const bool free_a = when_a == zero || (!a.odd.empty() && a.odd[i] == 'x');
        const bool free_b = when_b == zero || (!b.odd.empty() && b.odd[i] == 'x');
        out.bits.push_back(free_a ? b.bits[i] : free_b ? a.bits[i] : g_.choose(c, a.bits[i], b.bits[i]));
        if (drives) out.drive.push_back(g_.choose(c, when_a, when_b));
    }
    return out;
}

Value Elaborator::joined(const Expr& e, Scope& scope) {
    Value out;
    const auto append = [&](const Value& v) {
        if (!v.odd.empty() || !out.odd.empty()) {
            out.odd.resize(out.bits.size(), '0');
            out.odd += v.odd.empty() ? std::string(v.bits.size(), '0') : v.odd;
        }
        if (!v.drive.empty() || !out.drive.empty()) {
            out.drive.resize(out.bits.size(), one);
            const auto more = v.drive.empty() ? Bits(v.bits.size(), one) : v.drive;
            out.drive.insert(out.drive.end(), more.begin(), more.end());
        }
        out.bits.insert(out.bits.end(), v.bits.begin(), v.bits.end());
    };
    if (e.kind == Expr::repeat) {
        const auto n = constant_or_fail(e.args[0], scope, "How often something is repeated");
        const auto v = self(e.args[1], scope);
        for (long long i = 0; i < n && !bad(); ++i) append(v);
        return out;
    }
    for (auto arg = e.args.rbegin(); arg != e.args.rend(); ++arg) {
        if (arg->kind == Expr::number && (arg->value.fill || !arg->value.sized) && e.args.size() > 1)
            fail(arg->place, "A number among joined values needs a size, such as 4'd3.");
        append(self(*arg, scope));
    }
    return out;
}

Value Elaborator::call(const Expr& e, Scope& scope) {
    if (e.word[0] == '$') return system_call(e, scope);
    auto* s = lookup_function(e, scope);
    return s ? function(e, *s, scope) : Value{};
}

Value Elaborator::system_call(const Expr& e, Scope& scope) {
    if (e.args.size() != 1) {
        fail(e.place, e.word + " takes one value.");
        return {};
    }
    Value out;
    if (e.word == "$signed" || e.word == "$unsigned") {
        out = self(e.args[0], scope);
        out.is_signed = e.word == "$signed";
        return out;
    }
    const auto number_value = [&](long long n) {
        for (int k = 0; k < 32; ++k) out.bits.push_back((n >> k) & 1 ? one : zero);
        out.is_signed = true;
        return out;
    };
    if (e.word == "$bits") {
        const auto* s = e.args[0].kind == Expr::name ? lookup(e.args[0].word, scope, e.place) : nullptr;
        if (s && s->kind == Symbol::signal) return number_value(static_cast<long long>(s->of->size()));
        return number_value(width_of(e.args[0], scope).bits);
    }
    if (e.word == "$clog2") {
        auto n = constant_or_fail(e.args[0], scope, "The argument of $clog2") - 1;
        long long bits = 0;
        for (; n > 0; n >>= 1) ++bits;
        return number_value(bits);
    }
    // Counting: a tree of sums.
    std::vector<Bits> parts;
    for (const auto bit : self(e.args[0], scope).bits) parts.push_back({bit});
    while (parts.size() > 1) {
        std::vector<Bits> sums;
        for (size_t i = 0; i + 1 < parts.size(); i += 2) {
            auto a = parts[i], b = parts[i + 1];
            const auto n = std::max(a.size(), b.size()) + 1;
            a.resize(n, zero);
            b.resize(n, zero);
            sums.push_back(add(a, b, zero));
        }
        if (parts.size() % 2) sums.push_back(parts.back());
        parts = std::move(sums);
    }
    out.bits = parts.empty() ? Bits{zero} : parts[0];
    if (e.word == "$countones") {
        out.is_signed = true;
        out.bits.resize(32, zero);
        return out;
    }
    Bits two(out.bits.size(), zero), one_value(out.bits.size(), zero);
    one_value[0] = one;
    out.bits = {e.word == "$onehot" ? equal(out.bits, one_value) : invert(less(one_value, out.bits, false))};
    return out;
}

}  // namespace kp::synthesis
