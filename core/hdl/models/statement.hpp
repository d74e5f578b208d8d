// SPDX-License-Identifier: GPL-3.0-or-later
// Statements of `always` as cell models use them (IEEE 1364-2005, clause 9): if, begin, assignments.
#pragma once

#include "core/hdl/models/words.hpp"

#include <optional>
#include <vector>

namespace kp::models {

struct Statement {
    enum Kind : std::uint8_t { block, choose, assign } kind = block;
    std::vector<Statement> parts;  ///< of a choice: then and, if there is one, else
    Expression left, right;        ///< of a choice `right` is the condition
};

/// The words of one statement, whatever it is; the cursor stands behind it.
[[nodiscard]] std::span<const Word> statement_words(Cursor& c);
/// None for a statement that says more than cells do: loops, cases, waits.
[[nodiscard]] std::optional<Statement> statement_of(std::span<const Word> words);

}  // namespace kp::models
