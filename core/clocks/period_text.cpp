// SPDX-License-Identifier: GPL-3.0-or-later
// A number or a fraction, then a unit of a table; what is left over makes it no period. Constant work.
#include "core/clocks/period_text.hpp"

#include "core/base/said.hpp"
#include "core/base/text.hpp"

#include <cctype>
#include <cmath>

namespace kp::clocks {

namespace {

struct Unit {
    const char* word;
    double factor;
    bool frequency;
};
constexpr Unit units[] = {{"ns", 1, false},   {"ps", 1e-3, false}, {"us", 1e3, false}, {"µs", 1e3, false},
                          {"ms", 1e6, false}, {"s", 1e9, false},   {"hz", 1e-6, true}, {"khz", 1e-3, true},
                          {"mhz", 1, true},   {"ghz", 1e3, true}};

std::string to_six_places(double value) {
    return shortest(std::round(value * 1e6) / 1e6);
}

}  // namespace

std::optional<double> period_of(std::string_view text) {
    auto rest = trim(text);
    size_t letters = rest.size();
    while (letters > 0 && !std::isdigit(static_cast<unsigned char>(rest[letters - 1])) && rest[letters - 1] != '.' &&
           rest[letters - 1] != ' ')
        --letters;
    const auto word = lower(rest.substr(letters));
    const auto number = trim(rest.substr(0, letters));
    const auto slash = number.find('/');
    std::optional<double> value;
    if (slash == std::string_view::npos) {
        value = to_number(number);
    } else {
        const auto top = to_number(trim(number.substr(0, slash))), bottom = to_number(trim(number.substr(slash + 1)));
        if (top && bottom && *bottom > 0) value = *top / *bottom;
    }
    if (!value || !(*value > 0) || !std::isfinite(*value)) return std::nullopt;
    if (word.empty()) return value;
    for (const auto& unit : units)
        if (word == unit.word) return unit.frequency ? 1000 / (*value * unit.factor) : *value * unit.factor;
    return std::nullopt;
}

std::string both_numbers(double period_ns) {
    return said("{} ns, {} MHz", to_six_places(period_ns), to_six_places(1000 / period_ns));
}

}  // namespace kp::clocks
