// SPDX-License-Identifier: GPL-3.0-or-later
// Words of the constraint language as text: how names are quoted, where a new command goes. No interpreter is needed.
#pragma once

#include <cstddef>
#include <string>
#include <string_view>
#include <vector>

namespace kp::sdc {

struct Span {
    size_t begin = 0, end = 0;
    [[nodiscard]] std::string_view of(std::string_view text) const { return text.substr(begin, end - begin); }
};

/// A word that Tcl reads as exactly `text`, bare where that is enough.
[[nodiscard]] std::string quote(std::string_view text);
/// "[get_ports tone]" or "[get_ports {a[0] b}]".
[[nodiscard]] std::string get_ports_word(const std::vector<std::string>& names);

/// Where a new command goes: behind the last character, on a line of its own.
struct Insertion {
    size_t offset = 0;
    std::string text;
};
[[nodiscard]] Insertion append_command(const std::string& text, const std::string& command);

}  // namespace kp::sdc
