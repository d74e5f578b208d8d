// SPDX-License-Identifier: GPL-3.0-or-later
// RFC 4180 with what spreadsheets really write: semicolons and tabs, quotes in the middle, a byte order mark, any
// line end.
#include "core/format/csv/csv.hpp"

#include "core/base/bytes.hpp"

namespace kp {

namespace {

/// Apostrophes, then what a spreadsheet takes for the beginning of a formula.
bool looks_like_formula(std::string_view text) {
    const auto at = text.find_first_not_of('\'');
    return at != std::string_view::npos && std::string_view("=+-@\t\r").find(text[at]) != std::string_view::npos;
}

}  // namespace

std::string csv_field(std::string_view given) {
    const auto text = (looks_like_formula(given) ? "'" : "") + std::string(given);
    if (text.find_first_of(",\"\r\n") == std::string_view::npos) return text;
    std::string out = "\"";
    for (const char c : text) {
        if (c == '"') out += '"';
        out += c;
    }
    return out + "\"";
}

std::string csv_row(const std::vector<std::string>& fields) {
    std::string out;
    for (size_t i = 0; i < fields.size(); ++i) out += (i ? "," : "") + csv_field(fields[i]);
    return out + "\n";
}

std::vector<std::vector<std::string>> read_csv(std::string_view text, char delimiter, std::vector<int>* lines,
                                               int* left_open) {
    std::vector<std::vector<std::string>> rows;
    std::vector<std::string> row;
    std::string field;
    bool quoted = false, any = false;
    int line = 1, started = 1, opened = 0;
    text = without_mark(text);
    const auto end_field = [&] {
        if (field.starts_with('\'') && looks_like_formula(field)) field.erase(0, 1);
        row.push_back(std::move(field));
        field.clear();
    };
    const auto end_row = [&] {
        end_field();
        rows.push_back(std::move(row));
        row.clear();
        any = false;
        if (lines) lines->push_back(started);
    };
    for (size_t i = 0; i < text.size(); ++i) {
        const char c = text[i];
        if (c == '\n') ++line;
        if (quoted) {
            if (c != '"')
                field += c;
            else if (i + 1 < text.size() && text[i + 1] == '"')
                field += text[++i];
            else
                quoted = false;
        } else if (c == '"' && field.empty()) {
            quoted = any = true;
            opened = line;
        } else if (c == delimiter) {
            end_field();
            any = true;
        } else if (c == '\n') {
            end_row();
            started = line;
        } else if (c != '\r' || i + 1 == text.size() || text[i + 1] != '\n') {
            field += c;
            any = true;
        }
    }
    if (any || !field.empty()) end_row();
    if (left_open) *left_open = quoted ? opened : 0;
    return rows;
}

}  // namespace kp
