// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/format/verilog/read_ports.hpp"

#include "core/base/text.hpp"
#include "core/format/verilog/scan.hpp"

#include <algorithm>
#include <set>

namespace kp {

namespace {

using verilog::Scanner;
using verilog::Token;

struct Header {
    std::string name;
    std::vector<HeaderPort> ports;
    std::set<std::string> mentions;  ///< names in its body that may be other modules
    Message at;
};

/// Constant arithmetic by two stacks: numbers, names, + - * / % and brackets.
class Constant {
public:
    explicit Constant(const std::map<std::string, long long>& names) : names_(names) {}

    /// Takes tokens until one that ends the expression; false when it cannot be worked out.
    bool add(const Token& t) {
        if (t.kind == Token::number) return push(number(t.text));
        if (t.is_name()) {
            const auto at = names_.find(std::string(t.text));
            return push(at == names_.end() ? std::nullopt : std::optional<long long>(at->second));
        }
        if (t.is("(")) return ops_.push_back('('), true;
        if (t.is(")")) {
            while (!ops_.empty() && ops_.back() != '(')
                if (!reduce()) return false;
            if (ops_.empty()) return false;
            ops_.pop_back();
            return true;
        }
        const char op = t.text.size() == 1 ? t.text[0] : '?';
        if (rank(op) == 0) return false;
        if (!operand_) return op == '-' ? (values_.push_back(0), ops_.push_back('-'), true) : false;
        while (!ops_.empty() && rank(ops_.back()) >= rank(op))
            if (!reduce()) return false;
        ops_.push_back(op);
        operand_ = false;
        return true;
    }
    std::optional<long long> value() {
        while (!ops_.empty())
            if (!reduce()) return std::nullopt;
        return values_.size() == 1 ? std::optional<long long>(values_[0]) : std::nullopt;
    }

private:
    static int rank(char op) { return op == '+' || op == '-' ? 1 : op == '*' || op == '/' || op == '%' ? 2 : 0; }
    static std::optional<long long> number(std::string_view text) {
        const auto quote = text.find('\'');
        if (quote == std::string_view::npos) {
            std::string plain;
            for (const char c : text)
                if (c != '_') plain += c;
            return to_integer(plain);
        }
        if (quote + 2 > text.size()) return std::nullopt;
        const char base = static_cast<char>(text[quote + 1] | 0x20);
        const int radix = base == 'h' ? 16 : base == 'b' ? 2 : base == 'o' ? 8 : 10;
        std::string digits;
        for (const char c : text.substr(quote + 2))
            if (c != '_' && c != ' ') digits += c;
        char* end = nullptr;
        const long long v = std::strtoll(digits.c_str(), &end, radix);
        return end && *end == 0 && !digits.empty() ? std::optional<long long>(v) : std::nullopt;
    }
    bool push(std::optional<long long> v) {
        if (!v || operand_ || *v > 1'000'000'000 || *v < -1'000'000'000) return false;
        values_.push_back(*v);
        operand_ = true;
        return true;
    }
    bool reduce() {
        if (ops_.back() == '(' || values_.size() < 2) return false;
        const long long b = values_.back();
        values_.pop_back();
        long long& a = values_.back();
        switch (ops_.back()) {
            case '+': a += b; break;
            case '-': a -= b; break;
            case '*': a *= b; break;
            default:
                if (b == 0) return false;
                a = ops_.back() == '/' ? a / b : a % b;
        }
        ops_.pop_back();
        return a > -2'000'000'000LL && a < 2'000'000'000LL;
    }
    const std::map<std::string, long long>& names_;
    std::vector<long long> values_;
    std::vector<char> ops_;
    bool operand_ = false;
};

class Reader {
public:
    Reader(const SourceText& source, const std::map<std::string, long long>& overrides, std::vector<Header>& out, std::vector<Message>& errors) : source_(source), overrides_(overrides), out_(out), errors_(errors), scan_(source.text) { advance(); }

    void run() {
        while (t_.kind != Token::end && errors_.size() < 20) {
            if (t_.is("module") || t_.is("macromodule")) module();
            else if (t_.kind == Token::bad) return fail("There is " + std::string(t_.text));
            else advance();
        }
    }

private:
    void advance() { t_ = scan_.next(); }
    void fail(const std::string& text) {
        const auto place = place_of(source_.text, t_.offset);
        errors_.push_back({Severity::stop, "syntax", text + (t_.kind == Token::end ? "; the file seems to be cut off." : "."), source_.file, place.line, place.column});
        broken_ = true;
    }
    bool take(std::string_view s) {
        if (!t_.is(s)) return false;
        advance();
        return true;
    }
    static bool direction(const Token& t, std::string& out) {
        if (t.is("input")) out = "in";
        else if (t.is("output")) out = "out";
        else if (t.is("inout")) out = "inout";
        else return false;
        return true;
    }

    void module() {
        advance();
        broken_ = false;
        names_.clear();
        if (!t_.is_name()) return fail("The name of a module is expected");
        Header h;
        h.name = std::string(t_.text);
        const auto place = place_of(source_.text, t_.offset);
        h.at = {Severity::note, "", "", source_.file, place.line, place.column};
        advance();
        if (take("#")) {
            if (!take("(")) return fail("'(' is expected after '#'");
            while (!broken_ && !t_.is(")") && t_.kind != Token::end) parameter();
            if (!take(")")) return fail("')' is expected after the parameters");
        }
        if (take("(")) list(h);
        if (!broken_ && !take(";")) fail("';' is expected after the head of module " + h.name);
        if (!broken_) body(h);
        for (const auto& port : h.ports)
            if (port.direction.empty() && !broken_) {
                errors_.push_back({Severity::stop, "ports", "Port '" + port.name + "' of module " + h.name + " has no direction.", source_.file, h.at.line, h.at.column});
                broken_ = true;
            }
        out_.push_back(std::move(h));
    }

    /// parameter [type] [range] NAME = value
    void parameter() {
        Token name;
        const size_t before = t_.offset;
        while (t_.kind != Token::end && !t_.is("=") && !t_.is(",") && !t_.is(")") && !t_.is(";")) {
            if (t_.is_name()) name = t_;
            advance();
        }
        if (take("=")) {
            Constant value(names_);
            bool good = true;
            for (int depth = 0; t_.kind != Token::end && (depth > 0 || (!t_.is(",") && !t_.is(")") && !t_.is(";"))); advance()) {
                depth += t_.is("(") || t_.is("{") ? 1 : t_.is(")") || t_.is("}") ? -1 : 0;
                good = good && value.add(t_);
            }
            const std::string key(name.text);
            if (const auto at = overrides_.find(key); at != overrides_.end()) names_[key] = at->second;
            else if (const auto v = good ? value.value() : std::nullopt) names_[key] = *v;
        }
        take(",");
        if (t_.offset == before) fail("A parameter is expected here");
    }

    bool range(HeaderPort& p) {
        if (!take("[")) return false;
        std::optional<long long> bounds[2];
        for (int side = 0; side < 2; ++side) {
            Constant value(names_);
            bool good = true;
            while (t_.kind != Token::end && !t_.is(side == 0 ? ":" : "]")) {
                good = good && value.add(t_);
                advance();
            }
            bounds[side] = good ? value.value() : std::nullopt;
            if (!bounds[side]) fail("The range of this port cannot be worked out; it uses more than numbers, parameters and + - * / %");
            if (broken_ || !take(side == 0 ? ":" : "]")) {
                if (!broken_) fail("A range [left:right] is expected");
                return false;
            }
        }
        if (std::llabs(*bounds[0] - *bounds[1]) > 65535) fail("A port of more than 65536 bits is not read");
        p.left = static_cast<int>(*bounds[0]);
        p.right = static_cast<int>(*bounds[1]);
        return true;
    }

    /// Type words and a range after a direction.
    void shape(HeaderPort& p) {
        p.left.reset(), p.right.reset();
        p.type = "wire";
        static const std::set<std::string_view> types{"wire", "reg", "tri", "logic", "signed", "unsigned", "var"};
        while (t_.kind == Token::word && types.contains(t_.text)) {
            if (!t_.is("signed") && !t_.is("unsigned") && !t_.is("var")) p.type = std::string(t_.text);
            advance();
        }
        range(p);
    }

    void list(Header& h) {
        HeaderPort current;
        while (!broken_ && !t_.is(")") && t_.kind != Token::end) {
            if (direction(t_, current.direction)) {
                advance();
                shape(current);
            }
            if (broken_) return;
            if (!t_.is_name()) return fail("A port's name is expected");
            current.name = std::string(t_.text);
            h.ports.push_back(current);
            advance();
            if (take("="))
                while (!t_.is(",") && !t_.is(")") && t_.kind != Token::end) advance();
            if (!take(",")) break;
        }
        if (!broken_ && !take(")")) fail("')' is expected after the ports");
    }

    void body(Header& h) {
        while (!t_.is("endmodule")) {
            if (t_.kind == Token::end || t_.kind == Token::bad) return fail("'endmodule' is expected at the end of module " + h.name);
            HeaderPort current;
            if (t_.is("parameter") || t_.is("localparam")) {
                advance();
                while (!broken_ && !t_.is(";") && t_.kind != Token::end) parameter();
            } else if (direction(t_, current.direction)) {
                advance();
                shape(current);
                while (!broken_ && t_.is_name()) {
                    for (auto& port : h.ports)
                        if (port.name == t_.text) port.direction = current.direction, port.type = current.type, port.left = current.left, port.right = current.right;
                    advance();
                    if (!take(",")) break;
                }
            } else {
                if (t_.is_name()) h.mentions.insert(std::string(t_.text));
                advance();
            }
            if (broken_) return;
        }
        advance();
    }

    const SourceText& source_;
    const std::map<std::string, long long>& overrides_;
    std::vector<Header>& out_;
    std::vector<Message>& errors_;
    Scanner scan_;
    Token t_;
    bool broken_ = false;
    std::map<std::string, long long> names_;
};

}  // namespace

Result<PortList> read_ports(std::span<const SourceText> sources, const std::string& top, const std::map<std::string, long long>& parameters) {
    std::vector<Header> headers;
    std::vector<Message> errors;
    for (const auto& source : sources) Reader(source, parameters, headers, errors).run();
    if (!errors.empty()) return errors;
    const std::string file = sources.empty() ? "" : sources[0].file;
    std::vector<std::string> names, candidates;
    for (const auto& h : headers) {
        names.push_back(h.name);
        const bool used = std::any_of(headers.begin(), headers.end(), [&](const Header& other) { return other.name != h.name && other.mentions.contains(h.name); });
        if (!used && !h.ports.empty()) candidates.push_back(h.name);
    }
    if (names.empty()) return Message{Severity::stop, "top", "There is no module in the given text.", file, 0, 0};
    if (top.empty() && candidates.size() != 1) return Message{Severity::stop, "top", "Several modules could be the top: " + list_names(candidates.empty() ? names : candidates, 6) + ". Name one of them.", file, 0, 0};
    const std::string wanted = top.empty() ? candidates.front() : top;
    for (auto& h : headers)
        if (h.name == wanted) return PortList{h.name, "verilog", std::move(h.ports)};
    return Message{Severity::stop, "top", "There is no module '" + wanted + "'; the text has " + list_names(names) + "." + did_you_mean(wanted, names), file, 0, 0};
}

}  // namespace kp
