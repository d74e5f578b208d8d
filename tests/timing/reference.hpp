// SPDX-License-Identifier: GPL-3.0-or-later
// A second opinion on timing: walks every clock way and every data path of a small circuit one by one, and says the
// slack of each. It knows docs/timing.md and the readers' values, and nothing of the engine: no graph, no tags, no
// merged arrivals. Slow on purpose. Not here: latches, loops, ports in both directions.
#pragma once

#include "core/model/constraints.hpp"
#include "core/model/delays.hpp"
#include "core/model/library.hpp"

#include <map>
#include <set>
#include <string>
#include <vector>

namespace kp::test {

struct ReferenceOptions {
    int early_member = 0, late_member = 2;
    bool credit = true, all_propagated = false;
};

class Reference {
public:
    Reference(const Netlist& netlist, const Library& library, const Constraints& constraints, const DelayFile* delays,
              const ReferenceOptions& options);

    /// Per check ("setup", …, "pulse_width", "period") and endpoint: the slack of every path that is checked there,
    /// worst first.
    std::map<std::pair<std::string, std::string>, std::vector<double>> slacks;
    /// Per endpoint that nothing checks: longest and shortest delay from any start.
    std::map<std::string, std::pair<double, double>> unconstrained;
    /// False when the circuit has more paths than anybody wants to walk.
    bool whole = true;

private:
    using Edge = int;  // 0 rise, 1 fall
    struct Arc {
        int from = 0, to = 0, cell = -1;  ///< cell -1: a wire
        const LibraryArc* library = nullptr;
        bool launch = false, pass[2][2] = {{false, false}, {false, false}};
        double delay[2][2][2] = {};  ///< [side][in][out], before factors
        bool given[2][2][2] = {};
        double added[2][2][2] = {};
    };
    struct Check {
        int data = 0, clock = 0, cell = 0;
        const LibraryArc* library = nullptr;
        bool setup_like = true, asynchronous = false;
        Edge edge = 0;
        double value[2] = {0, 0};
        bool given[2] = {false, false}, off = false;
    };
    struct Place {
        int node = 0;  ///< below -1: a clock without a source
        Edge edge = 0;
        double time[2] = {0, 0};
        std::string stretch;  ///< clock sources passed up to here, this place included if it is one
    };
    /// A clock edge at an edge of a node, by the earliest and the latest of its ways.
    struct Way {
        int clock = 0;
        Edge clock_edge = 0, edge = 0;
        double time[2] = {0, 0};      ///< from the source on
        std::vector<Place> steps[2];  ///< by side; times from the source on
    };
    struct Source {
        double time[2][2] = {{0, 0}, {0, 0}};  ///< [clock edge][side]
        std::vector<Place> steps[2][2];        ///< [clock edge][side], up to the source
        int root[2] = {0, 0};                  ///< per clock edge: the clock whose source latency begins it
    };
    /// Where a path began.
    struct Launch {
        int clock = -1;
        Edge clock_edge = 0;
        int pin = 0;
        Edge pin_edge = 0;
        const Way* way = nullptr;     ///< of a register
        bool shares = true;           ///< the source latency is the clock's own
        double begin[2] = {0, 0};     ///< early, late, before the first arc of `nodes`
        bool side[2] = {true, true};  ///< there is an early (late) one
        bool as_clock = false;
    };
    struct Path {
        Launch launch;
        std::vector<std::pair<int, Edge>> nodes;
        double delay[2] = {0, 0};
        std::set<int> visited;
    };

    // Structure.
    void build();
    void annotate(const DelayFile& delays);
    void put(Arc& arc, const DelayEntry& entry);
    void fix();
    bool evaluate(int cell);
    [[nodiscard]] bool can_be(const std::string& when, int cell) const;
    void cut();
    void calculate();
    void checks();
    [[nodiscard]] double slew(int node, int side, Edge edge);
    [[nodiscard]] double load(int node, int side, Edge edge) const;
    [[nodiscard]] double delay(const Arc& arc, int side, Edge in, Edge out, bool clock) const;
    [[nodiscard]] double factor(bool net, int cell, int net_id, int side, Edge edge, bool clock, bool check) const;
    // Clocks.
    void clock_ways();
    void walk_clock(int clock, Edge clock_edge, std::vector<Place>& steps, double early, double late);
    void find_source(int clock);
    void generated_source(int clock, int master);
    [[nodiscard]] double ideal_network(int clock, Edge clock_edge, int side, int pin) const;
    [[nodiscard]] bool is_source(int node) const;
    [[nodiscard]] double latency(const Way& way, int side, bool source, bool network) const;
    [[nodiscard]] double port_latency(int clock, Edge edge, int side, bool source, bool network) const;
    [[nodiscard]] std::vector<Place> chain(const Way* way, int clock, Edge clock_edge, int side) const;
    [[nodiscard]] double credit(const std::vector<Place>& a, int root_a, const std::vector<Place>& b, int root_b) const;
    // Paths.
    void walk();
    void follow(Path& path, bool only_delay);
    void arrive(const Path& path);
    void plain(const Path& path);
    void compare(const Path& path, int capture_clock, Edge capture_edge, const Way* way, bool use_source,
                 bool use_network, double check, const char* name, bool setup, int uncertainty_pin);
    void compare_data(const Path& path);
    void pulses();
    [[nodiscard]] int weight(const PathException& e, const Path& path, int capture_clock, Edge capture_edge) const;
    [[nodiscard]] bool named(const PathException::Point& p, int node, int role) const;
    [[nodiscard]] double uncertainty(int launch, Edge launch_edge, int capture, Edge capture_edge, int pin,
                                     bool setup) const;

    [[nodiscard]] bool is_port(int node) const { return node >= static_cast<int>(n_.pins.size()); }
    [[nodiscard]] std::string name(int node) const;
    [[nodiscard]] int pin_of(int cell, const std::string& name) const;
    [[nodiscard]] int node_of(const ObjectRef& object) const;

    const Netlist& n_;
    const Library& library_;
    const Constraints& k_;
    ReferenceOptions options_;
    std::vector<Arc> arcs_;
    std::vector<std::vector<int>> leaving_, entering_;
    std::vector<Check> checks_;
    std::vector<int> value_;
    std::map<std::tuple<int, int, int>, double> slews_;
    std::vector<std::vector<Way>> ways_;  ///< per node
    std::vector<Source> sources_;
    std::vector<int> source_state_;
    std::vector<bool> propagated_;
    std::map<int, std::pair<double, double>> plain_;
    std::map<int, int> touched_;
    std::vector<Path> data_;  ///< paths that end at pins of data checks
    struct Pulse {
        double high = 0, low = 0, period = 0;
    };
    std::map<int, Pulse> pulse_;
    size_t paths_ = 0;
};

}  // namespace kp::test
