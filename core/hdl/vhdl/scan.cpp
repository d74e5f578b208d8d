// SPDX-License-Identifier: GPL-3.0-or-later
// Bytes to words of IEEE 1076-2008, clause 15, names in lower case; every word is a view with an offset.
#include "core/hdl/vhdl/scan.hpp"

#include "core/base/text.hpp"

#include <cctype>

namespace kp::vhdl {

namespace {
bool letter(char c) {
    return std::isalpha(static_cast<unsigned char>(c)) || static_cast<unsigned char>(c) >= 0xC0;
}  // Latin-1 letters too (15.2)
bool digit(char c) {
    return std::isdigit(static_cast<unsigned char>(c));
}
bool name_char(char c) {
    return letter(c) || digit(c) || c == '_' || static_cast<unsigned char>(c) >= 0x80;
}
}  // namespace

bool Scanner::skip() {
    for (;;) {
        while (at_ < text_.size() && std::isspace(static_cast<unsigned char>(text_[at_]))) ++at_;
        if (text_.compare(at_, 2, "--") == 0) {
            const auto end = text_.find('\n', at_);
            at_ = end == std::string_view::npos ? text_.size() : end;
        } else if (text_.compare(at_, 2, "/*") == 0) {
            const auto end = text_.find("*/", at_ + 2);
            if (end == std::string_view::npos) return false;
            at_ = end + 2;
        } else {
            return true;
        }
    }
}

Token Scanner::quoted(char mark) {
    const size_t from = at_++;
    for (; at_ < text_.size() && text_[at_] != '\n'; ++at_)
        if (text_[at_] == mark) {
            if (at_ + 1 < text_.size() && text_[at_ + 1] == mark)
                ++at_;  // doubled: stands for itself
            else
                return {mark == '"' ? Token::quoted : Token::extended, text_.substr(from + 1, at_++ - from - 1), from};
        }
    at_ = text_.size();
    return {Token::bad, mark == '"' ? "a text without closing quote" : "an extended name without closing backslash",
            from};
}

Token Scanner::next() {
    const size_t before = at_;
    if (!skip()) {
        at_ = text_.size();
        return {Token::bad, "a comment without end", before};
    }
    const size_t from = at_;
    if (at_ >= text_.size()) return {Token::end, {}, from};
    const char c = text_[at_];
    const bool was_name = after_name_;
    after_name_ = false;
    if (letter(c)) {
        while (at_ < text_.size() && name_char(text_[at_])) ++at_;
        after_name_ = true;
        const auto word = text_.substr(from, at_ - from);
        return {Token::word, word, from, lower(word)};
    }
    if (c == '\\' || c == '"') {
        Token t = quoted(c);
        after_name_ = t.kind == Token::extended;
        if (after_name_) t.key = std::string(t.text);
        return t;
    }
    if (digit(c)) {
        while (at_ < text_.size() &&
               (name_char(text_[at_]) || text_[at_] == '.' || text_[at_] == '#' ||
                ((text_[at_] == '+' || text_[at_] == '-') && (text_[at_ - 1] == 'e' || text_[at_ - 1] == 'E') &&
                 text_.substr(from, at_ - from).find('#') == std::string_view::npos)))
            ++at_;
        return {Token::number, text_.substr(from, at_ - from), from};
    }
    if (c == '\'' && !was_name && at_ + 2 < text_.size() && text_[at_ + 2] == '\'') {
        at_ += 3;
        return {Token::character, text_.substr(from, 3), from};
    }
    for (const std::string_view pair : {"**", ":=", "<=", ">=", "/=", "=>", "<>"})
        if (text_.compare(at_, 2, pair) == 0) {
            at_ += 2;
            return {Token::symbol, text_.substr(from, 2), from};
        }
    ++at_;
    after_name_ = c == ')';
    return {Token::symbol, text_.substr(from, 1), from};
}

}  // namespace kp::vhdl
