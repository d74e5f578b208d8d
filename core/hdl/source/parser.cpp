// SPDX-License-Identifier: GPL-3.0-or-later
// Modules, their headers and what stands in them (IEEE 1364-2005, clause 12; IEEE 1800-2017, clause 23).
#include "core/hdl/source/parser.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <optional>
#include <set>

namespace kp::source {

namespace {

const std::set<std::string, std::less<>> keywords{
    "fork",        "join",      "while",     "forever",     "wait",       "disable",      "force",     "release",
    "deassign",    "return",    "break",     "continue",    "specify",    "endspecify",   "primitive", "class",
    "program",     "assert",    "always",    "always_comb", "always_ff",  "always_latch", "assign",    "begin",
    "case",        "casex",     "casez",     "default",     "else",       "end",          "endcase",   "endfunction",
    "endgenerate", "endmodule", "endtask",   "for",         "function",   "generate",     "genvar",    "if",
    "initial",     "inout",     "input",     "integer",     "localparam", "logic",        "module",    "negedge",
    "or",          "output",    "parameter", "posedge",     "reg",        "repeat",       "signed",    "task",
    "typedef",     "wire",      "enum",      "struct",      "unsigned",   "package",      "interface", "int",
    "byte",        "bit",       "shortint",  "longint",     "real",       "time",         "union",     "import"};

}  // namespace

bool Parser::is_keyword(std::string_view word) {
    return keywords.contains(word);
}

bool Parser::take(std::string_view text) {
    if (!is(text)) return false;
    next();
    return true;
}

std::string Parser::shown() const {
    return now().kind == Word::end ? "the end of the text" : "'" + now().word.substr(0, 40) + "'";
}

void Parser::fail_at(SourcePlace place, std::string text) {
    if (!error_) error_ = code_.at(place, Severity::stop, Code::syntax, std::move(text));
    at_ = words_.size() - 1;
}

void Parser::refuse(const std::string& construct) {
    if (!error_)
        error_ = code_.at(
            now().place, Severity::stop, Code::cannot_build,
            said("Nothing can be built from {}; write it in another way, or leave it out of the build.", construct));
    at_ = words_.size() - 1;
}

bool Parser::expect(std::string_view text, const char* where) {
    if (bad()) return false;
    if (take(text)) return true;
    fail(said("There should be '{}' {}, not {}.", text, where, shown()));
    return false;
}

std::string Parser::name(const char* what) {
    if (bad()) return {};
    if (now().kind != Word::name || (!now().escaped && is_keyword(now().word))) {
        fail(said("There should be {}, not {}.", what, shown()));
        return {};
    }
    auto out = now().word;
    next();
    return out;
}

bool Parser::run() {
    while (!bad() && now().kind != Word::end) {
        if (is("module") || is("macromodule")) {
            module();
        } else if (is("package") || is("interface") || is("program") || is("class") || is("primitive") ||
                   is("config") || is("import") || is("bind")) {
            refuse("'" + now().word + "'");
        } else if (is(";")) {
            next();
        } else if (!declaration_item(code_.outside)) {
            fail(said("There should be a module, not {}.", shown()));
        }
    }
    return !bad();
}

void Parser::module() {
    Module m;
    const size_t first = at_;
    m.place = now().place;
    next();
    while (is("automatic") || is("static")) next();
    m.name = name("the name of a module");
    module_ = &m;
    header(m);
    items(m.items, {"endmodule"});
    expect("endmodule", "behind a module");
    if (take(":")) name("the name of a module");
    if (!bad()) port_declarations(m);
    if (bad()) {
        set_aside(m, first);
        return;
    }
    code_.order.push_back(m.name);
    if (!code_.modules.emplace(m.name, m).second)
        fail_at(m.place, said("The module '{}' is defined twice; leave one of its files out.", m.name));
}

/// What cannot be read may be a test bench: it is passed over to its end, and whether anything is built from it is seen
/// when all is read. False, with the error as it is, where no end is found.
bool Parser::set_aside(const Module& m, size_t first) {
    if (m.name.empty() || depth_ != 0) return false;
    size_t end = first;
    while (end + 1 < words_.size() && !is(words_[end], "endmodule")) ++end;
    if (!is(words_[end], "endmodule")) return false;
    code_.aside.emplace(m.name, std::move(*error_));
    if (m.ports.empty() && m.port_order.empty()) code_.bare.insert(m.name);
    error_.reset();
    at_ = end;
    next();
    if (take(":")) next();
    return true;
}

void Parser::header(Module& m) {
    if (is("import")) refuse("a package");
    if (take("#")) m.parameters = parameter_list();
    if (is("(")) ports(m);
    expect(";", "behind the header of a module");
}

/// Ports with their declarations, or names only that are declared inside.
void Parser::ports(Module& m) {
    next();
    Declaration like;
    bool any = false;
    while (!bad() && !is(")")) {
        if (is(".")) refuse("a port with another name inside");
        const bool directed = is("input") || is("output") || is("inout");
        if (directed || (any && at_type())) {
            if (directed) {
                like = {};
                like.direction = is("input") ? Declaration::in : is("output") ? Declaration::out : Declaration::both;
                next();
            }
            any = true;
            like.type = {};
            like.kind = is("reg") || is("logic") || is("bit") ? Declaration::variable : Declaration::net;
            data_type(like.type);
        }
        if (any) {
            const auto from = m.ports.size();
            names_of(like, m.ports, true);
            if (m.ports.size() > from) m.port_order.push_back(m.ports.back().name);
        } else {
            m.port_order.push_back(name("the name of a port"));
        }
        if (!take(",")) break;
    }
    expect(")", "behind the ports");
}

/// Puts the declarations of ports that stand in the body into the order of the header.
void Parser::port_declarations(Module& m) {
    if (m.ports.size() == m.port_order.size() && std::none_of(m.items.begin(), m.items.end(), [](const Item& i) {
            return i.kind == Item::declare && !i.declarations.empty() &&
                   i.declarations[0].direction != Declaration::none;
        }))
        return;
    std::map<std::string, Declaration> by_name;
    for (const auto& p : m.ports) by_name.emplace(p.name, p);
    for (auto& i : m.items)
        if (i.kind == Item::declare)
            for (const auto& d : i.declarations)
                if (d.direction != Declaration::none && !by_name.emplace(d.name, d).second)
                    return fail_at(d.place, said("The port '{}' is declared twice.", d.name));
    m.ports.clear();
    for (const auto& name : m.port_order) {
        const auto at = by_name.find(name);
        if (at == by_name.end())
            return fail_at(m.place,
                           said("The port '{}' has no direction; declare it as input, output or inout.", name));
        m.ports.push_back(at->second);
        by_name.erase(at);
    }
    if (!by_name.empty())
        fail_at(by_name.begin()->second.place,
                said("'{}' has a direction but is not in the list of ports.", by_name.begin()->first));
}

bool Parser::items(std::vector<Item>& out, std::initializer_list<std::string_view> ends) {
    while (!bad()) {
        for (const auto end : ends)
            if (is(end)) return true;
        if (now().kind == Word::end) {
            fail(said("There should be '{}' before the end of the text.", *ends.begin()));
            return false;
        }
        if (!item(out)) return false;
    }
    return false;
}

bool Parser::item(std::vector<Item>& out) {
    const Deeper deeper(*this);
    operators_in_row_ = 0;
    if (bad()) return false;
    if (take(";")) return true;
    if (take("generate")) {
        items(out, {"endgenerate"});
        return expect("endgenerate", "behind generate");
    }
    if (is("assign")) {
        assign_item(out);
    } else if (is("always") || is("always_comb") || is("always_ff") || is("always_latch") || is("initial")) {
        always_item(out);
    } else if (is("for")) {
        generate_loop(out);
    } else if (is("if")) {
        generate_choice(out);
    } else if (is("case")) {
        generate_select(out);
    } else if (is("begin")) {
        branch(out);
    } else if (!declaration_item(out)) {
        instances(out);
    }
    return !bad();
}

void Parser::assign_item(std::vector<Item>& out) {
    next();
    if (is("#")) refuse("a delay in an assignment");
    Item i;
    i.kind = Item::assign;
    i.place = now().place;
    do {
        i.exprs.push_back(target());
        expect("=", "in an assignment");
        i.exprs.push_back(expression());
    } while (!bad() && take(","));
    expect(";", "behind an assignment");
    out.push_back(std::move(i));
}

void Parser::always_item(std::vector<Item>& out) {
    Item i;
    i.place = now().place;
    i.kind = is("initial") ? Item::initial : Item::always;
    i.word = now().word;
    next();
    if (i.word == "always" || i.word == "always_ff") events(i);
    if (is("#")) refuse("a delay in a statement");
    if (!bad()) i.body.push_back(statement());
    out.push_back(std::move(i));
}

/// @*, @(*), @(posedge a or negedge b), @(a, b).
void Parser::events(Item& always) {
    if (take("@*")) return;
    if (!is("@")) {
        refuse(said("'{}' without @(…)", always.word));
        return;
    }
    next();
    if (take("*")) return;
    expect("(", "behind @");
    if (take("*")) {
        expect(")", "behind @(*");
        return;
    }
    do {
        Event e;
        if (take("posedge"))
            e.edge = Event::rise;
        else if (take("negedge"))
            e.edge = Event::fall;
        e.of = expression();
        always.events.push_back(std::move(e));
    } while (!bad() && (take("or") || take(",")));
    expect(")", "behind the events of always");
}

void Parser::instances(std::vector<Item>& out) {
    Item like;
    like.kind = Item::instance;
    like.place = now().place;
    like.word = name("a declaration, an assignment or an instance");
    if (bad()) return;
    if (take("#")) {
        if (!is("(")) return refuse("a delay on an instance");
        like.parameters = connections(like);
    }
    if (is("=") || is("<="))
        return fail(said("An assignment to {} outside of always and initial begins with 'assign'.", like.word));
    do {
        auto i = like;
        i.place = now().place;
        i.name = name("the name of an instance");
        if (is("[")) return refuse("an array of instances");
        if (!is("(")) return fail(said("There should be '(' behind the name of an instance, not {}.", shown()));
        i.connections = connections(i);
        if (bad()) return;
        out.push_back(std::move(i));
    } while (take(","));
    expect(";", "behind an instance");
}

std::vector<Connection> Parser::connections(Item& of) {
    std::vector<Connection> out;
    expect("(", "before connections");
    while (!bad() && !is(")")) {
        Connection c;
        c.place = now().place;
        if (take(".*")) {
            of.all_wildcard = true;
        } else if (take(".")) {
            c.name = name("the name of a port");
            if (take("(")) {
                if (!is(")")) c.value.push_back(expression());
                expect(")", "behind a connection");
            } else {
                c.by_name = true;
            }
            out.push_back(std::move(c));
        } else {
            if (!is(",")) c.value.push_back(expression());
            out.push_back(std::move(c));
        }
        if (!take(",")) break;
    }
    expect(")", "behind connections");
    return out;
}

namespace {

void instances_in(const std::vector<Item>& items, std::set<std::string>& out) {
    for (const auto& i : items) {
        if (i.kind == Item::instance) out.insert(i.word);
        for (const auto& branch : i.branches) instances_in(branch, out);
    }
}

/// Why a module that could not be read is needed all the same: it is the top, another module has it, there is no other,
/// or it may be the top as far as anybody knows. A test bench has no ports.
std::optional<Message> needed(const DesignText& code, const std::string& top) {
    if (code.aside.empty()) return std::nullopt;
    std::set<std::string> used;
    for (const auto& [name, m] : code.modules) instances_in(m.items, used);
    for (const auto& [name, why] : code.aside) {
        const bool bench = code.bare.contains(name) || (!top.empty() && name != top);
        if (code.modules.empty() || name == top || used.contains(name) || !bench) return why;
    }
    return std::nullopt;
}

}  // namespace

Result<DesignText> read_code(std::span<const SourceText> texts, const PortRequest& request) {
    DesignText code;
    auto words = words_of(texts, request, code.files);
    if (!words) return words.messages();
    Parser parser(words.value(), code);
    if (!parser.run()) return parser.error();
    if (auto why = needed(code, request.top)) return std::move(*why);
    for (const auto& [name, why] : code.aside) {
        auto note = why;
        note.severity = Severity::note;
        note.text = said("The module {} is set aside, since it cannot be built and nothing is built from it: {}", name,
                         why.text);
        if (code.notes.size() < most_notes) code.notes.push_back(std::move(note));
    }
    return code;
}

}  // namespace kp::source
