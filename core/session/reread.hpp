// SPDX-License-Identifier: GPL-3.0-or-later
// Inputs that changed on disk: what changed, offered before anything is taken.
#pragma once

#include "core/pegs/merge.hpp"
#include "core/session/world.hpp"

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
[[nodiscard]] Edit merge_edit(const Project& project, const std::vector<Port>& ports, const PortMerge& merge, const std::vector<PortRename>& accepted);

/// The ports the project last accepted, or those of `fallback` when it never did.
[[nodiscard]] std::vector<PortGroup> accepted_ports(const Project& project, const std::vector<Port>& fallback);

}  // namespace kp
