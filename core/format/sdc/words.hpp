// SPDX-License-Identifier: GPL-3.0-or-later
// What a script asked for, word by word, after Tcl has run it and before SDC gives it a meaning.
#pragma once

#include "core/base/result.hpp"
#include "core/model/constraints.hpp"
#include "core/model/library.hpp"

#include <functional>
#include <stop_token>
#include <string>
#include <vector>

namespace kp::sdc {

/// One element of a word: an object that a query found, or a text.
struct Element {
    int kind = -1;  ///< an ObjectKind, or -1 for plain text
    std::uint32_t id = 0;
    std::string text;  ///< the name, or the text
};

struct Word {
    std::string text;               ///< as Tcl prints it; empty for long object lists
    std::vector<Element> elements;  ///< as a list
};

/// A command that Tcl met, or something to tell about the line.
struct Call {
    std::string name;  ///< command; empty for a message
    CommandSpan span;
    std::vector<Word> words;
    Message message;
};

struct Script {
    std::string file;  ///< name for messages
    std::string path;  ///< for `source` relative to it; may be empty
    std::string text;
};

/// Limits of one run; each has its reason beside it.
struct RunLimits {
    double seconds = 10;            ///< nobody's constraints take longer; an endless loop ends here
    size_t megabytes = 512;         ///< beyond what the program holds; a million names are 100 MB
    size_t calls = 1'000'000;       ///< commands of a file
    size_t result_megabytes = 128;  ///< what may come back through the pipe; a list of three million names is 96 MB
    /// Why `source` may not read a path; empty: it may. Without one it reads files beside and below the one that names
    /// them.
    std::function<std::string(const std::string& path)> refuse;
};

struct RunResult {
    std::vector<std::string> files;  ///< by position: the scripts, then files that `source` brought
    std::vector<Call> calls;
};

/// Runs the scripts, in order and in one interpreter, in Tcl's safe mode inside a child process with limits on time and
/// memory; the program survives whatever they do. `netlist` and `library` answer the queries. Never fails: trouble is a
/// message call.
[[nodiscard]] RunResult run_scripts(const std::vector<Script>& scripts, const Netlist& netlist,
                                    const NetlistIndex& index, const Library& library, const RunLimits& limits,
                                    std::stop_token stop);

}  // namespace kp::sdc
