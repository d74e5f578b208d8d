// SPDX-License-Identifier: GPL-3.0-or-later
// The project file, schema kitepeg.project/1.
#pragma once

#include "core/base/result.hpp"
#include "core/model/project.hpp"

#include <string>
#include <string_view>

namespace kp {

/// A project as read; `unknown` keeps the keys as they were read, in their order, as JSON text, so that
/// those this program does not know survive; empty for a new project.
struct ProjectFile {
    Project project;
    std::string unknown;
};
/// Constraint texts are not in the file and stay empty. Errors: as JsonText.
[[nodiscard]] Result<ProjectFile> read_project(std::string_view text, const std::string& file);
[[nodiscard]] std::string write_project(const ProjectFile& file);

}  // namespace kp
