// SPDX-License-Identifier: GPL-3.0-or-later
// Everything is worked out from the path's own points and edges.
#include "core/model/path_cause.hpp"

#include "core/base/text.hpp"

#include <algorithm>
#include <cmath>
#include <map>

namespace kp {

namespace {

bool is_pad(const PathPoint& p) {
    return p.cell_type.find("PAD") != std::string::npos || p.cell_type.find("PAIR") != std::string::npos;
}

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
        if (p.kind == "wire") out.wire += p.delay;
        if (p.kind == "cell") (is_pad(p) ? out.pad : out.cell) += p.delay;
        if (p.kind == "input_delay" || p.kind == "output_delay") out.outside += std::fabs(p.delay);
        if (p.kind == "launch") out.launch += p.delay;
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
                                          [](const PathPoint& p) { return p.kind == "cell" && !is_pad(p); }));
}

PathReason why_failing(const TimingPath& path, std::span<const ClockReport> clocks, const CauseThresholds& much) {
    if (path.slack >= 0) return {PathCause::met, "it is met with " + ns(path.slack)};
    const auto parts = parts_of(path);
    const double time = path.capture_edge - path.launch_edge;
    const auto *launch = clock_called(clocks, path.launch_clock), *capture = clock_called(clocks, path.capture_clock);
    const double skew = capture_latency(path) - parts.launch;
    if (!asks_late(path)) {
        if (path.check == "hold" && skew > parts.data())
            return {PathCause::hold_by_skew, "the clock comes " + ns(skew) +
                                                 " later at the end than at the start, and data take " +
                                                 ns(parts.data())};
        if (parts.outside > 0 && parts.data() > 0 && parts.outside > much.outside * parts.data())
            return {PathCause::board, "what is outside counts " + ns(parts.outside)};
        return {PathCause::little, "it fails by " + ns(-path.slack) + "; data take " + ns(parts.data())};
    }
    if (time > 0 && path.exception.empty() && time < std::fabs(path.check_time) + path.uncertainty + 0.05)
        return {PathCause::constraint, "of " + ns(time) + " between the edges check and uncertainty take " +
                                           ns(path.check_time + path.uncertainty)};
    if (launch && capture && launch->name != capture->name && time > 0 &&
        time < much.close_edges * std::min(launch->period, capture->period))
        return {PathCause::clocks, "the edges of " + launch->name + " and " + capture->name + " are " + ns(time) +
                                       " apart, less than " + fixed(100 * much.close_edges, 0) + " % of a period"};
    if (time > 0 && parts.outside > much.outside * time)
        return {PathCause::board, "the delay outside is " + ns(parts.outside) + ", " + percent(parts.outside, time) +
                                      " of the time there is"};
    if (time > 0 && -skew > much.skew * time)
        return {PathCause::skew, "the clock comes " + ns(-skew) + " earlier at the end than at the start"};
    const double data = std::max(parts.data(), 1e-9);
    if (parts.pad > much.pads * data)
        return {PathCause::pad,
                "pads take " + ns(parts.pad) + ", " + percent(parts.pad, data) + " of the data's delay"};
    if (const int levels = levels_of(path); levels > much.levels)
        return {PathCause::levels, counted(levels, "cell") + " in series, more than " + std::to_string(much.levels)};
    if (parts.wire > much.wires * data)
        return {PathCause::wires,
                "wires take " + ns(parts.wire) + ", " + percent(parts.wire, data) + " of the data's delay"};
    return {PathCause::little, "it fails by " + ns(-path.slack) + ", and nothing stands out"};
}

std::string common_causes(const TimingReport& report, size_t most) {
    std::map<std::string, int> counts;
    for (const auto& path : report.paths) {
        if (path.slack >= 0) continue;
        const auto clocks = path.launch_clock == path.capture_clock ? path.launch_clock
                                                                    : path.launch_clock + " to " + path.capture_clock;
        ++counts[std::string(name_of(why_failing(path, report.clocks).cause)) + " (" + clocks + ")"];
    }
    std::vector<std::pair<int, std::string>> list;
    for (const auto& [what, n] : counts) list.emplace_back(n, what);
    std::stable_sort(list.begin(), list.end(), [](const auto& a, const auto& b) { return a.first > b.first; });
    std::string out;
    int rest = 0;
    for (size_t i = 0; i < list.size(); ++i) {
        if (i < most)
            out += (out.empty() ? "" : ", ") + list[i].second + " " + std::to_string(list[i].first);
        else
            rest += list[i].first;
    }
    return rest > 0 ? out + ", others " + std::to_string(rest) : out;
}

std::string path_table(const TimingPath& path) {
    std::string out = path.check + " " + path.startpoint + " -> " + path.endpoint + ", slack " + fixed(path.slack, 3) +
                      " ns\n" + path.launch_clock + " launches at " + fixed(path.launch_edge, 3) + ", " +
                      path.capture_clock + " captures " + fixed(path.capture_edge - path.launch_edge, 3) +
                      " ns later\npin\tcell\tedge\tkind\tdelay\tarrival\n";
    for (const auto& p : path.points)
        out += p.pin + "\t" + p.cell_type + "\t" + (p.rise ? "rise" : "fall") + "\t" + p.kind + "\t" +
               fixed(p.delay, 3) + "\t" + fixed(p.arrival - path.launch_edge, 3) + "\n";
    out += "required\t\t\t\t\t" + fixed(path.required - path.launch_edge, 3) + "\n";
    return out;
}

}  // namespace kp
