// SPDX-License-Identifier: GPL-3.0-or-later
// The one builder of sentences: said("The bus {} has {} bits.", name, n). Each {} takes the next value; libfmt writes
// it.
#pragma once

#include <array>
#include <concepts>
#include <cstddef>
#include <span>
#include <string>
#include <string_view>

namespace kp {

/// A sentence with as many {} as it will get values; another number of them does not compile. {{ and }} are brackets.
template <std::size_t count>
struct Wording {
    std::string_view text;
    consteval Wording(const char* with) : text(with) {
        std::size_t found = 0;
        for (std::size_t i = 0; i < text.size(); ++i) {
            const bool twice = i + 1 < text.size() && text[i + 1] == text[i];
            if ((text[i] == '{' || text[i] == '}') && twice)
                ++i;
            else
                found += text[i] == '{';
        }
        if (found != count) throw "a sentence gets as many values as it has {}";
    }
};

/// A value of a sentence: a text as it is, a whole number in digits. Numbers with a point come as text, since how many
/// places they have is the caller's to say (shortest, fixed).
class SaidValue {
public:
    SaidValue(std::string_view text) : text_(text) {}
    SaidValue(const std::string& text) : text_(text) {}
    SaidValue(const char* text) : text_(text) {}
    SaidValue(const char& letter) : text_(&letter, 1) {}
    template <std::integral T>
    requires(!std::same_as<T, char>) SaidValue(T number)
        : negative_(number < 0), number_(static_cast<unsigned long long>(number)), digits_(true) {}
    SaidValue(double) = delete;

private:
    friend std::string said_of(std::string_view wording, std::span<const SaidValue> values);
    std::string_view text_;
    bool negative_ = false;
    unsigned long long number_ = 0;
    bool digits_ = false;
};

[[nodiscard]] std::string said_of(std::string_view wording, std::span<const SaidValue> values);

template <class... Values>
[[nodiscard]] std::string said(Wording<sizeof...(Values)> wording, const Values&... values) {
    const std::array<SaidValue, sizeof...(Values)> list{SaidValue(values)...};
    return said_of(wording.text, list);
}

}  // namespace kp
