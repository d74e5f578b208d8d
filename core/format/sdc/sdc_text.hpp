// SPDX-License-Identifier: GPL-3.0-or-later
// The constraint text as commands and words with byte spans, and edits that touch just one of them.
#pragma once

#include "core/model/sdc_words.hpp"
#include "core/base/result.hpp"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace kp::sdc {

/// The text as Tcl has to get it, each byte in its place: blanks for a byte order mark, for the CR of CRLF (also behind
/// a backslash that continues a line) and for NUL bytes.
[[nodiscard]] std::string as_tcl(std::string_view text);

/// The commands of a script as Tcl sees them, comments left out. An unclosed brace, bracket or quote ends the list and
/// is told in `trouble` at the place where the command starts.
struct CommandList {
    std::vector<Span> commands;
    std::optional<Message> trouble;
};
[[nodiscard]] CommandList split_commands(const std::string& text, const std::string& file);

/// The words of one command, from Tcl's own parser. Spans include braces, quotes and brackets.
[[nodiscard]] std::vector<Span> words_of(const std::string& text, Span command);

/// The command's text with the value of `option` (such as "-period") replaced, or the option added behind the command's
/// name. All other bytes stay. With no value the option is taken out.
[[nodiscard]] std::string with_option(const std::string& text, Span command, std::string_view option,
                                      const std::optional<std::string>& value);

}  // namespace kp::sdc
