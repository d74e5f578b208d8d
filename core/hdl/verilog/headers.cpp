// SPDX-License-Identifier: GPL-3.0-or-later
// Headers of modules: IEEE 1364-2005, 12.3 and IEEE 1800-2017, 23.2. Types of packages and typedefs are kept as packed
// dimensions; bodies are read only for what they instantiate.
#include "core/hdl/verilog/headers.hpp"

#include "core/base/text.hpp"
#include "core/hdl/verilog/preprocess.hpp"
#include "core/hdl/verilog/types.hpp"
#include "core/base/said.hpp"

#include <algorithm>

namespace kp::hdl {

namespace {

using verilog::Preprocessor;
using verilog::Token;

constexpr size_t longest_item = 20000;

const char* direction_of(const Token& t) {
    return t.is("input") ? "in" : t.is("output") ? "out" : t.is("inout") ? "inout" : t.is("ref") ? "ref" : nullptr;
}

class Reader {
public:
    Reader(const SourceText& source, const PortRequest& request, Scope& scope, Headers& out)
        : source_(source),
          request_(request),
          scope_(scope),
          types_(scope),
          out_(out),
          text_(source, request, scope.macros, out.errors, out.notes) {
        advance();
    }

    /// Packages only, or everything.
    void run(bool only_packages) {
        while (t_.kind != Token::end && out_.errors.size() < most_errors) {
            if (t_.kind == Token::bad) return error("There is " + std::string(t_.text));
            if (only_packages && !t_.is("package"))
                advance();
            else if (t_.is("module") || t_.is("macromodule"))
                module();
            else if (t_.is("interface"))
                named_block("endinterface", &scope_.interfaces);
            else if (t_.is("program"))
                named_block("endprogram", nullptr);
            else if (t_.is("primitive"))
                named_block("endprimitive", nullptr);
            else if (t_.is("class"))
                named_block("endclass", nullptr);
            else if (t_.is("package"))
                package();
            else if (t_.is("typedef"))
                type_definition("", scope_.values);
            else if (t_.is("parameter") || t_.is("localparam") || t_.is("const"))
                constants("", scope_.values, nullptr);
            else
                advance();
        }
    }

private:
    void advance() { t_ = text_.next(); }
    void error(const std::string& text) {
        if (text_.broken() || out_.errors.size() >= most_errors) return;
        out_.errors.push_back(text_.here(text + (t_.kind == Token::end ? "; the file seems to be cut off." : ".")));
    }
    bool take(std::string_view s) { return t_.is(s) && (advance(), true); }
    void skip_past(std::string_view word) {
        while (t_.kind != Token::end && !t_.is(word)) advance();
        advance();
    }

    /// Reads tokens up to one of `ends` outside all brackets, which is not taken.
    bool collect(Item& item, std::initializer_list<std::string_view> ends) {
        for (int depth = 0;; advance()) {
            if (t_.kind == Token::end || t_.kind == Token::bad || item.size() > longest_item) return false;
            if (depth == 0)
                for (const auto end : ends)
                    if (t_.is(end)) return true;
            depth += t_.is("(") || t_.is("[") || t_.is("{") ? 1 : t_.is(")") || t_.is("]") || t_.is("}") ? -1 : 0;
            if (depth < 0 || t_.is("endmodule") || t_.is("module")) return false;
            item.push_back(t_);
        }
    }

    // Declarations
    // ------------------------------------------------------------------------------------------------------

    /// parameter [type] [range] NAME = value {, NAME = value} up to ';' or, in a header, one item. Overrides count for
    /// `header`.
    void constants(const std::string& prefix, Names& values, Header* header) {
        const bool fixed = t_.is("localparam") || t_.is("const");
        advance();
        Item item;
        if (!collect(item, {";"})) return error("';' is expected after this parameter");
        advance();
        for (const auto& part : split_item(item)) constant(part, prefix, values, fixed ? nullptr : header);
    }

    static std::vector<Item> split_item(const Item& item) {
        std::vector<Item> out(1);
        int depth = 0;
        for (const auto& t : item) {
            depth += t.is("(") || t.is("[") || t.is("{") ? 1 : t.is(")") || t.is("]") || t.is("}") ? -1 : 0;
            if (depth == 0 && t.is(","))
                out.emplace_back();
            else
                out.back().push_back(t);
        }
        return out;
    }

    void constant(const Item& item, const std::string& prefix, Names& values, Header* header) {
        const auto equals = std::find_if(item.begin(), item.end(), [](const Token& t) { return t.is("="); });
        Token name;
        int depth = 0;
        bool is_type = false;
        for (auto it = item.begin(); it != equals; ++it) {
            depth += it->is("[") ? 1 : it->is("]") ? -1 : 0;
            if (it->is("type"))
                is_type = true;
            else if (depth == 0 && it->is_name())
                name = *it;
        }
        if (!name.is_name()) return;
        const std::string key = prefix + std::string(name.text);
        const std::span<const Token> right(equals == item.end() ? equals : equals + 1, item.end());
        if (is_type) return keep_type(key, Item(right.begin(), right.end()), values);
        if (header) {
            header->parameters.insert(std::string(name.text));
            if (const auto at = request_.parameters.find(std::string(name.text)); at != request_.parameters.end()) {
                values[key] = Number{false, at->second, 0};
                return;
            }
        }
        if (const auto v = types_.value(right, values); v.value)
            values[key] = *v.value;
        else
            values.erase(key);
    }

    /// Keeps a type by name: its packed dimensions, or why its ports cannot be planned.
    void keep_type(const std::string& key, const Item& item, const Names& names) {
        size_t at = 0;
        std::string type, why;
        Dimensions d;
        if (types_.data_type(item, at, names, type, d, why)) {
            scope_.types[key] = d;
            scope_.odd_types.erase(key);
        } else
            scope_.odd_types[key] = why;
    }

    void type_definition(const std::string& prefix, const Names& names) {
        advance();
        Item item;
        if (!collect(item, {";"})) return error("';' is expected after this typedef");
        advance();
        if (item.size() < 2 || !item.back().is_name()) {
            // typedef type NAME [unpacked]: the name is the last one outside brackets.
            int depth = 0;
            for (size_t i = item.size(); i-- > 0;) {
                depth += item[i].is("]") ? 1 : item[i].is("[") ? -1 : 0;
                if (depth == 0 && item[i].is_name()) {
                    scope_.odd_types[prefix + std::string(item[i].text)] = "it is an unpacked array";
                    return;
                }
            }
            return;
        }
        const std::string key = prefix + std::string(item.back().text);
        item.pop_back();
        keep_type(key, item, names);
    }

    // Modules
    // -----------------------------------------------------------------------------------------------------------

    void named_block(std::string_view end, std::set<std::string>* names) {
        advance();
        if (t_.is("class")) advance();  // "interface class"
        if (t_.is("automatic") || t_.is("static")) advance();
        if (t_.is_name() && names) names->insert(std::string(t_.text));
        skip_past(end);
    }

    void package() {
        advance();
        if (t_.is("automatic") || t_.is("static")) advance();
        const std::string prefix = std::string(t_.text) + "::";
        Names local;
        const auto types_before = scope_.types;
        while (t_.kind != Token::end && !t_.is("endpackage")) {
            if (t_.is("parameter") || t_.is("localparam"))
                constants("", local, nullptr);
            else if (t_.is("typedef"))
                type_definition("", local);
            else if (t_.is("function"))
                skip_past("endfunction");
            else if (t_.is("task"))
                skip_past("endtask");
            else if (t_.is("class"))
                skip_past("endclass");
            else
                advance();
        }
        advance();
        // Both as p::name and, for import p::*, by name alone: two packages rarely use one name for two widths.
        for (const auto& [name, v] : local) {
            scope_.values[prefix + name] = v;
            scope_.values.emplace(name, v);
        }
        for (const auto& [name, d] : std::map(scope_.types))
            if (!types_before.contains(name)) {
                scope_.types[prefix + name] = d;
                scope_.odd_types.erase(prefix + name);
            }
        for (const auto& [name, why] : std::map(scope_.odd_types))
            if (name.find(':') == std::string::npos) scope_.odd_types.emplace(prefix + name, why);
    }

    void module() {
        advance();
        if (t_.is("automatic") || t_.is("static")) advance();
        if (!t_.is_name()) return error("The name of a module is expected");
        Header h;
        h.name = std::string(t_.text);
        h.language = lower(source_.file).ends_with(".sv") ? "systemverilog" : "verilog";
        h.source = &source_;
        h.offset = text_.outer_offset();
        Names values;
        advance();
        while (t_.is("import")) skip_past(";");
        const size_t before = out_.errors.size();
        bool ansi = true;
        if (take("#")) parameters(h, values);
        if (out_.errors.size() == before && take("(")) ansi = list(h, values);
        if (out_.errors.size() == before && !take(";")) error("';' is expected after the head of module " + h.name);
        if (out_.errors.size() > before) return skip_past("endmodule");
        body(h, values, ansi);
        out_.all.push_back(std::move(h));
    }

    void parameters(Header& h, Names& values) {
        if (!take("(")) return error("'(' is expected after '#'");
        bool fixed = false;
        while (!t_.is(")")) {
            if (t_.is("parameter") || t_.is("localparam")) {
                fixed = t_.is("localparam");
                advance();
            }
            Item item;
            if (!collect(item, {",", ")"})) return error("')' is expected after the parameters");
            constant(item, "", values, fixed ? nullptr : &h);
            if (!take(",")) break;
        }
        if (!take(")")) error("')' is expected after the parameters");
    }

    /// A message at a token; text that comes from a macro or an included file has the place of its use.
    [[nodiscard]] Message at(const Token& t, std::string text) const {
        auto m = text_.here(std::move(text));
        const auto* from = source_.text.data();
        if (t.text.data() < from || t.text.data() >= from + source_.text.size()) return m;
        const auto place = place_of(source_.text, static_cast<size_t>(t.text.data() - from));
        m.file = source_.file;
        m.line = place.line;
        m.column = place.column;
        return m;
    }

    void refuse(Header& h, const Token& where, const std::string& port, const std::string& why) {
        if (h.full(why.starts_with("!") ? Severity::stop : Severity::caution)) return;
        auto m = at(where, "");
        if (why.starts_with("!")) {
            m.code = Code::range;
            m.text = "The range of port '" + port + "' cannot be worked out: " + why.substr(1) + ".";
            if (why.find("'`") != std::string::npos)
                m.text = "The range of port '" + port + "' uses a macro that no given file defines: " + why.substr(1) +
                         ". Define it, or give the file that does.";
        } else {
            m.severity = Severity::caution;
            m.code = Code::not_plannable;
            m.text = said("Port '{}' cannot be planned: {}.", port, why);
        }
        h.messages.push_back(m);
    }

    /// The list in the header; true when it declares its ports itself (ANSI).
    bool list(Header& h, const Names& values) {
        HeaderPort current;
        Dimensions shape;
        std::string trouble;
        bool ansi = false;
        while (!t_.is(")") && out_.errors.size() < most_errors) {
            Item item;
            if (!collect(item, {",", ")"})) {
                error("')' is expected after the ports of module " + h.name);
                return ansi;
            }
            if (!item.empty())
                one_port(h, item, values, current, shape, trouble, ansi);
            else if (t_.is(",") || !h.ports.empty())
                h.has_ports = true;
            if (!take(",")) break;
        }
        if (!take(")")) error("')' is expected after the ports of module " + h.name);
        if (!ansi)
            for (auto& p : h.ports) p.direction.clear();
        return ansi;
    }

    void one_port(Header& h, const Item& item, const Names& values, HeaderPort& current, Dimensions& shape,
                  std::string& trouble, bool& ansi) {
        h.has_ports = true;
        size_t at = 0;
        if (item[0].kind == Token::directive)
            return error(said("The macro `{} is not defined; define it, or give the file that does", item[0].text));
        if (item[0].is("interface")) {
            refuse(h, item.back(), std::string(item.back().text),
                   "it is an interface; plan the signals of the interface one by one");
            return void();
        }
        if (const char* d = direction_of(item[0])) {
            current.direction = d;
            current.type = "wire";
            shape.clear();
            trouble.clear();
            ++at;
            ansi = true;
        }
        const bool bare =
            bare_name(item, at);  // a type alone keeps the direction (23.2.2.3), a bare name all of the one before
        if (!(bare && at == 0)) {
            if (at == 0) {
                shape.clear();
                trouble.clear();
            }
            // Without direction and type: an expression such as {a, b} or .outer(inner).
            if (at < item.size() && (item[at].is("{") || item[at].is("."))) {
                const bool named = item[at].is(".") && at + 1 < item.size();
                refuse(h, item[at], named ? std::string(item[at + 1].text) : "{…}",
                       "its name outside and inside differ; give it a plain name");
                return void();
            }
            if (!bare) types_.data_type(item, at, values, current.type, shape, trouble);
            if (current.direction.empty() && trouble.empty() && at > 0) {
                current.direction = "inout";
                ansi = true;
            }  // a type alone at the start (23.2.2.3)
        }
        std::string name;
        size_t behind = at;
        if (trouble.empty() || trouble[0] == '!' || bare) {
            if (at < item.size() && item[at].is_name()) {
                name = item[at].text;
                behind = at + 1;
            }
        } else {
            name = last_name(item, behind);
        }
        if (name.empty()) name = last_name(item, behind);
        if (name.empty()) return error("A port's name is expected");
        if (!trouble.empty()) {
            if (trouble[0] != '!') ansi = ansi || current.direction.empty();
            return refuse(h, item[0], name, trouble);
        }
        if (behind < item.size() && item[behind].is("["))
            return refuse(h, item[0], name, "it is an unpacked array; give each element a port, or pack it");
        if (behind < item.size() && !item[behind].is("="))
            return error(said("',' or ')' is expected after port '{}', not '{}'", name, item[behind].text));
        if (current.direction == "ref") return refuse(h, item[0], name, "its direction is ref");
        keep(h, item[0], name, current, shape);
    }

    void keep(Header& h, const Token& where, const std::string& name, HeaderPort port, const Dimensions& shape) {
        port.name = name;
        if (!shape_port(port, shape))
            return refuse(h, where, name, said("!it would have more than {} bits", most_bits));
        if (h.ports.size() >= most_ports)
            return error(said("Module {} has more than {} ports; such a header is not read", h.name, most_ports));
        if (!h.port_keys.insert(name).second)
            return out_.errors.push_back(at(where, said("Port '{}' is there twice in module {}.", name, h.name)));
        h.ports.push_back(std::move(port));
    }

    /// A name with nothing before it: NAME, NAME = value, NAME [unpacked].
    static bool bare_name(const Item& item, size_t at) {
        if (at >= item.size() || !item[at].is_name() || is_sign(item[at]) || is_net_type(item[at]) ||
            is_vector_type(item[at]) || atoms().contains(item[at].text))
            return false;
        int depth = 0;
        for (size_t i = at + 1; i < item.size() && !(depth == 0 && item[i].is("=")); ++i) {
            if (depth == 0 && !item[i].is("[")) return false;
            depth += item[i].is("[") ? 1 : item[i].is("]") ? -1 : 0;
        }
        return true;
    }

    /// The last name of an item before '=' or '[…]'.
    static std::string last_name(const Item& item, size_t& behind) {
        std::string name;
        int depth = 0;
        for (size_t i = 0; i < item.size() && !(depth == 0 && item[i].is("=")); ++i) {
            depth += item[i].is("[") || item[i].is("{") || item[i].is("(")   ? 1
                     : item[i].is("]") || item[i].is("}") || item[i].is(")") ? -1
                                                                             : 0;
            if (depth == 0 && item[i].is_name()) {
                name = item[i].text;
                behind = i + 1;
            }
        }
        return name;
    }

    /// input [range] a, b; of a header that only names its ports.
    void declaration(Header& h, const Names& values) {
        Item item;
        HeaderPort current;
        current.direction = direction_of(t_);
        current.type = "wire";
        if (!collect(item, {";"})) return error("';' is expected after this declaration");
        Dimensions shape;
        std::string trouble;
        bool first = true;
        for (auto part : split_item(item)) {
            size_t at = first ? 1 : 0;
            if (first && !bare_name(part, at)) types_.data_type(part, at, values, current.type, shape, trouble);
            first = false;
            size_t behind = at;
            const std::string name =
                at < part.size() && part[at].is_name() ? std::string(part[at].text) : last_name(part, behind);
            const auto port =
                std::find_if(h.ports.begin(), h.ports.end(), [&](const HeaderPort& p) { return p.name == name; });
            if (port == h.ports.end()) {
                error(said("'{}' is declared as a port, but the header of module {} does not name it", name, h.name));
                continue;
            }
            const bool unpacked = at + 1 < part.size() && part[at + 1].is("[");
            if (!trouble.empty() || unpacked) {
                refuse(h, part[0], name,
                       trouble.empty() ? "it is an unpacked array; give each element a port, or pack it" : trouble);
                h.ports.erase(port);
                continue;
            }
            port->direction = current.direction;
            port->type = current.type;
            if (!shape_port(*port, shape))
                refuse(h, part[0], name, said("!it would have more than {} bits", most_bits));
        }
    }

    void body(Header& h, Names& values, bool ansi) {
        const size_t before = out_.errors.size();
        bool start = true, named = false;  // at the start of a statement; behind the ':' of a label
        while (!t_.is("endmodule") && out_.errors.size() == before) {
            if (t_.kind == Token::end || t_.kind == Token::bad)
                return error("'endmodule' is expected at the end of module " + h.name);
            if (t_.is("function")) {
                skip_past("endfunction");
                start = true;
            } else if (t_.is("task")) {
                skip_past("endtask");
                start = true;
            } else if (t_.is("parameter") || t_.is("localparam")) {
                constants("", values, ansi && !h.parameters.empty() ? nullptr : &h);
                start = true;
            } else if (t_.is("typedef")) {
                type_definition("", values);
                start = true;
            } else if (!ansi && direction_of(t_))
                declaration(h, values);
            else {
                const Token was = t_;
                const bool label = named;
                named = was.is(":");
                advance();
                if (start && was.is_name() && (t_.is("#") || t_.is_name())) h.uses.insert(std::string(was.text));
                start = was.is(";") || was.is("begin") || was.is("end") || was.is("else") || was.is(")") ||
                        was.is("generate") || was.is(":") || was.is("endgenerate") || was.is("endcase") ||
                        (label && was.is_name());
            }
        }
        if (out_.errors.size() > before) return skip_past("endmodule");
        advance();
        if (ansi) return;
        for (const auto& port : h.ports)
            if (port.direction.empty())
                h.messages.push_back(h.at(Severity::stop, Code::ports,
                                          said("Port '{}' of module {} has no direction.", port.name, h.name)));
        // reg q[3:0] beside "output q": the net or variable may widen the port (12.3.3); the port's own range counts
        // here.
    }

    const SourceText& source_;
    const PortRequest& request_;
    Scope& scope_;
    Types types_;
    Headers& out_;
    Preprocessor text_;
    Token t_;
};

}  // namespace

namespace {

/// Parameters and types of all packages first: a package may stand in a file behind its user. Macros start anew each
/// time.
void read_packages(std::span<const SourceText> sources, const PortRequest& request, Scope& scope) {
    constexpr int most_rounds = 20;  // packages that lean on each other in a row; designs have two or three
    if (std::none_of(sources.begin(), sources.end(),
                     [](const auto& s) { return lower(s.text).find("package") != std::string::npos; }))
        return;
    const auto macros = scope.macros;
    for (int round = 0; round < most_rounds; ++round) {
        const auto before = scope.values.size() + scope.types.size();
        Headers unsaid;
        for (const auto& source : sources) Reader(source, request, scope, unsaid).run(true);
        scope.macros = macros;
        if (scope.values.size() + scope.types.size() == before) return;
    }
}

}  // namespace

void read_verilog_headers(std::span<const SourceText> sources, const PortRequest& request, Headers& out) {
    Scope scope;
    scope.macros.insert(request.defines.begin(), request.defines.end());
    for (auto& [name, text] : scope.macros)
        if (!text.starts_with(" ")) text.insert(0, " ");
    read_packages(sources, request, scope);
    for (const auto& source : sources) Reader(source, request, scope, out).run(false);
}

}  // namespace kp::hdl
