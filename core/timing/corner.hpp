// SPDX-License-Identifier: GPL-3.0-or-later
// One corner: a library, the members of an SDF, and the delays, checks and pulse limits they make of the graph.
#pragma once

#include "core/timing/graph.hpp"

#include <array>
#include <optional>
#include <unordered_map>

namespace kp::timing {

/// What library or SDF ask of the pulses at a clock pin, ns; 0: nothing.
struct PulseLimit {
    NodeId pin = 0;
    double width[2] = {0, 0};  ///< high, low
    double period = 0;
};

struct Corner {
    std::string name;
    std::vector<const LibraryCell*> cell_types;  ///< per type of the netlist
    int member[2] = {0, 2};                      ///< of triples, by side
    double factor[2] = {1, 1};                   ///< on all delays, by side

    Delays base;                                             ///< from SDF or tables, before set_timing_derate
    std::vector<std::uint8_t> given;                         ///< per arc, by SDF: bit side * 4 + in * 2 + out
    std::unordered_map<ArcId, std::array<double, 8>> added;  ///< INCREMENT onto delays of the tables, by the same bits
    std::vector<std::array<double, 2>> check_given;          ///< per check, by data edge; NaN: from the table
    std::vector<std::array<double, 2>> check;                ///< per check, by data edge, ns
    std::vector<PulseLimit> pulse_limits;
    std::optional<Delays> data, clock;  ///< with the factors of set_timing_derate, where there are any

    [[nodiscard]] const Delays& delays() const { return data ? *data : base; }
    [[nodiscard]] const Delays& clock_delays() const { return clock ? *clock : base; }
};

/// A corner with the library's limits and no delays yet. Errors: a cell of the netlist that this library lacks, or has
/// with other arcs than the first corner's.
[[nodiscard]] Result<Corner> start_corner(const Graph& graph, const Library& library, std::string name,
                                          const TimingOptions& options);

/// Takes SDF entries over into a corner: a sink for the reader. At most 20 messages for entries that fit nothing.
class Annotator : public DelaySink {
public:
    Annotator(const Graph& graph, Corner& corner, std::string file);
    void take(const DelayEntry& entry) override;
    /// After the last entry: what fitted nothing.
    [[nodiscard]] std::vector<Message> finish();

private:
    void miss(const DelayEntry& e, std::string text);
    [[nodiscard]] std::uint32_t find_cell(std::string_view instance);
    [[nodiscard]] NodeId find_node(std::string_view prefix, std::string_view name, bool drives);
    [[nodiscard]] NodeId pin_of(std::uint32_t cell, std::string_view name) const;
    void put(ArcId arc, int in, int out, const Triple& value, bool increment);
    void wire(const DelayEntry& e);
    void cell(const DelayEntry& e, std::uint32_t id);
    void path(const DelayEntry& e, std::uint32_t id);
    [[nodiscard]] bool is_left_out(const DelayEntry& e, std::uint32_t id) const;
    void paths_to(const DelayEntry& e, NodeId to, bool& found);
    void check(const DelayEntry& e, std::uint32_t id);
    void pulse(const DelayEntry& e, std::uint32_t id);

    const Graph& g_;
    Corner& c_;
    std::string file_, text_;
    size_t misses_ = 0;
    std::vector<Message> messages_;
    NameIndex cells_, ports_;
    std::vector<std::uint32_t> first_check_;  ///< per cell
    std::unordered_map<NodeId, size_t> limit_at_;
    std::string_view last_instance_;
    std::string last_text_;
    std::uint32_t last_cell_ = no_id;
};

using Slew = std::array<std::array<double, 2>, 2>;  ///< [side][edge], ns

/// Transitions that ideal clocks have at the clock pins of registers.
struct IdealSlews {
    std::vector<Slew> sets;
    std::vector<std::uint32_t> which;  ///< per node: position in `sets`, plus one; 0: what is calculated counts
};

/// Fills what SDF did not give from the tables, in the order of the graph: transitions spread, loads count. Then the
/// factors of set_timing_derate.
void calculate_delays(const Graph& graph, const Constraints& constraints, const IdealSlews& ideal, Corner& corner);

/// Transitions and loads as the tables see them, whatever SDF says of the delays.
struct Strengths {
    std::vector<Slew> transition;  ///< per node, ns
    std::vector<Slew> load;        ///< per net, pF, by side and edge
};
[[nodiscard]] Strengths strengths(const Graph& graph, const Constraints& constraints, const IdealSlews& ideal,
                                  const Corner& corner);

/// One message for each cell type with an arc that neither SDF nor tables give a delay; after the annotation.
[[nodiscard]] std::vector<Message> without_delay(const Graph& graph, const Corner& corner);

/// Delays of clocks and of data with the factors of set_timing_derate; checks too.
void apply_derates(const Graph& graph, const Constraints& constraints, Corner& corner);

}  // namespace kp::timing
