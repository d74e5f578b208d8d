// SPDX-License-Identifier: GPL-3.0-or-later
// Delay of a trace from its stack; the formulas and where they are published stand in the header.
#include "core/model/trace.hpp"

#include <cmath>

namespace kp {

double delay_per_mm(const Stack& s) {
    constexpr double light_mm_per_ns = 299.792458;
    if (s.relative_permittivity < 1 || s.width_mm <= 0 || s.height_mm <= 0) return 0;
    const double er = s.relative_permittivity;
    if (s.kind == "stripline") return std::sqrt(er) / light_mm_per_ns;
    const double u = s.width_mm / s.height_mm;
    const double a = 1 + std::log((std::pow(u, 4) + std::pow(u / 52, 2)) / (std::pow(u, 4) + 0.432)) / 49 +
                     std::log(1 + std::pow(u / 18.1, 3)) / 18.7;
    const double b = 0.564 * std::pow((er - 0.9) / (er + 3), 0.053);
    const double effective = (er + 1) / 2 + (er - 1) / 2 * std::pow(1 + 10 / u, -a * b);
    return std::sqrt(effective) / light_mm_per_ns;
}

}  // namespace kp
