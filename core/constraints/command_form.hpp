// SPDX-License-Identifier: GPL-3.0-or-later
// One command of the constraint text as fields, for a form: its options by the table of commands, and its objects. What
// is changed in the fields is changed in the text, word by word; every other byte stays.
#pragma once

#include "core/format/sdc/table.hpp"
#include "core/constraints/command_list.hpp"

#include <string>
#include <vector>

namespace kp {

struct FormField {
    std::string option;  ///< "-period"; empty: a word that belongs to no option
    sdc::Takes takes = sdc::Takes::words;
    bool given = false;
    std::string value;                  ///< as it is written: "10", "{0 5}", "[get_ports d]"
    sdc::Span option_span, value_span;  ///< in the file, of what is given
};

struct CommandForm {
    std::string name, file, help;
    sdc::Span span;                 ///< empty: a command that is not there yet
    std::vector<FormField> fields;  ///< those that are given, as they stand; then the others of the table; words last
};

/// The fields of a command that is written out. None for one in a loop, for an unknown one, and for one whose words do
/// not read as the table says.
[[nodiscard]] std::optional<CommandForm> form_of(const Project& project, const ListedCommand& command);
/// An empty form of a command of the table; `words`: as many as it wants at least.
[[nodiscard]] std::optional<CommandForm> fresh_form(const std::string& command);

/// The edit from one state of a form to another: values that differ are replaced, options that come stand behind those
/// that are there, options that go take their blank with them. Errors: a value that is more than one word (write braces
/// around it), a value that is missing, a bracket that is not closed.
[[nodiscard]] Result<Edit> form_edit(const Project& project, const CommandForm& before, const CommandForm& after);

/// A fresh form as a command. Errors: as form_edit.
[[nodiscard]] Result<std::string> form_text(const CommandForm& form);

/// "[get_ports {a b}]" for objects of one kind: port, pin, cell, net, clock.
[[nodiscard]] std::string query_of(ObjectKind kind, const std::vector<std::string>& names);

}  // namespace kp
