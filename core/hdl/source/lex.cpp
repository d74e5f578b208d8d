// SPDX-License-Identifier: GPL-3.0-or-later
// One pass over what the preprocessor gives. Operators are joined greedily, longest first (IEEE 1800-2017, table 11-2).
#include "core/hdl/source/lex.hpp"

#include "core/base/bytes.hpp"
#include "core/base/text.hpp"
#include "core/hdl/verilog/preprocess.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <array>

namespace kp::source {

namespace {

constexpr std::array<std::string_view, 39> operators{
    "<<<=", ">>>=", "===", "!==", "==?", "!=?", "<<<", ">>>", "<<=", ">>=", "**", "<<", ">>",
    "<=",   ">=",   "==",  "!=",  "&&",  "||",  "~&",  "~|",  "~^",  "^~",  "+:", "-:", "::",
    "++",   "--",   "+=",  "-=",  "*=",  "/=",  "%=",  "&=",  "|=",  "^=",  "->", ".*", "@*"};

bool is_operator(std::string_view text) {
    return std::find(operators.begin(), operators.end(), text) != operators.end();
}

class Lexer {
public:
    Lexer(const PortRequest& request, std::vector<std::string>& files) : request_(request), files_(files) {
        for (const auto& [name, body] : request.defines) macros_[name] = " " + body;
    }

    bool read(const SourceText& given) {
        const SourceText source{given.file, without_mark(given.text)};
        verilog::Preprocessor text(source, request_, macros_, errors_, notes_);
        const char* touches = nullptr;
        for (auto t = text.next(); t.kind != verilog::Token::end; t = text.next()) {
            if (t.kind == verilog::Token::bad) return fail(text.here(said("There is {}.", t.text)));
            if (t.kind == verilog::Token::directive)
                return fail(text.here(said("The macro `{} is not defined.", t.text)));
            if (out_.size() >= most_words) return fail(text.here("The sources have too many words."));
            add(t, place(text), touches);
            touches = t.kind == verilog::Token::symbol ? t.text.data() + t.text.size() : nullptr;
        }
        // For planning a missing file is a caution; nothing can be built without it.
        for (auto& note : notes_)
            if (note.code == Code::include) {
                note.severity = Severity::stop;
                return fail(note);
            }
        return !text.broken() && errors_.empty();
    }

    std::vector<Word> out_;
    std::vector<Message> errors_, notes_;

private:
    bool fail(Message m) {
        errors_.push_back(std::move(m));
        return false;
    }

    SourcePlace place(const verilog::Preprocessor& text) {
        const auto [file, line] = text.place();
        if (files_.empty() || *file != files_[file_]) {
            const auto at = std::find(files_.begin(), files_.end(), *file);
            file_ = static_cast<std::uint32_t>(at - files_.begin());
            if (at == files_.end()) files_.push_back(*file);
        }
        return {file_, line};
    }

    void add(const verilog::Token& t, SourcePlace place, const char* touches) {
        using verilog::Token;
        if (t.kind == Token::symbol && touches == t.text.data() && out_.back().kind == Word::op &&
            is_operator(out_.back().word + std::string(t.text))) {
            out_.back().word += t.text;
            return;
        }
        const auto kind = t.is_name()               ? Word::name
                          : t.kind == Token::number ? Word::number
                          : t.kind == Token::quoted ? Word::text
                                                    : Word::op;
        out_.push_back({kind, t.kind == Token::escaped, std::string(t.text), place});
    }

    const PortRequest& request_;
    std::vector<std::string>& files_;
    std::map<std::string, std::string> macros_;
    std::uint32_t file_ = 0;
};

constexpr size_t widest = 65536;

std::string binary(std::string_view digits, int bits_each) {
    std::string out;
    for (const char c : digits) {
        if (c == 'x' || c == 'z' || c == '?') {
            out.append(static_cast<size_t>(bits_each), c == 'x' ? 'x' : 'z');
            continue;
        }
        const int v = c >= '0' && c <= '9' ? c - '0' : c >= 'a' && c <= 'f' ? c - 'a' + 10 : 99;
        if (v >= 1 << bits_each) return {};
        for (int k = bits_each; k-- > 0;) out += (v >> k) & 1 ? '1' : '0';
    }
    return out;
}

/// A decimal number of any length to binary: halved until nothing is left.
std::string from_decimal(std::string digits) {
    std::string out;
    if (digits.empty() || digits.size() > 5000) return {};
    while (!(digits.size() == 1 && digits[0] == '0')) {
        int carry = 0;
        for (auto& d : digits) {
            if (d < '0' || d > '9') return {};
            const int v = carry * 10 + (d - '0');
            d = static_cast<char>('0' + v / 2);
            carry = v % 2;
        }
        out += static_cast<char>('0' + carry);
        const auto first = digits.find_first_not_of('0');
        digits = first == std::string::npos ? "0" : digits.substr(first);
    }
    std::reverse(out.begin(), out.end());
    return out.empty() ? "0" : out;
}

std::string digits_of(std::string_view text) {
    std::string out;
    for (const char c : text)
        if (c != '_' && c != ' ' && c != '\t') out += c;
    return lower(out);
}

}  // namespace

std::optional<Literal> literal_of(std::string_view text) {
    const auto quote = text.find('\'');
    Literal out;
    if (quote == std::string_view::npos) {
        out.bits = from_decimal(digits_of(text));
        if (out.bits.empty()) return std::nullopt;
        out.is_signed = true;
        if (out.bits.size() < 32) out.bits.insert(0, 32 - out.bits.size(), '0');
        if (out.bits[0] == '1') out.bits.insert(0, 1, '0');  // a plain number is never negative
        return out;
    }
    const auto size_text = digits_of(text.substr(0, quote));
    auto rest = digits_of(text.substr(quote + 1));
    if (size_text.empty() && rest.size() == 1 && std::string_view("01xz").find(rest[0]) != std::string_view::npos) {
        out.bits = rest;
        out.fill = true;
        return out;
    }
    if (!rest.empty() && rest[0] == 's') {
        out.is_signed = true;
        rest.erase(0, 1);
    }
    if (rest.size() < 2) return std::nullopt;
    const char base = rest[0];
    rest.erase(0, 1);
    if (base == 'd' && (rest == "x" || rest == "z" || rest == "?"))
        out.bits = rest == "x" ? "x" : "z";
    else
        out.bits = base == 'h'   ? binary(rest, 4)
                   : base == 'o' ? binary(rest, 3)
                   : base == 'b' ? binary(rest, 1)
                   : base == 'd' ? from_decimal(rest)
                                 : std::string();
    if (out.bits.empty()) return std::nullopt;
    size_t width = std::max<size_t>(32, out.bits.size());
    if (!size_text.empty()) {
        const auto asked = to_integer(size_text);
        if (!asked || *asked < 1 || *asked > static_cast<long long>(widest)) return std::nullopt;
        width = static_cast<size_t>(*asked);
        out.sized = true;
    }
    const char pad = out.bits[0] == 'x' || out.bits[0] == 'z' ? out.bits[0] : '0';
    if (out.bits.size() < width) out.bits.insert(0, width - out.bits.size(), pad);
    const auto above = out.bits.size() - width;
    out.cut = out.bits.find_first_not_of('0') < above;
    out.bits.erase(0, above);
    return out;
}

Result<std::vector<Word>> words_of(std::span<const SourceText> texts, const PortRequest& request,
                                   std::vector<std::string>& files) {
    Lexer lexer(request, files);
    for (const auto& source : texts)
        if (!lexer.read(source)) return std::move(lexer.errors_);
    Word last;
    if (!lexer.out_.empty()) last.place = lexer.out_.back().place;
    lexer.out_.push_back(last);
    return std::move(lexer.out_);
}

}  // namespace kp::source
