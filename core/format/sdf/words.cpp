// SPDX-License-Identifier: GPL-3.0-or-later
// Delay values: triples with missing members, and 1, 2, 3, 6 or 12 of them (IEEE 1497-2001, 4.3.2).
#include "core/format/sdf/words.hpp"

#include "core/base/bytes.hpp"

#include <algorithm>
#include <cstring>

namespace kp::sdf {

namespace {

enum : unsigned char { blank = 1, bracket = 2, quote = 4, escape = 8 };

struct Classes {
    unsigned char of[256] = {};
    constexpr Classes() {
        for (const char c : {' ', '\t', '\n', '\r', '\f', '\v'}) of[static_cast<unsigned char>(c)] = blank;
        of[static_cast<unsigned char>('(')] = of[static_cast<unsigned char>(')')] = bracket;
        of[static_cast<unsigned char>('"')] = quote;
        of[static_cast<unsigned char>('\\')] = escape;
    }
};
constexpr Classes classes;
unsigned char class_of(char c) {
    return classes.of[static_cast<unsigned char>(c)];
}

}  // namespace

Words::Words(ByteStream& from, size_t window) : from_(from), window_(std::max<size_t>(window, 256)) {}

/// Moves what is still needed to the front of the window and reads on. False at the end of the file, or when a single
/// word fills it.
bool Words::more() {
    if (ended_ || (keep_ == 0 && size_ == window_.size())) return false;
    std::memmove(window_.data(), window_.data() + keep_, size_ - keep_);
    base_ += keep_;
    at_ -= keep_;
    size_ -= keep_;
    keep_ = 0;
    const bool begins = base_ == 0 && size_ == 0;
    auto n = from_.read(window_.data() + size_, window_.size() - size_);
    ended_ = n == 0;
    // A byte order mark is a blank at the start, however few bytes come at once.
    while (begins && n > 0 && n < byte_order_mark.size() &&
           byte_order_mark.starts_with(std::string_view(window_.data(), n))) {
        const auto more = from_.read(window_.data() + n, window_.size() - n);
        if (more == 0) break;
        n += more;
    }
    if (begins && std::string_view(window_.data(), n).starts_with(byte_order_mark))
        std::fill_n(window_.begin(), byte_order_mark.size(), ' ');
    size_ += n;
    return n > 0;
}

/// Passes blanks and comments. False at the end.
bool Words::skip() {
    for (;;) {
        keep_ = at_;
        if (at_ == size_ && !more()) return false;
        const char c = window_[at_];
        if (class_of(c) == blank) {
            const char* const begin = window_.data();
            const char *p = begin + at_, *const end = begin + size_;
            for (; p < end && class_of(*p) == blank; ++p)
                if (*p == '\n') {
                    ++line_;
                    line_begins_ = base_ + static_cast<size_t>(p - begin) + 1;
                }
            at_ = static_cast<size_t>(p - begin);
            continue;
        }
        if (c != '/') return true;
        if (at_ + 1 == size_ && !more()) return true;
        const char kind = window_[at_ + 1];
        if (kind != '/' && kind != '*') return true;
        at_ += 2;
        for (char before = 0;; ++at_) {
            keep_ = at_;
            if (at_ == size_ && !more()) return false;
            const char d = window_[at_];
            if (d == '\n') {
                ++line_;
                line_begins_ = base_ + at_ + 1;
            }
            if (kind == '/' ? d == '\n' : before == '*' && d == '/') break;
            before = d;
        }
        ++at_;
    }
}

void Words::quoted() {
    ++at_;
    for (;; ++at_) {
        if (at_ == size_ && !more()) break;
        if (window_[at_] == '"') break;
        if (window_[at_] == '\n') {
            ++line_;
            line_begins_ = base_ + at_ + 1;
        }
    }
    word_.view = {window_.data() + keep_ + 1, at_ - keep_ - 1};
    if (at_ < size_)
        ++at_;
    else if (!ended_)
        word_.kind = Word::too_long;
}

void Words::plain() {
    for (;;) {
        if (at_ >= size_ && !more()) break;
        const char* const begin = window_.data();
        const char *c = begin + at_, *const end = begin + size_;
        while (c < end && class_of(*c) == 0) ++c;
        at_ = static_cast<size_t>(c - begin);
        if (c >= end) continue;
        if (class_of(*c) != escape) break;
        at_ += 2;
    }
    at_ = std::min(at_, size_);
    word_.view = {window_.data() + keep_, at_ - keep_};
    if (keep_ == 0 && size_ == window_.size() && at_ == size_ && !ended_) word_.kind = Word::too_long;
}

void Words::advance() {
    const bool any = skip();
    word_.offset = base_ + at_;
    word_.line = line_;
    word_.column = static_cast<int>(word_.offset - line_begins_) + 1;
    if (!any) {
        word_.kind = Word::end;
        word_.view = {};
        return;
    }
    keep_ = at_;
    const char c = window_[at_];
    if (class_of(c) == bracket) {
        word_.kind = c == '(' ? Word::open : Word::close;
        word_.view = {window_.data() + at_++, 1};
    } else if (class_of(c) == quote) {
        word_.kind = Word::text;
        quoted();
    } else {
        word_.kind = Word::plain;
        plain();
    }
}

std::string_view Words::ahead() {
    while (size_ - at_ < 64 && more()) {
    }
    if (word_.kind == Word::open || word_.kind == Word::close)
        word_.view = {window_.data() + keep_, 1};  // the window may have moved
    return {window_.data() + at_, size_ - at_};
}

}  // namespace kp::sdf
