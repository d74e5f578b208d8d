// SPDX-License-Identifier: GPL-3.0-or-later
// Constant arithmetic of both description languages: what a range, a parameter or a generic is worth.
// Verilog: IEEE 1364-2005, 5.1 and table 5-4 (precedence), 17.11 ($clog2). VHDL: IEEE 1076-2008, 9.2.
#pragma once

#include <functional>
#include <optional>
#include <span>
#include <string>
#include <string_view>

namespace kp::hdl {

enum class Language : unsigned char { verilog, vhdl };

/// A whole number, or a real one where a function such as ceil or log2 made it.
struct Number {
    bool real = false;
    long long whole = 0;
    double point = 0;
    [[nodiscard]] double as_real() const { return real ? point : static_cast<double>(whole); }
};

/// One word of an expression. `text` is the operator or the name, names of VHDL in lower case.
struct Term {
    enum Kind : unsigned char { number, name, op } kind = op;
    std::string text;
    Number value;
};

struct Worth {
    std::optional<Number> value;
    std::string why;  ///< when there is none: what cannot be worked out
};

/// Works an expression out. Never throws; nesting deeper than 200 and results beyond 64 bits are reasons to give up.
[[nodiscard]] Worth work_out(std::span<const Term> terms, Language language,
                             const std::function<std::optional<Number>(const std::string&)>& value_of);

/// A Verilog number such as 12, 8'hFF, 'd7, 4'b1010 (underscores allowed); none when it has x or z.
[[nodiscard]] std::optional<Number> verilog_number(std::string_view text);
/// A VHDL number such as 12, 16#FF#, 1e3, 2.5.
[[nodiscard]] std::optional<Number> vhdl_number(std::string_view text);

/// ceil(log2(n)) of IEEE 1364-2005, 17.11.1: 0 for n < 2.
[[nodiscard]] long long ceiling_log2(long long n);

}  // namespace kp::hdl
