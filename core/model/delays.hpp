// SPDX-License-Identifier: GPL-3.0-or-later
// Delays as an SDF file gives them, by name, in ns. Absent members are NaN inside this struct and nowhere else.
#pragma once

#include <array>
#include <limits>
#include <string>
#include <vector>

namespace kp {

/// min, typ, max.
using Triple = std::array<double, 3>;
constexpr double absent = std::numeric_limits<double>::quiet_NaN();

struct DelayEntry {
    enum Kind { iopath, interconnect, port, device, setup, hold, recovery, removal, width, period } kind = iopath;
    std::string cell_type;  ///< CELLTYPE of the entry
    std::string instance;   ///< with '/', empty for the top, "*" for all of the type
    std::string from, to;   ///< iopath: pin names in the cell; interconnect: full pin or port names; check: data and clock pin
    char from_edge = 0, to_edge = 0;  ///< 'p' posedge, 'n' negedge, 0 both
    std::string condition;
    bool increment = false;
    Triple rise{absent, absent, absent}, fall{absent, absent, absent};
    int line = 0;
};

struct DelayFile {
    std::string file, design;
    std::vector<DelayEntry> entries;
};

}  // namespace kp
