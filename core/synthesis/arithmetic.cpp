// SPDX-License-Identifier: GPL-3.0-or-later
// Sums as carry chains, products as sums of rows, comparisons as trees or chains. A chain has one carry cell a bit;
// what is short or constant stays logic.
#include "core/synthesis/elaborator.hpp"

#include <algorithm>

namespace kp::synthesis {

namespace {
constexpr size_t shortest_chain = 4;
}

Bits Elaborator::add(const Bits& a, const Bits& b, Lit carry, Lit* out) {
    const auto n = a.size();
    size_t busy = 0;
    for (size_t i = 0; i < n; ++i)
        busy += !(is_constant(a[i]) && is_constant(b[i])) && !(busy == 0 && (a[i] == carry || b[i] == carry));
    const bool chain = busy >= shortest_chain;
    Bits sum(n, zero);
    for (size_t i = 0; i < n; ++i) {
        const std::array<Lit, 3> in{a[i], b[i], carry};
        // Two that are equal carry themselves; two that are opposite carry the third.
        bool done = false;
        for (size_t k = 0; k < 3 && !done; ++k) {
            const auto x = in[k], y = in[(k + 1) % 3], z = in[(k + 2) % 3];
            if (x == y) {
                sum[i] = z;
                carry = x;
                done = true;
            } else if (x == invert(y)) {
                sum[i] = invert(z);
                carry = z;
                done = true;
            }
        }
        if (done) continue;
        if (chain && !g_.full()) {
            CarryBit bit{in[0], in[1], in[2], g_.source(), g_.source()};
            sum[i] = bit.sum;
            carry = bit.carry_out;
            m_.carries.push_back(bit);
            continue;
        }
        const auto half = g_.differ(in[0], in[1]);
        sum[i] = g_.differ(half, in[2]);
        carry = g_.either(g_.both(in[0], in[1]), g_.both(half, in[2]));
    }
    if (out) *out = carry;
    return sum;
}

Bits Elaborator::negate(const Bits& a) {
    Bits turned;
    for (const auto bit : a) turned.push_back(invert(bit));
    return add(turned, Bits(a.size(), zero), one);
}

Bits Elaborator::multiply(const Bits& left, const Bits& right) {
    const auto constants = [](const Bits& v) { return std::count_if(v.begin(), v.end(), is_constant); };
    const auto& a = constants(left) > constants(right) ? right : left;
    const auto& b = constants(left) > constants(right) ? left : right;
    const auto n = a.size();
    // A run of the same bit at the top is a sign: one row that is taken away.
    size_t rows = n;
    const auto top = n ? b.back() : zero;
    while (rows > 0 && b[rows - 1] == top) --rows;
    std::vector<Bits> parts;
    const auto busy = std::count_if(b.begin(), b.begin() + static_cast<long>(rows), [](Lit l) { return l != zero; });
    if (!spend(work_place_, static_cast<size_t>(busy) * n)) return Bits(n, zero);
    const auto row = [&](size_t i, Lit when) {
        Bits out(n, zero);
        for (size_t k = 0; k + i < n; ++k) out[k + i] = g_.both(a[k], when);
        return out;
    };
    for (size_t i = 0; i < rows; ++i)
        if (b[i] != zero) parts.push_back(row(i, b[i]));
    while (parts.size() > 1) {
        std::vector<Bits> sums;
        for (size_t i = 0; i + 1 < parts.size(); i += 2) sums.push_back(add(parts[i], parts[i + 1], zero));
        if (parts.size() % 2) sums.push_back(parts.back());
        parts = std::move(sums);
    }
    auto sum = parts.empty() ? Bits(n, zero) : parts[0];
    if (top == zero || rows >= n) return sum;
    auto away = row(rows, top);
    for (auto& bit : away) bit = invert(bit);
    return add(sum, away, one);
}

/// By a power of two: bits moved; a signed value is rounded towards zero (IEEE 1364-2005, 5.1.5).
Bits Elaborator::divide(const Bits& a, const Bits& b, bool sign, bool rest, SourcePlace place) {
    Value by{b, false, {}, {}};
    const auto n = number_in(by);
    const auto value = number_in(Value{a, sign, {}, {}});
    const auto signed_by = number_in(Value{b, sign, {}, {}});
    if (value && signed_by && *signed_by != 0 && *signed_by != -1) {
        const auto q = rest ? *value % *signed_by : *value / *signed_by;
        Bits out;
        for (size_t k = 0; k < a.size(); ++k) out.push_back((q >> std::min<size_t>(k, 63)) & 1 ? one : zero);
        return out;
    }
    if (!n || *n <= 0 || (*n & (*n - 1)) != 0 || (sign && b.back() == one)) {
        fail(place, "A division or remainder is built for powers of two only; multiply, shift or count instead.",
             Code::cannot_build);
        return a;
    }
    size_t k = 0;
    while ((1LL << k) < *n) ++k;
    const auto negative = sign ? a.back() : zero;
    Bits bias(a.size(), zero);
    for (size_t i = 0; i < k && i < a.size(); ++i) bias[i] = negative;
    const auto moved = add(a, bias, zero);
    Bits quotient(a.size(), negative);
    for (size_t i = 0; i + k < a.size(); ++i) quotient[i] = moved[i + k];
    if (sign && k > 0) {
        // The sign of the biased value, not of the value itself: -1 / 4 is 0.
        for (size_t i = a.size() - std::min(k, a.size()); i < a.size(); ++i) quotient[i] = moved.back();
    }
    if (!rest) return quotient;
    Bits back(a.size(), zero);
    for (size_t i = k; i < a.size(); ++i) back[i] = invert(quotient[i - k]);
    for (size_t i = 0; i < k && i < a.size(); ++i) back[i] = one;
    return add(a, back, one);
}

Bits Elaborator::power(const Bits& a, const Bits& b, SourcePlace place) {
    const auto base = number_in(Value{a, false, {}, {}}), times = number_in(Value{b, false, {}, {}});
    const auto n = a.size();
    if (base && *base == 2) {
        Bits out(n, zero);
        for (size_t i = 0; i < n; ++i) out[i] = is_index(Value{b, false, {}, {}}, static_cast<long long>(i));
        return out;
    }
    if (!times || *times < 0 || *times > 64) {
        fail(place, "A power is built with a constant exponent up to 64, or of the base 2.", Code::cannot_build);
        return a;
    }
    Bits out(n, zero);
    if (n) out[0] = one;
    for (long long i = 0; i < *times; ++i) out = multiply(out, a);
    return out;
}

Lit Elaborator::equal(const Bits& a, const Bits& b) {
    std::vector<Lit> same;
    for (size_t i = 0; i < a.size(); ++i) same.push_back(invert(g_.differ(a[i], b[i])));
    return g_.all(same);
}

/// a < b: the carry of a - b where both vary, else a tree over (less, equal) of halves.
Lit Elaborator::less(const Bits& left, const Bits& right, bool sign) {
    auto a = left, b = right;
    if (sign && !a.empty()) std::swap(a.back(), b.back());
    size_t vary = 0;
    for (size_t i = 0; i < a.size(); ++i) vary += !is_constant(a[i]) && !is_constant(b[i]) && a[i] != b[i];
    if (vary > shortest_chain) {
        Lit carry = zero;
        for (auto& bit : b) bit = invert(bit);
        add(a, b, one, &carry);
        return invert(carry);
    }
    struct Part {
        Lit less, same;
    };
    std::vector<Part> parts;
    for (size_t i = 0; i < a.size(); ++i) parts.push_back({g_.both(invert(a[i]), b[i]), invert(g_.differ(a[i], b[i]))});
    while (parts.size() > 1) {
        std::vector<Part> joined;
        for (size_t i = 0; i + 1 < parts.size(); i += 2) {
            const auto &low = parts[i], &high = parts[i + 1];
            joined.push_back({g_.either(high.less, g_.both(high.same, low.less)), g_.both(high.same, low.same)});
        }
        if (parts.size() % 2) joined.push_back(parts.back());
        parts = std::move(joined);
    }
    return parts.empty() ? zero : parts[0].less;
}

}  // namespace kp::synthesis
