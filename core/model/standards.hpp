// SPDX-License-Identifier: GPL-3.0-or-later
// I/O standards and their levels, V.
#pragma once

#include <string>
#include <vector>

namespace kp {

/// Levels of an I/O standard in volts, each row with the document it comes from.
struct IoStandard {
    std::string name, source, checked;  ///< `checked`: "from memory" until compared with the text
    double supply = 0;                  ///< nominal VIO, V
    double vih = 0, vil = 0, voh = 0, vol = 0;
    std::vector<int>
        drive_ma;     ///< drives that can be chosen; the first is the default of nobody: it must be chosen or fit
    double vref = 0;  ///< reference voltage an input needs, V; 0: none
    bool differential = false;                             ///< then the levels above are of no use, and these count:
    double vod[2] = {0, 0}, vcm[2] = {0, 0}, vid_min = 0;  ///< output swing and common mode, smallest input swing, V
    std::string direction;              ///< "in" or "out" when the standard has only that; empty: both
    bool open_drain = false;            ///< outputs only pull down
    bool resistors = false;             ///< an output makes its levels with a resistor in series on the board
    std::vector<std::string> input_at;  ///< other supplies at which an input of this standard is legal, as "3.3"
};

struct StandardTable {
    std::vector<IoStandard> rows;
    [[nodiscard]] const IoStandard* find(const std::string& name) const {
        for (const auto& row : rows)
            if (row.name == name) return &row;
        return nullptr;
    }
};

}  // namespace kp
