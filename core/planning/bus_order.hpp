// SPDX-License-Identifier: GPL-3.0-or-later
// How the bits of a bus lie on numbered terminals of one board part.
#pragma once

#include "core/planning/plan.hpp"

#include <string>
#include <vector>

namespace kp {

struct BusOrder {
    enum class Kind {
        unknown,   ///< fewer than two bits on numbered terminals, or two on one
        spread,    ///< over several board parts: there is no order to speak of
        in_order,  ///< each step of the index is the same step of the number
        reversed,
        mixed
    };
    struct Bit {
        int index = 0;
        long long number = 0;
        std::string port, pin;
    };
    Kind kind = Kind::unknown;
    std::string place;      ///< board part and what its terminals have in common, "P3.lamp"
    std::vector<Bit> bits;  ///< on numbered terminals, by rising index
    long long shift = 0;    ///< number less index, of a bus in order
    Bit odd{};              ///< reversed or mixed: a bit that is not where the order would have it
};

/// `bus`: its seats, as Plan::bus_of gives them.
[[nodiscard]] BusOrder order_of(const std::vector<const PlannedPort*>& bus);

}  // namespace kp
