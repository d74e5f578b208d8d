// SPDX-License-Identifier: GPL-3.0-or-later
// Entities (IEEE 1076-2008, 3.2, 6.5.6), and what their ranges need: constants and subtypes of packages, generics.
#include "core/hdl/vhdl/headers.hpp"

#include "core/base/text.hpp"
#include "core/hdl/header/arithmetic.hpp"
#include "core/hdl/vhdl/scan.hpp"
#include "core/base/said.hpp"

#include <algorithm>

namespace kp::hdl {

namespace {

using vhdl::Scanner;
using vhdl::Token;
using Item = std::vector<Token>;
using Dimensions = std::vector<std::pair<long long, long long>>;

/// A subtype as far as ports need it.
struct Subtype {
    std::string base;  ///< std_logic, std_logic_vector, signed, …
    Dimensions shape;
};

struct Scope {
    std::map<std::string, Number> values;
    std::map<std::string, Subtype> subtypes;
    std::map<std::string, std::string> odd_types;
};

bool is_bit(const std::string& type) {
    return type == "std_logic" || type == "std_ulogic" || type == "bit" || type == "boolean" || type == "x01" ||
           type == "x01z" || type == "ux01";
}
bool is_vector(const std::string& type) {
    static const std::set<std::string> names{"std_logic_vector", "std_ulogic_vector", "bit_vector",
                                             "signed",           "unsigned",          "u_signed",
                                             "u_unsigned",       "unresolved_signed", "unresolved_unsigned"};
    return names.contains(type);
}
bool is_whole(const std::string& type) {
    return type == "integer" || type == "natural" || type == "positive";
}

class Reader {
public:
    Reader(const SourceText& source, const PortRequest& request, Scope& scope, Headers& out)
        : source_(source), request_(request), scope_(scope), out_(out), scan_(source.text) {
        advance();
    }

    /// Packages only, or everything.
    void run(bool only_packages) {
        while (t_.kind != Token::end && out_.errors.size() < most_errors) {
            if (t_.kind == Token::bad) return error("There is " + std::string(t_.text));
            if (only_packages && !t_.is("package"))
                advance();
            else if (t_.is("entity") && !before_)
                entity();  // not "use entity" of a configuration, ": entity" of an attribute
            else if (t_.is("package"))
                package();
            else if (t_.is("architecture"))
                architecture();
            else
                advance();
        }
    }

private:
    void advance() {
        before_ = t_.is(":") || t_.is("use");
        t_ = scan_.next();
    }
    bool take(std::string_view s) { return t_.is(s) && (advance(), true); }
    [[nodiscard]] Message here(std::string text) const {
        const auto place = place_of(source_.text, t_.offset);
        return {Severity::stop, Code::syntax, std::move(text), source_.file, place.line, place.column};
    }
    void error_at(const Token& t, const std::string& text) {
        if (out_.errors.size() >= most_errors) return;
        const auto place = place_of(source_.text, t.offset);
        out_.errors.push_back({Severity::stop, Code::syntax, text + ".", source_.file, place.line, place.column});
    }
    void error(const std::string& text) {
        out_.errors.push_back(here(text + (t_.kind == Token::end ? "; the file seems to be cut off." : ".")));
    }

    bool collect(Item& item, std::initializer_list<std::string_view> ends) {
        for (int depth = 0;; advance()) {
            if (t_.kind == Token::end || t_.kind == Token::bad || item.size() > 20000) return false;
            if (depth == 0)
                for (const auto end : ends)
                    if (t_.is(end)) return true;
            depth += t_.is("(") ? 1 : t_.is(")") ? -1 : 0;
            if (depth < 0 || t_.is("entity") || t_.is("architecture")) return false;
            item.push_back(t_);
        }
    }

    // Expressions and types
    // ---------------------------------------------------------------------------------------------

    Worth value(std::span<const Token> tokens, const std::map<std::string, Number>& names) const {
        std::vector<Term> terms;
        for (size_t i = 0; i < tokens.size(); ++i) {
            const Token& t = tokens[i];
            if (t.kind == Token::number) {
                const auto v = vhdl_number(t.text);
                terms.push_back(v ? Term{Term::number, std::string(t.text), *v}
                                  : Term{Term::op, std::string(t.text), {}});
            } else if (t.is_name()) {
                // work.widths.data_width is known by its last name.
                while (i + 2 < tokens.size() && tokens[i + 1].is(".") && tokens[i + 2].is_name()) i += 2;
                static const std::set<std::string> words{"and", "or",  "xor", "nand", "nor", "xnor",
                                                         "mod", "rem", "abs", "not",  "sll", "srl"};
                terms.push_back({words.contains(tokens[i].key) ? Term::op : Term::name, tokens[i].key, {}});
            } else {
                terms.push_back({Term::op, std::string(t.text), {}});
            }
        }
        return work_out(terms, Language::vhdl, [&](const std::string& name) -> std::optional<Number> {
            if (name == "true" || name == "false") return Number{false, name == "true", 0};
            if (const auto at = names.find(name); at != names.end()) return at->second;
            if (const auto at = scope_.values.find(name); at != scope_.values.end()) return at->second;
            return std::nullopt;
        });
    }

    /// "7 downto 0" or "0 to 7"; a reason when it cannot be worked out.
    std::string bounds(std::span<const Token> tokens, const std::map<std::string, Number>& names, Dimensions& out,
                       bool& up) const {
        size_t split = tokens.size();
        for (size_t i = 0; i < tokens.size(); ++i)
            if (tokens[i].is("downto") || tokens[i].is("to")) split = i;
        if (split == tokens.size()) return "'downto' or 'to' is expected in its range";
        up = tokens[split].is("to");
        const auto left = value(tokens.first(split), names), right = value(tokens.subspan(split + 1), names);
        for (const auto* side : {&left, &right}) {
            if (!side->value) return side->why;
            if (side->value->real) return "a range needs whole numbers";
        }
        out.emplace_back(left.value->whole, right.value->whole);
        return {};
    }

    /// The type of a port: fills `type` and `shape`. A reason when it cannot be planned; '!' before one that is an
    /// error.
    std::string subtype(const Item& item, const std::map<std::string, Number>& names, std::string& type,
                        Dimensions& shape) const {
        size_t at = 0;
        if (item.empty() || !item[0].is_name()) return "!its type is missing";
        while (at + 2 < item.size() && item[at + 1].is(".") && item[at + 2].is_name()) at += 2;
        const std::string name = item[at++].key;
        const std::span<const Token> rest = std::span<const Token>(item).subspan(at);
        bool up = false;
        type = name;
        if (is_bit(name)) return rest.empty() ? "" : said("!'{}' is not expected after {}", rest[0].text, name);
        if (is_vector(name)) {
            if (rest.size() < 2 || !rest[0].is("(")) return said("its type {} has no range", name);
            const auto trouble = bounds(rest.subspan(1, rest.size() - 2), names, shape, up);
            if (!trouble.empty()) return "!" + trouble;
            const auto [l, r] = shape.back();
            if (up ? l > r : l < r) return "its range holds no bit";
            return {};
        }
        if (is_whole(name)) return whole_type(name, rest, names, shape);
        if (const auto known = scope_.subtypes.find(name); known != scope_.subtypes.end()) {
            type = known->second.base;
            shape = known->second.shape;
            if (is_vector(type) && shape.empty() && rest.size() >= 2) {
                const auto trouble = bounds(rest.subspan(1, rest.size() - 2), names, shape, up);
                return trouble.empty() ? "" : "!" + trouble;
            }
            return {};
        }
        if (const auto odd = scope_.odd_types.find(name); odd != scope_.odd_types.end()) return odd->second;
        if (name == "real" || name == "time" || name == "string" || name == "character")
            return said("it is of type {}, which has no bits", name);
        return said("its type {} is not in the given files", name);
    }

    /// A constrained integer: as many bits as its bounds need, two's complement when they go below zero.
    std::string whole_type(const std::string& name, std::span<const Token> rest,
                           const std::map<std::string, Number>& names, Dimensions& shape) const {
        if (rest.empty() || !rest[0].is("range"))
            return said("its type {} has no range; write \"{} range … to …\"", name, name);
        Dimensions range;
        bool up = false;
        if (const auto trouble = bounds(rest.subspan(1), names, range, up); !trouble.empty()) return "!" + trouble;
        const long long low = std::min(range[0].first, range[0].second),
                        high = std::max(range[0].first, range[0].second);
        if (high > 2147483647LL || low < -2147483648LL) return "!its range goes beyond 32 bits";
        long long bits = 1;
        if (low >= 0)
            bits = std::max(1LL, ceiling_log2(high + 1));
        else
            while (-(1LL << (bits - 1)) > low || (1LL << (bits - 1)) - 1 < high) ++bits;
        shape.emplace_back(bits - 1, 0);
        return {};
    }

    // Packages
    // ----------------------------------------------------------------------------------------------------------

    void package() {
        advance();
        if (t_.is("body")) return skip_unit();
        while (t_.kind != Token::end && t_.kind != Token::bad && !t_.is("end")) {
            if (t_.is("constant"))
                constant();
            else if (t_.is("subtype"))
                subtype_declaration();
            else if (t_.is("type"))
                type_declaration();
            else if (t_.is("component"))
                skip_component();
            else
                advance();
        }
        // "end package NAME;" is not a second package.
        advance();
        if (t_.is("package")) advance();
        if (t_.is_name()) advance();
    }

    /// To the "end" of a package body: by "end package" or "end NAME ;" is hard to tell from inner ends, so to the next
    /// unit.
    void skip_unit() {
        while (t_.kind != Token::end && t_.kind != Token::bad && !t_.is("entity") && !t_.is("architecture") &&
               !t_.is("package")) {
            const bool ending = t_.is("end");
            advance();
            if (ending && t_.is("package")) return advance();
        }
    }

    void skip_component() {
        while (t_.kind != Token::end && t_.kind != Token::bad) {
            const bool ending = t_.is("end");
            advance();
            if (ending && t_.is("component")) return advance();
        }
    }

    void constant() {
        advance();
        std::vector<std::string> names;
        while (t_.is_name()) {
            names.push_back(t_.key);
            advance();
            if (!take(",")) break;
        }
        Item item;
        if (!collect(item, {";"})) return error("';' is expected after this constant");
        const auto given = std::find_if(item.begin(), item.end(), [](const Token& t) { return t.is(":="); });
        if (given == item.end()) return;
        const auto v = value(std::span<const Token>(given + 1, item.end()), {});
        for (const auto& name : names)
            if (v.value) scope_.values[name] = *v.value;
    }

    void subtype_declaration() {
        advance();
        const std::string name = t_.key;
        advance();
        Item item;
        if (!take("is") || !collect(item, {";"})) return error("\"subtype NAME is TYPE;\" is expected");
        Subtype s;
        const auto trouble = subtype(item, {}, s.base, s.shape);
        if (trouble.empty())
            scope_.subtypes[name] = s;
        else if (is_vector(s.base) && item.size() == 1)
            scope_.subtypes[name] = s;  // range given where it is used
        else
            scope_.odd_types[name] = trouble[0] == '!' ? trouble.substr(1) : trouble;
    }

    void type_declaration() {
        advance();
        const std::string name = t_.key;
        advance();
        if (!take("is")) return;
        if (t_.is("record")) {
            scope_.odd_types[name] = "it is a record; give each of its elements a port of its own";
            while (t_.kind != Token::end && t_.kind != Token::bad && !t_.is("end")) advance();
            advance();
            return;
        }
        scope_.odd_types[name] = t_.is("array")
                                     ? "it is an array of its own type; give each element a port, or use a plain vector"
                                 : t_.is("(") ? "it is an enumeration, whose code is not fixed; use std_logic_vector"
                                              : said("its type {} has no fixed bits", name);
        Item item;
        collect(item, {";"});
    }

    // Entities
    // ----------------------------------------------------------------------------------------------------------

    void entity() {
        advance();
        if (!t_.is_name()) return error("The name of an entity is expected");
        Header h;
        h.name = std::string(t_.text);
        h.language = "vhdl";
        h.source = &source_;
        h.offset = t_.offset;
        advance();
        if (!take("is")) return error(said("'is' is expected after \"entity {}\"", h.name));
        std::map<std::string, Number> values;
        const size_t before = out_.errors.size();
        if (take("generic")) list([&](const Item& item) { generic(h, item, values); });
        if (out_.errors.size() == before && take("port")) {
            h.has_ports = true;
            list([&](const Item& item) { ports(h, item, values); });
        }
        if (out_.errors.size() > before) {
            while (t_.kind != Token::end && t_.kind != Token::bad && !t_.is("end")) advance();
            return;
        }
        while (t_.kind != Token::end && t_.kind != Token::bad && !t_.is("end")) advance();
        if (t_.kind == Token::end) return error("'end' is expected after entity " + h.name);
        advance();
        if (t_.is("entity")) advance();
        if (t_.is_name()) advance();
        out_.all.push_back(std::move(h));
    }

    template <class Each>
    void list(Each each) {
        if (!take("(")) return error("'(' is expected");
        while (!t_.is(")")) {
            Item item;
            if (!collect(item, {";", ")"})) return error("';' or ')' is expected in this list");
            if (!item.empty()) each(item);
            if (!take(";")) break;
        }
        if (!take(")")) return error("')' is expected after this list");
        if (!take(";")) error("';' is expected after ')'");
    }

    struct Declared {
        std::vector<Token> names;
        Item type;
        std::span<const Token> given;
    };
    /// [signal|constant] a, b : type [:= value]; false when it is not such a thing.
    static bool declared(const Item& item, Declared& out) {
        size_t at = 0;
        if (item[0].is("signal") || item[0].is("constant")) ++at;
        while (at < item.size() && item[at].is_name()) {
            out.names.push_back(item[at++]);
            if (at < item.size() && item[at].is(","))
                ++at;
            else
                break;
        }
        if (out.names.empty() || at >= item.size() || !item[at].is(":")) return false;
        const auto given =
            std::find_if(item.begin() + static_cast<long>(at), item.end(), [](const Token& t) { return t.is(":="); });
        out.type.assign(item.begin() + static_cast<long>(at) + 1, given);
        if (given != item.end()) out.given = std::span<const Token>(given + 1, item.end());
        return true;
    }

    void generic(Header& h, const Item& item, std::map<std::string, Number>& values) {
        if (item[0].is("type") || item[0].is("package") || item[0].is("function") || item[0].is("procedure")) return;
        Declared d;
        if (!declared(item, d)) return error_at(item[0], "A generic is expected: NAME : TYPE := VALUE");
        const auto v = value(d.given, values);
        for (const auto& name : d.names) {
            h.parameters.insert(name.key);
            if (v.value) values[name.key] = *v.value;
            for (const auto& [wanted, number] : request_.parameters)
                if (lower(wanted) == name.key) values[name.key] = Number{false, number, 0};
        }
    }

    void ports(Header& h, const Item& item, const std::map<std::string, Number>& values) {
        Declared d;
        if (!declared(item, d)) return error_at(item[0], "A port is expected: NAME : MODE TYPE");
        std::string direction = "in";
        if (!d.type.empty()) {
            const auto& word = d.type[0];
            const bool mode =
                word.is("in") || word.is("out") || word.is("inout") || word.is("buffer") || word.is("linkage");
            if (mode) {
                direction = word.is("buffer") ? "out" : word.key;
                d.type.erase(d.type.begin());
            }
            if (!d.type.empty() && d.type.back().is("bus")) d.type.pop_back();
        }
        HeaderPort port;
        port.direction = direction;
        Dimensions shape;
        auto trouble = subtype(d.type, values, port.type, shape);
        if (trouble.empty() && direction == "linkage") trouble = "its mode is linkage";
        if (trouble.empty() && !shape_port(port, shape)) trouble = said("!it would have more than {} bits", most_bits);
        for (const auto& name : d.names) {
            port.name = std::string(name.text);
            if (h.ports.size() >= most_ports)
                return error_at(
                    name, said("Entity {} has more than {} ports; such a header is not read", h.name, most_ports));
            const bool twice = !h.port_keys.insert(std::string(name.key)).second;
            if (twice)
                error_at(name, said("Port '{}' is there twice in entity {}", port.name, h.name));
            else if (trouble.empty())
                h.ports.push_back(port);
            else
                refuse(h, name, trouble);
        }
    }

    void refuse(Header& h, const Token& name, const std::string& why) {
        if (h.full(why[0] == '!' ? Severity::stop : Severity::caution)) return;
        const auto place = place_of(source_.text, name.offset);
        Message m{Severity::caution, Code::not_plannable, said("Port '{}' cannot be planned: {}.", name.text, why),
                  source_.file,      place.line,          place.column};
        if (why[0] == '!') {
            m.severity = Severity::stop;
            m.code = Code::range;
            m.text = "The type of port '" + std::string(name.text) + "' cannot be worked out: " + why.substr(1) + ".";
        }
        h.messages.push_back(m);
    }

    /// What an architecture uses: entity work.NAME, component NAME, label : NAME.
    void architecture() {
        advance();
        advance();
        std::string of;
        if (take("of")) of = t_.key;
        std::set<std::string> uses;
        Token before;
        while (t_.kind != Token::end && t_.kind != Token::bad && !(t_.is("entity") && !before_) &&
               !t_.is("architecture") && !t_.is("package")) {
            const bool naming = before.is(":");
            before = t_;
            if (before.is("end")) {
                advance();
                if (t_.is("architecture")) break;
                continue;
            }
            advance();
            if (before.is("component")) uses.insert(t_.key);
            if (naming && before.kind == Token::word && (t_.is("port") || t_.is("generic"))) uses.insert(before.key);
            if (before.is(":") && t_.is("entity")) {
                advance();
                std::string last = t_.key;
                while (t_.is_name()) {
                    last = t_.key;
                    advance();
                    if (!take(".")) break;
                }
                uses.insert(last);
            }
        }
        if (t_.is("architecture")) advance();
        for (auto& h : out_.all)
            if (h.language == "vhdl" && lower(h.name) == of) h.uses.insert(uses.begin(), uses.end());
    }

    const SourceText& source_;
    const PortRequest& request_;
    Scope& scope_;
    Headers& out_;
    Scanner scan_;
    Token t_;
    bool before_ = false;  ///< the token before was ':' or "use"
};

}  // namespace

namespace {

/// Constants and subtypes of all packages, whatever the order of the files and of the packages: rounds until one brings
/// nothing.
void read_packages(std::span<const SourceText> sources, const PortRequest& request, Scope& scope) {
    constexpr int most_rounds = 20;  // packages that lean on each other in a row; designs have two or three
    std::vector<const SourceText*> with_packages;
    for (const auto& source : sources)
        if (lower(source.text).find("package") != std::string::npos) with_packages.push_back(&source);
    for (int round = 0; round < most_rounds && !with_packages.empty(); ++round) {
        const auto before = scope.values.size() + scope.subtypes.size();
        Headers unsaid;  // what is wrong is said when the files are read as a whole
        for (const auto* source : with_packages) Reader(*source, request, scope, unsaid).run(true);
        if (scope.values.size() + scope.subtypes.size() == before) return;
    }
}

}  // namespace

void read_vhdl_headers(std::span<const SourceText> sources, const PortRequest& request, Headers& out) {
    Scope scope;
    read_packages(sources, request, scope);
    for (const auto& source : sources) Reader(source, request, scope, out).run(false);
}

}  // namespace kp::hdl
