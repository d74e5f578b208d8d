// SPDX-License-Identifier: GPL-3.0-or-later
// Bytes to words, without a copy; every word is a view with an offset.
#include "core/hdl/verilog/scan.hpp"

#include <cctype>

namespace kp::verilog {

namespace {
bool name_start(char c) {
    return Scanner::begins_name(c);
}
bool in_name(char c) {
    return Scanner::is_in_name(c);
}
bool blank(char c) {
    return characters.of[static_cast<unsigned char>(c)] == CharacterTable::space;
}
}  // namespace

/// Passes blanks, comments, attributes and directives; false when one of them has no end.
bool Scanner::skip() {
    const auto starts = [&](std::string_view s) { return text_.compare(at_, s.size(), s) == 0; };
    for (;;) {
        while (at_ < text_.size() && blank(text_[at_])) ++at_;
        if (at_ >= text_.size()) return true;
        if (const char c = text_[at_]; c != '/' && c != '(' && c != '`') return true;
        std::string_view close;
        if (starts("//") || (text_[at_] == '`' && !directives_))
            close = "\n";
        else if (starts("/*"))
            close = "*/";
        // "(*" opens an attribute, but "(*)" is an event list of behavioural code.
        else if (starts("(*") && !starts("(*)"))
            close = "*)";
        else
            return true;
        const auto end = text_.find(close, at_ + 2);
        if (end == std::string_view::npos) {
            if (close == "\n") {
                at_ = text_.size();
                return true;
            }
            return false;
        }
        at_ = end + close.size();
    }
}

Token Scanner::number() {
    const size_t from = at_;
    // A question mark is a digit behind the base only: before it, it asks.
    const auto digits = [&](bool based) {
        while (at_ < text_.size() && (std::isalnum(static_cast<unsigned char>(text_[at_])) || text_[at_] == '_' ||
                                      (based && text_[at_] == '?') || text_[at_] == '.'))
            ++at_;
    };
    digits(false);
    size_t look = at_;
    while (look < text_.size() && (text_[look] == ' ' || text_[look] == '\t')) ++look;
    if (look < text_.size() && text_[look] == '\'') {
        at_ = look + 1;
        while (at_ < text_.size() && (text_[at_] == ' ' || text_[at_] == '\t')) ++at_;
        if (at_ < text_.size() && std::isalpha(static_cast<unsigned char>(text_[at_]))) ++at_;
        while (at_ < text_.size() && (text_[at_] == ' ' || text_[at_] == '\t')) ++at_;
        digits(true);
    }
    return {Token::number, text_.substr(from, at_ - from), from};
}

Token Scanner::next() {
    const size_t before = at_;
    if (!skip()) {
        at_ = text_.size();
        return {Token::bad, "a comment or attribute without end", before};
    }
    const size_t from = at_;
    if (at_ >= text_.size()) return {Token::end, {}, from};
    const char c = text_[at_];
    if (name_start(c)) {
        while (at_ < text_.size() && in_name(text_[at_])) ++at_;
        return {Token::word, text_.substr(from, at_ - from), from};
    }
    if (c == '`') {
        ++at_;
        while (at_ < text_.size() && in_name(text_[at_])) ++at_;
        return {Token::directive, text_.substr(from + 1, at_ - from - 1), from};
    }
    if (c == '\\') {
        while (at_ < text_.size() && !blank(text_[at_])) ++at_;
        return {Token::escaped, text_.substr(from + 1, at_ - from - 1), from};
    }
    if (std::isdigit(static_cast<unsigned char>(c)) || c == '\'') return number();
    if (c == '"') {
        for (++at_; at_ < text_.size() && text_[at_] != '"'; ++at_)
            if (text_[at_] == '\\') ++at_;
        if (at_ >= text_.size()) {
            at_ = text_.size();
            return {Token::bad, "a text without closing quote", from};
        }
        return {Token::quoted, text_.substr(from + 1, at_++ - from - 1), from};
    }
    ++at_;
    return {Token::symbol, text_.substr(from, 1), from};
}

}  // namespace kp::verilog
