// SPDX-License-Identifier: GPL-3.0-or-later
// Where paths end: register checks, output delays and data checks, each with every tag that arrives and every clock
// that captures. First what is compared with what, then, for each corner, the numbers.
#pragma once

#include "core/timing/times.hpp"

#include <optional>
#include <string>
#include <vector>

namespace kp::timing {

enum class Kind : std::uint8_t { setup, hold, recovery, removal };
constexpr int kinds = 4;
[[nodiscard]] const char* name_of(Kind kind);
[[nodiscard]] constexpr bool setup_like(Kind kind) {
    return kind == Kind::setup || kind == Kind::recovery;
}

/// What captures at an endpoint.
struct Capture {
    Kind kind = Kind::setup;
    std::uint8_t clock_edge = rise;  ///< of the clock
    std::uint8_t pin_edge = rise;    ///< at the clock pin
    std::uint8_t edges = 3;          ///< data edges it counts for, a bit each
    bool use_source = true, use_network = true;
    enum From : std::uint8_t { library, output_delay, bare, data } from = library;
    std::uint8_t against_edge = rise;
    NodeId node = 0;
    NodeId clock_pin = no_id;  ///< no_id: a port, or data
    std::uint32_t clock = no_id;
    std::uint32_t clock_entry = no_id;  ///< in the list of clocks at `clock_pin`
    std::uint32_t item = 0;             ///< position among the checks, the I/O delays or the data checks
    SlotId against = 0;                 ///< of a data check: the other data
};

/// How a launching edge and a capture stand to each other.
struct Relation {
    EdgePair edges;
    double separation = 0, uncertainty = 0;
    std::uint32_t launch = no_id, capture = no_id;  ///< clocks
    std::uint8_t launch_edge = rise, capture_edge = rise;
    bool setup = true;
    bool shares = false;    ///< common-path credit is asked for
    std::string exception;  ///< empty: none
};

/// One arriving lane against one capture.
struct Comparison {
    SlotId slot = 0;
    std::uint32_t capture = 0;
    std::uint32_t relation = no_id;  ///< no_id: a data check
    std::uint8_t edge = rise;
};

/// All comparisons of one kind at one node: what reports call an endpoint.
struct Group {
    NodeId node = 0;
    Kind kind = Kind::setup;
    bool by_start = false;  ///< credit depends on where the path starts, so the worst slack is that of the worst path
    std::uint32_t first = 0, last = 0;  ///< comparisons
};

struct Ends {
    std::vector<Capture> captures;
    std::vector<Relation> relations;
    std::vector<Comparison> comparisons;
    std::vector<Group> groups;               ///< by node
    std::vector<std::uint32_t> group_at;     ///< per node: its first group; no_id: none
    std::vector<std::uint32_t> data_groups;  ///< groups with data checks: they depend on other arrivals too
    std::vector<bool> endpoint, on_purpose;  ///< per node: paths should end here; some are taken out on purpose
    std::vector<Message> messages;
};

/// What the comparisons are made from; all corners have the same, only their times differ.
struct EndInput {
    const Graph& g;
    const Constraints& k;
    const Slots& slots;
    const ClockSet& clocks;
    const std::vector<bool>& propagated;        ///< per clock
    const std::vector<const Corner*>& corners;  ///< edges that no corner checks are not compared
    const std::vector<const std::vector<Lanes>*>&
        arrivals;  ///< per corner: lanes that nothing reaches are not compared
    bool credit = true;
};

[[nodiscard]] Ends make_ends(const EndInput& input, Exceptions& exceptions);

/// The numbers of one corner at the ends.
class EndTimes {
public:
    EndTimes(const Graph& g, const Constraints& k, const Slots& slots, const Ends& ends, const Corner& corner,
             const ClockSet& clocks, const ClockTimes& times, bool credit)
        : g_(g),
          k_(k),
          slots_(slots),
          ends_(ends),
          corner_(corner),
          clocks_(clocks),
          times_(times),
          credit_on_(credit) {}

    /// Credit of each relation whose two clocks are ideal; for the others it depends on the start of the path.
    void prepare();
    /// Limits and slacks of one group from what arrives. By-start groups get their slack without credit.
    void refresh(std::uint32_t group, const std::vector<Lanes>& arrival);
    void refresh_limit(std::uint32_t comparison, const std::vector<Lanes>& arrival);

    /// What a lane may be at most: slack = limit - lane.
    [[nodiscard]] double limit(std::uint32_t comparison) const { return limit_[comparison]; }
    [[nodiscard]] double slack(std::uint32_t comparison, const std::vector<Lanes>& arrival) const {
        const auto& c = ends_.comparisons[comparison];
        return limit_[comparison] - arrival[c.slot].v[lane(c)];
    }
    [[nodiscard]] int lane(const Comparison& c) const {
        return lane_of(setup_like(ends_.captures[c.capture].kind) ? late : early, c.edge);
    }
    /// The tightest limits of what ends in a slot.
    [[nodiscard]] Lanes limits_of(SlotId slot) const;
    /// The same for all slots at once, into lanes that nothing limits yet.
    void put_limits(std::vector<Lanes>& required) const;
    [[nodiscard]] double check_time(const Comparison& c) const;
    [[nodiscard]] double capture_latency(const Comparison& c, const std::vector<Lanes>& arrival) const;
    [[nodiscard]] double credit(const Comparison& c) const { return c.relation == no_id ? 0 : credit_[c.relation]; }
    /// The credit of this comparison depends on the start of the path.
    [[nodiscard]] bool by_start(const Comparison& c) const { return c.relation != no_id && by_start_[c.relation]; }

    std::vector<double> worst;            ///< per group: its worst slack; +inf when nothing arrives
    std::vector<std::uint32_t> worst_of;  ///< per group: the comparison it belongs to

private:
    const Graph& g_;
    const Constraints& k_;
    const Slots& slots_;
    const Ends& ends_;
    const Corner& corner_;
    const ClockSet& clocks_;
    const ClockTimes& times_;
    bool credit_on_;
    std::vector<double> limit_, credit_;
    std::vector<bool> by_start_;
};

/// Worst slack, sum and number of the negative ones over many, kept up to date: a tree of fixed shape, so that the sum
/// has the same bits however it came about.
class Tally {
public:
    struct Sum {
        double worst = free_lane, negative = 0;
        std::uint32_t failing = 0, count = 0;
    };
    void resize(size_t leaves);
    /// +inf: not there.
    void set(size_t leaf, double slack, bool now = true);
    /// After many set(…, false).
    void build();
    [[nodiscard]] const Sum& all() const { return sums_[1]; }

private:
    static Sum together(const Sum& a, const Sum& b) {
        return {std::min(a.worst, b.worst), a.negative + b.negative, a.failing + b.failing, a.count + b.count};
    }
    size_t leaves_ = 1;
    std::vector<Sum> sums_ = std::vector<Sum>(2);
};

}  // namespace kp::timing
