// SPDX-License-Identifier: GPL-3.0-or-later
// The constraint text as commands and words with byte spans, and edits that touch just one of them.
#pragma once

#include "core/base/result.hpp"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace kp::sdc {

struct Span {
    size_t begin = 0, end = 0;
    [[nodiscard]] std::string_view of(std::string_view text) const { return text.substr(begin, end - begin); }
};

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

/// A word that Tcl reads as exactly `text`, bare where that is enough.
[[nodiscard]] std::string quote(std::string_view text);
/// "[get_ports tone]" or "[get_ports {a[0] b}]".
[[nodiscard]] std::string get_ports_word(const std::vector<std::string>& names);

/// The command's text with the value of `option` (such as "-period") replaced, or the option added behind the command's
/// name. All other bytes stay. With no value the option is taken out.
[[nodiscard]] std::string with_option(const std::string& text, Span command, std::string_view option,
                                      const std::optional<std::string>& value);

/// Where a new command goes: behind the last character, on a line of its own.
struct Insertion {
    size_t offset = 0;
    std::string text;
};
[[nodiscard]] Insertion append_command(const std::string& text, const std::string& command);

}  // namespace kp::sdc
