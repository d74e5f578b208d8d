// SPDX-License-Identifier: GPL-3.0-or-later
// Tcl's own parser (Tcl_ParseCommand) tells where commands and words lie, so that an edit of one command touches its
// bytes and no others.
#include "core/format/sdc/sdc_text.hpp"

#include "core/base/bytes.hpp"
#include "core/base/text.hpp"
#include "core/base/said.hpp"

#include <cctype>
#include <tcl.h>

namespace kp::sdc {

namespace {
/// Tcl_Parse with its memory given back at the end of the scope.
struct Parse {
    Tcl_Parse raw{};
    bool ok = false;
    Parse(const char* at, size_t bytes) {
        ok = Tcl_ParseCommand(nullptr, at, static_cast<int>(bytes), 0, &raw) == TCL_OK;
    }
    Parse(const Parse&) = delete;
    Parse& operator=(const Parse&) = delete;
    ~Parse() {
        if (ok) Tcl_FreeParse(&raw);
    }
};
}  // namespace

std::string as_tcl(std::string_view given) {
    std::string text(given);
    if (text.starts_with(byte_order_mark)) text.replace(0, byte_order_mark.size(), byte_order_mark.size(), ' ');
    size_t slashes = 0;  // right before
    for (size_t i = 0; i < text.size(); ++i) {
        char& c = text[i];
        if (c == '\0') c = ' ';
        if (c == '\r' && i + 1 < text.size() && text[i + 1] == '\n') {
            c = ' ';
            // The backslash has to stand right before the line end it takes away.
            if (slashes % 2 == 1) std::swap(text[i - 1], c);
        }
        slashes = text[i] == '\\' ? slashes + 1 : 0;
    }
    return text;
}

namespace {

/// Tcl's parser calls itself for each bracket and each array index inside another one, on the stack of whoever asks.
/// Gives the place where that would go too deep; npos when it does not. Brackets in comments count too: nobody has that
/// many open ones.
size_t too_deep(std::string_view text) {
    constexpr int deepest = 400;
    int brackets = 0, indices = 0;
    bool name = false;  ///< the characters before this one are $ and a name
    for (size_t i = 0; i < text.size(); ++i) {
        const char c = text[i];
        if (c == '\\') {
            ++i;
            name = false;
            continue;
        }
        if (c == '[') ++brackets;
        if (c == ']' && brackets > 0) --brackets;
        if (c == '(' && name) ++indices;
        if (c == ')' && indices > 0) --indices;
        if (brackets + indices > deepest) return i;
        name = c == '$' || (name && (std::isalnum(static_cast<unsigned char>(c)) || c == '_' || c == ':'));
    }
    return std::string_view::npos;
}

}  // namespace

CommandList split_commands(const std::string& given, const std::string& file) {
    const auto text = as_tcl(given);
    CommandList list;
    if (const auto deep = too_deep(text); deep != std::string::npos) {
        const auto place = place_of(text, deep);
        list.trouble = Message{Severity::stop, Code::syntax, "Brackets are nested more than 400 deep here.",
                               file,           place.line,   place.column};
        return list;
    }
    const char* at = text.data();
    const char* const end = at + text.size();
    while (at < end) {
        const Parse parse(at, static_cast<size_t>(end - at));
        if (!parse.ok) {
            auto start = static_cast<size_t>(at - text.data());
            while (start < text.size() && std::isspace(static_cast<unsigned char>(text[start]))) ++start;
            const auto place = place_of(text, start);
            list.trouble = Message{Severity::stop,
                                   Code::syntax,
                                   "A brace, bracket or quote of this command is not closed, or something follows a "
                                   "closing one without a blank.",
                                   file,
                                   place.line,
                                   place.column};
            return list;
        }
        const auto begin = static_cast<size_t>(parse.raw.commandStart - text.data());
        size_t size = static_cast<size_t>(parse.raw.commandSize);
        at = parse.raw.commandStart + size;
        // The size counts the terminating newline or semicolon; the span does not.
        while (size > 0 && (std::isspace(static_cast<unsigned char>(text[begin + size - 1])) ||
                            (text[begin + size - 1] == ';' && parse.raw.commandStart + size == at)))
            --size;
        if (parse.raw.numWords > 0) list.commands.push_back({begin, begin + size});
    }
    return list;
}

std::vector<Span> words_of(const std::string& given, Span command) {
    std::vector<Span> words;
    const auto text = as_tcl(command.of(given));
    if (too_deep(text) != std::string::npos) return words;
    const Parse parse(text.data(), text.size());
    if (!parse.ok) return words;
    const Tcl_Token* token = parse.raw.tokenPtr;
    for (int i = 0; i < parse.raw.numWords; ++i) {
        const auto begin = command.begin + static_cast<size_t>(token->start - text.data());
        words.push_back({begin, begin + static_cast<size_t>(token->size)});
        token += token->numComponents + 1;
    }
    return words;
}

std::string with_option(const std::string& text, Span command, std::string_view option,
                        const std::optional<std::string>& value) {
    const auto words = words_of(text, command);
    std::string out(command.of(text));
    for (size_t i = 1; i + 1 < words.size(); ++i) {
        if (words[i].of(text) != option) continue;
        const size_t at = (value ? words[i + 1].begin : words[i].begin) - command.begin;
        size_t end = words[i + 1].end - command.begin;
        if (!value)
            while (end < out.size() && (out[end] == ' ' || out[end] == '\t')) ++end;
        return out.replace(at, end - at, value.value_or(""));
    }
    if (value && !words.empty()) out.insert(words[0].end - command.begin, said(" {} {}", option, *value));
    return out;
}

}  // namespace kp::sdc
