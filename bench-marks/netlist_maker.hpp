// SPDX-License-Identifier: GPL-3.0-or-later
// Netlists of any size for measurements: layers of look-up cells between registers, 2.5 sinks a driver on average, five
// clocks, and an SDF with a delay for every arc. Invented numbers; the same seed gives the same files.
#pragma once

#include <string>

namespace kp::bench {

struct Recipe {
    size_t cells = 10'000;
    int layers = 8;     ///< of look-up cells between registers
    double mixing = 0;  ///< share of look-up inputs that come from another clock's registers
    bool tree = false;  ///< clocks through buffers of two levels, and propagated
    unsigned seed = 1;
};

struct Made {
    std::string library, netlist, delays, constraints;  ///< paths
    size_t cells = 0;
};

/// Writes made.lib, made.v, made.sdf and made.sdc into a folder that is there.
[[nodiscard]] Made make_netlist(const Recipe& recipe, const std::string& folder);

}  // namespace kp::bench
