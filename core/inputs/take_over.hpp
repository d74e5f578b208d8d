// SPDX-License-Identifier: GPL-3.0-or-later
// The project that a folder becomes, and what of the folder a project does not have yet.
#pragma once

#include "core/inputs/folder.hpp"
#include "core/inputs/new_project.hpp"

namespace kp {

/// Full paths of what a project takes from a folder, in the order in which a project reads it: cells, models, netlists,
/// delays, constraints, HDL. Test benches, tables and what nobody knows stay out.
[[nodiscard]] std::vector<std::string> files_to_take(const FolderView& view, const std::string& folder);

/// The project that would be made of it, linked to its files. Board and parts of the folder are not among them.
[[nodiscard]] NewProject project_of(const FolderView& view, const std::string& folder);

/// Of `wanted` (full paths), those that the project in `project_folder` does not name yet; and files the project names
/// that lay below `folder` and are there no more.
struct FolderChanges {
    std::vector<std::string> fresh, gone;
};
[[nodiscard]] FolderChanges compare_folder(Disk& disk, const Project& project, const std::string& project_folder,
                                           const std::vector<std::string>& wanted, const std::string& folder);

}  // namespace kp
