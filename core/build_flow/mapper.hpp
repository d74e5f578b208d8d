// SPDX-License-Identifier: GPL-3.0-or-later
// Sources on disk to a netlist of the cells that ship for a part.
#pragma once

#include "core/synthesis/map.hpp"
#include "core/inputs/source_texts.hpp"

namespace kp {

struct MapFiles {
    std::vector<std::string> sources, folders;  ///< folders: where files to include are looked for last
    std::string library;
    std::string top;
    std::map<std::string, std::string> defines, parameters;
};

/// The library file that ships for the made-up parts.
[[nodiscard]] std::string shipped_cells();

/// Errors: the disk's, the reader's and the mapper's.
[[nodiscard]] Result<synthesis::MapAnswer> map_files(Disk& disk, const MapFiles& files, const Reach* reach);

}  // namespace kp
