// SPDX-License-Identifier: GPL-3.0-or-later
// Static timing analysis with SDC semantics. Times in ns; slack is positive when met.
#pragma once

#include "core/model/constraints.hpp"
#include "core/model/delays.hpp"
#include "core/model/library.hpp"
#include "core/model/netlist.hpp"
#include "core/model/timing_report.hpp"

#include <stop_token>

namespace kp {

/// What an analysis looks at; all of it must outlive the call and is not changed.
struct TimingInput {
    const Netlist& netlist;
    const Library& library;
    const Constraints& constraints;
    const DelayFile* delays = nullptr;  ///< SDF; null: Liberty tables only
};

struct TimingOptions {
    int early_member = 0, late_member = 2;  ///< of SDF triples: 0 min, 1 typ, 2 max
    bool common_path_credit = true;
    bool propagated = false;  ///< all clocks, whatever the constraints say
    size_t paths = 20;        ///< worst paths overall
    size_t per_endpoint = 1;  ///< worst paths of each endpoint and check
    bool all_endpoints = true;
    bool clear_arcs = false;  ///< paths go on through clear and preset to outputs
    /// Arcs that may be looked at for TimingReport::other_starts; when the starts would need more, a message says so.
    size_t other_starts = 4'000'000;
    bool operator==(const TimingOptions&) const = default;
};

/// Runs one full analysis. Cells of the netlist must be in the library (read_netlist sees to that). Cancelled by
/// `stop`: the report is then incomplete and says so in its first message with code "cancelled".
[[nodiscard]] TimingReport analyse_timing(const TimingInput& input, const TimingOptions& options,
                                          std::stop_token stop = {});

}  // namespace kp
