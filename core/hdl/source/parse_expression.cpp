// SPDX-License-Identifier: GPL-3.0-or-later
// Expressions by rank of their operators (IEEE 1364-2005, table 5-4). Linear in the words.
#include "core/hdl/source/parser.hpp"
#include "core/base/said.hpp"

#include <map>

namespace kp::source {

namespace {

/// Ranks from 1; a higher one binds closer. 0: not a binary operator.
int rank_of(const std::string& op) {
    static const std::map<std::string, int, std::less<>> ranks{
        {"||", 1},  {"&&", 2},  {"|", 3}, {"^", 4},  {"~^", 4}, {"^~", 4}, {"&", 5},  {"==", 6}, {"!=", 6},
        {"===", 6}, {"!==", 6}, {"<", 7}, {"<=", 7}, {">", 7},  {">=", 7}, {"<<", 8}, {">>", 8}, {"<<<", 8},
        {">>>", 8}, {"+", 9},   {"-", 9}, {"*", 10}, {"/", 10}, {"%", 10}, {"**", 11}};
    const auto at = ranks.find(op);
    return at == ranks.end() ? 0 : at->second;
}

bool is_unary(const std::string& op) {
    static const std::map<std::string, int, std::less<>> all{{"+", 1}, {"-", 1},  {"!", 1}, {"~", 1},
                                                             {"&", 1}, {"~&", 1}, {"|", 1}, {"~|", 1},
                                                             {"^", 1}, {"~^", 1}, {"^~", 1}};
    return all.count(op) > 0;
}

}  // namespace

Expr Parser::expression() {
    const Deeper deeper(*this);
    if (bad()) return {};
    auto condition = binary(1);
    if (!is("?")) return condition;
    Expr out;
    out.kind = Expr::choice;
    out.place = now().place;
    next();
    out.args.push_back(std::move(condition));
    out.args.push_back(expression());
    expect(":", "between the two values of a choice");
    out.args.push_back(expression());
    return out;
}

/// Operators of at least this rank, by climbing: a call for each one that binds closer than the one before it, not one
/// for each rank there is, so that what is nested deep does not take the stack.
Expr Parser::binary(int least) {
    auto left = unary();
    while (!bad() && now().kind == Word::op) {
        const int rank = rank_of(now().word);
        if (rank == 0 || rank < least) break;
        Expr out;
        out.kind = Expr::binary;
        out.word = now().word;
        out.place = now().place;
        next();
        out.args.push_back(std::move(left));
        out.args.push_back(binary(rank + 1));
        left = std::move(out);
        if (++operators_in_row_ > 1000) fail("This expression has more than 1000 operators; cut it in two.");
    }
    return left;
}

Expr Parser::unary() {
    if (now().kind != Word::op || !is_unary(now().word)) return primary();
    const Deeper deeper(*this);
    Expr out;
    out.kind = Expr::unary;
    out.word = now().word;
    out.place = now().place;
    next();
    if (!bad()) out.args.push_back(unary());
    return out;
}

Expr Parser::primary() {
    Expr out;
    out.place = now().place;
    if (bad()) return out;
    if (take("(")) {
        out = expression();
        expect(")", "behind an expression in brackets");
        return out;
    }
    if (is("{")) return braces();
    if (now().kind == Word::number) {
        const auto value = literal_of(now().word);
        if (!value) {
            fail(said("The number '{}' cannot be read as a whole number.", now().word));
            return out;
        }
        out.value = *value;
        if (value->cut && code_.notes.size() < most_notes)
            code_.notes.push_back(code_.at(
                now().place, Severity::caution, Code::number,
                said("The number {} has more digits than its size holds; the upper ones are lost.", now().word)));
        next();
        if (is("'")) refuse("a cast");
        return out;
    }
    if (now().kind == Word::text) {
        out.kind = Expr::text;
        out.word = now().word;
        next();
        return out;
    }
    const auto place = now().place;
    auto word = name("a value");
    if (bad()) return out;
    if (is("(") || (!word.empty() && word[0] == '$')) return call(std::move(word), place);
    if (is("::")) refuse("a package");
    if (is(".")) refuse("a name inside another module or a structure");
    out.kind = Expr::name;
    out.word = std::move(word);
    return selects(std::move(out));
}

/// [i], [a:b], [a +: w], [a -: w], one after the other.
Expr Parser::selects(Expr base) {
    while (!bad() && is("[")) {
        Expr out;
        out.place = now().place;
        next();
        out.args.push_back(std::move(base));
        out.args.push_back(expression());
        out.kind = Expr::index;
        for (const auto& [word, kind] : {std::pair(":", Expr::part), {"+:", Expr::part_up}, {"-:", Expr::part_down}})
            if (take(word)) {
                out.kind = kind;
                out.args.push_back(expression());
                break;
            }
        expect("]", "behind an index");
        base = std::move(out);
    }
    return base;
}

/// {a, b} and {n{a, b}}.
Expr Parser::braces() {
    const Deeper deeper(*this);
    Expr out;
    out.kind = Expr::concat;
    out.place = now().place;
    next();
    if (is("<<") || is(">>")) refuse("a streaming operator");
    auto first = expression();
    if (is("{")) {
        out.kind = Expr::repeat;
        out.args.push_back(std::move(first));
        out.args.push_back(braces());
        expect("}", "behind a repetition");
        return out.kind == Expr::repeat && is("[") ? selects(std::move(out)) : out;
    }
    out.args.push_back(std::move(first));
    while (!bad() && take(",")) out.args.push_back(expression());
    expect("}", "behind joined values");
    return is("[") ? selects(std::move(out)) : out;
}

Expr Parser::call(std::string word, SourcePlace place) {
    Expr out;
    out.kind = Expr::call;
    out.word = std::move(word);
    out.place = place;
    if (take("(")) {
        do {
            out.args.push_back(expression());
        } while (!bad() && take(","));
        expect(")", "behind the arguments of a function");
    }
    return out;
}

/// What an assignment sets: a name with its selects, or several in braces.
Expr Parser::target() {
    if (is("{")) return braces();
    Expr out;
    out.place = now().place;
    out.kind = Expr::name;
    out.word = name("what is assigned");
    if (is(".")) refuse("a name inside another module or a structure");
    return selects(std::move(out));
}

}  // namespace kp::source
