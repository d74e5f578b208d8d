// SPDX-License-Identifier: GPL-3.0-or-later
// The one place where time becomes pixels.
#pragma once

#include <cmath>
#include <vector>

namespace kp::app {

/// Time to pixels and back. A value; tested without a window.
struct TimeAxis {
    double from_ns = 0, to_ns = 1, left = 0, right = 100;
    [[nodiscard]] double x(double ns) const { return left + (ns - from_ns) * (right - left) / (to_ns - from_ns); }
    [[nodiscard]] double ns(double px) const { return from_ns + (px - left) * (to_ns - from_ns) / (right - left); }
    /// Round times, 1, 2 or 5 times a power of ten apart, at least `gap` pixels from each other.
    [[nodiscard]] std::vector<double> ticks(double gap) const {
        const double wanted = (to_ns - from_ns) * gap / (right - left);
        double step = std::pow(10, std::floor(std::log10(wanted)));
        for (const double k : {1.0, 2.0, 5.0, 10.0})
            if (k * step >= wanted) {
                step *= k;
                break;
            }
        std::vector<double> out;
        for (double t = std::ceil(from_ns / step - 1e-9) * step; t <= to_ns + 1e-9 * step && out.size() < 1000;
             t += step)
            out.push_back(std::fabs(t) < 1e-9 * step ? 0.0 : t);
        return out;
    }
};

}  // namespace kp::app
