// SPDX-License-Identifier: GPL-3.0-or-later
// A name is tried character by character, then against the words of the languages; what replaces it keeps all that is
// plain.
#include "core/base/names.hpp"

#include "core/base/reserved_words.hpp"
#include "core/base/text.hpp"
#include "core/base/said.hpp"

#include <cctype>

namespace kp {

namespace {

bool plain(char c) {
    return std::isalnum(static_cast<unsigned char>(c)) || c == '_';
}

/// Plain letters in place of the accented ones of Latin-1 (UTF-8: C3 xx); other bytes stay.
std::string without_accents(std::string_view text) {
    static const char* const plain_of = "AAAAAAACEEEEIIIIDNOOOOOxOUUUUYTsaaaaaaaceeeeiiiidnooooo/ouuuuyty";
    std::string out;
    for (size_t i = 0; i < text.size(); ++i) {
        const auto c = static_cast<unsigned char>(text[i]);
        if (c == 0xC3 && i + 1 < text.size()) {
            const auto next = static_cast<unsigned char>(text[++i]);
            out += next >= 0x80 && next < 0xC0 ? plain_of[next - 0x80] : '_';
        } else if (c >= 0xC0) {
            out += '_';
            while (i + 1 < text.size() && (static_cast<unsigned char>(text[i + 1]) & 0xC0) == 0x80) ++i;
        } else {
            out += static_cast<char>(c);
        }
    }
    return out;
}

}  // namespace

std::optional<std::string> name_trouble(std::string_view name) {
    if (name.empty()) return "a name is missing";
    for (const char c : name)
        if (!plain(c))
            return said("it has {}; letters, digits and underscores are understood everywhere",
                        (c == ' '                                ? "a blank"
                         : static_cast<unsigned char>(c) >= 0x80 ? "a letter that is not plain"
                                                                 : "'" + std::string(1, c) + "'"));
    if (std::isdigit(static_cast<unsigned char>(name[0]))) return "it starts with a digit";
    if (name.front() == '_' || name.back() == '_' || name.find("__") != std::string_view::npos)
        return "VHDL takes no underscore at an end and no two in a row";
    if (const char* language = language_of_word(name)) return std::string("it is a word of ") + language;
    return std::nullopt;
}

std::string portable_name(std::string_view name) {
    if (!name_trouble(name)) return std::string(name);
    std::string out;
    for (const char c : without_accents(name)) {
        const char next = plain(c) ? c : '_';
        if (next == '_' && (out.empty() || out.back() == '_')) continue;
        out += next;
    }
    while (!out.empty() && out.back() == '_') out.pop_back();
    if (out.empty()) return "unnamed";
    if (std::isdigit(static_cast<unsigned char>(out[0]))) out.insert(0, "n");
    if (language_of_word(out)) out += "_1";
    return out;
}

std::optional<std::string> path_trouble(std::string_view path) {
    for (const char c : path)
        if (!plain(c) && c != '.' && c != '-' && c != '/')
            return said("it has {}, which breaks tools further down",
                        (c == ' '                                ? "a blank"
                         : static_cast<unsigned char>(c) >= 0x80 ? "a letter that is not plain"
                                                                 : "'" + std::string(1, c) + "'"));
    return std::nullopt;
}

std::string portable_path(std::string_view path) {
    std::string out;
    for (const char c : without_accents(path)) out += plain(c) || c == '.' || c == '-' || c == '/' ? c : '_';
    return out;
}

}  // namespace kp
