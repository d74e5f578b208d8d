// SPDX-License-Identifier: GPL-3.0-or-later
// What a folder of a build was built from, so that a later stage goes on only from files that belong to it.
#pragma once

#include "core/base/disk.hpp"
#include "core/base/result.hpp"

#include <map>
#include <string>
#include <string_view>
#include <vector>

namespace kp::build_flow {

struct Origin {
    std::string part;         ///< ordering code, as the project names it
    std::string part_digest;  ///< of the part's pins and fabric, SHA-256
    std::string top;
    std::string pegs;  ///< SHA-256 of pegs and standards as they were given; empty in folders from before it was kept
    std::vector<std::string> sources;  ///< SHA-256 of each source or netlist, in order, and of macros and parameters
    std::map<std::string, std::string> files;  ///< SHA-256 of each file of the folder that a stage wrote, by name
};

/// JSON, schema "kitepeg.origin/1".
[[nodiscard]] std::string write_origin(const Origin& origin);
/// Errors: not such a file.
[[nodiscard]] Result<Origin> read_origin(std::string_view text, const std::string& file);

/// A file of `folder` is as `origin` says it was written. Errors: it cannot be read, or is other; `stage` makes it
/// anew.
[[nodiscard]] Status check_kept(Disk& disk, const std::string& folder, const Origin& origin, const std::string& name,
                                const std::string& stage);

}  // namespace kp::build_flow
