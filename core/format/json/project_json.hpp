// SPDX-License-Identifier: GPL-3.0-or-later
// The project file, schema kitepeg.project/1.
#pragma once

#include "core/base/result.hpp"
#include "core/format/json/json_text.hpp"
#include "core/model/project.hpp"

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

}  // namespace kp
