// SPDX-License-Identifier: GPL-3.0-or-later
// What TimingEngine keeps from one update to the next. Only the engine's own files include this.
#pragma once

#include "core/timing/change.hpp"
#include "core/timing/engine.hpp"
#include "core/timing/paths.hpp"

#include <functional>

namespace kp {

namespace timing {
/// Transitions of ideal clocks at registers.
[[nodiscard]] IdealSlews ideal_slews(const Graph& g, const Constraints& k, const ClockSet& clocks,
                                     const std::vector<bool>& propagated);
}  // namespace timing

class TimingEngine::State {
public:
    /// The times of one corner.
    struct Run {
        timing::Corner corner;
        timing::ClockSet clocks;
        std::unique_ptr<timing::ClockTimes> clock_times;
        std::unique_ptr<timing::Sources> sources;
        std::vector<timing::Lanes> source, arrival, required;
        std::vector<timing::LatchWindow> windows;
        std::unique_ptr<timing::EndTimes> ends;
        std::map<timing::ArcId, timing::Lanes> without_pad;  ///< of wires behind pads with a delay: their own
    };

    State(const TimingInput& input, const TimingOptions& options, std::vector<TimingCorner> corners,
          const std::stop_token& stop);

    bool update(const std::stop_token& stop);
    void forget();
    void set_constraints(const Constraints& next);
    void set_pad_delays(const std::map<std::string, double>& ns);
    void set_delay(timing::ArcId arc, int side, int in, int out, double ns, size_t corner);
    void require();
    [[nodiscard]] TimingReport report(const std::stop_token& stop) const;
    [[nodiscard]] CheckSummary summary(size_t kind) const;
    [[nodiscard]] std::vector<TimingPath> paths(size_t overall, size_t per_endpoint, const std::stop_token& stop) const;
    [[nodiscard]] timing::Timed timed(const Run& run) const {
        return {view(run), k, ends, *run.ends, run.arrival, *run.sources, *run.clock_times, run.clocks};
    }
    [[nodiscard]] timing::View view(const Run& run) const {
        return {g, slots, run.corner.delays(), run.source, run.windows};
    }
    /// Where a group is worst.
    [[nodiscard]] size_t worst_run(std::uint32_t group) const;
    [[nodiscard]] double worst(std::uint32_t group) const { return runs[worst_run(group)].ends->worst[group]; }
    /// Not from several threads at once.
    [[nodiscard]] std::optional<timing::NodeId> node(const std::string& name, bool drives = false) const;

    Constraints k;
    TimingOptions options;
    timing::Graph g;
    std::vector<Run> runs;
    std::vector<Message> messages;  ///< of graph and delay files
    std::optional<Message> refused;
    std::vector<bool> propagated;
    std::unique_ptr<timing::Exceptions> exceptions;
    timing::Slots slots;
    timing::Ends ends;
    timing::Tally tally[timing::kinds];
    std::vector<std::uint32_t> ordinal;  ///< per group: its place in the tally of its kind
    Work work;
    double seconds_build = 0, seconds_update = 0;
    timing::ConstraintChange::Reach pending = timing::ConstraintChange::structure;

private:
    friend class TimingEngine;
    /// Per endpoint of `order` (worst slack and group), how many of its paths are among the worst of all.
    template <class Each>
    [[nodiscard]] std::vector<size_t> counts(const std::vector<std::pair<double, std::uint32_t>>& order, size_t overall,
                                             size_t per_endpoint, const Each& each) const;
    void add_corner(const TimingCorner& corner);
    void annotate(const TimingCorner& from, timing::Corner& corner);
    bool structure(const std::stop_token& stop);
    void delays(Run& run);
    void clocks(Run& run);
    void sources(Run& run);
    bool arrivals(const std::stop_token& stop);
    void make_ends();
    void end_times();
    void refresh(std::uint32_t group, Run& run);
    void by_start(const std::vector<std::uint32_t>& groups);
    void tally_all();
    void all_required(Run& run);
    bool follow(const std::stop_token& stop);
    void follow_clocks(Run& run);
    void follow_io(Run& run);
    void spread(Run& run);
    void reach_by_start();
    void spread_required(Run& run);
    void touch(timing::SlotId slot);
    void touch_group(std::uint32_t group);
    void touch_node(timing::NodeId node);
    void clear_touched();

    // What the next update has to follow, for each corner alike.
    bool any_by_start = false;
    bool delays_changed = true, clocks_changed = false, times_forgotten = false, required_wanted = false,
         values_pending = false;
    std::vector<std::uint32_t> io_changed;
    std::vector<timing::ArcId> launches_changed;
    std::vector<timing::SlotId> touched;       ///< arrivals to look at again
    std::vector<timing::SlotId> touched_back;  ///< required times to look at again
    std::vector<std::uint32_t> groups_touched;
    std::vector<bool> group_touched;
    std::map<std::string, double> pads;            ///< delays of pads as set
    mutable std::unique_ptr<NetlistIndex> index_;  ///< made when the first name is asked for
};

}  // namespace kp
