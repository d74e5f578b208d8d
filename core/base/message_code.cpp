// SPDX-License-Identifier: GPL-3.0-or-later
// Words are in the order of the enumeration, which the compiler counts; files and scripts see them.
#include "core/base/message_code.hpp"

#include <array>

namespace kp {

namespace {
// clang-format off
/// In the order of the enumeration.
constexpr std::array words{
    "adapter", "another-shape", "arguments", "attribute", "bench", "bsdl", "budget", "busy", "cancelled",
    "cannot-build", "capacity", "changed", "chip", "clock-on-output", "clock-twice", "command", "compare",
    "corner", "delays", "draft", "evicted", "exists", "export", "fault", "file", "filter", "folder", "form",
    "frequency", "from", "function", "handoff", "image", "include", "interpreter", "journal", "journal-offered",
    "lanes", "language", "latch", "library", "limit", "lines", "list", "log", "looking", "loop", "loose",
    "memory", "model", "module", "netlist", "never-driven", "new-project", "no-board", "no-common-period",
    "no-delay", "no-design", "no-match", "no-netlist", "no-part", "no-pin", "not-plannable", "not-portable",
    "not-used", "number", "old", "older-spelling", "origin", "out", "out-of-range", "outside", "package",
    "parameter", "part", "passed-over", "pdf", "peg", "pin-report", "pins", "place", "placed", "port", "ports",
    "project", "proof", "range", "recipe", "recovered", "recursion", "run", "schema", "sdf", "searched",
    "sense", "settings", "several-clocks", "sheet", "simulation", "simulation-only", "size", "skipped",
    "source", "stale-edit", "starter", "step", "svf", "syntax", "table", "taken-over", "tcl", "tdo", "template",
    "too-large", "top", "two-drivers", "undeclared", "unknown-cell", "unused-exception", "value", "vcd",
    "vectors", "what-if", "width",
};
// clang-format on
static_assert(words.size() == static_cast<std::size_t>(Code::width) + 1, "a word for each code");
}  // namespace

const std::size_t code_count = words.size();

const char* word_of(Code code) {
    return words[static_cast<std::size_t>(code)];
}

}  // namespace kp
