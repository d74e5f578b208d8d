// SPDX-License-Identifier: GPL-3.0-or-later
// The nearest name by edits of single characters (Wagner and Fischer 1974), with a bound that lets most candidates
// go after a few rows; and lists of names as a person would say them.
#include "core/base/names.hpp"

#include "core/base/text.hpp"

#include <cctype>
#include <map>
#include <set>

namespace kp {

namespace {

/// Reserved words of IEEE 1364-2005 (annex B), IEEE 1076-2008 (15.10) and commands that every Tcl has; those that a
/// port might well be called are what counts.
const std::map<std::string, const char*, std::less<>>& keywords() {
    static const std::map<std::string, const char*, std::less<>> words = [] {
        std::map<std::string, const char*, std::less<>> out;
        for (const char* w :
             {"always",     "and",         "assign",    "begin",     "buf",       "case",    "casex",     "casez",
              "cell",       "config",      "deassign",  "default",   "defparam",  "design",  "disable",   "edge",
              "else",       "end",         "endcase",   "endmodule", "event",     "for",     "force",     "forever",
              "fork",       "function",    "generate",  "genvar",    "if",        "ifnone",  "include",   "initial",
              "inout",      "input",       "instance",  "integer",   "join",      "large",   "liblist",   "library",
              "localparam", "macromodule", "medium",    "module",    "nand",      "negedge", "nor",       "not",
              "notif0",     "notif1",      "or",        "output",    "parameter", "posedge", "primitive", "pulldown",
              "pullup",     "real",        "realtime",  "reg",       "release",   "repeat",  "scalared",  "signed",
              "small",      "specify",     "specparam", "strong0",   "strong1",   "supply0", "supply1",   "table",
              "task",       "time",        "tran",      "tri",       "tri0",      "tri1",    "triand",    "trior",
              "unsigned",   "use",         "vectored",  "wait",      "wand",      "weak0",   "weak1",     "while",
              "wire",       "wor",         "xnor",      "xor"})
            out[w] = "Verilog";
        for (const char* w : {"abs",          "access",     "after",    "alias",     "all",
                              "architecture", "array",      "assert",   "attribute", "block",
                              "body",         "buffer",     "bus",      "component", "configuration",
                              "constant",     "disconnect", "downto",   "elsif",     "entity",
                              "exit",         "file",       "generic",  "group",     "guarded",
                              "impure",       "in",         "inertial", "is",        "label",
                              "linkage",      "literal",    "loop",     "map",       "mod",
                              "new",          "next",       "null",     "of",        "on",
                              "open",         "others",     "out",      "package",   "port",
                              "postponed",    "procedure",  "process",  "pure",      "range",
                              "record",       "register",   "reject",   "rem",       "report",
                              "return",       "rol",        "ror",      "select",    "severity",
                              "shared",       "signal",     "sla",      "sll",       "sra",
                              "srl",          "subtype",    "then",     "to",        "transport",
                              "type",         "unaffected", "units",    "until",     "variable",
                              "when",         "with"})
            out.emplace(w, "VHDL");
        for (const char* w : {"set", "proc", "foreach", "expr", "list", "string", "source", "puts", "eval", "switch",
                              "break", "continue", "error", "catch", "info", "rename", "unset", "global", "split"})
            out.emplace(w, "Tcl");
        return out;
    }();
    return words;
}

bool plain(char c) {
    return std::isalnum(static_cast<unsigned char>(c)) || c == '_';
}

/// Plain letters in place of the accented ones of Latin-1 (UTF-8: C3 xx); other bytes stay.
std::string without_accents(std::string_view text) {
    static const char* const plain_of = "AAAAAAACEEEEIIIIDNOOOOOxOUUUUYTsaaaaaaaceeeeiiiidnooooo/ouuuuyty";
    std::string out;
    for (size_t i = 0; i < text.size(); ++i) {
        const auto c = static_cast<unsigned char>(text[i]);
        if (c == 0xC3 && i + 1 < text.size()) {
            const auto next = static_cast<unsigned char>(text[++i]);
            out += next >= 0x80 && next < 0xC0 ? plain_of[next - 0x80] : '_';
        } else if (c >= 0xC0) {
            out += '_';
            while (i + 1 < text.size() && (static_cast<unsigned char>(text[i + 1]) & 0xC0) == 0x80) ++i;
        } else {
            out += static_cast<char>(c);
        }
    }
    return out;
}

}  // namespace

std::optional<std::string> name_trouble(std::string_view name) {
    if (name.empty()) return "a name is missing";
    for (const char c : name)
        if (!plain(c))
            return std::string("it has ") +
                   (c == ' '                                ? "a blank"
                    : static_cast<unsigned char>(c) >= 0x80 ? "a letter that is not plain"
                                                            : "'" + std::string(1, c) + "'") +
                   "; letters, digits and underscores are understood everywhere";
    if (std::isdigit(static_cast<unsigned char>(name[0]))) return "it starts with a digit";
    if (name.front() == '_' || name.back() == '_' || name.find("__") != std::string_view::npos)
        return "VHDL takes no underscore at an end and no two in a row";
    if (const auto at = keywords().find(lower(name)); at != keywords().end())
        return std::string("it is a word of ") + at->second;
    return std::nullopt;
}

bool is_vhdl_word(std::string_view name) {
    static const std::set<std::string, std::less<>> shared{
        "and",      "begin",     "case",    "default", "else",    "end",   "for",  "force",
        "function", "generate",  "if",      "inout",   "library", "nand",  "nor",  "not",
        "or",       "parameter", "release", "use",     "wait",    "while", "xnor", "xor"};
    const auto word = lower(name);
    const auto at = keywords().find(word);
    return shared.contains(word) || (at != keywords().end() && std::string_view(at->second) == "VHDL");
}

std::string portable_name(std::string_view name) {
    if (!name_trouble(name)) return std::string(name);
    std::string out;
    for (const char c : without_accents(name)) {
        const char next = plain(c) ? c : '_';
        if (next == '_' && (out.empty() || out.back() == '_')) continue;
        out += next;
    }
    while (!out.empty() && out.back() == '_') out.pop_back();
    if (out.empty()) return "unnamed";
    if (std::isdigit(static_cast<unsigned char>(out[0]))) out.insert(0, "n");
    if (keywords().contains(lower(out))) out += "_1";
    return out;
}

std::optional<std::string> path_trouble(std::string_view path) {
    for (const char c : path)
        if (!plain(c) && c != '.' && c != '-' && c != '/')
            return std::string("it has ") +
                   (c == ' '                                ? "a blank"
                    : static_cast<unsigned char>(c) >= 0x80 ? "a letter that is not plain"
                                                            : "'" + std::string(1, c) + "'") +
                   ", which breaks tools further down";
    return std::nullopt;
}

std::string portable_path(std::string_view path) {
    std::string out;
    for (const char c : without_accents(path)) out += plain(c) || c == '.' || c == '-' || c == '/' ? c : '_';
    return out;
}

}  // namespace kp
