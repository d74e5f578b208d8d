// SPDX-License-Identifier: GPL-3.0-or-later
// Words only. An instance is a name at the start of a statement with another name and a bracket behind it (parameters
// may stand between); in VHDL what follows a label. Both branches of `ifdef count, so that no configuration is missed.
#include "core/hdl/outline.hpp"

#include "core/base/text.hpp"
#include "core/hdl/header/line_counter.hpp"
#include "core/hdl/read_ports.hpp"
#include "core/hdl/verilog/scan.hpp"
#include "core/hdl/vhdl/scan.hpp"

#include <algorithm>
#include <set>

namespace kp {

namespace {

bool verilog_word(std::string_view w) {
    static const std::set<std::string_view> words{
        "and",         "nand",         "or",       "nor",       "xor",         "xnor",      "buf",         "not",
        "bufif0",      "bufif1",       "notif0",   "notif1",    "nmos",        "pmos",      "cmos",        "tran",
        "pullup",      "pulldown",     "if",       "for",       "while",       "case",      "casex",       "casez",
        "repeat",      "forever",      "wait",     "begin",     "end",         "else",      "always",      "always_ff",
        "always_comb", "always_latch", "initial",  "assign",    "function",    "task",      "return",      "wire",
        "reg",         "logic",        "input",    "output",    "inout",       "parameter", "localparam",  "genvar",
        "generate",    "integer",      "real",     "typedef",   "struct",      "enum",      "union",       "import",
        "export",      "assert",       "assume",   "cover",     "property",    "sequence",  "modport",     "clocking",
        "default",     "defparam",     "fork",     "join",      "disable",     "specify",   "endspecify",  "specparam",
        "table",       "endtable",     "event",    "time",      "tri",         "supply0",   "supply1",     "unique",
        "priority",    "final",        "virtual",  "static",    "automatic",   "const",     "bit",         "byte",
        "int",         "shortint",     "longint",  "string",    "void",        "class",     "new",         "signed",
        "unsigned",    "packed",       "var",      "let",       "do",          "break",     "continue",    "foreach",
        "force",       "release",      "deassign", "endmodule", "endfunction", "endtask",   "endgenerate", "endcase"};
    return words.contains(w);
}

class Verilog {
public:
    Verilog(std::string_view text, TextOutline& out) : text_(text), out_(out), lines_(text), scan_(text, true) {
        now_ = scan_.next();
    }

    void run() {
        while (now_.kind != Token::end && now_.kind != Token::bad) {
            if (directive()) continue;
            if (now_.is("module") || now_.is("macromodule") || now_.is("program"))
                module();
            else if (now_.is("primitive"))
                skip_to("endprimitive", out_.primitives);
            else if (now_.is("package"))
                package();
            else if (now_.is("import"))
                import();
            else
                next();
        }
    }

private:
    using Token = verilog::Token;
    void next() { now_ = scan_.next(); }

    bool directive() {
        if (now_.kind != Token::directive) return false;
        const auto name = now_.text;
        if (name == "include" || name == "define" || name == "timescale" || name == "default_nettype") {
            // The rest of the line belongs to the directive, and with it what a macro stands for.
            auto end = std::min(text_.find('\n', now_.offset), text_.size());
            while (end > now_.offset && end < text_.size() && text_[end - 1] == '\\')
                end = std::min(text_.find('\n', end + 1), text_.size());
            const auto rest = text_.substr(now_.offset, end - now_.offset);
            const auto open = rest.find('"'), close = rest.rfind('"');
            if (name == "include" && open != std::string_view::npos && close > open)
                out_.includes.emplace_back(rest.substr(open + 1, close - open - 1));
            scan_.go_to(end);
        }
        next();
        return true;
    }

    void skip_to(std::string_view end, bool& seen) {
        seen = true;
        while (now_.kind != Token::end && now_.kind != Token::bad && !now_.is(end)) next();
        next();
    }

    void package() {
        next();
        if (now_.is("automatic") || now_.is("static")) next();
        if (now_.is_name()) out_.packages.emplace_back(now_.text);
        bool ignored = false;
        while (now_.kind != Token::end && now_.kind != Token::bad && !now_.is("endpackage")) {
            if (now_.is("import"))
                import();
            else if (!directive())
                next();
        }
        skip_to("endpackage", ignored);
    }

    void import() {
        next();
        if (now_.is_name()) out_.uses.emplace_back(now_.text);
        while (now_.kind != Token::end && now_.kind != Token::bad && !now_.is(';')) {
            const bool comma = now_.is(',');
            next();
            if (comma && now_.is_name()) out_.uses.emplace_back(now_.text);
        }
    }

    void brackets() {
        int depth = 0;
        do {
            depth += now_.is('(');
            depth -= now_.is(')');
            next();
        } while (depth > 0 && now_.kind != Token::end && now_.kind != Token::bad);
    }

    void module() {
        ModuleOutline m;
        m.line = lines_.at(now_.offset);
        next();
        if (now_.is("automatic") || now_.is("static")) next();
        if (!now_.is_name()) return;
        m.name = now_.text;
        next();
        while (now_.is("import")) {
            import();
            next();
        }
        if (now_.is('#')) {
            next();
            brackets();
        }
        if (now_.is('(')) {
            next();
            m.has_ports = !now_.is(')');
        }
        bool fresh = false;  // at the start of a statement
        while (now_.kind != Token::end && now_.kind != Token::bad && !now_.is("endmodule") && !now_.is("endprogram")) {
            if (directive()) continue;
            if (fresh && now_.is_name() && !verilog_word(now_.text) && now_.kind != Token::directive) {
                fresh = instance(m);
                continue;
            }
            if (now_.is("import")) {
                import();
                continue;
            }
            judge(m);
            fresh = now_.is(';') || now_.is("begin") || now_.is("end") || now_.is("else") || now_.is("generate") ||
                    now_.is("endfunction") || now_.is("endtask") || now_.is("endspecify") || now_.is("endcase");
            if (now_.is("if") || now_.is("for")) {
                next();
                brackets();
                fresh = true;
                continue;
            }
            const bool begins = now_.is("begin");
            next();
            if (begins && now_.is(':')) {  // the name of a block
                next();
                next();
            }
        }
        next();
        if (m.only_simulated.empty() && !m.has_ports && (m.behaviour || !m.instances.empty()))
            m.only_simulated = "has no ports";
        out_.modules.push_back(std::move(m));
    }

    /// True when the words that follow still stand at the start of a statement.
    bool instance(ModuleOutline& m) {
        const std::string type(now_.text);
        const bool call = type.starts_with('$');
        if (call) judge(m);
        next();
        if (now_.is(':')) {  // a label
            next();
            return true;
        }
        if (call) return false;
        bool parameters = false;
        if (now_.is('#')) {
            next();
            parameters = now_.is('(');
            if (parameters)
                brackets();
            else
                next();
        }
        if (!now_.is_name() || verilog_word(now_.text)) {
            if (now_.is('<') || now_.is('=')) m.behaviour = true;
            return false;
        }
        next();
        while (now_.is('[')) {
            while (now_.kind != Token::end && !now_.is(']')) next();
            next();
        }
        if (now_.is('(') || (parameters && now_.is(';'))) ++m.instances[type];
        return false;
    }

    void judge(ModuleOutline& m) {
        if (now_.kind == Token::symbol) {
            static const std::string_view operators = "&|^~?+*<>";
            if (operators.find(now_.text[0]) != std::string_view::npos) m.behaviour = true;
            return;
        }
        if (now_.kind != Token::word) return;
        if (now_.is("specify")) m.cell = true;
        if (now_.text.starts_with("always") || now_.is("initial") || now_.is("function") || now_.is("task"))
            m.behaviour = true;
        for (const char* task : {"$finish", "$stop", "$dumpvars", "$dumpfile", "$monitor", "$sdf_annotate"})
            if (now_.is(task) && m.only_simulated.empty()) m.only_simulated = std::string("calls ") + task;
    }

    std::string_view text_;
    TextOutline& out_;
    LineCounter lines_;
    verilog::Scanner scan_;
    Token now_;
};

class Vhdl {
public:
    Vhdl(std::string_view text, TextOutline& out) : out_(out), lines_(text), scan_(text) { now_ = scan_.next(); }

    void run() {
        while (!over()) {
            if (now_.is("entity"))
                entity();
            else if (now_.is("architecture"))
                architecture();
            else if (now_.is("package"))
                package();
            else if (now_.is("use"))
                use();
            else
                next();
        }
    }

private:
    using Token = vhdl::Token;
    void next() { now_ = scan_.next(); }
    [[nodiscard]] bool over() const { return now_.kind == Token::end || now_.kind == Token::bad; }

    ModuleOutline& named(const std::string& name, int line) {
        for (auto& m : out_.modules)
            if (m.name == name) return m;
        out_.modules.push_back({});
        out_.modules.back().name = name;
        out_.modules.back().line = line;
        return out_.modules.back();
    }

    void entity() {
        const int line = lines_.at(now_.offset);
        next();
        if (!now_.is_name()) return;
        auto& m = named(now_.key, line);
        next();
        if (!now_.is("is")) return;
        while (!over() && !now_.is("end")) {
            m.has_ports |= now_.is("port");
            next();
        }
        skip_end();
        if (!m.has_ports) m.only_simulated = "has no ports";
    }

    /// Stands at `end`; goes behind the ';' of it.
    void skip_end() {
        while (!over() && !now_.is(";")) next();
        next();
    }

    void package() {
        next();
        if (now_.is("body")) {
            next();
            if (now_.is_name()) out_.uses.push_back(now_.key);
            return next();
        }
        if (now_.is_name()) out_.packages.push_back(now_.key);
        next();
    }

    /// "use work.types.all": the name behind the library.
    void use() {
        std::vector<std::string> parts;
        for (next(); !over() && !now_.is(";"); next())
            if (now_.is_name()) parts.push_back(now_.key);
        if (parts.size() >= 2) out_.uses.push_back(parts[1]);
    }

    void architecture() {
        const int line = lines_.at(now_.offset);
        next();
        next();
        if (!now_.is("of")) return;
        next();
        if (!now_.is_name()) return;
        const auto name = now_.key;
        auto& m = named(name, line);
        next();
        Token before, label;
        while (!over()) {
            if (now_.is("architecture") || now_.is("entity") || now_.is("package") || now_.is("configuration")) return;
            if (now_.is("process") || now_.is("when") || now_.is("function") || now_.is("procedure"))
                m.behaviour = true;
            if (now_.is("wait")) {
                next();
                if (now_.is("for") && m.only_simulated.empty()) m.only_simulated = "waits for a time";
                continue;
            }
            if (now_.is(":") && before.is_name()) {
                next();
                instance(m);
                before = {};
                continue;
            }
            before = now_;
            next();
        }
    }

    /// Stands behind "label :".
    void instance(ModuleOutline& m) {
        std::string type;
        if (now_.is("entity") || now_.is("component") || now_.is("configuration")) next();
        if (!now_.is_name()) return;
        type = now_.key;
        next();
        while (now_.is(".")) {
            next();
            if (!now_.is_name()) return;
            type = now_.key;
            next();
        }
        if (now_.is("(")) {  // the architecture, or the range of a signal's type
            next();
            if (!now_.is_name()) return;
            next();
            if (!now_.is(")")) return;
            next();
        }
        if (now_.is("port") || now_.is("generic")) ++m.instances[type];
    }

    TextOutline& out_;
    LineCounter lines_;
    vhdl::Scanner scan_;
    Token now_;
};

}  // namespace

TextOutline outline_of(const SourceText& source) {
    TextOutline out;
    out.vhdl = is_vhdl(source);
    if (out.vhdl)
        Vhdl(source.text, out).run();
    else
        Verilog(source.text, out).run();
    return out;
}

}  // namespace kp
