// SPDX-License-Identifier: GPL-3.0-or-later
// Tables of fields (core/model/fields.hpp) read from JSON and written to it: with places and messages for files, with
// any bytes for journal and log.
#pragma once

#include "core/base/text.hpp"
#include "core/format/json/json_text.hpp"
#include "core/model/fields.hpp"

#include <algorithm>
#include <string>
#include <type_traits>
#include <vector>

namespace kp::json {

/// Texts by name, at `key` of the object at `at`. A missing object is an empty one.
void read_named(JsonText& j, const std::string& at, const char* key, std::map<std::string, std::string>& out);

// A value as journal and log keep it, and back; of another shape take_safe throws Json::exception.
[[nodiscard]] Json safe(const std::string& value);
[[nodiscard]] Json safe(const std::vector<std::string>& value);
[[nodiscard]] Json safe(const std::map<std::string, std::string>& value);
[[nodiscard]] Json safe(const std::optional<double>& value);
[[nodiscard]] Json safe(const std::vector<double>& value);
template <class T>
requires std::is_arithmetic_v<T>
[[nodiscard]] Json safe(T value) {
    return value;
}
void take_safe(const Json& from, std::string& value);
void take_safe(const Json& from, std::vector<std::string>& value);
void take_safe(const Json& from, std::map<std::string, std::string>& value);
void take_safe(const Json& from, std::optional<double>& value);
void take_safe(const Json& from, std::vector<double>& value);
template <class T>
requires std::is_arithmetic_v<T>
void take_safe(const Json& from, T& value) {
    value = from.get<T>();
}

/// The fields of the object at `at`. Missing and mistyped ones, and words that a field does not have, are remembered by
/// `j` with their lines; the members then keep what they had.
template <class T, class F>
void read_fields(JsonText& j, const std::string& at, T& out, std::span<const F> table) {
    for (const auto& f : table) {
        if (f.presence == Presence::apart) continue;
        const bool required = f.presence == Presence::required;
        std::visit(
            [&](auto member) {
                auto& value = out.*member;
                using V = std::remove_cvref_t<decltype(value)>;
                if constexpr (std::is_same_v<V, std::string>)
                    value = j.text(at, f.key, required);
                else if constexpr (std::is_same_v<V, bool>)
                    value = j.flag(at, f.key, value);
                else if constexpr (std::is_same_v<V, int>)
                    value = j.whole(at, f.key, required, value);
                else if constexpr (std::is_same_v<V, double>)
                    value = j.number(at, f.key, required, value);
                else if constexpr (std::is_same_v<V, std::optional<double>>)
                    value = j.has(at, f.key) ? std::optional<double>(j.number(at, f.key)) : std::nullopt;
                else if constexpr (std::is_same_v<V, std::vector<std::string>>)
                    value = j.texts(at, f.key, required);
                else if constexpr (std::is_same_v<V, std::vector<double>>)
                    value = j.numbers(at, f.key, required);
                else
                    read_named(j, at, f.key, value);
                if constexpr (std::is_same_v<V, std::string>) {
                    std::vector<std::string> words;
                    for (const auto word : split(f.words, '|')) words.emplace_back(word);
                    if (*f.words && !value.empty() && std::find(words.begin(), words.end(), value) == words.end())
                        j.wrong(at + "/" + f.key, "\"" + std::string(f.key) + "\" is " + list_names(words, 8) +
                                                      ", not \"" + value + "\".");
                }
            },
            f.member);
    }
}

/// Adds the fields to an object. One that says nothing is left out, unless its presence says otherwise or the object
/// has it already.
template <class T, class F>
void write_fields(Json& j, const T& of, std::span<const F> table) {
    for (const auto& f : table) {
        if (f.presence == Presence::apart) continue;
        if (f.presence == Presence::if_set && says_nothing(of, f.member) && !j.contains(f.key)) continue;
        std::visit(
            [&](auto member) {
                const auto& value = of.*member;
                using V = std::remove_cvref_t<decltype(value)>;
                if constexpr (std::is_same_v<V, std::optional<double>>) {
                    if (value) j[f.key] = *value;
                } else if constexpr (std::is_same_v<V, std::map<std::string, std::string>>) {
                    j[f.key] = Json::object();
                    for (const auto& [name, text] : value) j[f.key][name] = text;
                } else {
                    j[f.key] = value;
                }
            },
            f.member);
    }
}

/// For journal and log: every field that says something, texts as json_safe has them.
template <class T, class F>
[[nodiscard]] Json safe_fields(const T& of, std::span<const F> table) {
    Json out = Json::object();
    for (const auto& f : table) std::visit([&](auto member) { out[f.key] = safe(of.*member); }, f.member);
    return out;
}

/// What safe_fields wrote; of another shape it throws Json::exception.
template <class T, class F>
void take_safe_fields(const Json& from, T& out, std::span<const F> table) {
    for (const auto& f : table) std::visit([&](auto member) { take_safe(from.at(f.key), out.*member); }, f.member);
}

}  // namespace kp::json
