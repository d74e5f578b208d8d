// SPDX-License-Identifier: GPL-3.0-or-later
// Paths are compared without links and dots, so that a file that is linked in one way is known in another.
#include "core/inputs/take_over.hpp"

#include <algorithm>
#include <set>

namespace kp {

std::vector<std::string> files_to_take(const FolderView& view, const std::string& folder) {
    std::vector<std::string> out;
    for (const char* role : {"cells", "models", "netlist", "delays", "constraints"})
        for (const auto& path : view.with_role(role)) out.push_back(join_path(folder, path));
    for (const auto& path : view.order) out.push_back(join_path(folder, path));
    return out;
}

NewProject project_of(const FolderView& view, const std::string& folder) {
    NewProject w;
    w.copy = false;
    w.top = view.top;
    w.sources = files_to_take(view, folder);
    for (const auto& path : view.with_role("netlist")) w.netlists.insert(join_path(folder, path));
    return w;
}

FolderChanges compare_folder(Disk& disk, const Project& project, const std::string& project_folder,
                             const std::vector<std::string>& wanted, const std::string& folder) {
    std::vector<std::string> named;
    for (const auto* list : {&project.netlists, &project.libraries, &project.models, &project.sources})
        named.insert(named.end(), list->begin(), list->end());
    for (const auto& file : project.constraints) named.push_back(file.path);
    if (!project.delays.empty()) named.push_back(project.delays);
    FolderChanges out;
    std::set<std::string> known;
    const auto below = disk.real_path(folder) + "/";
    for (const auto& path : named) {
        const auto full = disk.real_path(join_path(project_folder, path));
        known.insert(full);
        // A plain name may be that of a file that ships with the program.
        const bool linked = path.find('/') != std::string::npos;
        if (linked && full.starts_with(below) && !disk.exists(full)) out.gone.push_back(path);
    }
    for (const auto& path : wanted)
        if (!known.contains(disk.real_path(path))) out.fresh.push_back(path);
    return out;
}

}  // namespace kp
