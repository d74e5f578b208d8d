// SPDX-License-Identifier: GPL-3.0-or-later
// A function is code for a stack of values, made by operator precedence with two stacks. Its sense is found by
// trying all values of up to twelve inputs; wider ones count as non-unate.
#include "core/model/boolean.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <cctype>

namespace kp {

bool BooleanFunction::eval(std::uint64_t values) const {
    bool stack[64];
    size_t top = 0;
    for (const auto op : code) {
        if (op >= 0)
            stack[top++] = (values >> op) & 1;
        else if (op == op_not)
            stack[top - 1] = !stack[top - 1];
        else if (op == op_zero || op == op_one)
            stack[top++] = op == op_one;
        else {
            const bool b = stack[--top], a = stack[top - 1];
            stack[top - 1] = op == op_and ? (a && b) : op == op_or ? (a || b) : (a != b);
        }
    }
    return top > 0 && stack[top - 1];
}

std::optional<std::string> BooleanFunction::text() const {
    const auto plain = [](const std::string& name) {
        return !name.empty() && std::all_of(name.begin(), name.end(), [](char c) {
            return std::isalnum(static_cast<unsigned char>(c)) || c == '_';
        });
    };
    std::vector<std::string> stack;
    constexpr size_t longest = 10'000;
    for (const auto op : code) {
        if (op >= 0) {
            if (!plain(inputs[static_cast<size_t>(op)])) return {};
            stack.push_back(inputs[static_cast<size_t>(op)]);
        } else if (op == op_zero || op == op_one) {
            stack.emplace_back(op == op_one ? "1" : "0");
        } else if (op == op_not) {
            stack.back() = "!" + stack.back();
        } else {
            const char sign = op == op_and ? '&' : op == op_or ? '|' : '^';
            auto right = std::move(stack.back());
            stack.pop_back();
            stack.back() = said("({} {} {})", stack.back(), sign, right);
        }
        if (stack.back().size() > longest) return {};
    }
    if (stack.size() != 1) return {};
    return stack.back();
}

int BooleanFunction::sense(size_t input) const {
    if (inputs.size() > 12) return 0;
    bool up = false, down = false;
    const std::uint64_t bit = std::uint64_t{1} << input;
    for (std::uint64_t v = 0; v < (std::uint64_t{1} << inputs.size()); ++v) {
        if (v & bit) continue;
        const bool low = eval(v), high = eval(v | bit);
        up |= !low && high;
        down |= low && !high;
    }
    return up && down ? 0 : up ? 1 : down ? -1 : 2;
}

namespace {

/// Operator precedence by two stacks, so that no text can overflow the call stack.
class Parser {
public:
    explicit Parser(std::string_view text) : text_(text) {}

    Result<BooleanFunction> run() {
        while (skip_blank(), at_ < text_.size() && error_.empty()) step();
        if (error_.empty() && !operand_) error_ = "an operand is missing at the end";
        while (error_.empty() && !pending_.empty()) {
            if (pending_.back() == '(')
                error_ = "a closing bracket is missing";
            else
                pop();
        }
        if (error_.empty() && (depth_ != 1 || deepest_ > 60 || f_.inputs.size() > 64)) error_ = "it is too large";
        if (!error_.empty())
            return Message{Severity::stop, Code::function,
                           said("The function \"{}\" cannot be read: {}.", text_, error_)};
        return std::move(f_);
    }

private:
    void skip_blank() {
        while (at_ < text_.size() && std::isspace(static_cast<unsigned char>(text_[at_]))) ++at_;
    }
    /// Liberty: inversion, then exclusive or, then and, then or (from memory).
    static int rank(char op) { return op == '|' ? 1 : op == '&' ? 2 : op == '^' ? 3 : op == '!' ? 4 : 0; }

    void pop() {
        const char op = pending_.back();
        pending_.pop_back();
        f_.code.push_back(op == '!'   ? BooleanFunction::op_not
                          : op == '&' ? BooleanFunction::op_and
                          : op == '|' ? BooleanFunction::op_or
                                      : BooleanFunction::op_xor);
        if (op != '!') --depth_;
    }
    void infix(char op) {
        while (!pending_.empty() && pending_.back() != '(' && rank(pending_.back()) >= rank(op)) pop();
        pending_.push_back(op);
        operand_ = false;
    }
    void pushed() {
        operand_ = true;
        deepest_ = std::max(deepest_, ++depth_);
    }

    void step() {
        const char c = text_[at_];
        const bool starts_operand = c == '(' || c == '!' || c == '_' || std::isalnum(static_cast<unsigned char>(c));
        if (operand_ && starts_operand) return infix('&');  // a blank between operands
        if (c == '(' || c == '!') {
            pending_.push_back(c);
            if (pending_.size() > 1000) error_ = "it nests too deeply";
            ++at_;
        } else if (c == ')') {
            if (!operand_) return fail("an operand is missing before ')'");
            while (!pending_.empty() && pending_.back() != '(') pop();
            if (pending_.empty()) return fail("')' has no '('");
            pending_.pop_back();
            ++at_;
        } else if (c == '\'') {
            if (!operand_) return fail("an operand is missing before '");
            f_.code.push_back(BooleanFunction::op_not);
            ++at_;
        } else if (c == '&' || c == '*' || c == '|' || c == '+' || c == '^') {
            if (!operand_) return fail(std::string("an operand is missing before ") + c);
            infix(c == '*' ? '&' : c == '+' ? '|' : c);
            ++at_;
        } else if (starts_operand) {
            name();
        } else {
            fail(said("'{}' is not expected", c));
        }
    }
    void name() {
        size_t end = at_;
        while (end < text_.size() && (std::isalnum(static_cast<unsigned char>(text_[end])) || text_[end] == '_' ||
                                      text_[end] == '[' || text_[end] == ']'))
            ++end;
        const std::string word(text_.substr(at_, end - at_));
        at_ = end;
        if (word == "0" || word == "1") {
            f_.code.push_back(word == "1" ? BooleanFunction::op_one : BooleanFunction::op_zero);
        } else {
            const auto known = std::find(f_.inputs.begin(), f_.inputs.end(), word);
            f_.code.push_back(static_cast<std::int16_t>(known - f_.inputs.begin()));
            if (known == f_.inputs.end()) f_.inputs.push_back(word);
        }
        pushed();
    }
    void fail(std::string why) { error_ = std::move(why); }

    std::string_view text_;
    size_t at_ = 0;
    bool operand_ = false;
    int depth_ = 0, deepest_ = 0;
    std::string pending_, error_;
    BooleanFunction f_;
};

}  // namespace

Result<BooleanFunction> parse_boolean(std::string_view text) {
    if (text.size() > 20000)
        return Message{Severity::stop, Code::limit, "A function of more than 20000 characters is not read."};
    return Parser(text).run();
}

}  // namespace kp
