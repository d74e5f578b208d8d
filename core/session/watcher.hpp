// SPDX-License-Identifier: GPL-3.0-or-later
// Inputs that changed on disk: what changed, offered before anything is taken.
#pragma once

#include "core/planning/merge.hpp"
#include "core/session/document.hpp"
#include "core/session/snapshot.hpp"
#include "core/inputs/world.hpp"

#include <memory>
#include <string>
#include <vector>

namespace kp {

/// The inputs read anew beside the open ones. Nothing has changed yet.
struct Rereading {
    std::shared_ptr<const World> world;
    std::vector<std::string> files;  ///< that changed on disk
    PortMerge merge;
};

/// Files of the world that are other on disk now, or gone.
[[nodiscard]] std::vector<std::string> changed_files(Disk& disk, const World& world);

/// The edit that lets the plan follow a design: ports as last accepted, and for the accepted renames pegs, attributes,
/// waivers and constraint text.
[[nodiscard]] Edit merge_edit(const Project& project, const std::vector<Port>& ports, const PortMerge& merge,
                              const std::vector<PortRename>& accepted);

/// The ports the project last accepted, or those of `fallback` when it never did.
[[nodiscard]] std::vector<PortGroup> accepted_ports(const Project& project, const std::vector<Port>& fallback);

/// Looks at what a session's files are on disk now. Lives as long as a call.
class Watcher {
public:
    Watcher(Disk& disk, const Document& document, const World& world)
        : disk_(disk), document_(document), world_(world) {}

    /// Inputs that are other on disk than they were read, or gone; then constraint files, and the project file by its
    /// name, whose text on disk is no longer what was read or saved last.
    [[nodiscard]] std::vector<std::string> changed() const;
    [[nodiscard]] std::vector<std::string> changed_own_files() const;
    /// Ports that differ from those the project last accepted, such as after a change while it was closed.
    [[nodiscard]] PortMerge port_changes() const;
    /// Everything whose change is of interest, as full paths.
    [[nodiscard]] std::vector<std::string> files() const;

private:
    Disk& disk_;
    const Document& document_;
    const World& world_;
};

/// Reads all inputs again beside the open ones and says what became of the ports. On any thread. Errors: any reader's.
[[nodiscard]] Result<Rereading> reread(const Snapshot& now);

}  // namespace kp
