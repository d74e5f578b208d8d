// SPDX-License-Identifier: GPL-3.0-or-later
// Both ways by hand: a pattern is small, and its marks are pairs of numbers by field.
#include "core/format/lines/pattern_json.hpp"

#include "core/format/json/json_text.hpp"
#include "core/base/said.hpp"
#include <algorithm>

namespace kp::lines {

namespace {

bool continues(char c) {
    return (static_cast<unsigned char>(c) & 0xC0) == 0x80;
}

/// Byte at which character `n` begins; the size of the text behind its end, and one more beyond that.
size_t byte_of(std::string_view text, size_t n) {
    size_t at = 0;
    for (; n > 0 && at < text.size(); --n) do
            ++at;
        while (at < text.size() && continues(text[at]));
    return n > 0 ? text.size() + 1 : at;
}

size_t character_of(std::string_view text, size_t byte) {
    return static_cast<size_t>(std::count_if(text.begin(), text.begin() + static_cast<std::ptrdiff_t>(byte),
                                             [](char c) { return !continues(c); }));
}

/// [first, length], or a list of them.
void read_marks(JsonText& json, const std::string& place, const std::string& field, const Json& value, Shape& shape) {
    if (value.is_array() && !value.empty() && value[0].is_array()) {
        for (const auto& one : value) read_marks(json, place, field, one, shape);
        return;
    }
    const bool numbers =
        value.is_array() && value.size() == 2 && value[0].is_number_unsigned() && value[1].is_number_unsigned();
    if (!numbers) return json.wrong(place, said("The mark of {} is not [first, length].", field));
    constexpr size_t most = 100'000;
    const auto first = value[0].get<std::uint64_t>(), length = value[1].get<std::uint64_t>();
    if (first > most || length > most) return json.wrong(place, said("The mark of {} is not [first, length].", field));
    const auto from = byte_of(shape.example, first), to = byte_of(shape.example, first + length);
    shape.marks.push_back({field, from, to - from});
}

void read_spellings(JsonText& json, Pattern& out) {
    const auto at = json.root().find("spellings");
    if (at == json.root().end()) return;
    if (!at->is_object()) return json.wrong("", "'spellings' is not an object.");
    for (const auto& [field, value] : at->items()) {
        if (field == "pin_prefix" && value.is_string()) {
            out.pin_prefix = value.get<std::string>();
        } else if (value.is_object()) {
            for (const auto& [theirs, ours] : value.items())
                if (ours.is_string())
                    out.spellings[field][theirs] = ours.get<std::string>();
                else
                    json.wrong("/spellings", said("The spelling of '{}' is not text.", theirs));
        } else {
            json.wrong("/spellings", said("'{}' is neither a table of spellings nor the prefix of pins.", field));
        }
    }
}

Json values_json(const std::map<std::string, std::string>& values, Json out, const StandardTable* standards) {
    for (const char* field : field_names) {
        const auto at = values.find(field);
        const bool port = std::string_view(field) == "port";
        out[field] =
            at == values.end() ? Json(nullptr) : Json(json_safe(port ? square_brackets(at->second) : at->second));
    }
    const auto standard = values.find("standard");
    if (standards && standard != values.end() && !standards->find(standard->second))
        if (const auto likely = likely_standard(standard->second, *standards); !likely.empty())
            out["standard_proposed"] = likely;
    return out;
}

}  // namespace

Result<Pattern> read_pattern(std::string_view text, const std::string& file) {
    auto parsed = JsonText::parse(text, file, "lines", 1);
    if (!parsed) return parsed.messages();
    auto& json = parsed.value();
    Pattern out;
    out.name = json.text("", "name", false);
    if (json.has("", "comment")) out.comment = json.text("", "comment", false);
    for (size_t i = 0; i < json.count("", "shapes"); ++i) {
        const auto place = "/shapes/" + std::to_string(i);
        Shape shape;
        shape.example = json.text(place, "example");
        const auto& value = json.root()["shapes"][i];
        if (value.is_object() && value.contains("marks") && value["marks"].is_object())
            for (const auto& [field, mark] : value["marks"].items()) read_marks(json, place, field, mark, shape);
        else
            json.wrong(place, "A shape needs its 'marks'.");
        out.shapes.push_back(std::move(shape));
    }
    read_spellings(json, out);
    if (auto errors = json.errors(); !errors.empty()) return errors;
    if (auto matcher = Matcher::make(out); !matcher) {
        auto why = matcher.first();
        why.file = file;
        return why;
    }
    return out;
}

Json pattern_json(const Pattern& pattern) {
    Json out{
        {"schema", "kitepeg.lines/1"}, {"name", pattern.name}, {"comment", pattern.comment}, {"shapes", Json::array()}};
    for (const auto& shape : pattern.shapes) {
        Json marks = Json::object();
        for (const auto& m : shape.marks) {
            const auto from = character_of(shape.example, m.first);
            Json place = Json::array({from, character_of(shape.example, m.first + m.length) - from});
            if (!marks.contains(m.field)) {
                marks[m.field] = std::move(place);
                continue;
            }
            if (!marks[m.field][0].is_array()) marks[m.field] = Json::array({marks[m.field]});
            marks[m.field].push_back(std::move(place));
        }
        out["shapes"].push_back({{"example", json_safe(shape.example)}, {"marks", std::move(marks)}});
    }
    Json spellings = Json::object();
    for (const auto& [field, table] : pattern.spellings)
        for (const auto& [theirs, ours] : table) spellings[field][theirs] = ours;
    if (!pattern.pin_prefix.empty()) spellings["pin_prefix"] = pattern.pin_prefix;
    out["spellings"] = std::move(spellings);
    return out;
}

Json reading_json(const Reading& reading, const StandardTable* standards) {
    Json out{{"schema", "kitepeg.lines/1"},
             {"rows", Json::array()},
             {"signals", Json::array()},
             {"unread", Json::array()},
             {"messages", Json::array()}};
    for (const auto& r : reading.rows)
        out["rows"].push_back(
            values_json(r.values, {{"line", r.line}, {"shape", r.shape}, {"commented", r.commented}}, standards));
    for (const auto& s : reading.joined) {
        Json lines = Json::array();
        for (const auto i : s.rows) lines.push_back(reading.rows[i].line);
        out["signals"].push_back(
            values_json(s.values, {{"lines", std::move(lines)}, {"commented", s.commented}}, standards));
    }
    for (const auto& u : reading.unread)
        out["unread"].push_back({{"line", u.line}, {"text", json_safe(u.text)}, {"why", json_safe(u.why)}});
    for (const auto& m : reading.messages)
        out["messages"].push_back({{"severity", name_of(m.severity)},
                                   {"code", word_of(m.code)},
                                   {"text", json_safe(m.text)},
                                   {"file", m.file},
                                   {"line", m.line}});
    return out;
}

}  // namespace kp::lines
