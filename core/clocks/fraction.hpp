// SPDX-License-Identifier: GPL-3.0-or-later
// Frequencies as they are meant: exact fractions of MHz.
#pragma once

#include "core/base/result.hpp"

#include <boost/multiprecision/cpp_int.hpp>
#include <string>
#include <string_view>

namespace kp::clocks {

using Fraction = boost::multiprecision::cpp_rational;

/// "25", "148.5", "148.5/1.001": a number above 0 of at most 18 digits on either side of the stroke. Errors: anything
/// else, one sentence.
[[nodiscard]] Result<Fraction> fraction_of(std::string_view text);
/// A decimal with or without a sign, 0 too, such as an angle or ppm. Errors: anything else; `what` names it.
[[nodiscard]] Result<Fraction> signed_fraction_of(std::string_view text, const std::string& what);
/// A number of a file as the decimal it was written as.
[[nodiscard]] Fraction fraction_of(double value);
/// "297/4", or "25".
[[nodiscard]] std::string text_of(const Fraction& value);
[[nodiscard]] double number_of(const Fraction& value);

}  // namespace kp::clocks
