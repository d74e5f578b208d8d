// SPDX-License-Identifier: GPL-3.0-or-later
// What stands for several files: a folder, a pattern of paths, a list of files.
#pragma once

#include "core/base/disk.hpp"
#include "core/base/result.hpp"
#include "core/inputs/reach.hpp"

#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace kp {

/// Paths of all files below a folder, from there, sorted. Hidden ones and copies of editors are passed over, links to
/// folders are not followed; deeper than 32 levels nothing is looked for, which a caution says. Errors: more than
/// 20,000 files.
[[nodiscard]] Result<std::vector<std::string>> files_below(Disk& disk, const std::string& folder);

/// The files that a list of files names (one path a line, `//` and `#` begin comments, `+incdir+`, `+define+`, `-y`,
/// `-v`, `-f`), as paths from where the list lies; defines and include folders apart. Environment variables are not
/// replaced; such a line is told.
struct FileList {
    std::vector<std::string> files, folders;  ///< folders: of includes and of -y
    std::map<std::string, std::string> defines;
    std::vector<Message> messages;
};
[[nodiscard]] FileList read_file_list(std::string_view text, const std::string& file);

/// Paths below `folder` that a pattern such as "src/**/*.v" names: `*` and `?` inside a name, `**` any folders. Sorted.
[[nodiscard]] std::vector<std::string> matching(const std::vector<std::string>& paths, std::string_view pattern);

/// Sources as a project names them, with each pattern and each list (a name that ends in .f) replaced by the files it
/// stands for; paths are from `folder` then, unless they begin at the root. A file is there once, at its first place.
struct SourceFiles {
    std::vector<std::string> files;
    std::vector<std::string> lists;    ///< that were read
    std::vector<std::string> folders;  ///< in which `include looks too
    std::map<std::string, std::string> defines;
    std::vector<Message> messages;
};
/// Errors: those of files_below; a list that cannot be read; a pattern that meets no file; lists in lists deeper
/// than 16.
[[nodiscard]] Result<SourceFiles> expand_sources(Disk& disk, const std::string& folder,
                                                 const std::vector<std::string>& sources);

/// What a list or a pattern brings has to be allowed as what the project names itself: the first that is not.
[[nodiscard]] std::optional<Message> brought_from_outside(Disk& disk, const std::string& folder,
                                                          const std::vector<std::string>& sources,
                                                          const SourceFiles& expanded, const Reach& reach);

/// Both in one; files and folders are full paths then.
[[nodiscard]] Result<SourceFiles> sources_within(Disk& disk, const std::string& folder,
                                                 const std::vector<std::string>& sources, const Reach& reach);

}  // namespace kp
