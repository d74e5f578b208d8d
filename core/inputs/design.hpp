// SPDX-License-Identifier: GPL-3.0-or-later
// A netlist with the cells it is made of, wherever they are said: in Liberty, in Verilog models, or in nothing but the
// delay file. Pure functions of the files; any thread.
#pragma once

#include "core/base/disk.hpp"
#include "core/base/result.hpp"
#include "core/model/delays.hpp"
#include "core/model/library.hpp"
#include "core/model/netlist.hpp"

#include <functional>
#include <string>
#include <vector>

namespace kp {

/// What one cell type of a netlist is known from.
struct CellOrigin {
    std::string type;
    size_t count = 0;  ///< instances
    std::string from;  ///< "liberty", "model", "sdf" or "unknown"
};

struct DesignFiles {
    std::vector<std::string> netlists, libraries, models;  ///< paths; the earlier file wins
    std::string top;
    /// Hands the entries of the delay file over; may be called twice, and is not called at all while library and models
    /// know every cell. Empty without one.
    std::function<std::vector<Message>(DelaySink&)> delays;
};

struct Design {
    Library library;
    Netlist netlist;
    std::vector<CellOrigin> cells;  ///< by type
};

/// Reads them. Liberty wins over models, models over the delay file; a cell that none of them knows has pins and no
/// paths, and a caution says so. Notes: one for each cell type of which the delay file alone tells, since its function
/// is not known. Errors: the disk's and the readers'.
[[nodiscard]] Result<Design> load_design(Disk& disk, const DesignFiles& files);

/// Reads and merges Liberty files. Errors: the disk's and the reader's.
[[nodiscard]] Result<Library> load_libraries(Disk& disk, const std::vector<std::string>& paths);
/// Reads and merges models; see read_models.
[[nodiscard]] Result<Library> load_models(Disk& disk, const std::vector<std::string>& paths);
/// Reads a netlist of cells that `library` knows.
[[nodiscard]] Result<Netlist> load_netlists(Disk& disk, const std::vector<std::string>& paths, const std::string& top,
                                            const Library& library);

}  // namespace kp
