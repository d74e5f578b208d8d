// SPDX-License-Identifier: GPL-3.0-or-later
// All commands of the constraint text as a list: class, what each hits, why it is there, and whether it is switched on.
#pragma once

#include "core/model/constraints.hpp"
#include "core/model/edit.hpp"
#include "core/model/project.hpp"
#include "core/model/sdc_words.hpp"

#include <map>
#include <optional>
#include <string>
#include <vector>

namespace kp {

enum class CommandClass { clocks, inputs_and_outputs, exceptions, relations, other };
[[nodiscard]] const char* name_of(CommandClass c);
/// Of a command by its name.
[[nodiscard]] CommandClass class_of(const std::string& command);

struct ListedCommand {
    CommandClass in = CommandClass::other;
    std::string name, text;  ///< text: on one line
    std::string file;
    int line = 0;
    sdc::Span span;
    std::string reason;       ///< the comment right above it
    bool on = true;           ///< false: commented out by its switch
    bool written_out = true;  ///< false: in a loop or procedure, and so without a switch of its own
    std::optional<int> hits;  ///< objects it speaks of; none: it has not been read
    std::vector<ObjectRef> objects;
};

/// A command with each stretch of blanks, line ends and continuations as one blank.
[[nodiscard]] std::string on_one_line(std::string_view command);

/// The commands of all files in their order. `texts`: the texts that `constraints` were read from; what a file said
/// since then has no hits. A switched-off command is a comment that reads as a command of SDC.
[[nodiscard]] std::vector<ListedCommand> list_commands(const Project& project, const Constraints& constraints,
                                                       const std::map<std::string, std::string>& texts);

/// Turns a command into a comment, or back; each line of it gets "# " or loses it, and no other byte changes. Empty for
/// one in a loop.
[[nodiscard]] Edit switch_command(const Project& project, const ListedCommand& command);

/// The command that an offset of a file lies in; null when there is none.
[[nodiscard]] const ListedCommand* command_at(const std::vector<ListedCommand>& list, const std::string& file,
                                              size_t offset);

}  // namespace kp
