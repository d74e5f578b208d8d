// SPDX-License-Identifier: GPL-3.0-or-later
// Parameters, nets, variables, types and functions (IEEE 1364-2005, clauses 4 and 10; IEEE 1800-2017, clause 6).
#include "core/hdl/source/parser.hpp"

#include <set>

namespace kp::source {

namespace {

int atom_width(std::string_view word) {
    return word == "integer" || word == "int" ? 32
           : word == "byte"                   ? 8
           : word == "shortint"               ? 16
           : word == "longint"                ? 64
                                              : 0;
}

}  // namespace

bool Parser::declaration_item(std::vector<Item>& out) {
    for (const char* word :
         {"task",     "specify",  "defparam",   "primitive", "import", "export", "modport", "clocking",
          "property", "sequence", "covergroup", "class",     "and",    "nand",   "or",      "nor",
          "xor",      "xnor",     "buf",        "not",       "bufif0", "bufif1", "notif0",  "notif1",
          "pullup",   "pulldown", "final",      "assert",    "alias",  "bind",   "let"})
        if (is(word)) {
            refuse(std::string("'") + word + "'");
            return true;
        }
    if (is("parameter") || is("localparam")) {
        parameter_item(out);
    } else if (is("typedef")) {
        type_item(out);
    } else if (is("function")) {
        function(out);
    } else if (is("input") || is("output") || is("inout") || at_type()) {
        // A name before a name is an instance when a bracket or # follows.
        if (now().kind == Word::name && ahead(1).kind == Word::name && ahead(2).kind == Word::op &&
            ahead(2).word == "(" && !atom_width(now().word) && !is("wire") && !is("reg") && !is("logic"))
            return false;
        net_item(out);
    } else {
        return false;
    }
    return true;
}

std::vector<Declaration> Parser::parameter_list() {
    std::vector<Declaration> out;
    expect("(", "before parameters");
    Declaration like;
    like.kind = Declaration::parameter;
    while (!bad() && !is(")")) {
        if (is("parameter") || is("localparam")) {
            like = {};
            like.kind = is("parameter") ? Declaration::parameter : Declaration::local_parameter;
            next();
            if (is("type")) refuse("a type as a parameter");
            like.typed = data_type(like.type);
        } else if (at_type()) {
            like.type = {};
            like.typed = data_type(like.type);
        }
        names_of(like, out, true);
        if (!take(",")) break;
    }
    expect(")", "behind parameters");
    return out;
}

bool Parser::at_type() const {
    static const std::set<std::string, std::less<>> types{
        "wire",    "tri",      "reg",      "logic",   "bit",    "signed", "unsigned", "integer",
        "int",     "byte",     "shortint", "longint", "genvar", "enum",   "struct",   "union",
        "real",    "realtime", "time",     "var",     "uwire",  "wand",   "wor",      "supply0",
        "supply1", "tri0",     "tri1",     "triand",  "trior",  "event",  "string"};
    const auto& w = now();
    if (w.kind == Word::op) return w.word == "[";
    if (w.kind != Word::name || w.escaped) return false;
    if (types.count(w.word)) return true;
    // A name before another name is the name of a type.
    return ahead(1).kind == Word::name && !is_keyword(w.word) && !is_keyword(ahead(1).word) && w.word[0] != '$';
}

/// A type from here on; false when nothing says one.
bool Parser::data_type(DataType& out) {
    bool any = false;
    for (;; any = true) {
        if (is("wire") || is("tri") || is("reg") || is("logic") || is("bit") || is("var") || is("unsigned") ||
            is("uwire") || is("genvar")) {
            next();
        } else if (take("signed")) {
            out.is_signed = true;
        } else if (now().kind == Word::name && !now().escaped && atom_width(now().word)) {
            out.fixed_width = atom_width(now().word);
            out.is_signed = true;
            next();
            if (take("unsigned")) out.is_signed = false;
        } else if (is("enum")) {
            auto values = enumeration(out);
            if (module_)
                module_->items.push_back(std::move(values));
            else
                code_.outside.push_back(std::move(values));
        } else {
            break;
        }
    }
    for (const char* word : {"struct", "union", "real", "realtime", "time", "event", "string", "wand", "wor", "triand",
                             "trior", "tri0", "tri1", "supply0", "supply1"})
        if (is(word)) refuse(std::string("'") + word + "'");
    if (!any && now().kind == Word::name && !now().escaped && !is_keyword(now().word) && ahead(1).kind == Word::name) {
        out.named = now().word;
        next();
        any = true;
    }
    if (is("[")) {
        out.ranges = ranges();
        any = true;
    }
    return any;
}

std::vector<Range> Parser::ranges() {
    std::vector<Range> out;
    while (!bad() && take("[")) {
        Range r;
        r.left = expression();
        if (take(":")) {
            r.right = expression();
        } else {  // [n]: from 0 to n - 1
            Expr one;
            one.value = *literal_of("1");
            Expr last;
            last.kind = Expr::binary;
            last.word = "-";
            last.place = now().place;
            last.args = {r.left, one};
            r.right = std::move(last);
            r.left.value = *literal_of("0");
            r.left.kind = Expr::number;
            r.left.args.clear();
        }
        expect("]", "behind a range");
        out.push_back(std::move(r));
    }
    return out;
}

/// name [words] [= value], …; in a list of ports or parameters only one.
void Parser::names_of(Declaration like, std::vector<Declaration>& out, bool in_list) {
    do {
        auto d = like;
        d.place = now().place;
        d.name = name("a name");
        d.words = ranges();
        if (take("=")) d.initial.push_back(expression());
        if (bad()) return;
        out.push_back(std::move(d));
    } while (!in_list && take(","));
}

void Parser::parameter_item(std::vector<Item>& out) {
    Item i;
    i.place = now().place;
    Declaration like;
    like.kind = is("parameter") ? Declaration::parameter : Declaration::local_parameter;
    next();
    like.typed = data_type(like.type);
    names_of(like, i.declarations, false);
    expect(";", "behind parameters");
    out.push_back(std::move(i));
}

void Parser::net_item(std::vector<Item>& out) {
    Item i;
    i.place = now().place;
    Declaration like;
    if (is("input") || is("output") || is("inout")) {
        like.direction = is("input") ? Declaration::in : is("output") ? Declaration::out : Declaration::both;
        next();
    }
    like.kind = is("genvar")                                                          ? Declaration::genvar
                : is("wire") || is("tri") || is("uwire") || (is("[") || is("signed")) ? Declaration::net
                                                                                      : Declaration::variable;
    if (like.direction != Declaration::none && now().kind == Word::name && !is("reg") && !is("logic") &&
        !atom_width(now().word))
        like.kind = Declaration::net;
    data_type(like.type);
    if (is("#")) refuse("a delay on a wire");
    names_of(like, i.declarations, false);
    expect(";", "behind a declaration");
    out.push_back(std::move(i));
}

void Parser::function(std::vector<Item>& out) {
    Item i;
    i.kind = Item::function;
    i.place = now().place;
    next();
    while (is("automatic") || is("static")) next();
    auto f = std::make_shared<Function>();
    f->place = i.place;
    if (is("void")) refuse("a function without a value");
    data_type(f->type);
    f->name = name("the name of a function");
    Declaration like;
    like.kind = Declaration::variable;
    if (take("(")) {
        while (!bad() && !is(")")) {
            if (is("output") || is("inout") || is("ref")) refuse("a function that gives values back by its arguments");
            if (take("input") || at_type()) {
                like.type = {};
                data_type(like.type);
            }
            names_of(like, f->arguments, true);
            if (!take(",")) break;
        }
        expect(")", "behind the arguments of a function");
    }
    expect(";", "behind the head of a function");
    while (!bad() && (is("input") || at_type() || is("localparam"))) {
        const bool argument = take("input");
        const bool constant = !argument && take("localparam");
        like = {};
        like.kind = constant ? Declaration::local_parameter : Declaration::variable;
        data_type(like.type);
        names_of(like, argument ? f->arguments : f->locals, false);
        expect(";", "behind a declaration");
    }
    f->body.kind = Statement::block;
    f->body.place = now().place;
    while (!bad() && !is("endfunction")) {
        if (now().kind == Word::end) fail("This function has no 'endfunction'.");
        if (!bad()) f->body.parts.push_back(statement());
    }
    expect("endfunction", "behind a function");
    if (take(":")) name("the name of a function");
    i.name = f->name;
    i.function_of = std::move(f);
    out.push_back(std::move(i));
}

/// enum [type] { A, B = 3, … }: constants, and the type of the variables.
Item Parser::enumeration(DataType& type) {
    Item i;
    i.kind = Item::type;
    i.place = now().place;
    next();
    i.data_type.fixed_width = 32;
    i.data_type.is_signed = true;
    if (!is("{")) {
        i.data_type = {};
        data_type(i.data_type);
    }
    expect("{", "in an enumeration");
    while (!bad() && !is("}")) {
        Declaration value;
        value.kind = Declaration::local_parameter;
        value.place = now().place;
        value.name = name("the name of a value");
        if (is("[")) refuse("a range of enumerated names");
        if (take("=")) value.initial.push_back(expression());
        i.values.push_back(std::move(value));
        if (!take(",")) break;
    }
    expect("}", "behind an enumeration");
    type = i.data_type;
    return i;
}

void Parser::type_item(std::vector<Item>& out) {
    next();
    Item i;
    i.kind = Item::type;
    i.place = now().place;
    if (is("enum")) {
        i = enumeration(i.data_type);
    } else {
        data_type(i.data_type);
    }
    i.name = name("the name of a type");
    if (is("[")) refuse("a type of several words");
    expect(";", "behind a type");
    out.push_back(std::move(i));
}

}  // namespace kp::source
