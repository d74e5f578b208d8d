// SPDX-License-Identifier: GPL-3.0-or-later
// Constant expressions, packed dimensions and data types as Verilog headers use them (IEEE 1800-2017, clauses 6 and 7).
#pragma once

#include "core/hdl/header/arithmetic.hpp"
#include "core/hdl/verilog/scan.hpp"

#include <map>
#include <set>
#include <span>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace kp::hdl {

using Dimensions = std::vector<std::pair<long long, long long>>;
using Item = std::vector<verilog::Token>;     ///< the tokens of one declaration or port
using Names = std::map<std::string, Number>;  ///< constants by name

/// What is known outside modules and shared by all files of one reading, in order, as a compiler would.
struct Scope {
    std::map<std::string, Number> values;
    std::map<std::string, Dimensions> types;
    std::map<std::string, std::string> odd_types;  ///< types whose ports cannot be planned, with the reason
    std::set<std::string> interfaces;
    std::map<std::string, std::string> macros;
};

/// Widths of the types with a fixed one (table 6-8): int, byte, …
[[nodiscard]] const std::map<std::string_view, int>& atoms();
[[nodiscard]] bool is_net_type(const verilog::Token& t);
[[nodiscard]] bool is_vector_type(const verilog::Token& t);
[[nodiscard]] bool is_sign(const verilog::Token& t);

class Types {
public:
    explicit Types(const Scope& scope) : scope_(scope) {}
    /// What an expression is worth, with the constants of a module before those outside it.
    [[nodiscard]] Worth value(std::span<const verilog::Token> tokens, const Names& names) const;
    /// A data type from `at` on: its word, and its packed dimensions, outermost first. False with a reason when it has
    /// no fixed bits; '!' before a reason that is an error.
    bool data_type(const Item& item, size_t& at, const Names& names, std::string& type, Dimensions& d,
                   std::string& why) const;

private:
    [[nodiscard]] std::string dimensions(const Item& item, size_t& at, const Names& names, Dimensions& out) const;
    [[nodiscard]] bool at_type(const Item& item, size_t at) const;
    int named_type(const Item& item, size_t& at, std::string& type, Dimensions& d, std::string& why) const;
    const Scope& scope_;
};

}  // namespace kp::hdl
