// SPDX-License-Identifier: GPL-3.0-or-later
// Two names that change places between modules, as sources have them.
#pragma once

#include <string>

namespace kp {

/// An instance whose port `a` is connected to a signal called `b`, and its port `b` to one called `a`.
struct SwappedNames {
    std::string a, b;
    std::string file;
    int line = 0;  ///< of the second of the two connections
    bool operator==(const SwappedNames&) const = default;
};

}  // namespace kp
