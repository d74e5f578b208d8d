// SPDX-License-Identifier: GPL-3.0-or-later
// Decimals to fractions digit by digit, so that 0.1 is a tenth.
#include "core/clocks/fraction.hpp"

#include "core/base/text.hpp"
#include "core/base/said.hpp"

#include <cctype>

namespace kp::clocks {

namespace {

using Whole = boost::multiprecision::cpp_int;

/// "148.5" → 1485/10; none when it is not a plain decimal.
std::optional<Fraction> decimal(std::string_view text) {
    constexpr size_t most_digits = 18;
    Whole number = 0, scale = 1;
    size_t digits = 0;
    bool behind_point = false;
    for (const char c : text) {
        if (c == '.' && !behind_point) {
            behind_point = true;
            continue;
        }
        if (!std::isdigit(static_cast<unsigned char>(c)) || ++digits > most_digits) return std::nullopt;
        number = number * 10 + (c - '0');
        if (behind_point) scale *= 10;
    }
    if (digits == 0) return std::nullopt;
    return Fraction(number, scale);
}

}  // namespace

Result<Fraction> fraction_of(std::string_view text) {
    const auto refuse = [&] {
        return Message{Severity::stop, Code::frequency,
                       said("'{}' is not a frequency; write MHz as 25, 148.5 or 148.5/1.001.", text)};
    };
    const auto stroke = text.find('/');
    const auto top = decimal(trim(text.substr(0, stroke)));
    const auto bottom =
        stroke == std::string_view::npos ? std::optional(Fraction(1)) : decimal(trim(text.substr(stroke + 1)));
    if (!top || !bottom || *top == 0 || *bottom == 0) return refuse();
    return Fraction(*top / *bottom);
}

Result<Fraction> signed_fraction_of(std::string_view text, const std::string& what) {
    auto digits = trim(text);
    const bool negative = digits.starts_with('-');
    if (negative || digits.starts_with('+')) digits.remove_prefix(1);
    const auto value = decimal(digits);
    if (!value) return Message{Severity::stop, Code::number, said("'{}' is not a {}; write a number.", text, what)};
    return negative ? Fraction(-*value) : *value;
}

Fraction fraction_of(double value) {
    const auto text = fixed(value, 9);  // Hz and less; files say MHz with a few decimals
    const bool negative = text.starts_with('-');
    const auto exact = decimal(std::string_view(text).substr(negative ? 1 : 0)).value_or(Fraction(0));
    return negative ? Fraction(-exact) : exact;
}

std::string text_of(const Fraction& value) {
    return value.str();
}

double number_of(const Fraction& value) {
    return value.convert_to<double>();
}

}  // namespace kp::clocks
