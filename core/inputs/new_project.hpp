// SPDX-License-Identifier: GPL-3.0-or-later
// A project from nothing: everything but folder and name may be missing and come later.
#pragma once

#include "core/base/disk.hpp"
#include "core/hdl/read_ports.hpp"
#include "core/model/board.hpp"
#include "core/model/edit.hpp"
#include "core/model/library.hpp"
#include "core/model/part.hpp"

#include <set>
#include <string>
#include <vector>

namespace kp {

/// What parts and boards there are: in a project's folder and with the program.
struct Catalogue {
    std::vector<Part> parts;
    struct BoardEntry {
        std::string file;  ///< name without ending, as a project keeps it
        std::string name, part;
    };
    std::vector<BoardEntry> boards;
    std::vector<std::string> modules;    ///< names without ending
    std::vector<std::string> libraries;  ///< full paths of the cell libraries that ship with the program
    /// Every ordering code that some part file knows, in order.
    [[nodiscard]] std::vector<std::string> codes() const;
    /// The part file a code belongs to; none when no file knows its start.
    [[nodiscard]] const Part* part_of(const std::string& code) const;
};
/// Files that do not read are left out. `folder` may be empty.
[[nodiscard]] Catalogue read_catalogue(Disk& disk, const std::string& folder, const std::string& data);

struct NewProject {
    std::string folder, name;
    std::string part, board;           ///< each may be empty; a board brings its part
    std::vector<std::string> sources;  ///< full paths of HDL or netlist files
    bool copy = true;                  ///< copy them into the folder, else link to where they are
    std::string top;
    std::set<std::string> netlists = {};  ///< those of `sources` that are netlists, whatever their cells
};

/// What speaks against it, each with what to do; empty: it can be made.
[[nodiscard]] std::vector<Message> check(Disk& disk, const NewProject& wanted, const Catalogue& catalogue);

/// The ports of the HDL among the sources; an empty list when there is none. Errors: the reader's, no or several
/// candidates for the top. Reads the files, so not for every key that is pressed.
[[nodiscard]] Result<PortList> ports_of(Disk& disk, const NewProject& wanted);

/// Makes the folder, copies the sources, writes NAME.kpeg and an empty NAME.sdc. Errors: those of check() that are
/// stops, those of ports_of(), before anything is written, and the disk's; a file that is there already is never
/// written over. Gives the path of the project.
[[nodiscard]] Result<std::string> create_project(Disk& disk, const NewProject& wanted, const Catalogue& catalogue);

/// The path as a project in `folder` keeps it: relative where it can be.
[[nodiscard]] std::string path_from(const std::string& folder, const std::string& file);

/// Modules and entities of the given files that have ports, in order of their files: what could be named as the top.
/// Files that do not read are left out.
[[nodiscard]] std::vector<std::string> module_names(Disk& disk, const std::vector<std::string>& paths);

/// The edit that adds files to a project: each is brought to it as take_in does, and stands where its ending and its
/// content belong: .lib cells, .sdf delays, .sdc constraints, a .v of cells that are known (`cells`, and those of the
/// files) netlist, all else source. Errors: as take_in and the readers of libraries; no copy stays then. `copied`: full
/// paths of the copies that were made, for who has to take them back because the edit is refused. `netlists`: those of
/// `files` that are known to be some.
[[nodiscard]] Result<Edit> add_files(Disk& disk, const Project& project, const std::string& folder,
                                     const std::vector<std::string>& files, bool copy, Library cells,
                                     std::vector<std::string>* copied = nullptr,
                                     const std::set<std::string>& netlists = {});

/// Brings a file to a project: copied into its folder or linked; gives the path the project keeps. Errors: the disk's,
/// a name that is taken by another file.
[[nodiscard]] Result<std::string> take_in(Disk& disk, const std::string& folder, const std::string& file, bool copy);

}  // namespace kp
