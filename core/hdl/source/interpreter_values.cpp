// SPDX-License-Identifier: GPL-3.0-or-later
// Expressions on plain bits, by the rules of IEEE 1364-2005, 5.4 and 5.5. Written for its own sake, without an eye on
// the mapper: the two are held against each other.
#include "core/hdl/source/interpreter_state.hpp"
#include "core/base/said.hpp"

#include <algorithm>

namespace kp::source {

using State = Interpreter::State;

const State::Number* State::constant(const std::string& name, Frame& frame) const {
    for (auto* f = &frame; f; f = f->parent) {
        if (f->variables.count(name)) return nullptr;
        if (const auto at = f->constants.find(name); at != f->constants.end()) return &at->second;
    }
    return nullptr;
}

State::Variable* State::variable(const std::string& name, Frame& frame) const {
    for (auto* f = &frame; f; f = f->parent) {
        if (const auto at = f->variables.find(name); at != f->variables.end()) return at->second;
        if (f->constants.count(name)) return nullptr;
    }
    return nullptr;
}

State::Bits Interpreter::State::resized(Bits b, int width, bool sign) {
    b.resize(static_cast<size_t>(width), sign && !b.empty() ? b.back() : std::uint8_t{0});
    return b;
}

long long Interpreter::State::to_whole(const Number& n) {
    long long out = 0;
    for (size_t i = 0; i < 64; ++i) {
        const auto bit = i < n.bits.size() ? n.bits[i] : n.is_signed && !n.bits.empty() ? n.bits.back() : 0;
        if (bit) out |= static_cast<long long>(1ULL << i);
    }
    return out;
}

long long Interpreter::State::whole(const Expr& e, Frame& frame) {
    return to_whole(self(e, frame));
}

bool Interpreter::State::truth(const Expr& e, Frame& frame) {
    const auto n = self(e, frame);
    return std::find(n.bits.begin(), n.bits.end(), 1) != n.bits.end();
}

/// The bits an expression with selects stands for.
State::Target Interpreter::State::target(const Expr& e, Frame& frame) {
    Target out;
    if (e.kind == Expr::concat) {
        for (auto arg = e.args.rbegin(); arg != e.args.rend(); ++arg) {
            const auto part = target(*arg, frame);
            out.insert(out.end(), part.begin(), part.end());
        }
        return out;
    }
    const auto* base = &e;
    while (base->kind != Expr::name && !base->args.empty()) base = &base->args[0];
    auto* v = base->kind == Expr::name ? variable(base->word, frame) : nullptr;
    if (!v) {
        fail(e.place, said("'{}' is not a signal.", base->word));
        return out;
    }
    const auto w = v->kind.width();
    if (e.kind == Expr::name) {
        out.push_back({v, 0, static_cast<long>(v->bits.size())});
        return out;
    }
    if (e.kind == Expr::index && v->words > 0 && e.args[0].kind == Expr::name) {
        const auto word = whole(e.args[1], frame) - v->first_word;
        out.push_back({v, word < 0 || word >= v->words ? -1 : static_cast<long>(word) * w, w});
        return out;
    }
    const auto inner = target(e.args[0], frame);
    const bool falls = v->kind.left >= v->kind.right;
    const auto position = [&](long long index) { return falls ? index - v->kind.right : v->kind.right - index; };
    long long low = 0, count = 1;
    // Far beyond every vector is as far as far can be.
    constexpr long long far = 1LL << 40;
    const auto first = std::clamp(whole(e.args[1], frame), -far, far);
    if (e.kind == Expr::index) {
        low = position(first);
    } else if (e.kind == Expr::part) {
        const auto second = std::clamp(whole(e.args[2], frame), -far, far);
        low = std::min(position(first), position(second));
        count = std::max(position(first), position(second)) - low + 1;
    } else {
        count = std::clamp(whole(e.args[2], frame), -far, far);
        const auto last = e.kind == Expr::part_up ? first + count - 1 : first - count + 1;
        low = std::min(position(first), position(last));
    }
    // What is taken of is one slice; below and above it there is nothing.
    const Slice whole_of = inner.empty() ? Slice{v, -1, 0} : inner[0];
    const auto end = low + std::clamp<long long>(count, 0, 1 << 20);
    const auto from = std::clamp<long long>(low, 0, whole_of.count), to = std::clamp<long long>(end, 0, whole_of.count);
    const auto add = [&](long at, long long many) {
        if (many > 0) out.push_back({v, at, static_cast<long>(many)});
    };
    if (whole_of.at < 0 || from >= to) {
        add(-1, end - low);
        return out;
    }
    add(-1, from - low);
    add(whole_of.at + static_cast<long>(from), to - from);
    add(-1, end - to);
    return out;
}

State::Bits Interpreter::State::read(const Target& t) const {
    Bits out;
    out.reserve(static_cast<size_t>(width_of(t)));
    for (const auto& s : t) {
        if (s.at < 0)
            out.insert(out.end(), static_cast<size_t>(s.count), 0);
        else
            out.insert(out.end(), s.of->bits.begin() + s.at, s.of->bits.begin() + s.at + s.count);
    }
    return out;
}

namespace {

bool one_bit(const std::string& op) {
    static const std::set<std::string> all{"==", "!=", "===", "!==", "<", "<=", ">", ">=", "&&", "||"};
    return all.count(op) > 0;
}
bool left_only(const std::string& op) {
    return op == "<<" || op == ">>" || op == "<<<" || op == ">>>" || op == "**";
}

}  // namespace

/// System functions of a value; those that ask the simulation for something, such as its time, have no answer here.
bool Interpreter::State::known_call(const Expr& e) {
    static const std::set<std::string> known{"$signed",    "$unsigned", "$bits",   "$clog2",
                                             "$countones", "$onehot",   "$onehot0"};
    if (e.word[0] != '$') return true;
    if (!known.count(e.word))
        fail(e.place, said("'{}' is not a function of values, so no proof can compute it; leave it out.", e.word));
    else if (e.args.size() != 1)
        fail(e.place, e.word + " takes one value.");
    return !error;
}

/// Bits of [left:right].
int Interpreter::State::part_width(const Expr& e, Frame& frame) {
    const auto left = whole(e.args[1], frame), right = whole(e.args[2], frame);
    if (std::max(std::abs(left / 2), std::abs(right / 2)) > most_bits) return bounded(most_bits + 1, e.place);
    return bounded(std::abs(left - right) + 1, e.place);
}

/// Bits of {times{value}}.
int Interpreter::State::repeated_width(const Expr& e, Frame& frame) {
    const auto times = bounded(whole(e.args[0], frame), e.place);
    return bounded(static_cast<long long>(times) * want_of(e.args[1], frame).width, e.place);
}

State::Want Interpreter::State::want_of(const Expr& e, Frame& frame) {
    switch (e.kind) {
        case Expr::number: return {static_cast<int>(e.value.bits.size()), e.value.is_signed};
        case Expr::text: return {static_cast<int>(std::max<size_t>(1, e.word.size())) * 8, false};
        case Expr::name:
            if (const auto* n = constant(e.word, frame)) return {static_cast<int>(n->bits.size()), n->is_signed};
            if (const auto* v = variable(e.word, frame)) return {v->kind.width(), v->kind.is_signed};
            fail(e.place, said("'{}' is not declared.", e.word));
            return {1, false};
        case Expr::index:
        case Expr::part:
        case Expr::part_up:
        case Expr::part_down: {
            const auto* base = &e;
            while (base->kind != Expr::name && !base->args.empty()) base = &base->args[0];
            if (const auto* v = variable(base->word, frame);
                v && v->words > 0 && e.kind == Expr::index && e.args[0].kind == Expr::name)
                return {v->kind.width(), v->kind.is_signed};
            if (e.kind == Expr::index) return {1, false};
            if (e.kind == Expr::part) return {part_width(e, frame), false};
            return {bounded(whole(e.args[2], frame), e.place), false};
        }
        case Expr::unary:
            if (e.word == "+" || e.word == "-" || e.word == "~") return want_of(e.args[0], frame);
            return {1, false};
        case Expr::binary: {
            if (one_bit(e.word)) return {1, false};
            const auto a = want_of(e.args[0], frame);
            if (left_only(e.word)) return a;
            const auto b = want_of(e.args[1], frame);
            return {std::max(a.width, b.width), a.is_signed && b.is_signed};
        }
        case Expr::choice: {
            const auto a = want_of(e.args[1], frame), b = want_of(e.args[2], frame);
            return {std::max(a.width, b.width), a.is_signed && b.is_signed};
        }
        case Expr::concat: {
            long long sum = 0;
            for (const auto& arg : e.args) sum += want_of(arg, frame).width;
            return {bounded(sum, e.place), false};
        }
        case Expr::repeat: return {repeated_width(e, frame), false};
        case Expr::call:
            if (!known_call(e)) return {32, true};
            if (e.word == "$signed" || e.word == "$unsigned")
                return {want_of(e.args[0], frame).width, e.word == "$signed"};
            if (e.word == "$onehot" || e.word == "$onehot0") return {1, false};
            if (e.word[0] == '$') return {32, true};
            for (auto* f = &frame; f; f = f->parent)
                if (const auto at = f->functions.find(e.word); at != f->functions.end()) {
                    const auto k = kind_of(at->second.first->type, *at->second.second);
                    return {k.width(), k.is_signed};
                }
            fail(e.place, said("'{}' is not a function.", e.word));
            return {1, false};
    }
    return {1, false};
}

State::Number Interpreter::State::number(const Expr& e, Want want) {
    Number out;
    const auto& d = e.value.bits;
    const auto n = e.value.fill ? static_cast<size_t>(want.width) : d.size();
    for (size_t i = 0; i < n; ++i) {
        const char c = e.value.fill ? d[0] : d[n - 1 - i];
        out.bits.push_back(c == '1');
        out.wild += c == 'z' ? '?' : c == 'x' ? 'x' : ' ';
    }
    if (out.wild.find_first_not_of(' ') == std::string::npos) out.wild.clear();
    return out;
}

State::Number Interpreter::State::named(const Expr& e, Frame& frame) {
    Number out;
    const auto* base = &e;
    while (base->kind != Expr::name && !base->args.empty()) base = &base->args[0];
    const auto* n = base->kind == Expr::name ? constant(base->word, frame) : nullptr;
    if (n && base == &e) return *n;
    if (!n) {
        out.bits = read(target(e, frame));
        return out;
    }
    // A part of a constant: as of a variable that holds it.
    const Scratch scratch(*this);
    Variable held{{static_cast<int>(n->bits.size()) - 1, 0, true, false}, 0, 0, n->bits};
    auto& inner = *child(&frame);
    inner.variables[base->word] = &held;
    out.bits = read(target(e, inner));
    return out;
}

State::Number Interpreter::State::unary(const Expr& e, Want want, Frame& frame) {
    Number out;
    if (e.word == "+" || e.word == "-" || e.word == "~") {
        out.bits = eval(e.args[0], want, frame).bits;
        if (e.word != "+")
            for (auto& b : out.bits) b = !b;
        for (size_t i = 0; e.word == "-" && i < out.bits.size(); ++i)
            if ((out.bits[i] = !out.bits[i])) break;
        return out;
    }
    const auto v = self(e.args[0], frame).bits;
    const auto ones = std::count(v.begin(), v.end(), 1);
    const auto all = static_cast<long>(v.size());
    const auto& op = e.word;
    const bool bit = op == "&"                 ? ones == all
                     : op == "~&"              ? ones != all
                     : op == "|"               ? ones > 0
                     : op == "~|" || op == "!" ? ones == 0
                     : op == "^"               ? ones % 2 == 1
                                               : ones % 2 == 0;
    out.bits = {bit};
    return out;
}

State::Number Interpreter::State::joined(const Expr& e, Frame& frame) {
    Number out;
    if (e.kind == Expr::repeat) {
        const auto part = self(e.args[1], frame).bits;
        const auto times = whole(e.args[0], frame);
        if (times > 0 && bounded(times, e.place) * static_cast<long long>(part.size()) > most_bits)
            bounded(most_bits + 1, e.place);
        for (long long k = times; k > 0 && charge(1 + static_cast<long long>(part.size()) / 64, e.place); --k)
            out.bits.insert(out.bits.end(), part.begin(), part.end());
        return out;
    }
    for (auto arg = e.args.rbegin(); arg != e.args.rend(); ++arg) {
        const auto part = self(*arg, frame);
        if (!part.wild.empty()) out.wild.resize(out.bits.size(), ' ');
        out.bits.insert(out.bits.end(), part.bits.begin(), part.bits.end());
        if (!out.wild.empty() || !part.wild.empty())
            out.wild += part.wild.empty() ? std::string(part.bits.size(), ' ') : part.wild;
    }
    return out;
}

State::Number Interpreter::State::eval(const Expr& e, Want want, Frame& frame) {
    Number out;
    if (error || !charge(1 + want.width / 64, e.place)) {
        out.bits.assign(static_cast<size_t>(std::max(1, want.width)), 0);
        return out;
    }
    switch (e.kind) {
        case Expr::number: out = number(e, want); break;
        case Expr::text:
            for (auto c = e.word.rbegin(); c != e.word.rend(); ++c)
                for (int k = 0; k < 8; ++k) out.bits.push_back((static_cast<unsigned char>(*c) >> k) & 1);
            break;
        case Expr::name:
        case Expr::index:
        case Expr::part:
        case Expr::part_up:
        case Expr::part_down: out = named(e, frame); break;
        case Expr::unary: out = unary(e, want, frame); break;
        case Expr::binary: return binary(e, want, frame);
        case Expr::choice: return eval(truth(e.args[0], frame) ? e.args[1] : e.args[2], want, frame);
        case Expr::concat:
        case Expr::repeat: out = joined(e, frame); break;
        case Expr::call: out = call(e, frame); break;
    }
    // A reduction or comparison has one bit and no sign; bits of an operator that passes widths on fill it already.
    const bool one_bit_only = e.kind == Expr::unary && out.bits.size() == 1 && want.width > 1;
    out.bits = resized(out.bits, want.width, want.is_signed && !one_bit_only);
    if (!out.wild.empty()) out.wild.resize(out.bits.size(), ' ');
    out.is_signed = want.is_signed;
    return out;
}

namespace {

using Bits = State::Bits;

Bits sum(const Bits& a, const Bits& b, bool carry, bool turn) {
    Bits out;
    for (size_t i = 0; i < a.size(); ++i) {
        const int y = turn ? !b[i] : b[i], total = a[i] + y + carry;
        out.push_back(total & 1);
        carry = total > 1;
    }
    return out;
}

Bits product(const Bits& a, const Bits& b) {
    Bits out(a.size(), 0);
    for (size_t i = 0; i < b.size(); ++i) {
        if (!b[i]) continue;
        Bits row(a.size(), 0);
        for (size_t k = 0; k + i < a.size(); ++k) row[k + i] = a[k];
        out = sum(out, row, false, false);
    }
    return out;
}

bool below(const Bits& a, const Bits& b, bool is_signed) {
    if (is_signed && a.back() != b.back()) return a.back();
    for (size_t i = a.size(); i-- > 0;)
        if (a[i] != b[i]) return b[i];
    return false;
}

/// Schoolbook division of unsigned values; by zero all ones, as nothing asks for it.
std::pair<Bits, Bits> quotient(const Bits& a, const Bits& b) {
    Bits q(a.size(), 0), r(a.size(), 0);
    for (size_t i = a.size(); i-- > 0;) {
        r.insert(r.begin(), a[i]);
        r.pop_back();
        if (below(r, b, false)) continue;
        r = sum(r, b, true, true);
        q[i] = 1;
    }
    return {q, r};
}

Bits opposite(const Bits& a) {
    return sum(Bits(a.size(), 0), a, true, true);
}

}  // namespace

bool Interpreter::State::compared(const Expr& e, Frame& frame) {
    const auto& op = e.word;
    const auto a = want_of(e.args[0], frame), b = want_of(e.args[1], frame);
    const Want both{std::max(a.width, b.width), a.is_signed && b.is_signed};
    const auto x = eval(e.args[0], both, frame).bits, y = eval(e.args[1], both, frame).bits;
    if (op == "==" || op == "===") return x == y;
    if (op == "!=" || op == "!==") return x != y;
    if (op == "<") return below(x, y, both.is_signed);
    if (op == ">") return below(y, x, both.is_signed);
    if (op == "<=") return !below(y, x, both.is_signed);
    return !below(x, y, both.is_signed);
}

State::Bits Interpreter::State::shifted(const Expr& e, const Bits& a, bool is_signed, Frame& frame) {
    const auto by = to_whole({self(e.args[1], frame).bits, false, {}});
    const auto n = static_cast<long long>(a.size());
    const auto fill = e.word == ">>>" && is_signed ? a.back() : std::uint8_t{0};
    Bits out;
    for (long long i = 0; i < n; ++i) {
        const bool huge = by < 0 || by >= n;
        const auto from = e.word[0] == '<' ? i - by : i + by;
        out.push_back(huge || from < 0 || from >= n ? fill : a[static_cast<size_t>(from)]);
    }
    return out;
}

State::Number Interpreter::State::binary(const Expr& e, Want want, Frame& frame) {
    const auto& op = e.word;
    Number out;
    out.is_signed = want.is_signed;
    const auto give = [&](bool bit) {
        out.bits = resized({static_cast<std::uint8_t>(bit)}, want.width, false);
        return out;
    };
    if (op == "&&") return give(truth(e.args[0], frame) && truth(e.args[1], frame));
    if (op == "||") return give(truth(e.args[0], frame) || truth(e.args[1], frame));
    if (one_bit(op)) return give(compared(e, frame));
    const auto a = eval(e.args[0], want, frame).bits;
    // Long multiplication and division take each bit of one with each of the other.
    const auto multiplying = 1 + static_cast<long long>(a.size()) * static_cast<long long>(a.size()) / 16;
    if ((op == "*" || op == "/" || op == "%") && !charge(multiplying, e.place)) return give(false);
    if (op == "**") {
        const auto times = self(e.args[1], frame);
        Bits result(a.size(), 0);
        if (!result.empty()) result[0] = 1;
        for (auto k = to_whole({times.bits, false, {}}); k > 0 && k < 4096 && charge(multiplying, e.place); --k)
            result = product(result, a);
        out.bits = result;
        return out;
    }
    if (left_only(op)) {
        out.bits = shifted(e, a, want.is_signed, frame);
        return out;
    }
    const auto b = eval(e.args[1], want, frame).bits;
    if (op == "+") {
        out.bits = sum(a, b, false, false);
    } else if (op == "-") {
        out.bits = sum(a, b, true, true);
    } else if (op == "*") {
        out.bits = product(a, b);
    } else if (op == "/" || op == "%") {
        const bool x = want.is_signed && a.back(), y = want.is_signed && b.back();
        const auto [q, r] = quotient(x ? opposite(a) : a, y ? opposite(b) : b);
        out.bits = op == "/" ? (x != y ? opposite(q) : q) : (x ? opposite(r) : r);
    } else {
        for (size_t i = 0; i < a.size(); ++i)
            out.bits.push_back(op == "&"   ? a[i] & b[i]
                               : op == "|" ? a[i] | b[i]
                               : op == "^" ? a[i] ^ b[i]
                                           : !(a[i] ^ b[i]));
    }
    return out;
}

State::Number Interpreter::State::call(const Expr& e, Frame& frame) {
    Number out;
    if (!known_call(e)) {
        out.bits.assign(32, 0);
        return out;
    }
    if (e.word[0] == '$') {
        if (e.word == "$signed" || e.word == "$unsigned") return self(e.args[0], frame);
        long long n = 0;
        if (e.word == "$bits") {
            const auto* v = e.args[0].kind == Expr::name ? variable(e.args[0].word, frame) : nullptr;
            n = v ? static_cast<long long>(v->bits.size()) : want_of(e.args[0], frame).width;
        } else if (e.word == "$clog2") {
            for (auto left = whole(e.args[0], frame) - 1; left > 0; left >>= 1) ++n;
        } else {
            const auto v = self(e.args[0], frame).bits;
            n = std::count(v.begin(), v.end(), 1);
            if (e.word == "$onehot") n = n == 1;
            if (e.word == "$onehot0") n = n <= 1;
        }
        for (int k = 0; k < 32; ++k) out.bits.push_back((n >> k) & 1);
        out.is_signed = true;
        return out;
    }
    for (auto* f = &frame; f; f = f->parent)
        if (const auto at = f->functions.find(e.word); at != f->functions.end()) {
            out.bits = run_function(*at->second.first, *at->second.second, e.args, frame);
            out.is_signed = kind_of(at->second.first->type, *at->second.second).is_signed;
            return out;
        }
    return out;
}

State::Bits Interpreter::State::run_function(const Function& f, Frame& home, const std::vector<Expr>& args,
                                             Frame& frame) {
    const Scratch scratch(*this);
    auto& inner = *child(&home);
    if (++depth > 100) fail(f.place, "Functions call each other too deep.");
    for (size_t k = 0; k < f.arguments.size() && k < args.size(); ++k) {
        declare(f.arguments[k], inner);
        auto* v = inner.variables[f.arguments[k].name];
        const auto w = want_of(args[k], frame);
        v->bits = resized(eval(args[k], {std::max(w.width, v->kind.width()), w.is_signed}, frame).bits, v->kind.width(),
                          w.is_signed);
    }
    Declaration result;
    result.kind = Declaration::variable;
    result.name = f.name;
    result.type = f.type;
    declare(result, inner);
    for (const auto& d : f.locals) d.kind == Declaration::local_parameter ? parameter(d, inner, {}) : declare(d, inner);
    run(f.body, inner);
    --depth;
    return inner.variables[f.name]->bits;
}

}  // namespace kp::source
