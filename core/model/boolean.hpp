// SPDX-License-Identifier: GPL-3.0-or-later
// Boolean functions as Liberty writes them: ' and ! invert, ^ is exclusive or, & * and a blank are and, | + are or.
#pragma once

#include "core/base/result.hpp"

#include <cstdint>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace kp {

/// A function in postfix form over named inputs. Input k is variable k; operators work on a stack of at most 64.
struct BooleanFunction {
    enum Op : std::int16_t { op_not = -1, op_and = -2, op_or = -3, op_xor = -4, op_zero = -5, op_one = -6 };
    std::vector<std::string> inputs;
    std::vector<std::int16_t> code;  ///< >= 0: push that input; < 0: an Op

    [[nodiscard]] bool empty() const { return code.empty(); }
    /// Value when input k is bit k of `values` (at most 64 inputs).
    [[nodiscard]] bool eval(std::uint64_t values) const;
    /// 1 rises with the input, -1 falls with it, 0 both, 2 does not depend on it. Exact, for at most 12 inputs; beyond
    /// that 0.
    [[nodiscard]] int sense(size_t input) const;
    /// As Liberty writes it, in brackets; none when a name in it could not be read back.
    [[nodiscard]] std::optional<std::string> text() const;
};

/// Errors: an unknown character, a missing operand or bracket, more than 64 inputs or levels.
[[nodiscard]] Result<BooleanFunction> parse_boolean(std::string_view text);

}  // namespace kp
