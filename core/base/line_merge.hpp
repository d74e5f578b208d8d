// SPDX-License-Identifier: GPL-3.0-or-later
// Two texts line by line, and three of them merged.
#pragma once

#include <string>
#include <string_view>
#include <vector>

namespace kp {

/// Lines with their line ends; the last may have none. Together they are the text.
[[nodiscard]] std::vector<std::string_view> lines_with_ends(std::string_view text);

/// A stretch of lines in which two texts differ: `a_from` up to `a_to` of the one, `b_from` up to `b_to` of the other,
/// from 0.
struct LineHunk {
    size_t a_from = 0, a_to = 0, b_from = 0, b_to = 0;
    bool operator==(const LineHunk&) const = default;
};
/// A shortest way from `a` to `b` by lines (Myers 1986, "An O(ND) difference algorithm and its variations"), in order.
/// Texts that differ in more than some thousand lines are one hunk from the first to the last difference: never slower
/// than linear by a constant.
[[nodiscard]] std::vector<LineHunk> line_hunks(const std::vector<std::string_view>& a,
                                               const std::vector<std::string_view>& b);

/// A piece of a merge: lines on which both sides agree (`both`), or which only one changed (then that side's text is in
/// `both` too), or on which they differ.
struct MergePiece {
    bool differs = false;
    std::string both;  ///< the text, when nothing is to be decided
    std::string base, mine, theirs;
};
/// Merges by lines: what only one side changed against `base` is taken, what both changed alike as well; the rest is
/// left to be decided.
[[nodiscard]] std::vector<MergePiece> merge_lines(std::string_view base, std::string_view mine,
                                                  std::string_view theirs);

enum class MergeChoice { mine, theirs, both };
/// The text of a merge; one choice for each piece that differs, in order. Choices that are missing are `mine`.
[[nodiscard]] std::string merged_text(const std::vector<MergePiece>& pieces, const std::vector<MergeChoice>& choices);

}  // namespace kp
