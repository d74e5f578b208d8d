// SPDX-License-Identifier: GPL-3.0-or-later
// The words of one module or primitive, and expressions of them (IEEE 1364-2005, clause 5). A cursor never throws: the
// first thing that does not fit is kept as its error, and from then on it stands at the end.
#pragma once

#include "core/base/result.hpp"
#include "core/hdl/verilog/scan.hpp"

#include <map>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace kp::models {

struct Word {
    verilog::Token token;
    size_t offset = 0;  ///< in the text of the file
};

struct Expression {
    enum Kind : std::uint8_t { number, name, bit, part, unary, binary, choice, concat, repeat, other } kind = other;
    std::string text;  ///< of a number or name, or the operator
    std::vector<Expression> arguments;
};

/// Constants by name: parameters and specparams.
using Constants = std::map<std::string, double>;

class Cursor {
public:
    explicit Cursor(std::span<const Word> words) : words_(words) {}
    [[nodiscard]] const verilog::Token& now() const { return at_ < words_.size() ? words_[at_].token : end_; }
    [[nodiscard]] const verilog::Token& ahead(size_t n) const {
        return at_ + n < words_.size() ? words_[at_ + n].token : end_;
    }
    [[nodiscard]] bool done() const { return at_ >= words_.size(); }
    [[nodiscard]] std::span<const Word> rest() const { return words_.subspan(at_); }
    void next() { at_ += at_ < words_.size(); }
    bool take(char symbol);
    bool take(std::string_view word);
    /// As take, and an error when it is something else.
    bool expect(char symbol, const char* where);
    std::string name(const char* what);
    /// The words up to, not with, the next `close` outside of brackets; stands behind it then.
    std::span<const Word> until(char close);
    /// The words inside the brackets that begin here; stands behind them.
    std::span<const Word> brackets();
    /// An expression (clause 5), operators by rank.
    Expression expression() { return choice_of(0); }
    /// A name with its bits, a number, or what stands in brackets; no operator: what an assignment names.
    Expression operand() { return primary_of(0); }
    void fail(std::string text);
    [[nodiscard]] const std::optional<std::string>& error() const { return error_; }
    [[nodiscard]] size_t error_offset() const { return error_offset_; }
    /// Takes the error of another cursor over the same words.
    void fail_as(const Cursor& other);

private:
    Expression choice_of(size_t level);
    Expression binary_of(size_t level, int rank);
    Expression unary_of(size_t level);
    Expression primary_of(size_t level);
    int operator_here(std::string& text) const;
    std::span<const Word> words_;
    size_t at_ = 0, error_offset_ = 0, operators_ = 0;
    std::optional<std::string> error_;
    verilog::Token end_;
};

/// The words cut at the commas outside of brackets; empty places stay.
[[nodiscard]] std::vector<std::span<const Word>> split_words(std::span<const Word> words);
/// The words as text without blanks.
[[nodiscard]] std::string plain_text(std::span<const Word> words);
/// Value of a constant expression; none when a name in it has none or it is not arithmetic.
[[nodiscard]] std::optional<double> value_of(const Expression& e, const Constants& constants);

}  // namespace kp::models
