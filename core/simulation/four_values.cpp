// SPDX-License-Identifier: GPL-3.0-or-later
// Up to six inputs are a table of 64 bits, of which the rows that are possible are looked at; more are tried one
// unknown after the other, at most a million ways.
#include "core/simulation/four_values.hpp"

namespace kp::simulation {

Function::Function(const BooleanFunction& f, std::vector<std::uint16_t> variables)
    : variables_(std::move(variables)), set_(true) {
    if (f.inputs.size() > 6) {
        large_ = f;
        return;
    }
    for (std::uint64_t v = 0; v < (std::uint64_t{1} << f.inputs.size()); ++v)
        model_ |= static_cast<std::uint64_t>(f.eval(v)) << v;
}

Function::Function(std::uint64_t table, std::vector<std::uint16_t> variables)
    : variables_(std::move(variables)), model_(table), set_(true) {}

Bit Function::eval(std::span<const Bit> values, std::uint64_t table) const {
    if (!large_.empty()) return wide(values);
    unsigned base = 0, open = 0;
    for (unsigned k = 0; k < variables_.size(); ++k) {
        const auto v = values[variables_[k]];
        if (v == Bit::one) base |= 1U << k;
        if (!known(v)) open |= 1U << k;
    }
    const auto first = (table >> base) & 1;
    for (unsigned some = open; some != 0; some = (some - 1) & open)
        if (((table >> (base | some)) & 1) != first) return Bit::x;
    return bit_of(first != 0);
}

Bit Function::wide(std::span<const Bit> values) const {
    std::uint64_t base = 0;
    std::vector<unsigned> open;
    for (unsigned k = 0; k < variables_.size(); ++k) {
        const auto v = values[variables_[k]];
        if (v == Bit::one) base |= std::uint64_t{1} << k;
        if (!known(v)) open.push_back(k);
    }
    const bool first = large_.eval(base);
    if (open.size() > 20) return Bit::x;
    for (std::uint64_t way = 1; way < (std::uint64_t{1} << open.size()); ++way) {
        auto v = base;
        for (size_t k = 0; k < open.size(); ++k)
            if ((way >> k) & 1) v |= std::uint64_t{1} << open[k];
        if (large_.eval(v) != first) return Bit::x;
    }
    return bit_of(first);
}

}  // namespace kp::simulation
