// SPDX-License-Identifier: GPL-3.0-or-later
// Precedence climbing over the operators of IEEE 1364-2005, table 5-4. Depth is limited, so that no text can overflow
// the stack; one pass, no backtracking.
#include "core/hdl/models/words.hpp"

#include "core/base/text.hpp"
#include "core/model/parameter.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <cmath>

namespace kp::models {

namespace {
constexpr size_t deepest_expression = 200, most_operators = 4000;  // what is made of it is walked by recursion

bool opens(const verilog::Token& t) {
    return t.is('(') || t.is('[') || t.is('{');
}
bool closes(const verilog::Token& t) {
    return t.is(')') || t.is(']') || t.is('}');
}
}  // namespace

bool Cursor::take(char symbol) {
    if (!now().is(symbol)) return false;
    next();
    return true;
}

bool Cursor::take(std::string_view word) {
    if (!now().is(word)) return false;
    next();
    return true;
}

void Cursor::fail(std::string text) {
    if (!error_) {
        error_offset_ = words_.empty() ? 0 : words_[std::min(at_, words_.size() - 1)].offset;
        error_ = std::move(text);
    }
    at_ = words_.size();
}

void Cursor::fail_as(const Cursor& other) {
    if (!error_ && other.error_) {
        error_ = other.error_;
        error_offset_ = other.error_offset_;
    }
    if (error_) at_ = words_.size();
}

bool Cursor::expect(char symbol, const char* where) {
    if (take(symbol)) return true;
    const auto got = done() ? std::string("the end") : "'" + std::string(now().text) + "'";
    fail(said("'{}' is expected {}, not {}.", std::string(1, symbol), where, got));
    return false;
}

std::string Cursor::name(const char* what) {
    if (!now().is_name()) {
        fail(said("The name of {} is expected, not '{}'.", what, now().text));
        return {};
    }
    const std::string out(now().text);
    next();
    return out;
}

std::span<const Word> Cursor::until(char close) {
    const size_t from = at_;
    for (int depth = 0; !done(); next()) {
        if (depth == 0 && now().is(close)) {
            const auto out = words_.subspan(from, at_ - from);
            next();
            return out;
        }
        depth += opens(now());
        depth -= closes(now());
    }
    fail(said("'{}' is missing.", std::string(1, close)));
    return {};
}

std::span<const Word> Cursor::brackets() {
    next();
    const size_t from = at_;
    for (int depth = 1; !done(); next()) {
        depth += opens(now());
        depth -= closes(now());
        if (depth > 0) continue;
        const auto out = words_.subspan(from, at_ - from);
        next();
        return out;
    }
    fail("A closing bracket is missing.");
    return {};
}

/// Rank of the binary operator that stands here, 0 when none does; `text`: how it is written.
int Cursor::operator_here(std::string& text) const {
    struct Row {
        std::string_view text;
        int rank;
    };
    static constexpr Row rows[] = {{"===", 6}, {"!==", 6}, {">>>", 8}, {"<<<", 8}, {"||", 1}, {"&&", 2}, {"~^", 4},
                                   {"^~", 4},  {"==", 6},  {"!=", 6},  {"<=", 7},  {">=", 7}, {">>", 8}, {"<<", 8},
                                   {"**", 11}, {"|", 3},   {"^", 4},   {"&", 5},   {"<", 7},  {">", 7},  {"+", 9},
                                   {"-", 9},   {"*", 10},  {"/", 10},  {"%", 10}};
    for (const auto& row : rows) {
        bool here = true;
        for (size_t i = 0; i < row.text.size() && here; ++i)
            here = ahead(i).is(row.text[i]) && (i == 0 || ahead(i).offset == ahead(i - 1).offset + 1);
        if (!here) continue;
        if (row.text == "&&" && ahead(2).is('&')) return 0;  // &&& begins the condition of a timing check
        text = row.text;
        return row.rank;
    }
    return 0;
}

Expression Cursor::choice_of(size_t level) {
    auto condition = binary_of(level, 1);
    if (!take('?')) return condition;
    Expression out{Expression::choice, "?", {}};
    out.arguments.push_back(std::move(condition));
    out.arguments.push_back(choice_of(level + 1));
    expect(':', "in a choice");
    out.arguments.push_back(choice_of(level + 1));
    return out;
}

Expression Cursor::binary_of(size_t level, int least) {
    if (level > deepest_expression) {
        fail("The expression is nested too deeply.");
        return {};
    }
    auto left = unary_of(level);
    std::string text;
    for (int rank = operator_here(text); rank >= least && !error_; rank = operator_here(text)) {
        for (size_t i = 0; i < text.size(); ++i) next();
        Expression out{Expression::binary, text, {}};
        out.arguments.push_back(std::move(left));
        out.arguments.push_back(binary_of(level + 1, rank + 1));
        left = std::move(out);
        if (++operators_ > most_operators) fail("The expression is too long.");
    }
    return left;
}

Expression Cursor::unary_of(size_t level) {
    if (level > deepest_expression) {
        fail("The expression is nested too deeply.");
        return {};
    }
    for (const char* op : {"~&", "~|", "~^", "!", "~", "&", "|", "^", "+", "-"}) {
        const std::string_view text(op);
        if (!now().is(text[0]) || (text.size() == 2 && !ahead(1).is(text[1]))) continue;
        for (size_t i = 0; i < text.size(); ++i) next();
        Expression out{Expression::unary, op, {}};
        out.arguments.push_back(unary_of(level + 1));
        return out;
    }
    return primary_of(level);
}

Expression Cursor::primary_of(size_t level) {
    if (take('(')) {
        auto inside = choice_of(level + 1);
        if (take(':')) {  // min:typ:max, the typical one
            inside = choice_of(level + 1);
            if (expect(':', "between typ and max")) (void)choice_of(level + 1);
        }
        expect(')', "after an expression");
        return inside;
    }
    if (take('{')) {
        Expression out{Expression::concat, "{", {}};
        do out.arguments.push_back(choice_of(level + 1));
        while (take(',') && !error_);
        if (now().is('{') && out.arguments.size() == 1) {
            out.kind = Expression::repeat;
            out.arguments.push_back(primary_of(level + 1));
        }
        expect('}', "after a concatenation");
        return out;
    }
    if (now().kind == verilog::Token::number) {
        Expression out{Expression::number, std::string(now().text), {}};
        next();
        const bool exponent = !out.text.empty() && (out.text.back() == 'e' || out.text.back() == 'E') &&
                              out.text.find('\'') == std::string::npos;
        if (exponent && (now().is('-') || now().is('+')) && ahead(1).kind == verilog::Token::number) {
            out.text += std::string(now().text) + std::string(ahead(1).text);
            next();
            next();
        }
        return out;
    }
    if (!now().is_name()) {
        fail(done() ? "An operand is missing at the end." : said("'{}' is not an operand.", now().text));
        return {};
    }
    Expression out{Expression::name, std::string(now().text), {}};
    next();
    if (now().is('(')) {
        brackets();
        out.kind = Expression::other;
    } else if (take('[')) {
        out.kind = Expression::bit;
        out.arguments.push_back(choice_of(level + 1));
        if (take(':')) {
            out.kind = Expression::part;
            out.arguments.push_back(choice_of(level + 1));
        }
        expect(']', "after a bit");
    }
    return out;
}

std::vector<std::span<const Word>> split_words(std::span<const Word> words) {
    std::vector<std::span<const Word>> out;
    size_t from = 0;
    int depth = 0;
    for (size_t i = 0; i < words.size(); ++i) {
        depth += opens(words[i].token);
        depth -= closes(words[i].token);
        if (depth > 0 || !words[i].token.is(',')) continue;
        out.push_back(words.subspan(from, i - from));
        from = i + 1;
    }
    out.push_back(words.subspan(from));
    return out;
}

std::string plain_text(std::span<const Word> words) {
    std::string out;
    for (const auto& w : words)
        for (const char c : w.token.text)
            if (c != ' ' && c != '\t') out += c;
    return out;
}

std::optional<double> value_of(const Expression& e, const Constants& constants) {
    const auto argument = [&](size_t i) { return value_of(e.arguments[i], constants); };
    switch (e.kind) {
        case Expression::number: {
            std::string digits;
            for (const char c : e.text)
                if (c != '_') digits += c;
            if (const auto plain = to_number(digits)) return plain;
            const auto whole = number_of(e.text);
            return whole ? std::optional<double>(static_cast<double>(*whole)) : std::nullopt;
        }
        case Expression::name: {
            const auto at = constants.find(e.text);
            return at == constants.end() ? std::nullopt : std::optional<double>(at->second);
        }
        case Expression::unary: {
            const auto v = argument(0);
            if (!v) return {};
            if (e.text == "-") return -*v;
            if (e.text == "+") return v;
            if (e.text == "!") return *v == 0 ? 1.0 : 0.0;
            return {};
        }
        case Expression::choice: {
            const auto condition = argument(0);
            return condition ? argument(*condition != 0 ? 1 : 2) : std::nullopt;
        }
        case Expression::binary: {
            const auto a = argument(0), b = argument(1);
            if (!a || !b) return {};
            const auto& op = e.text;
            if (op == "+") return *a + *b;
            if (op == "-") return *a - *b;
            if (op == "*") return *a * *b;
            if (op == "/") return *b == 0 ? std::nullopt : std::optional<double>(*a / *b);
            if (op == "%") return *b == 0 ? std::nullopt : std::optional<double>(std::fmod(*a, *b));
            if (op == "<") return *a < *b;
            if (op == ">") return *a > *b;
            if (op == "<=") return *a <= *b;
            if (op == ">=") return *a >= *b;
            if (op == "==") return *a == *b;
            if (op == "!=") return *a != *b;
            if (op == "&&") return *a != 0 && *b != 0;
            if (op == "||") return *a != 0 || *b != 0;
            return {};
        }
        default: return {};
    }
}

}  // namespace kp::models
