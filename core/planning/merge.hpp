// SPDX-License-Identifier: GPL-3.0-or-later
// What became of the ports when a design is read again, and how the plan follows.
#pragma once

#include "core/model/edit.hpp"
#include "core/model/ports.hpp"

#include <string>
#include <vector>

namespace kp {

struct PortRename {
    PortGroup before, after;
    double likeness = 0;  ///< 0 to 1
    std::string why;      ///< what speaks for it: place in the list, direction, width, similar name
};
struct PortResize {
    PortGroup before, after;  ///< same name
    [[nodiscard]] bool wider() const { return after.width() > before.width(); }
};

struct PortMerge {
    std::vector<PortGroup> added, removed;
    std::vector<PortRename> renamed;  ///< proposals; their ports are not in added and removed
    std::vector<PortResize> resized;  ///< other range
    std::vector<PortResize> turned;   ///< other direction
    [[nodiscard]] bool empty() const {
        return added.empty() && removed.empty() && renamed.empty() && resized.empty() && turned.empty();
    }
    /// One sentence a change, in the order above.
    [[nodiscard]] std::vector<std::string> sentences() const;
};

/// Compares two port lists. A rename is proposed for a port that went and one that came when they have the same
/// direction and width and either a like name or the same neighbours; each port is used once, the likeliest first.
[[nodiscard]] PortMerge compare_ports(const std::vector<PortGroup>& before, const std::vector<PortGroup>& after);

/// Bits that go on under another name: those of the accepted renames, and of scalars that became a bus or the other
/// way.
struct BitRename {
    std::string before, after;
};
[[nodiscard]] std::vector<BitRename> renamed_bits(const PortMerge& merge, const std::vector<PortRename>& accepted);

/// Pegs, attributes and waivers carried over to new names; what belongs to other ports stays as it is.
[[nodiscard]] std::vector<Change> carry_over(const Project& project, const std::vector<BitRename>& bits);

}  // namespace kp
