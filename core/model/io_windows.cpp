// SPDX-License-Identifier: GPL-3.0-or-later
// The widest span of all delays of a bus at a clock. What -max and -min of an output mean against the receiver's edge
// is SDC 2.x, set_output_delay: the setup time of what is outside, and minus its hold time. Linear in the delays.
#include "core/model/io_windows.hpp"

#include <algorithm>
#include <limits>
#include <map>
#include <tuple>

namespace kp {

namespace {
constexpr double unknown = std::numeric_limits<double>::infinity();

struct Span {
    double early = unknown, late = -unknown;
};

IoWindow window_of(const Span& span, bool input, double period) {
    const double early = span.early == unknown ? span.late : span.early;
    if (input) return {"", true, std::min(early, span.late), std::max(early, span.late), 0};
    // Still from its -max before the edge to its -min behind it; a negative -min lies behind the edge.
    const double hold = span.early == unknown ? 0 : span.early;
    return {"", false, period - std::max(span.late, 0.0), period - std::min(hold, 0.0), 0};
}
}  // namespace

std::vector<IoWindow> io_windows(const Constraints& c, const std::vector<Port>& ports) {
    std::map<std::tuple<bool, std::string, std::uint32_t>, Span> found;
    for (const auto& d : c.io_delays) {
        if (d.clock == no_id || d.port >= ports.size()) continue;
        auto& span = found[{d.input, ports[d.port].bus, d.clock}];
        const double shift = d.clock_fall ? c.clocks[d.clock].waveform[1] : 0;
        if (d.early) span.early = std::min(span.early, d.value + shift);
        if (d.late) span.late = std::max(span.late, d.value + shift);
    }
    std::vector<IoWindow> out;
    for (const auto& [key, span] : found) {
        const auto& [input, bus, clock] = key;
        auto window = window_of(span, input, c.clocks[clock].period);
        window.bus = bus;
        window.clock = clock;
        out.push_back(std::move(window));
    }
    return out;
}

}  // namespace kp
