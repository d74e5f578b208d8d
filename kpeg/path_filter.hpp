// SPDX-License-Identifier: GPL-3.0-or-later
// Which paths and endpoints `kpeg time` lists: --from, --to, --through, --check, --clock.
#pragma once

#include "core/model/timing_report.hpp"
#include "kpeg/arguments.hpp"

#include <string>
#include <vector>

namespace kpeg {

struct PathFilter {
    std::string from, to, check, clock;  ///< names with * and ?; empty: any. `clock` launches or captures
    std::vector<std::string> through;    ///< each on the way, in this order
    [[nodiscard]] bool empty() const {
        return from.empty() && to.empty() && check.empty() && clock.empty() && through.empty();
    }
    /// Several paths of one endpoint may have to be looked at for one that fits.
    [[nodiscard]] bool looks_inside() const { return !from.empty() || !through.empty(); }
    void add_options(Command& command);
    /// Leaves the endpoints and paths that fit, at most `paths` and `per_endpoint` of the latter. A note in the
    /// messages says when more might exist than were searched.
    void apply(kp::TimingReport& report, std::size_t paths, std::size_t per_endpoint, std::size_t searched) const;
};

/// How many paths are searched for a filter.
inline constexpr std::size_t most_searched = 200'000, searched_per_endpoint = 200;

}  // namespace kpeg
