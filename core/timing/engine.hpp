// SPDX-License-Identifier: GPL-3.0-or-later
// Static timing analysis that is kept: it follows changes of delays and constraints and computes again only what they
// reach, with the same bits as a run from the start.
#pragma once

#include "core/timing/analyse.hpp"

#include <functional>
#include <map>
#include <memory>
#include <optional>

namespace kp {

/// One corner of an analysis. All that it points to is only read while the engine takes it in, but the library, which
/// stays.
struct TimingCorner {
    std::string name;
    const Library* library = nullptr;   ///< null: the library of the input
    const DelayFile* delays = nullptr;  ///< null: tables only, unless `read` gives more
    /// Hands SDF entries to the sink as they are read, so that no file stands in memory; its messages come with the
    /// others.
    std::function<std::vector<Message>(DelaySink&)> read;
    std::string file;  ///< name of what `read` reads, for messages
    int early_member = 0, late_member = 2;
    double early_factor = 1, late_factor = 1;  ///< on all delays of cells and wires, beside set_timing_derate
};

/// Which check of which arrivals a question is about.
enum class CheckKind : std::uint8_t { setup, hold, recovery, removal };

class TimingEngine {
public:
    /// Builds the graph; times nothing yet. Netlist and libraries outlive the engine, constraints are copied. Without
    /// corners there is one, from the delays of the input and the members of the options. Asked to stop, it refuses
    /// with code "cancelled" and is of no use any more.
    TimingEngine(const TimingInput& input, const TimingOptions& options, std::vector<TimingCorner> corners = {},
                 const std::stop_token& stop = {});
    ~TimingEngine();
    TimingEngine(const TimingEngine&) = delete;
    TimingEngine& operator=(const TimingEngine&) = delete;

    /// A corner that could not be taken in; the engine then does nothing.
    [[nodiscard]] const std::optional<Message>& refused() const;

    // What changes. Nothing is computed before update().
    void set_constraints(const Constraints& constraints);
    [[nodiscard]] const Constraints& constraints() const;
    /// Position of the arc between two pins or ports, by their names as reports write them; none when there is none.
    [[nodiscard]] std::optional<std::uint32_t> arc(const std::string& from, const std::string& to) const;
    /// All arcs that leave or enter a pin or port.
    [[nodiscard]] std::vector<std::uint32_t> arcs_at(const std::string& pin) const;
    [[nodiscard]] size_t arcs() const;
    /// ns, in one corner, for one pair of edges (true: rise); NaN when the pair does not pass.
    [[nodiscard]] double delay(std::uint32_t arc, bool late, bool in_rise, bool out_rise, size_t corner = 0) const;
    void set_delay(std::uint32_t arc, bool late, bool in_rise, bool out_rise, double ns, size_t corner = 0);

    /// What the delay lines of input pads add to the wires behind them, ns, by port; a port that is not named has none.
    /// Ports that the design does not have are passed over.
    void set_pad_delays(const std::map<std::string, double>& ns);

    /// Follows all changes since the last time. False when cancelled: what was computed is then thrown away, and the
    /// next update starts anew.
    bool update(std::stop_token stop = {});
    /// Throws away what was computed, so that the next update starts anew (for comparison and measurement).
    void forget();
    /// As forget, but only the times (arrivals, slacks, required times if asked for): what arrives where and what is
    /// compared with what stays.
    void forget_times();

    // What came out; all corners together unless one is named.
    [[nodiscard]] CheckSummary summary(CheckKind kind) const;
    [[nodiscard]] std::optional<double> slack(CheckKind kind, const std::string& endpoint) const;
    /// Arrival and slack at a pin or port, the worst of all that arrive there; slack over setup-like (late) or
    /// hold-like checks behind it.
    [[nodiscard]] std::optional<double> arrival(const std::string& pin, bool late, bool rise, size_t corner = 0) const;
    [[nodiscard]] std::optional<double> pin_slack(const std::string& pin, bool late, size_t corner = 0);
    /// Computes all required times, and keeps them up to date from then on.
    void require();
    /// All arrivals, required times (after require()) and slacks of endpoints, as one number: equal for equal bits.
    [[nodiscard]] std::uint64_t fingerprint() const;
    [[nodiscard]] std::vector<TimingPath> worst_paths(size_t overall, size_t per_endpoint,
                                                      std::stop_token stop = {}) const;

    /// The worst paths of one endpoint and check, where it is worst, whatever the report lists; `corner` names another
    /// one. Empty when there is no such check.
    [[nodiscard]] std::vector<PathDetail> paths_to(const std::string& check, const std::string& endpoint, size_t most,
                                                   const std::string& corner = {}) const;
    /// The longest way between a start and an endpoint that nothing constrains.
    [[nodiscard]] std::optional<PathDetail> free_path(const std::string& from, const std::string& to) const;
    /// The way of a clock to a clock pin: both edges of a pulse, for width and period.
    [[nodiscard]] std::optional<PathDetail> clock_path(const std::string& clock, const std::string& pin) const;

    /// Times with other constraints, asks, and puts everything back; the same graph all along. False when cancelled:
    /// nothing may have been asked, the constraints are back, and the next update starts anew.
    bool what_if(const Constraints& other, const std::function<void(const TimingEngine&)>& ask,
                 std::stop_token stop = {});

    [[nodiscard]] TimingReport report(std::stop_token stop = {}) const;

    /// What the last update did.
    struct Work {
        bool structure = false, ends = false;
        size_t slots = 0, recomputed = 0, endpoints = 0;
    };
    [[nodiscard]] const Work& work() const;

    /// The graph that arrivals are computed on, for comparison with other programs: vertices, those where paths begin,
    /// and for each edge its ends and its longest late delay, ns.
    struct DelayEdges {
        size_t vertices = 0;
        std::vector<std::uint32_t> begin, from, to;
        std::vector<double> longest;
    };
    [[nodiscard]] DelayEdges delay_edges() const;

    class State;  ///< engine_state.hpp

private:
    std::unique_ptr<State> s_;
};

}  // namespace kp
