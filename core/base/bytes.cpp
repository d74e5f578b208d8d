// SPDX-License-Identifier: GPL-3.0-or-later
// Linear in the text. Where bytes and what is shown of them differ is kept as a list of those places only, so that a
// text of megabytes in plain UTF-8 costs one walk. Base64 is OpenSSL's; UTF-8 is told by the table of the Unicode
// standard.
#include "core/base/bytes.hpp"

#include <algorithm>
#include <cctype>
#include <openssl/evp.h>
#include <vector>

namespace kp {

namespace {

constexpr std::string_view replacement = "\xEF\xBF\xBD", shown_nul = "\xE2\x90\x80";

unsigned at(std::string_view text, size_t i) {
    return static_cast<unsigned char>(text[i]);
}
bool continues(char c) {
    return (static_cast<unsigned char>(c) & 0xC0) == 0x80;
}

std::string as_latin1_utf8(unsigned byte) {
    return {static_cast<char>(0xC0 | (byte >> 6)), static_cast<char>(0x80 | (byte & 0x3F))};
}

/// Pieces that an editor shows otherwise than they are stored, in order; between them shown text and bytes are the
/// same.
struct Piece {
    size_t shown, shown_size, stored, stored_size;
};

std::string show(std::string_view bytes, std::vector<Piece>* pieces) {
    std::string out;
    out.reserve(bytes.size());
    const auto other = [&](size_t from, size_t size, std::string_view as) {
        if (pieces) pieces->push_back({out.size(), as.size(), from, size});
        out += as;
    };
    size_t i = 0;
    if (bytes.starts_with(byte_order_mark)) {
        other(0, byte_order_mark.size(), "");
        i = byte_order_mark.size();
    }
    while (i < bytes.size()) {
        const auto n = utf8_length(bytes, i);
        if (n == 0)
            other(i, 1, as_latin1_utf8(at(bytes, i)));
        else if (bytes[i] == '\0')
            other(i, 1, shown_nul);
        else
            out += bytes.substr(i, n);
        i += std::max<size_t>(n, 1);
    }
    return out;
}

/// Where a place of the shown text is stored; it is between two characters.
size_t stored(const std::vector<Piece>& pieces, size_t shown) {
    auto after = std::partition_point(pieces.begin(), pieces.end(),
                                      [&](const Piece& p) { return p.shown + p.shown_size <= shown; });
    if (after == pieces.begin()) return shown;
    const auto& p = *--after;
    return p.stored + p.stored_size + (shown - p.shown - p.shown_size);
}

/// Latin-1 when every character has a place there.
std::optional<std::string> to_latin1(std::string_view text) {
    std::string out;
    for (size_t i = 0; i < text.size(); ++i) {
        const unsigned c = at(text, i);
        if (c < 0x80)
            out += text[i];
        else if ((c == 0xC2 || c == 0xC3) && i + 1 < text.size())
            out += static_cast<char>(((c & 3) << 6) | (at(text, ++i) & 0x3F));
        else
            return std::nullopt;
    }
    return out;
}

}  // namespace

size_t utf8_length(std::string_view text, size_t i) {
    const unsigned c = at(text, i);
    if (c < 0x80) return 1;
    const size_t n = c >= 0xC2 && c <= 0xDF ? 2 : c >= 0xE0 && c <= 0xEF ? 3 : c >= 0xF0 && c <= 0xF4 ? 4 : 0;
    if (n == 0 || text.size() - i < n) return 0;
    for (size_t k = 1; k < n; ++k)
        if (!continues(text[i + k])) return 0;
    // Table 3-7 of the Unicode standard (from memory): no overlong forms, no surrogates, nothing beyond U+10FFFF.
    const unsigned second = at(text, i + 1);
    if ((c == 0xE0 && second < 0xA0) || (c == 0xED && second > 0x9F) || (c == 0xF0 && second < 0x90) ||
        (c == 0xF4 && second > 0x8F))
        return 0;
    return n;
}

bool is_utf8(std::string_view text) {
    for (size_t i = 0; i < text.size();) {
        const auto n = utf8_length(text, i);
        if (n == 0) return false;
        i += n;
    }
    return true;
}

std::string valid_text(std::string_view text) {
    std::string out;
    out.reserve(text.size());
    for (size_t i = 0; i < text.size();) {
        const auto n = utf8_length(text, i);
        out += n == 0 ? replacement : text.substr(i, n);
        i += std::max<size_t>(n, 1);
    }
    return out;
}

std::string one_line(std::string_view text) {
    auto out = valid_text(text);
    for (size_t i = 0; i < out.size(); ++i) {
        auto& c = out[i];
        if (static_cast<unsigned char>(c) < 0x20 || c == 0x7F) c = ' ';
        // The controls U+0080 to U+009F, of which U+0085 ends a line for some.
        else if (at(out, i) == 0xC2 && i + 1 < out.size() && at(out, i + 1) < 0xA0) {
            c = ' ';
            out[i + 1] = ' ';
        }
        // U+2028 and U+2029 do as well.
        else if (out.compare(i, 2, "\xE2\x80") == 0 && i + 2 < out.size() &&
                 (at(out, i + 2) == 0xA8 || at(out, i + 2) == 0xA9))
            out.replace(i, 3, " ");
    }
    return out;
}

std::string without_foreign_quotes(std::string text) {
    if (is_utf8(text)) return text;
    for (size_t from = text.find('\''); from != std::string::npos;) {
        const auto to = text.find('\'', from + 1);
        if (to == std::string::npos) break;
        if (is_utf8(std::string_view(text).substr(from + 1, to - from - 1))) {
            from = text.find('\'', to + 1);
            continue;
        }
        constexpr std::string_view instead = "something that is not text";
        text.replace(from, to - from + 1, instead);
        from = text.find('\'', from + instead.size());
    }
    return valid_text(text);
}

std::string with_short_quotes(std::string_view text, size_t most) {
    const auto letter = [&](size_t i) {
        return i < text.size() && std::isalnum(static_cast<unsigned char>(text[i])) != 0;
    };
    std::string out;
    for (size_t i = 0; i < text.size();) {
        if (text[i] != '\'' || (i > 0 && letter(i - 1))) {
            out += text[i++];
            continue;
        }
        size_t close = i + 1;
        while (close < text.size() && (text[close] != '\'' || letter(close + 1))) ++close;
        auto quoted = text.substr(i + 1, close - i - 1);
        if (close >= text.size() || quoted.size() <= most) {
            out += text.substr(i, close + 1 - i);
        } else {
            quoted = quoted.substr(0, most);
            // Not inside a character of several bytes.
            while (!quoted.empty() && !is_utf8(quoted)) quoted.remove_suffix(1);
            out += '\'' + std::string(quoted) + "…'";
        }
        i = close + 1;
    }
    return out;
}

std::string shown_text(std::string_view bytes) {
    return show(bytes, nullptr);
}

std::optional<ByteChange> change_to_show(std::string_view bytes, std::string_view now) {
    std::vector<Piece> pieces;
    const auto before = show(bytes, &pieces);
    if (before == now) return std::nullopt;
    size_t head =
        static_cast<size_t>(std::mismatch(before.begin(), before.end(), now.begin(), now.end()).first - before.begin());
    // Neither side may be cut inside a character.
    const auto inside = [](std::string_view text, size_t i) { return i < text.size() && continues(text[i]); };
    while (head > 0 && (inside(before, head) || inside(now, head))) --head;
    size_t tail = 0;
    const size_t most = std::min(before.size(), now.size()) - head;
    while (tail < most && before[before.size() - 1 - tail] == now[now.size() - 1 - tail]) ++tail;
    while (tail > 0 && (inside(before, before.size() - tail) || inside(now, now.size() - tail))) --tail;
    const size_t from = stored(pieces, head), to = stored(pieces, before.size() - tail);
    ByteChange out{from, std::string(bytes.substr(from, to - from)),
                   std::string(now.substr(head, now.size() - tail - head))};
    if (is_utf8(bytes)) return out;
    if (const auto latin1 = to_latin1(out.after)) {
        std::string then(bytes.substr(0, from));
        then.append(*latin1).append(bytes.substr(to));
        if (shown_text(then) == now) out.after = *latin1;
    }
    return out;
}

std::string to_base64(std::string_view bytes) {
    std::string out(4 * ((bytes.size() + 2) / 3) + 1, '\0');
    const int n = EVP_EncodeBlock(reinterpret_cast<unsigned char*>(out.data()),
                                  reinterpret_cast<const unsigned char*>(bytes.data()), static_cast<int>(bytes.size()));
    out.resize(static_cast<size_t>(n));
    return out;
}

std::optional<std::string> from_base64(std::string_view text) {
    const auto digits = text.find_first_not_of("ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/");
    const size_t padding = digits == std::string_view::npos ? 0 : text.size() - digits;
    if (text.size() % 4 != 0 || padding > 2 ||
        (padding > 0 && text.substr(digits) != std::string_view("==").substr(2 - padding)))
        return std::nullopt;
    std::string out(3 * (text.size() / 4) + 1, '\0');
    const int n = EVP_DecodeBlock(reinterpret_cast<unsigned char*>(out.data()),
                                  reinterpret_cast<const unsigned char*>(text.data()), static_cast<int>(text.size()));
    if (n < 0) return std::nullopt;
    out.resize(static_cast<size_t>(n) - padding);
    return out;
}

std::string_view without_mark(std::string_view text) {
    if (text.starts_with(byte_order_mark)) text.remove_prefix(byte_order_mark.size());
    return text;
}

}  // namespace kp
