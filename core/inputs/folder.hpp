// SPDX-License-Identifier: GPL-3.0-or-later
// A folder that exists, taken over: what each file is, how the modules hang together, and the project that would come
// of it. Reads, and writes nothing; a long look can be stopped.
#pragma once

#include "core/base/disk.hpp"
#include "core/base/result.hpp"

#include <map>
#include <stop_token>
#include <string>
#include <vector>

namespace kp {

struct FolderFile {
    std::string path;  ///< from the folder
    std::string role;  ///< hdl, netlist, models, cells, delays, constraints, table, part, board, bench, other
    std::string why;
};

struct FolderModule {
    std::string module, file;
    std::map<std::string, int> instances;  ///< types, and how often
    std::string only_simulated;            ///< why; empty for what is part of a design
};

struct FolderView {
    std::vector<FolderFile> files;        ///< by path
    std::vector<FolderModule> hierarchy;  ///< by module; netlists and cell models are not taken apart
    std::string top;                      ///< empty: none, or several that are as good
    std::vector<std::string> candidates;  ///< for the top, the best first
    std::vector<std::string> order;       ///< HDL files of the design, each behind what it needs
    std::vector<Message> messages;
    /// Paths of one role, in order of `files`.
    [[nodiscard]] std::vector<std::string> with_role(std::string_view role) const;
    /// Takes a file for something else, as its user knows better; HDL that was none comes last in the order.
    void set_role(const std::string& path, const std::string& role);
};

/// Looks at a folder and what lies below it: hidden files and folders are passed over, links are not followed, at most
/// 20,000 files and 32 levels. Errors: a folder that cannot be read, too many files, code "cancelled".
[[nodiscard]] Result<FolderView> look_at_folder(Disk& disk, const std::string& folder,
                                                const std::stop_token& stop = {});

}  // namespace kp
