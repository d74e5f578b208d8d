// SPDX-License-Identifier: GPL-3.0-or-later
// Operator precedence by climbing, with a bound on nesting, and every overflow told: a range that a file makes
// absurd is a message.
#include "core/hdl/header/arithmetic.hpp"

#include "core/base/text.hpp"
#include "core/base/said.hpp"

#include <cmath>
#include <limits>
#include <vector>

namespace kp::hdl {

long long ceiling_log2(long long n) {
    long long bits = 0;
    for (auto left = n > 0 ? static_cast<unsigned long long>(n) - 1 : 0; left > 0; left >>= 1) ++bits;
    return bits;
}

namespace {

std::string without_underscores(std::string_view text) {
    std::string out;
    for (const char c : text)
        if (c != '_' && c != ' ' && c != '\t') out += c;
    return out;
}

std::optional<Number> whole_in(const std::string& digits, int radix) {
    if (digits.empty() || digits[0] == '-' || digits[0] == '+') return std::nullopt;
    char* end = nullptr;
    errno = 0;
    const long long v = std::strtoll(digits.c_str(), &end, radix);
    if (errno != 0 || *end != 0) return std::nullopt;
    return Number{false, v, 0};
}

int verilog_rank(const std::string& op) {
    static const std::vector<std::vector<std::string>> rows{{"||"},
                                                            {"&&"},
                                                            {"|"},
                                                            {"^", "~^", "^~"},
                                                            {"&"},
                                                            {"==", "!=", "===", "!=="},
                                                            {"<", "<=", ">", ">="},
                                                            {"<<", ">>", "<<<", ">>>"},
                                                            {"+", "-"},
                                                            {"*", "/", "%"},
                                                            {"**"}};
    for (size_t i = 0; i < rows.size(); ++i)
        for (const auto& known : rows[i])
            if (known == op) return static_cast<int>(i) + 1;
    return 0;
}

int vhdl_rank(const std::string& op) {
    static const std::vector<std::vector<std::string>> rows{{"and", "or", "xor", "nand", "nor", "xnor"},
                                                            {"=", "/=", "<", "<=", ">", ">="},
                                                            {"sll", "srl"},
                                                            {"+", "-"},
                                                            {"*", "/", "mod", "rem"},
                                                            {"**"}};
    for (size_t i = 0; i < rows.size(); ++i)
        for (const auto& known : rows[i])
            if (known == op) return static_cast<int>(i) + 1;
    return 0;
}

class Evaluator {
public:
    Evaluator(std::span<const Term> terms, Language language,
              const std::function<std::optional<Number>(const std::string&)>& value_of)
        : terms_(terms), language_(language), value_of_(value_of) {}

    Worth run() {
        const Number v = choice();
        if (why_.empty() && at_ < terms_.size()) give_up(said("'{}' is not expected there", terms_[at_].text));
        return why_.empty() ? Worth{v, {}} : Worth{std::nullopt, why_};
    }

private:
    Number give_up(const std::string& why) {
        if (why_.empty()) why_ = why;
        at_ = terms_.size();
        return {};
    }
    [[nodiscard]] bool sees(const char* op) const {
        return at_ < terms_.size() && terms_[at_].kind != Term::number && terms_[at_].text == op;
    }
    bool take(const char* op) { return sees(op) && (++at_, true); }
    [[nodiscard]] int rank() const {
        if (at_ >= terms_.size() || terms_[at_].kind == Term::number) return 0;
        return language_ == Language::vhdl ? vhdl_rank(terms_[at_].text) : verilog_rank(terms_[at_].text);
    }

    /// condition ? a : b, right to left.
    Number choice() {
        if (++depth_ > 200) return give_up("it is nested too deeply");
        Number v = level(1);
        if (language_ == Language::verilog && take("?")) {
            const Number yes = choice();
            if (!take(":")) return give_up("':' is missing after '?'");
            const Number no = choice();
            v = truth(v) ? yes : no;
        }
        --depth_;
        return v;
    }

    Number level(int lowest) {
        if (++depth_ > 200) return give_up("it is nested too deeply");
        // A sign of VHDL binds less than a product (9.2.1): -a * b is -(a * b).
        Number left;
        if (language_ == Language::vhdl && lowest <= 4 && (sees("-") || sees("+"))) {
            const bool minus = sees("-");
            ++at_;
            left = level(5);
            if (minus) left = binary("-", {}, left);
        } else {
            left = unary();
        }
        for (int r = rank(); r >= lowest && why_.empty(); r = rank()) {
            const std::string op = terms_[at_++].text;
            left = binary(op, left, op == "**" && language_ == Language::vhdl ? unary() : level(r + 1));
        }
        --depth_;
        return left;
    }

    Number unary() {
        if (++depth_ > 200) return give_up("it is nested too deeply");
        Number v;
        if (language_ == Language::verilog && take("-"))
            v = binary("-", {}, unary());
        else if (language_ == Language::verilog && take("+"))
            v = unary();
        else if (language_ == Language::verilog && take("!"))
            v = {false, truth(unary()) ? 0 : 1, 0};
        else if (language_ == Language::verilog && take("~"))
            v = {false, ~unary().whole, 0};
        else if (language_ == Language::vhdl && take("not"))
            v = {false, truth(unary()) ? 0 : 1, 0};
        else if (language_ == Language::vhdl && take("abs"))
            v = absolute(unary());
        else
            v = primary();
        --depth_;
        return v;
    }

    Number primary() {
        if (at_ >= terms_.size()) return give_up("it ends too early");
        const Term& t = terms_[at_];
        if (t.kind == Term::number) {
            ++at_;
            return t.value;
        }
        if (take("(")) {
            const Number v = choice();
            if (!take(")")) return give_up("')' is missing");
            return v;
        }
        if (t.kind != Term::name) return give_up(said("'{}' is not expected there", t.text));
        ++at_;
        if (sees("(")) return call(t.text);
        if (const auto v = value_of_(t.text)) return *v;
        return give_up(said("'{}' is not known", t.text));
    }

    Number call(const std::string& name) {
        ++at_;
        std::vector<Number> given;
        while (why_.empty() && !sees(")")) {
            given.push_back(choice());
            if (!take(",")) break;
        }
        if (!take(")")) return give_up("')' is missing");
        if (given.size() == 1) {
            const Number a = given[0];
            if (name == "$clog2") return {false, ceiling_log2(a.real ? static_cast<long long>(a.point) : a.whole), 0};
            if (name == "$ceil" || name == "ceil") return real(std::ceil(a.as_real()));
            if (name == "$floor" || name == "floor") return real(std::floor(a.as_real()));
            if (name == "round") return real(std::round(a.as_real()));
            if (name == "log2") return real(std::log2(a.as_real()));
            if (name == "$ln" || name == "log") return real(std::log(a.as_real()));
            if (name == "$log10" || name == "log10") return real(std::log10(a.as_real()));
            if (name == "$sqrt" || name == "sqrt") return real(std::sqrt(a.as_real()));
            if (name == "real" || name == "$itor") return real(a.as_real());
            if (name == "integer" || name == "natural" || name == "positive")
                return to_whole(std::round(a.as_real()));  // VHDL rounds (9.3.6)
            if (name == "$rtoi") return to_whole(std::trunc(a.as_real()));
            if (name == "$signed" || name == "$unsigned") return a;
        }
        if (given.size() == 2 && (name == "maximum" || name == "minimum"))
            return (given[0].as_real() > given[1].as_real()) == (name == "maximum") ? given[0] : given[1];
        return give_up(said("the function '{}' is not one that can be worked out here", name));
    }

    Number real(double v) { return std::isfinite(v) ? Number{true, 0, v} : give_up("a function has no finite value"); }
    Number to_whole(double v) {
        return std::abs(v) < 9e15 ? Number{false, static_cast<long long>(v), 0} : give_up("a number is too large");
    }
    Number absolute(Number a) {
        return a.real ? Number{true, 0, std::abs(a.point)} : a.whole < 0 ? binary("-", {}, a) : a;
    }
    static bool truth(Number a) { return a.real ? a.point != 0 : a.whole != 0; }

    Number binary(const std::string& op, Number a, Number b) {
        if (!why_.empty()) return {};
        const auto flag = [](bool v) { return Number{false, v ? 1 : 0, 0}; };
        if (op == "||" || op == "or") return flag(truth(a) || truth(b));
        if (op == "&&" || op == "and") return flag(truth(a) && truth(b));
        const double x = a.as_real(), y = b.as_real();
        if (op == "==" || op == "===" || op == "=") return flag(a.real || b.real ? x == y : a.whole == b.whole);
        if (op == "!=" || op == "!==" || op == "/=") return flag(a.real || b.real ? x != y : a.whole != b.whole);
        if (op == "<") return flag(x < y);
        if (op == "<=") return flag(x <= y);
        if (op == ">") return flag(x > y);
        if (op == ">=") return flag(x >= y);
        if (a.real || b.real) {
            if (op == "+") return real(x + y);
            if (op == "-") return real(x - y);
            if (op == "*") return real(x * y);
            if (op == "/") return y == 0 ? give_up("it divides by zero") : real(x / y);
            if (op == "**") return real(std::pow(x, y));
            return give_up(said("'{}' needs whole numbers", op));
        }
        return whole(op, a.whole, b.whole);
    }

    Number whole(const std::string& op, long long a, long long b) {
        long long v = 0;
        bool over = false;
        if (op == "+")
            over = __builtin_add_overflow(a, b, &v);
        else if (op == "-")
            over = __builtin_sub_overflow(a, b, &v);
        else if (op == "*")
            over = __builtin_mul_overflow(a, b, &v);
        else if (op == "/" || op == "%" || op == "rem" || op == "mod") {
            if (b == 0) return give_up("it divides by zero");
            if (b == -1)
                over = op == "/" && __builtin_sub_overflow(0LL, a, &v);
            else
                v = op == "/" ? a / b : a % b;
            if (op == "mod" && v != 0 && (v < 0) != (b < 0)) v += b;
        } else if (op == "**") {
            if (b < 0) return give_up("a power below zero has no whole value");
            v = 1;
            if (a == 0 || a == 1)
                v = b == 0 ? 1 : a;
            else if (a == -1)
                v = b % 2 == 0 ? 1 : -1;
            else
                for (long long i = 0; i < b && !over; ++i) over = __builtin_mul_overflow(v, a, &v);
        } else if (op == "<<" || op == "<<<" || op == "sll") {
            if (b < 0 || b > 62) return give_up("it shifts too far");
            over = __builtin_mul_overflow(a, 1LL << b, &v);
        } else if (op == ">>" || op == ">>>" || op == "srl") {
            if (b < 0) return give_up("it shifts too far");
            v = b > 62 ? (a < 0 ? -1 : 0) : a >> b;
        } else if (op == "&")
            v = a & b;
        else if (op == "|")
            v = a | b;
        else if (op == "^" || op == "xor")
            v = a ^ b;
        else
            return give_up(said("'{}' cannot be worked out here", op));
        return over ? give_up("a number is too large") : Number{false, v, 0};
    }

    std::span<const Term> terms_;
    Language language_;
    const std::function<std::optional<Number>(const std::string&)>& value_of_;
    size_t at_ = 0;
    int depth_ = 0;
    std::string why_;
};

}  // namespace

Worth work_out(std::span<const Term> terms, Language language,
               const std::function<std::optional<Number>(const std::string&)>& value_of) {
    return Evaluator(terms, language, value_of).run();
}

std::optional<Number> verilog_number(std::string_view text) {
    const auto quote = text.find('\'');
    if (quote == std::string_view::npos) {
        const auto plain = without_underscores(text);
        if (const auto v = whole_in(plain, 10)) return v;
        if (plain.find_first_of(".eE") == std::string::npos) return std::nullopt;
        const auto v = to_number(plain);
        return v ? std::optional(Number{true, 0, *v}) : std::nullopt;
    }
    std::string rest = lower(without_underscores(text.substr(quote + 1)));
    if (!rest.empty() && rest[0] == 's') rest.erase(0, 1);
    if (rest == "0" || rest == "1") return Number{false, rest == "1", 0};  // '0 and '1 fill; alone they count as such
    if (rest.empty()) return std::nullopt;
    const int radix = rest[0] == 'h' ? 16 : rest[0] == 'b' ? 2 : rest[0] == 'o' ? 8 : rest[0] == 'd' ? 10 : 0;
    return radix == 0 ? std::nullopt : whole_in(rest.substr(1), radix);
}

std::optional<Number> vhdl_number(std::string_view text) {
    const auto plain = without_underscores(text);
    const auto mark = plain.find('#');
    if (mark == std::string::npos) {
        if (const auto v = whole_in(plain, 10)) return v;
        const auto v = to_number(plain);
        if (!v) return std::nullopt;
        const bool real = plain.find('.') != std::string::npos;
        if (!real && std::abs(*v) > 9e15) return std::nullopt;
        return real ? Number{true, 0, *v} : Number{false, static_cast<long long>(*v), 0};
    }
    const auto radix = to_integer(plain.substr(0, mark));
    const auto close = plain.find('#', mark + 1);
    if (!radix || *radix < 2 || *radix > 16 || close != plain.size() - 1) return std::nullopt;
    return whole_in(plain.substr(mark + 1, close - mark - 1), static_cast<int>(*radix));
}

}  // namespace kp::hdl
