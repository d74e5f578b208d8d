// SPDX-License-Identifier: GPL-3.0-or-later
// Why a path fails, told by thresholds that are stated, in words with its numbers.
#pragma once

#include "core/model/timing_report.hpp"

#include <span>
#include <string>
#include <vector>

namespace kp {

enum class PathCause {
    met,           ///< it does not fail
    constraint,    ///< no time is left for data by what was written
    clocks,        ///< two clocks whose edges come close: unrelated, or not meant to be timed
    board,         ///< the delay outside takes most of the time
    skew,          ///< the clock comes much earlier or later at one end
    hold_by_skew,  ///< hold, and the clock comes later at the end than at the start
    pad,           ///< pads take most of the delay
    levels,        ///< many cells in series
    wires,         ///< wires take most of the delay
    little         ///< it fails by little, and nothing stands out
};
[[nodiscard]] const char* name_of(PathCause cause);

/// What counts as "much". Common practice, no source.
struct CauseThresholds {
    double close_edges = 0.34;  ///< of the shorter period, between edges of two clocks
    double outside = 0.6;       ///< of the time between the edges, for input or output delay
    double skew = 0.2;          ///< of that time, between the clock's latencies
    double pads = 0.5;          ///< of the data's delay
    double wires = 0.6;         ///< of the data's delay
    int levels = 6;             ///< cells in series, beside pads
};

struct PathReason {
    PathCause cause = PathCause::met;
    std::string text;  ///< "9 cells in series, more than 6"
};
/// The first that holds, in the order of PathCause. `periods` of the clocks by name; a clock that is not there counts
/// as none.
[[nodiscard]] PathReason why_failing(const TimingPath& path, std::span<const ClockReport> clocks,
                                     const CauseThresholds& much = {});

/// What the failing paths of a report have in common: causes with their clocks and how many, the most first, at most
/// `most` of them: "clocks (adc_clk to sys) 71, levels (sys) 67". Empty when none fails.
[[nodiscard]] std::string common_causes(const TimingReport& report, size_t most = 3);

/// Cells in series on the way of the data, pads left out.
[[nodiscard]] int levels_of(const TimingPath& path);

}  // namespace kp
