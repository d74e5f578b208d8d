// SPDX-License-Identifier: GPL-3.0-or-later
// The project file, schema kitepeg.project/1, and edits as JSON for the recovery journal.
#pragma once

#include "core/base/result.hpp"
#include "core/format/json/json_text.hpp"
#include "core/model/edit.hpp"

#include <string>
#include <string_view>

namespace kp {

/// A project as read; `unknown` keeps the whole object, so that keys this program does not know survive.
struct ProjectFile {
    Project project;
    Json unknown;
};
/// Constraint texts are not in the file and stay empty. Errors: as JsonText.
[[nodiscard]] Result<ProjectFile> read_project(std::string_view text, const std::string& file);
[[nodiscard]] std::string write_project(const ProjectFile& file);

[[nodiscard]] Json edit_to_json(const Edit& edit);
/// Errors: a shape that edit_to_json does not make.
[[nodiscard]] Result<Edit> edit_from_json(const Json& value);

}  // namespace kp
