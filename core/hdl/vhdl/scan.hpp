// SPDX-License-Identifier: GPL-3.0-or-later
// Words of VHDL text (IEEE 1076-2008, clause 15): slices of the text, no copies.
#pragma once

#include <cstdint>
#include <string>
#include <string_view>

namespace kp::vhdl {

struct Token {
    enum Kind : std::uint8_t { end, word, extended, number, quoted, character, symbol, bad } kind = end;
    std::string_view text;  ///< extended names without backslashes
    size_t offset = 0;
    std::string key{};  ///< words in lower case, extended names as written: what names are compared by
    [[nodiscard]] bool is(std::string_view s) const {
        return (kind == word && key == s) || (kind == symbol && text == s);
    }
    [[nodiscard]] bool is_name() const { return kind == word || kind == extended; }
};

class Scanner {
public:
    explicit Scanner(std::string_view text) : text_(text) {}
    /// The next token; at the end of the text always `end`. An unclosed comment, string or name is `bad`.
    Token next();

private:
    bool skip();
    Token quoted(char mark);
    std::string_view text_;
    size_t at_ = 0;
    bool after_name_ = false;  ///< then ' starts an attribute, not a character
};

}  // namespace kp::vhdl
