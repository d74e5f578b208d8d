// SPDX-License-Identifier: GPL-3.0-or-later
// One pass; a comment or string that does not end goes to the end of the text.
#include "core/hdl/words.hpp"

#include "core/base/text.hpp"

#include <algorithm>
#include <cctype>

namespace kp {

namespace {

bool is_letter(char c) {
    return std::isalnum(static_cast<unsigned char>(c)) || c == '_' || c == '$' || c == '`';
}

/// Behind a comment or a string that begins at `i`; `i` itself where neither does.
size_t behind_passed(std::string_view text, size_t i, bool vhdl) {
    const auto rest = text.substr(i);
    if (vhdl ? rest.starts_with("--") : rest.starts_with("//")) return std::min(text.find('\n', i), text.size());
    const bool block = rest.starts_with("/*");
    if (!block && text[i] != '"') return i;
    const auto end = block ? text.find("*/", i + 2) : text.find('"', i + 1);
    return end == std::string_view::npos ? text.size() : end + (block ? 2 : 1);
}

}  // namespace

bool is_vhdl_file(const std::string& file) {
    const auto name = lower(file);
    return name.ends_with(".vhd") || name.ends_with(".vhdl");
}

std::vector<HdlWord> hdl_words(std::string_view text, bool vhdl) {
    std::vector<HdlWord> out;
    int line = 1;
    for (size_t i = 0; i < text.size();) {
        const size_t first = i;
        if (const auto behind = behind_passed(text, i, vhdl); behind != i) {
            i = behind;
        } else if (is_letter(text[i])) {
            while (i < text.size() && is_letter(text[i])) ++i;
            const auto word = text.substr(first, i - first);
            out.push_back({vhdl ? lower(word) : std::string(word), line});
        } else {
            if (!std::isspace(static_cast<unsigned char>(text[i]))) out.push_back({std::string(1, text[i]), line});
            ++i;
        }
        line += static_cast<int>(
            std::count(text.begin() + static_cast<long>(first), text.begin() + static_cast<long>(i), '\n'));
    }
    return out;
}

}  // namespace kp
