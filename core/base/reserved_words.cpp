// SPDX-License-Identifier: GPL-3.0-or-later
// One sorted list a language, searched by halves.
#include "core/base/reserved_words.hpp"

#include "core/base/text.hpp"

#include <algorithm>
#include <string>

namespace kp {

namespace {

constexpr std::string_view verilog[] = {"always", "and", "assign", "automatic", "begin", "buf", "bufif0", "bufif1", "case", "casex", "casez", "cell", "cmos", "config", "deassign", "default", "defparam", "design", "disable", "edge", "else", "end", "endcase", "endconfig", "endfunction", "endgenerate", "endmodule", "endprimitive", "endspecify", "endtable", "endtask", "event", "for", "force", "forever", "fork", "function", "generate", "genvar", "highz0", "highz1", "if", "ifnone", "incdir", "include", "initial", "inout", "input", "instance", "integer", "join", "large", "liblist", "library", "localparam", "macromodule", "medium", "module", "nand", "negedge", "nmos", "nor", "noshowcancelled", "not", "notif0", "notif1", "or", "output", "parameter", "pmos", "posedge", "primitive", "pull0", "pull1", "pulldown", "pullup", "pulsestyle_ondetect", "pulsestyle_onevent", "rcmos", "real", "realtime", "reg", "release", "repeat", "rnmos", "rpmos", "rtran", "rtranif0", "rtranif1", "scalared", "showcancelled", "signed", "small", "specify", "specparam", "strong0", "strong1", "supply0", "supply1", "table", "task", "time", "tran", "tranif0", "tranif1", "tri", "tri0", "tri1", "triand", "trior", "trireg", "unsigned", "use", "uwire", "vectored", "wait", "wand", "weak0", "weak1", "while", "wire", "wor", "xnor", "xor"};

constexpr std::string_view vhdl[] = {"abs", "access", "after", "alias", "all", "and", "architecture", "array", "assert", "assume", "assume_guarantee", "attribute", "begin", "block", "body", "buffer", "bus", "case", "component", "configuration", "constant", "context", "cover", "default", "disconnect", "downto", "else", "elsif", "end", "entity", "exit", "fairness", "file", "for", "force", "function", "generate", "generic", "group", "guarded", "if", "impure", "in", "inertial", "inout", "is", "label", "library", "linkage", "literal", "loop", "map", "mod", "nand", "new", "next", "nor", "not", "null", "of", "on", "open", "or", "others", "out", "package", "parameter", "port", "postponed", "procedure", "process", "property", "protected", "pure", "range", "record", "register", "reject", "release", "rem", "report", "restrict", "restrict_guarantee", "return", "rol", "ror", "select", "sequence", "severity", "shared", "signal", "sla", "sll", "sra", "srl", "strong", "subtype", "then", "to", "transport", "type", "unaffected", "units", "until", "use", "variable", "vmode", "vprop", "vunit", "wait", "when", "while", "with", "xnor", "xor"};

constexpr std::string_view tcl[] = {"after", "append", "array", "break", "catch", "cd", "close", "concat", "continue", "error", "eval", "exec", "exit", "expr", "file", "for", "foreach", "format", "gets", "glob", "global", "if", "incr", "info", "join", "lappend", "lindex", "list", "llength", "load", "open", "proc", "puts", "pwd", "read", "regexp", "rename", "return", "scan", "seek", "set", "socket", "source", "split", "string", "subst", "switch", "tell", "time", "trace", "unset", "update", "uplevel", "upvar", "variable", "vwait", "while"};

static_assert(std::is_sorted(std::begin(verilog), std::end(verilog)));
static_assert(std::is_sorted(std::begin(vhdl), std::end(vhdl)));
static_assert(std::is_sorted(std::begin(tcl), std::end(tcl)));

}  // namespace

bool is_verilog_word(std::string_view name) {
    return std::binary_search(std::begin(verilog), std::end(verilog), name);
}
bool is_vhdl_word(std::string_view name) {
    return std::binary_search(std::begin(vhdl), std::end(vhdl), std::string_view(lower(name)));
}
bool is_tcl_word(std::string_view name) {
    return std::binary_search(std::begin(tcl), std::end(tcl), name);
}

const char* language_of_word(std::string_view name) {
    const std::string word = lower(name);
    if (is_verilog_word(word)) return "Verilog";
    if (is_vhdl_word(word)) return "VHDL";
    return is_tcl_word(word) ? "Tcl" : nullptr;
}

}  // namespace kp
