// SPDX-License-Identifier: GPL-3.0-or-later
// The outcome of a timing analysis, as values. All times in ns; slack is positive when met.
#pragma once

#include "core/base/result.hpp"

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

namespace kp {

struct CheckSummary {
    std::optional<double> wns;
    double tns = 0;
    int failing = 0, endpoints = 0;
};

struct EndpointSlack {
    std::string check, endpoint;
    bool rise = true;
    double slack = 0;
    std::string launch_clock, capture_clock;  ///< empty: none
    std::string corner;                       ///< where it is worst; empty when there is only one
};

/// What stands between a point of a path and the one before it. `source` begins the way of a clock.
enum class PointKind : std::uint8_t { source, launch, cell, wire, input_delay, output_delay, check };
/// "input_delay", as JSON has it.
[[nodiscard]] const char* word_of(PointKind kind);
/// Whether it ends a path and is part of what is required, rather than of what takes time.
[[nodiscard]] constexpr bool is_end(PointKind kind) {
    return kind == PointKind::check || kind == PointKind::output_delay;
}

struct PathPoint {
    std::string pin;
    bool rise = true;
    PointKind kind = PointKind::launch;
    double delay = 0, arrival = 0;
    std::string cell_type;  ///< for kind cell; empty otherwise
    bool pad = false;       ///< that cell connects to the outside of the part, as its library says
};

struct TimingPath {
    std::string check, startpoint, endpoint;
    double slack = 0;
    std::string launch_clock, capture_clock;
    double launch_edge = 0, capture_edge = 0;
    double arrival = 0, required = 0, credit = 0, uncertainty = 0;
    double check_time = 0;  ///< library check or output delay that counts
    std::string exception;  ///< empty: none
    std::string corner;     ///< empty when there is only one
    std::vector<PathPoint> points;
};

/// What stands at a point of a path beside its delay. Not known: NaN.
struct PointLoad {
    double transition = 0;   ///< ns; of the tables, also where SDF gave the delay
    double capacitance = 0;  ///< pF at a driver: pins and set_load
    int fan_out = 0;         ///< loads of a driver; 0 elsewhere
};

/// One path with all that can be told of it.
struct PathDetail {
    TimingPath path;
    std::vector<PointLoad> loads;  ///< by point of the path
    /// Ways of propagated clocks from the clock's source, times from the edge at the source; empty for ideal clocks.
    std::vector<PathPoint> launch_way, capture_way;
    size_t shared = 0;                               ///< leading points that both ways have
    double launch_latency = 0, capture_latency = 0;  ///< of the clocks at both ends, ns
};

struct UnconstrainedPath {
    std::string startpoint, endpoint;
    double max_delay = 0, min_delay = 0;
};

/// What is not timed, why, and the command that would mend it. A number that only the user knows stands in `suggest` as
/// `number_wanted`, and `ask` says in words what it is; such a line is not a command yet.
struct UntimedObject {
    std::string object, why, suggest;
    std::string ask;             ///< "output delay of y, max, ns"; empty: nothing is open
    std::string clock;           ///< the clock of the proposal
    bool clock_fall = false;     ///< its falling edge
    std::string clock_port;      ///< the port at which a clock is missing; empty: something else is
    std::string cause;           ///< the same words for all that one thing would mend; empty: `why`
    bool nothing_given = false;  ///< of a port: neither side of its delay
    bool port = false;
    bool by_port = false;   ///< an endpoint that only waits for the delay of a port, which is named by itself
    bool endpoint = false;  ///< the end of paths that what stands before it leaves untimed; otherwise a cause
};

inline constexpr const char* number_wanted = "<ns>";

/// An end of paths that has no check left: held at a level, not connected, or with its checks switched off.
struct LeftOut {
    std::string object, why;
};

struct Coverage {
    int endpoints = 0, constrained = 0;
    int excluded = 0;  ///< of the constrained: taken out on purpose (false path, clock groups)
    std::vector<UntimedObject> untimed;
    std::vector<LeftOut> left_out;  ///< not among `endpoints`
};

struct ClockReport {
    std::string name;
    double period = 0;
    std::vector<double> waveform;
    bool generated = false;
    std::vector<std::string> sources;
    std::optional<double> fmax_mhz;
    int registers = 0;
};

/// One corner by itself.
struct CornerReport {
    std::string name;
    CheckSummary setup, hold, recovery, removal;
};

/// Which clocks take what comes in by a port, or launch what leaves by it, and at which of their edges.
struct PortClock {
    std::uint32_t clock = 0;  ///< position in Constraints::clocks
    bool rise = false, fall = false;
};
struct PortClocks {
    std::vector<PortClock> captures, launches;
};

struct TimingReport {
    CheckSummary setup, hold, recovery, removal, pulse_width, period;
    std::vector<CornerReport> corners;  ///< empty when there is only one
    std::vector<ClockReport> clocks;
    std::vector<EndpointSlack> endpoints;
    std::vector<TimingPath> paths;
    std::vector<UnconstrainedPath> unconstrained;  ///< each end that has no check, with its worst start
    std::vector<UnconstrainedPath> other_starts;   ///< the same ends with each of their other starts, longest first
    bool other_starts_known = true;                ///< false: there are too many starts to follow each
    Coverage coverage;
    std::vector<PortClocks> port_clocks;  ///< by position in the netlist's ports
    std::vector<Message> messages;
    double seconds_build = 0, seconds_update = 0, seconds_report = 0;
    size_t arcs = 0;
};

}  // namespace kp
