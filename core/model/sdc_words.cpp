// SPDX-License-Identifier: GPL-3.0-or-later
// Quoting by the rules of Tcl's manual page: bare words, braces that balance, backslashes for the rest.
#include "core/model/sdc_words.hpp"
#include "core/base/said.hpp"

namespace kp::sdc {

std::string quote(std::string_view text) {
    if (text.empty()) return "{}";
    const bool bare = text.find_first_of(" \t\n\r\f\v;\"$[]{}\\") == std::string_view::npos && text.front() != '#';
    if (bare) return std::string(text);
    int depth = 0;
    bool braces = text.back() != '\\' && text.find("\\\n") == std::string_view::npos;
    for (size_t i = 0; i < text.size() && braces; ++i) {
        if (text[i] == '\\')
            ++i;
        else if (text[i] == '{')
            ++depth;
        else if (text[i] == '}' && --depth < 0)
            braces = false;
    }
    if (braces && depth == 0) return "{" + std::string(text) + "}";
    std::string out;
    for (const char c : text) {
        if (c == '\n')
            out += "\\n";
        else if (c == '\t')
            out += "\\t";
        else if (c == '\r')
            out += "\\r";
        else if (c == '\f')
            out += "\\f";
        else if (c == '\v')
            out += "\\v";
        else {
            if (std::string_view(" ;\"$[]{}\\#").find(c) != std::string_view::npos) out += '\\';
            out += c;
        }
    }
    return out;
}

std::string get_ports_word(const std::vector<std::string>& names) {
    if (names.size() == 1) return said("[get_ports {}]", quote(names.front()));
    std::string list;
    for (const auto& name : names) {
        const bool plain_inside_braces = name.find_first_of(" {}\\") == std::string::npos;
        if (!list.empty()) list += " ";
        list += plain_inside_braces && quote(name).starts_with('{') ? name : quote(name);
    }
    return said("[get_ports {{{}}}]", list);
}

Insertion append_command(const std::string& text, const std::string& command) {
    const bool fresh_line = text.empty() || text.back() == '\n';
    // As the file's other lines end.
    const auto first = text.find('\n');
    const std::string end = first != std::string::npos && first > 0 && text[first - 1] == '\r' ? "\r\n" : "\n";
    return {text.size(), (fresh_line ? "" : end) + command + end};
}

}  // namespace kp::sdc
