// SPDX-License-Identifier: GPL-3.0-or-later
// All that a project refers to, read once: part, board, standards, cells, netlist, delays.
#pragma once

#include "core/base/disk.hpp"
#include "core/format/csv/pin_report.hpp"
#include "core/hdl/read_ports.hpp"
#include "core/model/board.hpp"
#include "core/model/delays.hpp"
#include "core/model/library.hpp"
#include "core/model/netlist.hpp"
#include "core/model/swapped_names.hpp"
#include "core/model/part.hpp"
#include "core/model/project.hpp"
#include "core/model/standards.hpp"
#include "core/inputs/corners.hpp"
#include "core/inputs/design.hpp"
#include "core/inputs/reach.hpp"

#include <memory>
#include <optional>
#include <set>
#include <string>
#include <vector>

namespace kp {

struct InputFile {
    std::string path, role;  ///< as in the project; "netlist", "source", "cells", "delays", "board", "module", "part"
    std::string full;        ///< where it was found
    bool with_program = false;
    unsigned long long stamp = 0;
    /// Copied in: it lies in the project's folder and goes where the project goes. Otherwise linked.
    [[nodiscard]] bool linked() const { return !with_program && (path.starts_with("/") || path.starts_with("../")); }
};

/// Immutable once loaded.
struct World {
    Part part;
    Board board;
    StandardTable standards;
    Library library;
    Netlist netlist;
    std::vector<CellOrigin> cells;  ///< what each cell type of the netlist is known from
    std::unique_ptr<NetlistIndex> index;
    std::optional<DelayFile> delays;
    std::vector<ProjectCorner> corners;  ///< empty: one, of what is above
    std::vector<PinReportRow> obtained;  ///< pins that came back from a build
    DecodedCode code;
    std::vector<InputFile> files;
    std::vector<Message> notes;
    std::shared_ptr<const Reach>
        reach;  ///< how far files that this world names may lead; none: nowhere but beside and below them
    std::vector<SwappedNames> swapped;  ///< of the sources, whether or not there is a netlist
    std::set<std::string> clocked;  ///< ports that clock something, while there are only sources; see hdl/clocked.hpp
    std::string language;           ///< of the design: "netlist", "verilog", "systemverilog", "vhdl"; empty without one
};

/// Reads everything the project names; files are looked for beside the project, then in the data that ships. Errors:
/// any reader's, each with file and line; a part code that no part file knows. Part, board and design may each be
/// missing from a project that is only begun. The design is the netlist, or the ports of the sources while there is
/// none.
[[nodiscard]] Result<std::shared_ptr<const World>> load_world(Disk& disk, const Project& project,
                                                              const std::string& folder, const std::string& data,
                                                              std::optional<Reach> reach = {});

/// What a project that is only begun still lacks, each with what to do; none is wrong, each narrows what can be said.
[[nodiscard]] std::vector<Message> still_missing(const Project& project);

/// Reads the ports that HDL files declare; files to include are looked for beside the one that names them, then beside
/// the first. What `reach` refuses is an error of code "outside"; without one, files in the first file's folder and
/// below it may be included. `folders`: where files to include are looked for last.
[[nodiscard]] Result<PortList> load_ports(Disk& disk, const std::vector<std::string>& paths, PortRequest request,
                                          const Reach* reach = nullptr, const std::vector<std::string>& folders = {});

}  // namespace kp
