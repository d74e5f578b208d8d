// SPDX-License-Identifier: GPL-3.0-or-later
// Packed dimensions of named types, worked out when they are met, by the constants that are known by then.
#include "core/hdl/verilog/types.hpp"
#include "core/base/said.hpp"

namespace kp::hdl {

using verilog::Token;

const std::map<std::string_view, int>& atoms() {
    // Widths of IEEE 1800-2017, table 6-8.
    static const std::map<std::string_view, int> table{{"byte", 8},     {"shortint", 16}, {"int", 32},
                                                       {"longint", 64}, {"integer", 32},  {"time", 64}};
    return table;
}
bool is_net_type(const Token& t) {
    static const std::set<std::string_view> words{"wire",  "tri",  "uwire", "wand",    "wor",    "triand",
                                                  "trior", "tri0", "tri1",  "supply0", "supply1"};
    return t.kind == Token::word && words.contains(t.text);
}
bool is_vector_type(const Token& t) {
    return t.is("logic") || t.is("reg") || t.is("bit");
}
bool is_sign(const Token& t) {
    return t.is("signed") || t.is("unsigned");
}

namespace {

/// Words of an expression, with operators of several characters joined when nothing stands between them.
std::vector<Term> terms(std::span<const Token> tokens) {
    std::vector<Term> out;
    for (size_t i = 0; i < tokens.size(); ++i) {
        const Token& t = tokens[i];
        if (t.kind == Token::number) {
            const auto v = verilog_number(t.text);
            out.push_back(v ? Term{Term::number, std::string(t.text), *v} : Term{Term::op, std::string(t.text), {}});
        } else if (t.is_name()) {
            std::string name(t.text);
            while (i + 3 < tokens.size() && tokens[i + 1].is(":") && tokens[i + 2].is(":") && tokens[i + 3].is_name()) {
                name += "::" + std::string(tokens[i + 3].text);
                i += 3;
            }
            out.push_back({Term::name, name, {}});
        } else {
            std::string op(t.text);
            static const std::set<std::string> several{"**", "<<",  ">>",  "<=",  ">=",  "==", "!=", "&&",
                                                       "||", "<<<", ">>>", "===", "!==", "~^", "^~"};
            while (i + 1 < tokens.size() && tokens[i + 1].kind == Token::symbol &&
                   tokens[i + 1].text.data() == tokens[i].text.data() + 1 &&
                   several.contains(op + std::string(tokens[i + 1].text)))
                op += tokens[++i].text;
            out.push_back(
                {t.kind == Token::directive ? Term::name : Term::op, t.kind == Token::directive ? "`" + op : op, {}});
        }
    }
    return out;
}

/// The ':' between the two sides of the range that opens at `open` (0: none), and its ']'. A ':' may also belong to '?'
/// or '::'.
std::pair<size_t, size_t> range_marks(const Item& item, size_t open) {
    size_t colon = 0;
    int depth = 0, asking = 0;
    for (size_t i = open; i < item.size(); ++i) {
        depth += item[i].is("[") || item[i].is("(") ? 1 : item[i].is("]") || item[i].is(")") ? -1 : 0;
        if (depth == 0) return {colon, i};
        if (depth != 1) continue;
        const bool scope = item[i].is(":") && ((i + 1 < item.size() && item[i + 1].is(":")) || item[i - 1].is(":"));
        if (item[i].is("?"))
            ++asking;
        else if (item[i].is(":") && !scope && asking > 0)
            --asking;
        else if (item[i].is(":") && !scope && colon == 0)
            colon = i;
    }
    return {colon, item.size()};
}

}  // namespace

Worth Types::value(std::span<const Token> tokens, const Names& names) const {
    const auto list = terms(tokens);
    return work_out(list, Language::verilog, [&](const std::string& name) -> std::optional<Number> {
        if (const auto at = names.find(name); at != names.end()) return at->second;
        if (const auto at = scope_.values.find(name); at != scope_.values.end()) return at->second;
        return std::nullopt;
    });
}

/// [left:right] groups from `at` on; a reason when one cannot be worked out.
std::string Types::dimensions(const Item& item, size_t& at, const Names& names, Dimensions& out) const {
    while (at < item.size() && item[at].is("[")) {
        const auto [colon, close] = range_marks(item, at);
        if (close >= item.size()) return "']' is missing";
        if (colon == 0) return "a range [left:right] is expected";
        const std::span<const Token> all(item);
        const auto left = value(all.subspan(at + 1, colon - at - 1), names),
                   right = value(all.subspan(colon + 1, close - colon - 1), names);
        for (const auto* side : {&left, &right}) {
            if (!side->value) return side->why;
            if (side->value->real) return "a range needs whole numbers";
        }
        out.emplace_back(left.value->whole, right.value->whole);
        at = close + 1;
    }
    return {};
}

bool Types::data_type(const Item& item, size_t& at, const Names& names, std::string& type, Dimensions& d,
                      std::string& why) const {
    const auto sign = [&] {
        if (at < item.size() && is_sign(item[at])) ++at;
    };
    if (at < item.size() && item[at].is("var")) ++at;
    if (at < item.size() && is_net_type(item[at])) type = item[at++].text;
    if (at >= item.size()) return true;
    const Token& t = item[at];
    if (is_vector_type(t)) {
        type = t.text;
        ++at;
    } else if (const auto atom = atoms().find(t.text); t.kind == Token::word && atom != atoms().end()) {
        type = t.text;
        ++at;
        d.emplace_back(atom->second - 1, 0);
        sign();
        return true;
    } else if (t.is("real") || t.is("shortreal") || t.is("realtime") || t.is("string") || t.is("event") ||
               t.is("chandle")) {
        why = said("it is of type {}, which has no bits", t.text);
        return false;
    } else if (t.is("struct") || t.is("union")) {
        why = said("it is a {}; give each of its members a port of its own", t.text);
        return false;
    } else if (t.is("enum")) {
        ++at;
        type = "logic";
        Item base;
        while (at < item.size() && !item[at].is("{")) base.push_back(item[at++]);
        size_t from = 0;
        if (base.empty())
            d.emplace_back(31, 0);  // int by default (6.19)
        else if (!data_type(base, from, names, type, d, why))
            return false;
        while (at < item.size()) ++at;
        return true;
    } else if (t.is_name() && !is_sign(t) && (at + 1 < item.size() || at_type(item, at))) {
        if (const int named = named_type(item, at, type, d, why); named != 0) {
            if (named < 0) return false;
        }
    }
    sign();
    Dimensions outer;
    if (const auto trouble = dimensions(item, at, names, outer); !trouble.empty()) {
        why = "!" + trouble;
        return false;
    }
    d.insert(d.begin(), outer.begin(), outer.end());
    return true;
}

bool Types::at_type(const Item& item, size_t at) const {
    return at + 1 == item.size() && scope_.types.contains(std::string(item[at].text));
}

/// A user's type at `at`: 1 taken, 0 there is none (the name is the port's), -1 cannot be planned.
int Types::named_type(const Item& item, size_t& at, std::string& type, Dimensions& d, std::string& why) const {
    std::string name(item[at].text);
    size_t next = at + 1;
    while (next + 2 < item.size() && item[next].is(":") && item[next + 1].is(":") && item[next + 2].is_name()) {
        name += "::" + std::string(item[next + 2].text);
        next += 3;
    }
    if (next < item.size() && item[next].is(".")) {
        why = said("it is an interface ({}); plan the signals of the interface one by one", name);
        return -1;
    }
    if (scope_.interfaces.contains(name)) {
        why = said("it is an interface ({}); plan the signals of the interface one by one", name);
        return -1;
    }
    if (const auto at_odd = scope_.odd_types.find(name); at_odd != scope_.odd_types.end()) {
        why = at_odd->second;
        return -1;
    }
    if (const auto known = scope_.types.find(name); known != scope_.types.end()) {
        d = known->second;
        type = "logic";
        at = next;
        return 1;
    }
    size_t look = next;
    for (int depth = 0; look < item.size(); ++look) {
        depth += item[look].is("[") ? 1 : item[look].is("]") ? -1 : 0;
        if (depth == 0 && item[look].is_name()) {
            why = said("its type {} is not in the given files", name);
            return -1;
        }
    }
    return 0;
}

}  // namespace kp::hdl
