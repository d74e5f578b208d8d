// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rules/say.hpp"
#include <cctype>
#include <map>
#include <set>

namespace kp::rules {

namespace {

// IEEE 1364-2005, annex B; IEEE 1076-2008, 15.10; and the commands of Tcl 8.6 that a script could lose. From memory.
const std::set<std::string>& verilog_words() {
    static const std::set<std::string> words{"always",
                                             "and",
                                             "assign",
                                             "automatic",
                                             "begin",
                                             "buf",
                                             "bufif0",
                                             "bufif1",
                                             "case",
                                             "casex",
                                             "casez",
                                             "cell",
                                             "cmos",
                                             "config",
                                             "deassign",
                                             "default",
                                             "defparam",
                                             "design",
                                             "disable",
                                             "edge",
                                             "else",
                                             "end",
                                             "endcase",
                                             "endconfig",
                                             "endfunction",
                                             "endgenerate",
                                             "endmodule",
                                             "endprimitive",
                                             "endspecify",
                                             "endtable",
                                             "endtask",
                                             "event",
                                             "for",
                                             "force",
                                             "forever",
                                             "fork",
                                             "function",
                                             "generate",
                                             "genvar",
                                             "highz0",
                                             "highz1",
                                             "if",
                                             "ifnone",
                                             "incdir",
                                             "include",
                                             "initial",
                                             "inout",
                                             "input",
                                             "instance",
                                             "integer",
                                             "join",
                                             "large",
                                             "liblist",
                                             "library",
                                             "localparam",
                                             "macromodule",
                                             "medium",
                                             "module",
                                             "nand",
                                             "negedge",
                                             "nmos",
                                             "nor",
                                             "noshowcancelled",
                                             "not",
                                             "notif0",
                                             "notif1",
                                             "or",
                                             "output",
                                             "parameter",
                                             "pmos",
                                             "posedge",
                                             "primitive",
                                             "pull0",
                                             "pull1",
                                             "pulldown",
                                             "pullup",
                                             "pulsestyle_onevent",
                                             "pulsestyle_ondetect",
                                             "rcmos",
                                             "real",
                                             "realtime",
                                             "reg",
                                             "release",
                                             "repeat",
                                             "rnmos",
                                             "rpmos",
                                             "rtran",
                                             "rtranif0",
                                             "rtranif1",
                                             "scalared",
                                             "showcancelled",
                                             "signed",
                                             "small",
                                             "specify",
                                             "specparam",
                                             "strong0",
                                             "strong1",
                                             "supply0",
                                             "supply1",
                                             "table",
                                             "task",
                                             "time",
                                             "tran",
                                             "tranif0",
                                             "tranif1",
                                             "tri",
                                             "tri0",
                                             "tri1",
                                             "triand",
                                             "trior",
                                             "trireg",
                                             "unsigned",
                                             "use",
                                             "uwire",
                                             "vectored",
                                             "wait",
                                             "wand",
                                             "weak0",
                                             "weak1",
                                             "while",
                                             "wire",
                                             "wor",
                                             "xnor",
                                             "xor"};
    return words;
}
const std::set<std::string>& vhdl_words() {
    static const std::set<std::string> words{"abs",
                                             "access",
                                             "after",
                                             "alias",
                                             "all",
                                             "and",
                                             "architecture",
                                             "array",
                                             "assert",
                                             "assume",
                                             "assume_guarantee",
                                             "attribute",
                                             "begin",
                                             "block",
                                             "body",
                                             "buffer",
                                             "bus",
                                             "case",
                                             "component",
                                             "configuration",
                                             "constant",
                                             "context",
                                             "cover",
                                             "default",
                                             "disconnect",
                                             "downto",
                                             "else",
                                             "elsif",
                                             "end",
                                             "entity",
                                             "exit",
                                             "fairness",
                                             "file",
                                             "for",
                                             "force",
                                             "function",
                                             "generate",
                                             "generic",
                                             "group",
                                             "guarded",
                                             "if",
                                             "impure",
                                             "in",
                                             "inertial",
                                             "inout",
                                             "is",
                                             "label",
                                             "library",
                                             "linkage",
                                             "literal",
                                             "loop",
                                             "map",
                                             "mod",
                                             "nand",
                                             "new",
                                             "next",
                                             "nor",
                                             "not",
                                             "null",
                                             "of",
                                             "on",
                                             "open",
                                             "or",
                                             "others",
                                             "out",
                                             "package",
                                             "parameter",
                                             "port",
                                             "postponed",
                                             "procedure",
                                             "process",
                                             "property",
                                             "protected",
                                             "pure",
                                             "range",
                                             "record",
                                             "register",
                                             "reject",
                                             "release",
                                             "rem",
                                             "report",
                                             "restrict",
                                             "restrict_guarantee",
                                             "return",
                                             "rol",
                                             "ror",
                                             "select",
                                             "sequence",
                                             "severity",
                                             "shared",
                                             "signal",
                                             "sla",
                                             "sll",
                                             "sra",
                                             "srl",
                                             "strong",
                                             "subtype",
                                             "then",
                                             "to",
                                             "transport",
                                             "type",
                                             "unaffected",
                                             "units",
                                             "until",
                                             "use",
                                             "variable",
                                             "vmode",
                                             "vprop",
                                             "vunit",
                                             "wait",
                                             "when",
                                             "while",
                                             "with",
                                             "xnor",
                                             "xor"};
    return words;
}
const std::set<std::string>& tcl_words() {
    static const std::set<std::string> words{
        "after",  "append", "array",   "break", "catch",    "cd",      "close",   "concat", "continue", "error",
        "eval",   "exec",   "exit",    "expr",  "file",     "for",     "foreach", "format", "gets",     "glob",
        "global", "if",     "incr",    "info",  "join",     "lappend", "lindex",  "list",   "llength",  "load",
        "open",   "proc",   "puts",    "pwd",   "read",     "regexp",  "rename",  "return", "scan",     "seek",
        "set",    "socket", "source",  "split", "string",   "subst",   "switch",  "tell",   "time",     "trace",
        "unset",  "update", "uplevel", "upvar", "variable", "vwait",   "while"};
    return words;
}

/// Why a name fits not every language; empty when it does.
std::string trouble_of(const std::string& name) {
    if (name.empty()) return "is empty";
    if (std::isdigit(static_cast<unsigned char>(name[0]))) return "starts with a digit";
    for (const char c : name)
        if (!std::isalnum(static_cast<unsigned char>(c)) && c != '_')
            return std::string("holds '") + c + "'; names of letters, digits and underscores go through every tool";
    // VHDL: no underscore at either end, no two in a row (IEEE 1076-2008, 15.4).
    if (name.front() == '_' || name.back() == '_' || name.find("__") != std::string::npos)
        return "has an underscore at its start or end, or two in a row, which VHDL does not take";
    const auto small = lower(name);
    if (verilog_words().contains(name)) return "is a word of Verilog";
    if (vhdl_words().contains(small)) return "is a word of VHDL";
    if (tcl_words().contains(name)) return "is a command of Tcl, in which constraints are written";
    return {};
}

void paths(const RuleInput& in, const RuleRow& row, std::vector<Finding>& out) {
    const auto& p = in.project;
    std::vector<std::string> all{p.delays, p.pin_report};
    for (const auto* list : {&p.netlists, &p.libraries, &p.sources}) all.insert(all.end(), list->begin(), list->end());
    for (const auto& file : p.constraints) all.push_back(file.path);
    for (const auto& path : all)
        if (path.find_first_of(" \t") != std::string::npos)
            out.push_back(finding(
                row, "The file name '" + path + "' holds a blank; scripts of the tools behind would take it for two.",
                {{"file", path}}));
}

}  // namespace

void d02(const RuleInput& in, const RuleRow& row, std::vector<Finding>& out) {
    std::map<std::string, std::string> by_lower;  // of each bus, once
    std::set<std::string> seen;
    for (const auto& port : in.ports) {
        if (!seen.insert(port.bus).second) continue;
        if (const auto why = trouble_of(port.bus); !why.empty())
            out.push_back(finding(row, "The port name '" + port.bus + "' " + why + ".", {{"port", port.bus}}));
        const auto [at, fresh] = by_lower.emplace(lower(port.bus), port.bus);
        if (!fresh)
            out.push_back(finding(
                row, "The ports " + at->second + " and " + port.bus + " differ in case only; VHDL takes them for one.",
                {{"port", port.bus}, {"port", at->second}}));
    }
    paths(in, row, out);
}

}  // namespace kp::rules
