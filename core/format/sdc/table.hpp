// SPDX-License-Identifier: GPL-3.0-or-later
// One row per SDC command: its options and what it is used for. Parsing, completion, help and tests all read this
// table.
#pragma once

#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace kp::sdc {

enum class Takes {
    flag,
    number,
    words,
    list
};  ///< nothing, a number, a text or object list, may be given several times

struct OptionRow {
    const char* name;  ///< with its dash
    Takes takes;
};

struct CommandRow {
    const char* name;
    std::vector<OptionRow> options;
    int least, most;   ///< positional words
    bool analysed;     ///< false: understood as SDC, but the analysis does not use it yet, and says so
    const char* help;  ///< one sentence
};

[[nodiscard]] std::span<const CommandRow> commands();
[[nodiscard]] const CommandRow* find_command(std::string_view name);
/// Names of all commands and queries, for completion and for "did you mean".
[[nodiscard]] const std::vector<std::string>& command_names();

}  // namespace kp::sdc
