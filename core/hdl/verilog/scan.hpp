// SPDX-License-Identifier: GPL-3.0-or-later
// Words of Verilog text (IEEE 1364-2005, clause 3): slices of the text, no copies. Comments, attributes and compiler
// directives that do not change structure are passed over.
#pragma once

#include <cstdint>
#include <string_view>

namespace kp::verilog {

/// What a character may be, in one look.
struct CharacterTable {
    enum : unsigned char { start = 1, inside = 2, space = 4 };
    unsigned char of[256] = {};
    constexpr CharacterTable() {
        for (int c = 'a'; c <= 'z'; ++c) of[c] = of[c - 'a' + 'A'] = start | inside;
        for (int c = '0'; c <= '9'; ++c) of[c] = inside;
        of[static_cast<int>('_')] = of[static_cast<int>('$')] = start | inside;
        for (const char c : {' ', '\t', '\n', '\r', '\f', '\v'}) of[static_cast<int>(c)] = space;
    }
};
inline constexpr CharacterTable characters;

struct Token {
    enum Kind : std::uint8_t { end, word, escaped, number, quoted, symbol, directive, bad } kind = end;
    std::string_view text;  ///< escaped names without backslash; strings without quotes, directives without `
    size_t offset = 0;
    [[nodiscard]] bool is(std::string_view s) const { return (kind == word || kind == symbol) && text == s; }
    [[nodiscard]] bool is(char c) const { return kind == symbol && text[0] == c; }
    [[nodiscard]] bool is_name() const { return kind == word || kind == escaped; }
};

class Scanner {
public:
    /// `directives`: give compiler directives and macro uses as tokens instead of passing over their line.
    explicit Scanner(std::string_view text, bool directives = false) : text_(text), directives_(directives) {}
    /// The next token; at the end of the text always `end`. An unclosed comment or string is `bad`.
    Token next();
    [[nodiscard]] size_t offset() const { return at_; }
    void go_to(size_t offset) { at_ = offset; }
    [[nodiscard]] static bool begins_name(char c) {
        return characters.of[static_cast<unsigned char>(c)] & CharacterTable::start;
    }
    [[nodiscard]] static bool is_in_name(char c) {
        return characters.of[static_cast<unsigned char>(c)] & CharacterTable::inside;
    }

private:
    bool skip();
    Token number();
    std::string_view text_;
    size_t at_ = 0;
    bool directives_ = false;
};

}  // namespace kp::verilog
