// SPDX-License-Identifier: GPL-3.0-or-later
// Every change of a project is a value with both sides, so that undo, redo, the log and the recovery journal all use it.
#pragma once

#include "core/model/project.hpp"

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
/// A single field of the project: part, board, top, delays.
struct FieldChange {
    std::string field, before, after;
};
using Change = std::variant<PegChange, AttributeChange, TextChange, WaiverChange, FieldChange>;

struct Edit {
    std::string title;  ///< what the user did, such as "peg tone to 112"
    std::vector<Change> changes;

    [[nodiscard]] bool empty() const { return changes.empty(); }
    /// The edit that takes this one back.
    [[nodiscard]] Edit inverse() const;
};

/// Applies all changes or none. Errors: a "before" side that does not match the project, an unknown file or field.
[[nodiscard]] Status apply(Project& project, const Edit& edit);

/// Which parts of a project an edit touches, so that only what follows from them is computed again.
struct Touched {
    bool pegs = false, text = false, waivers = false, inputs = false;
};
[[nodiscard]] Touched touched(const Edit& edit);

}  // namespace kp
