// SPDX-License-Identifier: GPL-3.0-or-later
// Parts of vectors and words of arrays, read and set, at places that are constants or values of the circuit (IEEE
// 1364-2005, 5.2.1). A variable place is a tree of choices: as many nodes as there are bits to choose from.
#include "core/synthesis/elaborator.hpp"
#include "core/base/said.hpp"

#include <algorithm>

namespace kp::synthesis {

namespace {

bool unknown(const Value& v) {
    return std::any_of(v.odd.begin(), v.odd.end(), [](char c) { return c != '0'; });
}

/// Small enough to be added to and taken from.
bool near(long long index) {
    return index > -(1LL << 40) && index < 1LL << 40;
}

}  // namespace

/// What the expression names; nothing, with an error, when it is not a part of a signal or constant.
std::optional<Select> Elaborator::select(const Expr& e, Scope& scope) {
    if (bad()) return std::nullopt;
    Select s;
    if (e.kind == Expr::name) {
        const auto* symbol = lookup(e.word, scope, e.place);
        if (!symbol) return std::nullopt;
        if (symbol->kind == Symbol::function) {
            fail(e.place, said("'{}' is a function; call it with arguments in brackets.", e.word));
            return std::nullopt;
        }
        if (symbol->kind == Symbol::signal) {
            s.of = symbol->of;
            s.shape = s.of->shape;
        } else {
            s.constant = symbol->value;
            s.shape = symbol->shape;
        }
        s.width = s.shape.width();
        return s;
    }
    if (e.kind == Expr::number || e.kind == Expr::concat || e.kind == Expr::repeat || e.kind == Expr::call) {
        s.constant = self(e, scope);
        s.shape = {s.constant.width() - 1, 0, true, false};
        s.width = s.shape.width();
        return s;
    }
    if (e.kind != Expr::index && e.kind != Expr::part && e.kind != Expr::part_up && e.kind != Expr::part_down) {
        fail(e.place, "A part can be taken of a signal or a constant only.");
        return std::nullopt;
    }
    auto inner = select(e.args[0], scope);
    if (!inner) return std::nullopt;
    const bool array = inner->of && inner->of->words > 0;
    if (array && !inner->word) {
        if (e.kind != Expr::index) {
            fail(e.place, said("Several words of the array {} cannot be taken at once.", inner->of->name));
            return std::nullopt;
        }
        inner->word = self(e.args[1], scope);
        if (bad()) return std::nullopt;
        const auto& array = *inner->of;
        const auto word = number_in(*inner->word);
        if (word && (*word < array.first_word || *word - array.first_word >= array.words))
            find(e.place, Severity::stop, Code::out_of_range,
                 said("'{}' has the words {} to {}; there is no word {}.", array.name, array.first_word,
                      array.first_word + array.words - 1, *word));
        return inner;
    }
    if (!inner->whole) {
        fail(e.place, "A part of a part cannot be taken; join the two into one.");
        return std::nullopt;
    }
    select_part(e, *inner, scope);
    return bad() ? std::nullopt : inner;
}

void Elaborator::select_part(const Expr& e, Select& s, Scope& scope) {
    s.whole = false;
    if (s.of && !s.shape.vector)
        return fail(e.place, said("'{}' has one bit; no part of it can be taken.", s.of->name));
    if (e.kind == Expr::part) {
        const auto left = constant_or_fail(e.args[1], scope, "The range of a part");
        const auto right = constant_or_fail(e.args[2], scope, "The range of a part");
        if (bad()) return;
        if (left != right && (left > right) != (s.shape.left >= s.shape.right))
            return fail(e.place, said("The range [{}:{}] runs the other way than the declaration.", left, right));
        if (!near(left) || !near(right)) return fail(e.place, "This part has more than a million bits.");
        const auto a = s.shape.position(left), b = s.shape.position(right);
        if (a - b >= 1 << 20) return fail(e.place, "This part has more than a million bits.");
        s.low = b;
        s.width = static_cast<int>(a - b) + 1;
        return look_inside(e, s);
    }
    auto at = self(e.args[1], scope);
    if (e.kind != Expr::index) {
        const auto n = constant_or_fail(e.args[2], scope, "The width of a part");
        if (bad()) return;
        if (n < 1 || n > 1 << 20) return fail(e.place, said("The width of a part cannot be {}.", n));
        s.width = static_cast<int>(n);
    } else {
        s.width = 1;
    }
    // Whether the written index is the lowest or the highest position of the part.
    s.down = (e.kind == Expr::part_down) == (s.shape.left >= s.shape.right) && s.width > 1;
    if (const auto n = number_in(at); n && near(*n)) {
        s.low = s.shape.position(*n) - (s.down ? s.width - 1 : 0);
        return look_inside(e, s);
    }
    if (unknown(at) || std::all_of(at.bits.begin(), at.bits.end(), is_constant)) {
        s.low = 1LL << 40;  // nowhere
        return look_inside(e, s);
    }
    s.from = std::move(at);
}

/// Bits that a constant index names and the declaration does not have: x when read, and lost when set (IEEE 1364-2005,
/// 5.2.1), which nobody means.
void Elaborator::look_inside(const Expr& e, const Select& s) {
    const auto bits = s.of ? s.shape.width() : s.constant.width();
    if (s.low >= 0 && s.low + s.width <= bits) return;
    find(e.place, Severity::stop, Code::out_of_range,
         said("{} is declared [{}:{}]; a part that is taken here lies outside. Mend the index or the declaration.",
              (s.of ? "'" + s.of->name + "'" : std::string("This value")), s.shape.left, s.shape.right));
}

Lit Elaborator::is_index(const Value& v, long long index) {
    std::vector<Lit> same;
    for (size_t k = 0; k < v.bits.size(); ++k) {
        const bool bit = k < 63 ? (index >> k) & 1 : index < 0;
        same.push_back(bit ? v.bits[k] : invert(v.bits[k]));
    }
    // An index beyond what the value can say never comes.
    const auto n = v.bits.size();
    if (index < 0 && !v.is_signed) return zero;
    if (n < 62 && !v.is_signed && index >= (1LL << n)) return zero;
    if (n < 62 && v.is_signed && (index >= (1LL << (n - 1)) || index < -(1LL << (n - 1)))) return zero;
    return g_.all(same);
}

/// of[at], `no_lit` standing for anything.
Lit Elaborator::pick(std::span<const Lit> at, std::span<const Lit> of) {
    if (of.empty()) return no_lit;
    if (at.empty() || std::all_of(of.begin(), of.end(), [&](Lit l) { return l == of[0]; })) return of[0];
    const auto half = size_t{1} << (at.size() - 1);
    const auto below = at.first(at.size() - 1);
    if (of.size() <= half) return pick(below, of);
    if (at.back() == zero) return pick(below, of.first(half));
    if (at.back() == one) return pick(below, of.subspan(half));
    const auto low = pick(below, of.first(half)), high = pick(below, of.subspan(half));
    if (low == no_lit) return high;
    if (high == no_lit) return low;
    return g_.choose(at.back(), high, low);
}

Value Elaborator::read(const Select& s, SourcePlace place) {
    Value out;
    Bits bits;
    if (!s.of) {
        bits = s.constant.bits;
        out.odd = s.constant.odd;
        out.drive = s.constant.drive;
    } else if (s.of->words > 0) {
        if (!s.word) {
            fail(place, said("The array {} cannot be used as a whole; take a word of it.", s.of->name));
            return {};
        }
        bits = word_of(*s.of, *s.word, place);
    } else {
        bits = whole_of(*s.of, place);
    }
    if (s.whole) {
        out.bits = std::move(bits);
        out.is_signed = s.of ? s.of->shape.is_signed : s.constant.is_signed;
        return out;
    }
    const auto n = static_cast<long long>(bits.size());
    const auto odd = out.odd;
    out.odd.clear();
    out.drive.clear();
    if (!s.from) {
        for (long long i = 0; i < s.width; ++i) {
            const auto p = s.low + i;
            const bool in = p >= 0 && p < n;
            out.bits.push_back(in ? bits[static_cast<size_t>(p)] : zero);
            out.odd += !in ? 'x' : odd.empty() ? '0' : odd[static_cast<size_t>(p)];
        }
        if (out.odd.find_first_not_of('0') == std::string::npos) out.odd.clear();
        return out;
    }
    size_t width = s.from->bits.size();
    while (width > 1 && s.from->bits[width - 1] == zero) --width;
    width = std::min<size_t>(width, 16);
    const auto at = std::span(s.from->bits).first(width);
    const auto highest = static_cast<size_t>(std::max(0, std::max(s.shape.left, s.shape.right))) + 1;
    const auto choices = std::min(size_t{1} << width, highest);
    if (!spend(place, choices * static_cast<size_t>(s.width))) return out;
    for (int i = 0; i < s.width; ++i) {
        Bits of(choices, no_lit);
        for (size_t v = 0; v < of.size(); ++v) {
            const auto p = s.shape.position(static_cast<long long>(v)) - (s.down ? s.width - 1 : 0) + i;
            if (p >= 0 && p < n) of[v] = bits[static_cast<size_t>(p)];
        }
        while (of.size() > 1 && of.back() == no_lit) of.pop_back();
        const auto bit = pick(at, of);
        out.bits.push_back(bit == no_lit ? zero : bit);
    }
    return out;
}

Bits Elaborator::whole_of(Signal& s, SourcePlace place) {
    if (process_) return current(s, true);
    if (s.local) fail(place, said("'{}' is read where it has no value.", s.name));
    return s.bits;
}

Bits Elaborator::word_of(Signal& s, const Value& word, SourcePlace place) {
    const auto width = static_cast<size_t>(s.width());
    const auto place_of = [&](long long index) { return index - s.first_word; };
    const auto fixed = number_in(word);
    if (s.memory >= 0) {
        auto& memory = m_.memories[static_cast<size_t>(s.memory)];
        size_t n = 0;
        while ((size_t{1} << n) < static_cast<size_t>(s.words)) ++n;
        auto at = fit(word, static_cast<int>(std::max<size_t>(n + 1, word.bits.size())), word.is_signed).bits;
        if (s.first_word != 0) {
            Value low;
            for (size_t k = 0; k < at.size(); ++k)
                low.bits.push_back((static_cast<unsigned>(s.first_word) >> k) & 1 ? zero : one);
            at = add(at, low.bits, one);
        }
        at.resize(n);
        for (const auto& known : memory.reads)
            if (known.address == at) return known.data;
        MemoryRead port{at, {}};
        for (size_t i = 0; i < width; ++i) port.data.push_back(g_.wire());
        memory.reads.push_back(port);
        return port.data;
    }
    const auto all = whole_of(s, place);
    Bits out(width, zero);
    if (fixed) {
        const auto p = place_of(*fixed);
        if (p >= 0 && p < s.words)
            std::copy_n(all.begin() + static_cast<long>(p) * static_cast<long>(width), width, out.begin());
        return out;
    }
    size_t bits = word.bits.size();
    while (bits > 1 && word.bits[bits - 1] == zero) --bits;
    bits = std::min<size_t>(bits, 16);
    const auto at = std::span(word.bits).first(bits);
    const auto choices = std::min(size_t{1} << bits, static_cast<size_t>(s.first_word) + static_cast<size_t>(s.words));
    if (!spend(place, choices * width)) return out;
    for (size_t i = 0; i < width; ++i) {
        Bits of(choices, no_lit);
        for (size_t v = 0; v < of.size(); ++v) {
            const auto p = place_of(static_cast<long long>(v));
            if (p >= 0 && p < s.words) of[v] = all[static_cast<size_t>(p) * width + i];
        }
        while (of.size() > 1 && of.back() == no_lit) of.pop_back();
        const auto bit = pick(at, of);
        out[i] = bit == no_lit ? zero : bit;
    }
    return out;
}

/// Sets a part in what the process knows.
void Elaborator::store(const Select& s, const Value& v, bool blocking, SourcePlace place) {
    if (!s.of) return fail(place, "A constant cannot be set.");
    auto& signal = *s.of;
    if (signal.memory >= 0) return store_memory(s, v, place);
    if (signal.words > 0 && !s.word)
        return fail(place, said("The array {} cannot be set as a whole; set a word of it.", signal.name));
    auto all = so_far(signal, blocking);
    const auto places = s.from ? static_cast<size_t>(signal.width()) + static_cast<size_t>(s.width) : size_t{1};
    if (!spend(place, all.size() + places * static_cast<size_t>(s.width))) return;
    const auto width = static_cast<size_t>(signal.width());
    const auto fixed_word = s.word ? number_in(*s.word) : std::optional<long long>(signal.first_word);
    const auto n = static_cast<long long>(width);
    for (long long word = 0; word < std::max(1, signal.words); ++word) {
        Lit here = one;
        if (s.word)
            here = fixed_word ? (*fixed_word == word + signal.first_word ? one : zero)
                              : is_index(*s.word, word + signal.first_word);
        if (here == zero || (s.word && unknown(*s.word))) continue;
        auto* bits = all.data() + static_cast<size_t>(word) * width;
        const auto set = [&](long long p, Lit when, Lit bit) {
            if (p < 0 || p >= n) return;
            bits[p] = g_.choose(when, bit, bits[p]);
        };
        if (s.whole || !s.from) {
            for (int i = 0; i < s.width; ++i) set((s.whole ? 0 : s.low) + i, here, v.bits[static_cast<size_t>(i)]);
            continue;
        }
        // Every place the part can begin at, by the index that says so.
        for (long long p = 1 - s.width; p < n; ++p) {
            const auto corner = p + (s.down ? s.width - 1 : 0);
            const auto index =
                signal.shape.left >= signal.shape.right ? corner + signal.shape.right : signal.shape.right - corner;
            const auto when = g_.both(here, is_index(*s.from, index));
            if (when == zero) continue;
            for (int i = 0; i < s.width; ++i) set(p + i, when, v.bits[static_cast<size_t>(i)]);
        }
    }
    put(signal, std::move(all), blocking);
}

void Elaborator::store_memory(const Select& s, const Value& v, SourcePlace place) {
    auto& signal = *s.of;
    if (!s.whole || !s.word)
        return fail(place, said("A memory as large as {} is written by whole words.", signal.name));
    if (so_far(*signal.write, false)[0] != zero)
        return fail(place, said("The memory {} is written at two places at once; a memory cell has one port for that.",
                                signal.name));
    size_t n = 0;
    while ((size_t{1} << n) < static_cast<size_t>(signal.words)) ++n;
    auto at = fit(*s.word, static_cast<int>(std::max(n + 1, s.word->bits.size())), s.word->is_signed).bits;
    if (signal.first_word != 0) {
        Bits low;
        for (size_t k = 0; k < at.size(); ++k)
            low.push_back((static_cast<unsigned>(signal.first_word) >> k) & 1 ? zero : one);
        at = add(at, low, one);
    }
    // An address beyond the last word writes nothing.
    Bits count(at.size(), zero);
    for (size_t k = 0; k < at.size() && k < 31; ++k)
        count[k] = (static_cast<unsigned>(signal.words) >> k) & 1 ? one : zero;
    const auto inside = less(at, count, false);
    at.resize(n);
    put(*signal.write, {inside}, false);
    put(*signal.address, at, false);
    put(*signal.data, v.bits, false);
}

}  // namespace kp::synthesis
