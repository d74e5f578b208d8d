// SPDX-License-Identifier: GPL-3.0-or-later
// Every change of a project is a value with both sides, so that undo, redo, the log and the recovery journal all use
// it.
#pragma once

#include "core/model/project.hpp"

#include <span>
#include <string>
#include <variant>
#include <vector>

namespace kp {

struct PegChange {
    std::string port;
    std::optional<Peg> before, after;  ///< none: adrift
};
struct AttributeChange {
    std::string port;
    PortAttributes before, after;
};
/// Replaces `before` by `after` at `offset` of one constraint file.
struct TextChange {
    std::string file;
    size_t offset = 0;
    std::string before, after;
};
struct WaiverChange {
    Waiver waiver;
    bool add = true;
};
/// A single field of project_fields(): its text, a list with one entry a line, or named texts as "NAME=TEXT" lines.
struct FieldChange {
    std::string field, before, after;
};
/// A constraint file that comes, goes, or is switched otherwise; with its text, so that undo brings all of it back.
struct SdcFileChange {
    std::optional<SdcFile> before, after;
};
using Change = std::variant<PegChange, AttributeChange, TextChange, WaiverChange, FieldChange, SdcFileChange>;

struct Edit {
    std::string title;  ///< what the user did, such as "peg tone to 112"
    std::vector<Change> changes;

    [[nodiscard]] bool empty() const { return changes.empty(); }
    /// The edit that takes this one back.
    [[nodiscard]] Edit inverse() const;
};

/// Applies all changes or none. Errors: a "before" side that does not match the project, an unknown file or field.
[[nodiscard]] Status apply(Project& project, const Edit& edit);

/// A field as the text that FieldChange holds; empty for an unknown one.
[[nodiscard]] std::string field_text(const Project& project, const std::string& field);
/// Named texts and lists as a FieldChange holds them. No key has '=' in it, no text a line break.
[[nodiscard]] std::string field_text(const std::map<std::string, std::string>& values);
[[nodiscard]] std::string field_text(const std::vector<std::string>& values);
/// The change that sets a field.
[[nodiscard]] FieldChange set_field(const Project& project, const std::string& field, const std::string& text);
[[nodiscard]] std::string lines_of(const std::vector<std::string>& list);
[[nodiscard]] std::vector<std::string> list_of(const std::string& lines);

/// The edit that makes `from` into `to`: fields, constraint files (their order too), pegs, attributes, waivers. Empty
/// when they are alike.
[[nodiscard]] Edit difference_edit(const Project& from, const Project& to, const std::string& title);

/// Which parts of a project an edit touches, so that only what follows from them is computed again.
struct Touched {
    bool pegs = false, text = false, waivers = false, settings = false, inputs = false;
};
[[nodiscard]] Touched touched(const Edit& edit);

}  // namespace kp
