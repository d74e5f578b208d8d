// SPDX-License-Identifier: GPL-3.0-or-later
// Texts of others as the bytes they are. Comments in Latin-1, byte order marks, CRLF and NUL bytes are all met in
// practice; what the user did not edit is written back to the byte. UTF-8 is that of RFC 3629.
#pragma once

#include <optional>
#include <string>
#include <string_view>

namespace kp {

/// Length of the UTF-8 sequence at `at` (1 to 4), 0 when the bytes there are none (also overlong forms and surrogates).
[[nodiscard]] size_t utf8_length(std::string_view text, size_t at);
[[nodiscard]] bool is_utf8(std::string_view text);

/// The text with U+FFFD for every byte that is not UTF-8.
[[nodiscard]] std::string valid_text(std::string_view text);
/// On one line: control characters become blanks or, in names, cannot break a message; bytes as valid_text has them.
[[nodiscard]] std::string one_line(std::string_view text);
/// A sentence without what it quotes ('…'), when that is not UTF-8 text; nobody's binary file is shown in a message.
[[nodiscard]] std::string without_foreign_quotes(std::string text);

/// A sentence in which each quotation ('…') has at most `most` bytes, and "…" stands for the rest of it. An apostrophe
/// inside a word quotes nothing.
[[nodiscard]] std::string with_short_quotes(std::string_view text, size_t most = 60);

/// What an editor shows of a text, as UTF-8: without a byte order mark; a byte that is not UTF-8 as the Latin-1
/// character it most likely is; NUL as U+2400. Lines stay as they are.
[[nodiscard]] std::string shown_text(std::string_view bytes);

/// A piece of a text and what comes in its place.
struct ByteChange {
    size_t offset = 0;
    std::string before, after;
};
/// The smallest change of `bytes` after which an editor shows `shown`; none when it shows that already. Characters are
/// kept whole. In a text with Latin-1 bytes what was typed becomes Latin-1 too, where it has such characters.
[[nodiscard]] std::optional<ByteChange> change_to_show(std::string_view bytes, std::string_view shown);

/// Base64 of RFC 4648, with padding.
[[nodiscard]] std::string to_base64(std::string_view bytes);
[[nodiscard]] std::optional<std::string> from_base64(std::string_view text);

inline constexpr std::string_view byte_order_mark = "\xEF\xBB\xBF";
/// The text behind a byte order mark, if it starts with one.
[[nodiscard]] std::string_view without_mark(std::string_view text);

}  // namespace kp
