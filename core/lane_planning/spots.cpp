// SPDX-License-Identifier: GPL-3.0-or-later
// Each question by itself, so that the planner can ask them in its way and why_not() can say which one fails.
#include "core/lane_planning/spots.hpp"

#include "core/base/said.hpp"
#include "core/base/text.hpp"
#include "core/lane_planning/lanes.hpp"

#include <algorithm>

namespace kp {

namespace {

bool contains(const std::vector<std::string>& list, const std::string& what) {
    return std::find(list.begin(), list.end(), what) != list.end();
}

bool in_range(double value, const double (&range)[2]) {
    return value >= range[0] - 1e-9 && value <= range[1] + 1e-9;
}

}  // namespace

bool knows(const LaneBlock::Engine& engine, const LaneLink& i) {
    return contains(engine.protocols, i.protocol) &&
           std::find(engine.widths.begin(), engine.widths.end(), i.lanes) != engine.widths.end();
}

bool spot_fits(const LaneBlock& block, const LaneBlock::Engine& engine, size_t first, const LaneLink& i) {
    const auto width = static_cast<size_t>(i.lanes);
    if (first + width > block.lanes.size() || first % static_cast<size_t>(engine.align) != 0) return false;
    for (size_t l = first; l < first + width; ++l)
        if (!contains(engine.lanes, block.lanes[l].name) || !in_range(i.gbps, block.lanes[l].gbps)) return false;
    return true;
}

bool clock_fits(const LaneBlock& block, const LaneBlock::ReferenceClock& clock, size_t first, const LaneLink& i) {
    if (!in_range(i.clock_mhz, clock.mhz)) return false;
    for (size_t l = first; l < first + static_cast<size_t>(i.lanes); ++l)
        if (!contains(block.lanes[l].clocks, clock.name)) return false;
    return true;
}

int crossings_wanted(const LaneBlock::Engine& engine, const LaneLink& i) {
    const auto at = engine.crossings_per_lane.find(i.protocol);
    return (at == engine.crossings_per_lane.end() ? 1 : at->second) * i.lanes;
}

bool reaches_crossings(const LaneBlock& block, const LaneBlock::Engine& engine, int first, int count) {
    for (int c = first; c < first + count; ++c) {
        if (c < 0 || c >= block.crossings) return false;
        if (engine.crossings &&
            std::find(engine.crossings->begin(), engine.crossings->end(), c) == engine.crossings->end())
            return false;
    }
    return true;
}

std::vector<std::string> why_not(const LaneBlock& block, const LaneLink& i) {
    std::vector<std::string> out;
    for (const auto& e : block.engines) {
        std::string why;
        if (!contains(e.protocols, i.protocol))
            why = "does not know " + i.protocol;
        else if (!knows(e, i))
            why = "takes no link of " + counted(i.lanes, "lane");
        else {
            bool spot = false, clock = false;
            for (size_t l = 0; l < block.lanes.size(); ++l) {
                if (!spot_fits(block, e, l, i)) continue;
                spot = true;
                for (const auto& c : block.clocks) clock |= clock_fits(block, c, l, i);
            }
            if (!spot)
                why = said("has no {} side by side that run at {} Gbit/s", counted(i.lanes, "lane"), shortest(i.gbps));
            else if (!clock)
                why = said("has no reference clock of {} MHz that reaches those lanes", shortest(i.clock_mhz));
        }
        if (!why.empty()) out.push_back(said("Engine {} {}.", e.name, why));
    }
    return out;
}

}  // namespace kp
