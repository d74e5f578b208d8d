// SPDX-License-Identifier: GPL-3.0-or-later
// Everything is worked out from the path's own points and edges.
#include "core/model/path_cause.hpp"

#include "core/base/text.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <cmath>
#include <map>

namespace kp {

namespace {

bool asks_late(const TimingPath& path) {
    return path.check == "setup" || path.check == "recovery";
}

/// What the path is made of, ns.
struct Parts {
    double wire = 0, cell = 0, pad = 0, outside = 0, launch = 0;
    [[nodiscard]] double data() const { return wire + cell + pad; }
};
Parts parts_of(const TimingPath& path) {
    Parts out;
    for (const auto& p : path.points) {
        if (p.kind == PointKind::wire) out.wire += p.delay;
        if (p.kind == PointKind::cell) (p.pad ? out.pad : out.cell) += p.delay;
        if (p.kind == PointKind::input_delay || p.kind == PointKind::output_delay) out.outside += std::fabs(p.delay);
        if (p.kind == PointKind::launch) out.launch += p.delay;
    }
    return out;
}

/// Latency of the capturing clock, from what was required.
double capture_latency(const TimingPath& path) {
    const double taken = path.check_time + path.uncertainty;
    return asks_late(path) ? path.required - path.capture_edge + taken - path.credit
                           : path.required - path.capture_edge - taken + path.credit;
}

const ClockReport* clock_called(std::span<const ClockReport> clocks, const std::string& name) {
    const auto at = std::find_if(clocks.begin(), clocks.end(), [&](const ClockReport& c) { return c.name == name; });
    return at == clocks.end() ? nullptr : &*at;
}

std::string ns(double v) {
    return fixed(v, 3) + " ns";
}
std::string percent(double part, double whole) {
    return fixed(100 * part / whole, 0) + " %";
}

}  // namespace

const char* name_of(PathCause c) {
    static const char* names[] = {"met",          "constraint", "clocks", "board", "skew",
                                  "hold by skew", "pad",        "levels", "wires", "little"};
    return names[static_cast<int>(c)];
}

int levels_of(const TimingPath& path) {
    return static_cast<int>(std::count_if(path.points.begin(), path.points.end(),
                                          [](const PathPoint& p) { return p.kind == PointKind::cell && !p.pad; }));
}

PathReason why_failing(const TimingPath& path, std::span<const ClockReport> clocks, const CauseThresholds& much) {
    if (path.slack >= 0) return {PathCause::met, "it is met with " + ns(path.slack)};
    const auto parts = parts_of(path);
    const double time = path.capture_edge - path.launch_edge;
    const auto *launch = clock_called(clocks, path.launch_clock), *capture = clock_called(clocks, path.capture_clock);
    const double skew = capture_latency(path) - parts.launch;
    if (!asks_late(path)) {
        if (path.check == "hold" && skew > parts.data())
            return {PathCause::hold_by_skew,
                    said("the clock comes {} later at the end than at the start, and data take {}", ns(skew),
                         ns(parts.data()))};
        if (parts.outside > 0 && parts.data() > 0 && parts.outside > much.outside * parts.data())
            return {PathCause::board, "what is outside counts " + ns(parts.outside)};
        return {PathCause::little, said("it fails by {}; data take {}", ns(-path.slack), ns(parts.data()))};
    }
    if (time > 0 && path.exception.empty() && time < std::fabs(path.check_time) + path.uncertainty + 0.05)
        return {PathCause::constraint, said("of {} between the edges check and uncertainty take {}", ns(time),
                                            ns(path.check_time + path.uncertainty))};
    if (launch && capture && launch->name != capture->name && time > 0 &&
        time < much.close_edges * std::min(launch->period, capture->period))
        return {PathCause::clocks, said("the edges of {} and {} are {} apart, less than {} % of a period", launch->name,
                                        capture->name, ns(time), fixed(100 * much.close_edges, 0))};
    if (time > 0 && parts.outside > much.outside * time)
        return {PathCause::board, said("the delay outside is {}, {} of the time there is", ns(parts.outside),
                                       percent(parts.outside, time))};
    if (time > 0 && -skew > much.skew * time)
        return {PathCause::skew, said("the clock comes {} earlier at the end than at the start", ns(-skew))};
    const double data = std::max(parts.data(), 1e-9);
    if (parts.pad > much.pads * data)
        return {PathCause::pad, said("pads take {}, {} of the data's delay", ns(parts.pad), percent(parts.pad, data))};
    if (const int levels = levels_of(path); levels > much.levels)
        return {PathCause::levels, said("{} in series, more than {}", counted(levels, "cell"), much.levels)};
    if (parts.wire > much.wires * data)
        return {PathCause::wires,
                said("wires take {}, {} of the data's delay", ns(parts.wire), percent(parts.wire, data))};
    return {PathCause::little, said("it fails by {}, and nothing stands out", ns(-path.slack))};
}

std::string common_causes(const TimingReport& report, size_t most) {
    std::map<std::string, int> counts;
    for (const auto& path : report.paths) {
        if (path.slack >= 0) continue;
        const auto clocks = path.launch_clock == path.capture_clock ? path.launch_clock
                                                                    : path.launch_clock + " to " + path.capture_clock;
        ++counts[said("{} ({})", std::string(name_of(why_failing(path, report.clocks).cause)), clocks)];
    }
    std::vector<std::pair<int, std::string>> list;
    for (const auto& [what, n] : counts) list.emplace_back(n, what);
    std::stable_sort(list.begin(), list.end(), [](const auto& a, const auto& b) { return a.first > b.first; });
    std::string out;
    int rest = 0;
    for (size_t i = 0; i < list.size(); ++i) {
        if (i < most)
            out += said("{}{} {}", (out.empty() ? "" : ", "), list[i].second, list[i].first);
        else
            rest += list[i].first;
    }
    return rest > 0 ? said("{}, others {}", out, rest) : out;
}

}  // namespace kp
