// SPDX-License-Identifier: GPL-3.0-or-later
// The four values of IEEE 1364-2005, 4.1, and functions of them that are exact: a result is known when every way to
// fill in what is unknown gives the same.
#pragma once

#include "core/model/boolean.hpp"

#include <cstdint>
#include <span>
#include <vector>

namespace kp::simulation {

enum class Bit : std::uint8_t { zero, one, x, z };

[[nodiscard]] constexpr Bit bit_of(bool one) {
    return one ? Bit::one : Bit::zero;
}
[[nodiscard]] constexpr bool known(Bit b) {
    return b == Bit::zero || b == Bit::one;
}
/// What is known if either of two may be the case.
[[nodiscard]] constexpr Bit agree(Bit a, Bit b) {
    return known(a) && a == b ? a : Bit::x;
}
/// Two drivers of one wire: z gives way, others that differ are x.
[[nodiscard]] constexpr Bit resolve(Bit a, Bit b) {
    return a == Bit::z ? b : b == Bit::z || a == b ? a : Bit::x;
}
[[nodiscard]] constexpr char letter(Bit b) {
    return "01xz"[static_cast<int>(b)];
}

/// A function of some of a cell's variables.
class Function {
public:
    Function() = default;
    /// `variables`: position of each input of `f` among the values that eval gets.
    Function(const BooleanFunction& f, std::vector<std::uint16_t> variables);
    /// A look-up of at most six inputs; bit i of the table when they spell i, first lowest.
    Function(std::uint64_t table, std::vector<std::uint16_t> variables);

    [[nodiscard]] bool empty() const { return !set_; }
    [[nodiscard]] Bit eval(std::span<const Bit> values) const { return eval(values, model_); }
    /// The same with another table, for look-ups that share their pins.
    [[nodiscard]] Bit eval(std::span<const Bit> values, std::uint64_t table) const;

private:
    [[nodiscard]] Bit wide(std::span<const Bit> values) const;
    std::vector<std::uint16_t> variables_;
    std::uint64_t model_ = 0;
    BooleanFunction large_;  ///< of more than six inputs
    bool set_ = false;
};

}  // namespace kp::simulation
