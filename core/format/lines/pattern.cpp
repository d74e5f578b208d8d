// SPDX-License-Identifier: GPL-3.0-or-later
// A shape is literals and fields in turn. A literal has to be there byte by byte, blanks aside. A field runs to where
// its example says: to the closing quote, or to a blank or the sign that follows it; a number in brackets behind a name
// is part of it. There is nothing to go back to, so that a line costs its length times the number of shapes.
#include "core/format/lines/pattern.hpp"

#include "core/base/text.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <cctype>

namespace kp::lines {

namespace {

constexpr size_t most_shapes = 64, longest_example = 4000;

bool blank(char c) {
    return c == ' ' || c == '\t' || c == '\r';
}
bool is_quote(char c) {
    return c == '"' || c == '\'';
}
bool is_word(char c) {
    return std::isalnum(static_cast<unsigned char>(c)) || c == '_' || static_cast<unsigned char>(c) >= 0x80;
}
/// Signs that end a name unless its example has them too.
bool ends_name(char c) {
    return blank(c) || is_quote(c) || std::string_view(",;=(){}<>[]").find(c) != std::string_view::npos;
}

/// Length of a number in brackets at `at`, such as "[3]", "<12>" or "[7:0]"; 0 when there is none.
size_t index_at(std::string_view text, size_t at) {
    if (at >= text.size()) return 0;
    const auto open = std::string_view("[<(").find(text[at]);
    if (open == std::string_view::npos) return 0;
    size_t end = at + 1;
    while (end < text.size() && (std::isdigit(static_cast<unsigned char>(text[end])) || text[end] == ':')) ++end;
    const bool closed = end > at + 1 && end < text.size() && text[end] == "]>)"[open];
    return closed ? end + 1 - at : 0;
}

std::string without_blanks(std::string_view text) {
    std::string out;
    for (const char c : text)
        if (!blank(c)) out += c;
    return out;
}

bool inside_quotes(std::string_view text, size_t at) {
    char open = 0;
    for (size_t i = 0; i < at && i < text.size(); ++i) {
        if (open)
            open = text[i] == open ? 0 : open;
        else if (is_quote(text[i]))
            open = text[i];
    }
    return open != 0;
}

Message wrong(const std::string& text) {
    return {Severity::stop, Code::lines, text};
}

}  // namespace

size_t end_of_statement(std::string_view line, std::string_view comment) {
    if (comment.empty()) return line.size();
    char open = 0;
    for (size_t i = 0; i < line.size(); ++i) {
        if (open) {
            open = line[i] == open ? 0 : open;
        } else if (is_quote(line[i])) {
            open = line.find(line[i], i + 1) == std::string_view::npos ? 0 : line[i];
        } else if (line.substr(i).starts_with(comment)) {
            return i;
        }
    }
    return line.size();
}

std::vector<std::pair<size_t, size_t>> words_of(std::string_view line) {
    std::vector<std::pair<size_t, size_t>> out;
    for (size_t at = 0; at < line.size();) {
        const size_t first = at;
        if (is_quote(line[at])) {
            const auto close = std::min(line.find(line[at], at + 1), line.size());
            if (close > at + 1) out.emplace_back(at + 1, close - at - 1);
            at = close + 1;
            continue;
        }
        while (at < line.size()) {
            if (const size_t index = at > first ? index_at(line, at) : 0)
                at += index;
            else if (ends_name(line[at]))
                break;
            else
                ++at;
        }
        if (at > first)
            out.emplace_back(first, at - first);
        else
            ++at;
    }
    return out;
}

std::pair<size_t, size_t> word_at(std::string_view line, size_t place) {
    for (const auto& [first, length] : words_of(line))
        if (place >= first && place < first + length) return {first, length};
    return {place, 0};
}

Result<Matcher::Ready> Matcher::prepare(const Shape& shape, const std::string& comment) {
    std::string_view example = shape.example;
    if (example.size() > longest_example) return wrong("An example is longer than 4,000 bytes.");
    const size_t start = !comment.empty() && example.starts_with(comment) ? comment.size() : 0;
    auto marks = shape.marks;
    std::sort(marks.begin(), marks.end(), [](const Mark& a, const Mark& b) { return a.first < b.first; });
    Ready out;
    size_t at = start;
    bool port = false;
    for (auto m : marks) {
        if (std::find(field_names.begin(), field_names.end(), m.field) == field_names.end())
            return wrong(
                said("A mark says '{}'; known are port, pin, standard, drive, slew, pull and value.", m.field));
        if (m.length == 0 || m.first > example.size() || m.length > example.size() - m.first)
            return wrong(said("The mark of {} lies outside of its example '{}'.", m.field, shape.example));
        if (m.first < at) return wrong(said("The mark of {} overlaps another one in '{}'.", m.field, shape.example));
        const bool quoted = inside_quotes(example.substr(start), m.first - start);
        while (!quoted) {  // numbers in brackets belong to the name they follow
            const size_t index = index_at(example, m.first + m.length);
            if (index == 0) break;
            m.length += index;
        }
        port |= m.field == "port";
        auto literal = without_blanks(example.substr(at, m.first - at));
        if (literal.empty() && !out.pieces.empty() && m.first == at)
            return wrong(said("Two marks meet in '{}'; nothing says where one ends.", shape.example));
        if (!literal.empty()) out.pieces.push_back({literal, "", false, 0, ""});
        Piece piece{"", m.field, quoted, 0, ""};
        const auto own = example.substr(m.first, m.length);
        if (own.size() > 2 && is_quote(own.front()) && own.back() == own.front()) piece.wraps = own.front();
        for (size_t i = 0; i < own.size(); ++i) {
            if (const size_t index = index_at(own, i))
                i += index - 1;
            else if (ends_name(own[i]) && !is_quote(own[i]))
                piece.more += own[i];
        }
        out.pieces.push_back(std::move(piece));
        at = m.first + m.length;
    }
    if (!port) return wrong(said("No word of '{}' is marked as port.", shape.example));
    const auto statement = end_of_statement(example.substr(start), comment) + start;
    if (statement > at)
        if (auto literal = without_blanks(example.substr(at, statement - at)); !literal.empty())
            out.pieces.push_back({literal, "", false, 0, ""});
    return out;
}

Result<Matcher> Matcher::make(const Pattern& pattern) {
    if (pattern.shapes.empty()) return wrong("The pattern has no shape; mark the words of one line.");
    if (pattern.shapes.size() > most_shapes) return wrong("A pattern has at most 64 shapes.");
    Matcher out;
    for (const auto& shape : pattern.shapes) {
        auto ready = prepare(shape, pattern.comment);
        if (!ready) return ready.messages();
        out.shapes_.push_back(ready.take());
    }
    for (const auto& [field, table] : pattern.spellings) {
        auto& list = out.spellings_[field];
        for (const auto& [theirs, ours] : table) list.push_back(theirs);
        std::sort(list.begin(), list.end(), [](const auto& a, const auto& b) { return a.size() > b.size(); });
    }
    return out;
}

/// Length of the longest spelling that stands at a place as a word of its own; 0: none does.
size_t Matcher::spelled(const Piece& piece, std::string_view line, size_t at) const {
    const auto list = spellings_.find(piece.field);
    if (list == spellings_.end()) return 0;
    for (const auto& theirs : list->second) {
        if (theirs.empty() || !line.substr(at).starts_with(theirs)) continue;
        const auto end = at + theirs.size();
        if (end >= line.size() || !is_word(line[end]) || !is_word(line[end - 1])) return theirs.size();
    }
    return 0;
}

/// Where the value of field `piece` of a shape ends that begins at `at`; `at` itself: there is none.
size_t Matcher::end_of_field(const Ready& shape, size_t i, std::string_view line, size_t at) const {
    const auto& piece = shape.pieces[i];
    const bool followed = i + 1 < shape.pieces.size() && !shape.pieces[i + 1].literal.empty();
    const char behind = followed ? shape.pieces[i + 1].literal[0] : '\0';
    if (const auto length = piece.quoted ? 0 : spelled(piece, line, at)) return at + length;
    if (piece.wraps && at < line.size() && line[at] == piece.wraps) {
        const auto close = line.find(piece.wraps, at + 1);
        return close == std::string_view::npos ? at : close + 1;
    }
    // The sign behind ends the value; where a word follows, a blank does, unless the example has blanks inside.
    const bool inner = piece.more.find(' ') != std::string::npos;
    const bool blanks = inner && !is_word(behind);
    const size_t first = at;
    while (at < line.size()) {
        if (behind && !is_word(behind) && line[at] == behind && at > first && !index_at(line, at)) break;
        if (piece.quoted) {
            if (is_quote(line[at])) break;
            ++at;
        } else if (const size_t index = at > first ? index_at(line, at) : 0) {
            at += index;
        } else if (blank(line[at])) {
            const auto rest = line.substr(at);
            const auto next = rest.find_first_not_of(" \t\r");
            const bool ends = next == std::string_view::npos ||
                              (inner && is_word(behind) && rest.substr(next).starts_with(shape.pieces[i + 1].literal));
            if (ends || (!blanks && !inner)) break;
            ++at;
        } else if (ends_name(line[at]) && piece.more.find(line[at]) == std::string::npos) {
            break;
        } else {
            ++at;
        }
    }
    while (at > first && blank(line[at - 1])) --at;
    return at;
}

bool Matcher::fits(const Ready& shape, std::string_view line, Values& values, Reached& reached) const {
    size_t at = 0, fields = 0;
    const auto skip = [&] {
        while (at < line.size() && blank(line[at])) ++at;
    };
    const auto stop = [&](std::string wanted) {
        reached = {at, std::move(wanted), fields};
        return false;
    };
    for (size_t i = 0; i < shape.pieces.size(); ++i) {
        const auto& piece = shape.pieces[i];
        if (!piece.literal.empty()) {
            for (const char c : piece.literal) {
                skip();
                if (at >= line.size() || line[at] != c) return stop(said("'{}' is expected", piece.literal));
                ++at;
            }
            continue;
        }
        skip();
        const size_t first = at, end = end_of_field(shape, i, line, at);
        if (end == first) return stop(said("a {} is expected", piece.field));
        at = end;
        values[piece.field] = {std::string(line.substr(first, end - first)), first, end - first};
        ++fields;
    }
    const size_t end = at;
    skip();
    if (at >= line.size()) return true;
    (void)stop("the end is expected");
    reached.at_end = at > end || !is_word(line[at]);
    return false;
}

Matcher::Match Matcher::match(std::string_view line, bool with_tail) const {
    Match out, tailed;
    Reached best;
    bool any = false;
    for (size_t i = 0; i < shapes_.size(); ++i) {
        Values values;
        Reached reached;
        if (fits(shapes_[i], line, values, reached)) {
            out.shape = static_cast<int>(i);
            out.values = std::move(values);
            return out;
        }
        if (with_tail && reached.at_end && reached.at > tailed.tail) {
            tailed.shape = static_cast<int>(i);
            tailed.values = std::move(values);
            tailed.tail = reached.at;
        }
        out.began |= reached.fields > 0;
        if (!any || reached.at > best.at) best = std::move(reached);
        any = true;
    }
    if (tailed.shape >= 0) return tailed;
    out.why = said("{} at column {}", best.wanted, best.at + 1);
    if (best.at < line.size()) out.why += ", not '" + std::string(trim(line.substr(best.at, 12))) + "'";
    return out;
}

std::string square_brackets(std::string_view name) {
    std::string out(name);
    const auto open = out.find_first_of("<(");
    if (open == std::string::npos || open == 0 || index_at(out, open) == 0) return out;
    for (size_t i = open; i < out.size();) {
        const size_t length = index_at(out, i);
        if (length == 0) return std::string(name);
        out[i] = '[';
        out[i + length - 1] = ']';
        i += length;
    }
    return out;
}

std::string brackets_as(std::string_view name, std::string_view like) {
    const auto open = like.find_first_of("[<(");
    if (open == std::string_view::npos || index_at(like, open) == 0) return std::string(name);
    const char pair[2] = {like[open], like[open] == '[' ? ']' : like[open] == '<' ? '>' : ')'};
    std::string out(name);
    for (auto& c : out) {
        if (c == '[') c = pair[0];
        if (c == ']') c = pair[1];
    }
    return out;
}

}  // namespace kp::lines
