// SPDX-License-Identifier: GPL-3.0-or-later
// The words of source texts after their directives, with operators of several characters joined.
#pragma once

#include "core/hdl/source/syntax.hpp"
#include "core/hdl/header/ports.hpp"

#include <span>

namespace kp::source {

struct Word {
    enum Kind : std::uint8_t { end, name, number, text, op } kind = end;
    bool escaped = false;  ///< an escaped name is never a keyword
    std::string word;
    SourcePlace place;
};

constexpr size_t most_words = size_t{8} << 20;  ///< of all texts together

/// Words of all texts, macros carried from one to the next. Errors: directives that cannot be followed, a character
/// that belongs nowhere, more than most_words. `files` gets the names that places speak of.
[[nodiscard]] Result<std::vector<Word>> words_of(std::span<const SourceText> texts, const PortRequest& request,
                                                 std::vector<std::string>& files);

/// "8'hF_F", "'1", "12"; none when it is not a whole number or has more than 65,536 digits of two.
[[nodiscard]] std::optional<Literal> literal_of(std::string_view text);

}  // namespace kp::source
