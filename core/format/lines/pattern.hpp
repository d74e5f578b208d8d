// SPDX-License-Identifier: GPL-3.0-or-later
// How the lines of somebody's text read, learned from one example of each shape: which words are port, pin, standard
// and so on; everything else must match but for blanks. No syntax is built in. Schema kitepeg.lines/1.
#pragma once

#include "core/base/result.hpp"

#include <array>
#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace kp::lines {

/// What a word of a line may be. `value` is one to be passed over.
inline constexpr std::array<const char*, 7> field_names{"port", "pin", "standard", "drive", "slew", "pull", "value"};

struct Mark {
    std::string field;
    size_t first = 0, length = 0;  ///< bytes of the example, from 0
    bool operator==(const Mark&) const = default;
};

struct Shape {
    std::string example;
    std::vector<Mark> marks;  ///< in the order of the line
    bool operator==(const Shape&) const = default;
};

struct Pattern {
    std::string name;
    std::string comment = "#";  ///< begins a comment, at column 0 or behind a line
    std::vector<Shape> shapes;
    std::map<std::string, std::map<std::string, std::string>> spellings;  ///< by field: theirs to ours
    std::string pin_prefix;  ///< what theirs has in front of the names of pins
};

/// The value of a field in a line, where it stands.
struct Value {
    std::string text;
    size_t first = 0, length = 0;  ///< bytes of the line
};
using Values = std::map<std::string, Value>;

/// One pattern made ready for matching. Immutable afterwards; any thread.
class Matcher {
public:
    /// Errors: a mark outside of its example, marks that overlap or meet, a field nobody knows, a shape without a port,
    /// more than 64 shapes, an example longer than 4,000 bytes.
    static Result<Matcher> make(const Pattern& pattern);

    struct Match {
        int shape = -1;  ///< of the pattern; -1: none fits
        Values values;
        std::string why;     ///< why none fits: where the shape that came furthest ended
        size_t tail = 0;     ///< where a tail begins that no shape has; 0: there is none
        bool began = false;  ///< none fits, but one came past a field: it is not prose
    };
    /// `line` without its end and, when it is commented, without the mark; positions count in it. `with_tail`: words
    /// behind what a shape reads are passed over.
    [[nodiscard]] Match match(std::string_view line, bool with_tail = false) const;

private:
    struct Piece {
        std::string literal;  ///< without blanks; empty for a field
        std::string field;
        bool quoted = false;  ///< the field stands between quotes
        char wraps = 0;       ///< the quote that begins and ends it, where its mark holds both
        std::string more;     ///< signs that its example has inside, beside those of a name
    };
    struct Ready {
        std::vector<Piece> pieces;
    };
    struct Reached {
        size_t at = 0;
        std::string wanted;
        size_t fields = 0;    ///< that were read before
        bool at_end = false;  ///< all was read, and something stands behind
    };
    static Result<Ready> prepare(const Shape& shape, const std::string& comment);
    [[nodiscard]] bool fits(const Ready& shape, std::string_view line, Values& values, Reached& reached) const;
    [[nodiscard]] size_t end_of_field(const Ready& shape, size_t piece, std::string_view line, size_t at) const;
    [[nodiscard]] size_t spelled(const Piece& piece, std::string_view line, size_t at) const;
    std::vector<Ready> shapes_;
    std::map<std::string, std::vector<std::string>> spellings_;  ///< theirs by field, the longest first
};

/// Where a comment behind the statement of a line begins; the end of the line when there is none. Quotes count.
[[nodiscard]] size_t end_of_statement(std::string_view line, std::string_view comment);

/// The word of a line at a place, as a click means it: inside quotes all of it, else a name with the numbers in
/// brackets that belong to it. Empty between words.
[[nodiscard]] std::pair<size_t, size_t> word_at(std::string_view line, size_t place);
/// All words of a line from left to right, each by its first place and its length; what stands in quotes is one.
[[nodiscard]] std::vector<std::pair<size_t, size_t>> words_of(std::string_view line);

/// "led<3>" and "led(3)" as "led[3]"; other names stay.
[[nodiscard]] std::string square_brackets(std::string_view name);
/// "led[3]" in the brackets that `like` has; square ones when it has none.
[[nodiscard]] std::string brackets_as(std::string_view name, std::string_view like);

}  // namespace kp::lines
