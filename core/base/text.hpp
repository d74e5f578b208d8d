// SPDX-License-Identifier: GPL-3.0-or-later
// Small helpers on text: places, nearest names, patterns, numbers.
#pragma once

#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace kp {

/// Line and column, both from 1, of a byte offset. Counted only when an error is built.
struct LineColumn {
    int line = 1;
    int column = 1;
};
[[nodiscard]] LineColumn place_of(std::string_view text, size_t offset);

/// Number of single-character insertions, deletions and replacements between two words (Levenshtein 1966).
[[nodiscard]] int edit_distance(std::string_view a, std::string_view b);

/// The candidate nearest to `word`, if near enough to be meant (a third of its length, rounded up); case hardly counts.
[[nodiscard]] std::optional<std::string> nearest(std::string_view word, std::span<const std::string> candidates);

/// " Did you mean 'x'?" or nothing.
[[nodiscard]] std::string did_you_mean(std::string_view word, std::span<const std::string> candidates);

/// True when `pattern` matches all of `text`; `*` is any run, `?` any one character, all else (brackets too) is
/// literal. Linear in the text for each star: never exponential.
[[nodiscard]] bool glob_match(std::string_view pattern, std::string_view text, bool ignore_case = false);
[[nodiscard]] bool is_pattern(std::string_view text);

[[nodiscard]] std::string_view trim(std::string_view text);
[[nodiscard]] std::vector<std::string_view> split(std::string_view text, char by);
[[nodiscard]] std::string lower(std::string_view text);
[[nodiscard]] std::string upper(std::string_view text);

/// A whole decimal number, C locale, no trailing text, finite.
[[nodiscard]] std::optional<double> to_number(std::string_view text);
[[nodiscard]] std::optional<long long> to_integer(std::string_view text);

/// Shortest text that reads back to the same double ("8", "0.1").
[[nodiscard]] std::string shortest(double value);

/// Fixed decimals with a true minus sign (U+2212), for screens and reports; never "-0.000".
[[nodiscard]] std::string fixed(double value, int decimals);

/// Names in natural order: digit runs compare as numbers, so lamp2 < lamp10.
[[nodiscard]] bool natural_less(std::string_view a, std::string_view b);

/// "a", "a and b", "a, b and 3 more".
[[nodiscard]] std::string list_names(std::span<const std::string> names, size_t most = 3);

/// "0x1A2460FF": in hexadecimal, with at least so many digits.
[[nodiscard]] std::string hex(unsigned long long v, int digits = 8);

/// "1 cell", "2 cells", "0 cells". `many` where it is more than an s at the end: counted(n, "stop is", "stops are").
[[nodiscard]] std::string counted(long long n, std::string_view one, std::string_view many = {});

}  // namespace kp
