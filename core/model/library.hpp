// SPDX-License-Identifier: GPL-3.0-or-later
// A cell library: what Liberty says of each cell, in ns and pF.
#pragma once

#include "core/model/boolean.hpp"
#include "core/model/netlist.hpp"

#include <algorithm>
#include <string>
#include <unordered_map>
#include <vector>

namespace kp {

/// A table over one or two axes. For delays: input transition (ns) by output load (pF); for checks: transition of the
/// constrained pin by transition of the related pin. A scalar has one value and no axes.
struct TimingTable {
    std::vector<double> first, second;
    std::vector<double> values;  ///< row by row: first.size() rows

    [[nodiscard]] bool empty() const { return values.empty(); }
    /// Bilinear interpolation, linear extrapolation beyond the ends.
    [[nodiscard]] double at(double x, double y) const;
};

enum class ArcKind : std::uint8_t {
    combinational,
    rising_edge,
    falling_edge,
    setup_rising,
    setup_falling,
    hold_rising,
    hold_falling,
    recovery_rising,
    recovery_falling,
    removal_rising,
    removal_falling,
    clear,
    preset,
    enable,
    disable,
    pulse_width
};
enum class Sense : std::uint8_t { positive, negative, non_unate, unknown };

struct LibraryArc {
    std::uint32_t from = 0, to = 0;  ///< positions in the cell's pins; `to` carries the timing group
    ArcKind kind = ArcKind::combinational;
    Sense sense = Sense::unknown;
    std::string when, sdf_cond;
    TimingTable delay[2], transition[2];  ///< output rise, output fall
    TimingTable constraint[2];            ///< data rise, data fall
    [[nodiscard]] bool is_check() const { return kind >= ArcKind::setup_rising && kind <= ArcKind::removal_falling; }
    [[nodiscard]] bool is_delay() const {
        return kind == ArcKind::combinational || kind == ArcKind::rising_edge || kind == ArcKind::falling_edge;
    }
};

struct LibraryPin {
    std::string name;
    Direction direction = Direction::in;
    bool clock = false;
    bool is_pad = false;  ///< what it connects lies outside of the part
    double capacitance = 0, rise_capacitance = -1, fall_capacitance = -1;  ///< pF; negative: not given
    BooleanFunction function, three_state;
    double min_pulse[2] = {0, 0}, min_period = 0;  ///< of a clock pin: high, low, ns; 0: not given
    std::string divide_parameter;  ///< of an output of a PLL: parameter with the divider behind the oscillator
    /// Load for an edge: 0 rise, 1 fall.
    [[nodiscard]] double load(int edge) const {
        const double own = edge == 0 ? rise_capacitance : fall_capacitance;
        return own >= 0 ? own : capacitance;
    }
};

/// One port of a memory: the bus (or pin) with its data, and that with its address, highest bit first.
struct MemoryPort {
    bool write = false;
    std::string data, address;
    BooleanFunction clocked_on, enable;  ///< of a write: taken at the rise of `clocked_on` while `enable` is 1
};

struct LibraryCell {
    std::string name;
    std::vector<LibraryPin> pins;
    std::vector<LibraryArc> arcs;
    struct Bus {
        std::string name;
        std::vector<std::string> bits;  ///< pins, the first written one first
    };
    std::vector<Bus> buses;      ///< pins under one name, by bus or bundle groups
    bool flip_flop = false;      ///< has state: an ff group or a latch group
    bool latch = false;          ///< then `clocked_on` is its enable and `next_state` its data
    std::string state, state_n;  ///< the two variables of the ff group
    BooleanFunction clocked_on, next_state, clear, preset;
    /// What both variables are while clear and preset are active together, as Liberty's clear_preset_var1 and 2 have
    /// it: 'L' 0, 'H' 1, 'N' unchanged, 'T' turned over, 'X' unknown (the default).
    char both_state = 'X', both_state_n = 'X';
    std::string resource;  ///< what of the part it takes, such as "pll"; empty: a logic cell, a register or a pad
    std::string divide_parameter, multiply_parameter;  ///< of a PLL: parameters before the detector and in the loop
    std::string truth_table_parameter;    ///< parameter with the truth table of a look-up cell; empty for others
    std::string initial_value_parameter;  ///< parameter with the state after configuration; empty: there is none
    std::string initial_value;            ///< "0" or "1": that state where the parameter is absent; empty: x
    std::vector<MemoryPort> memory;       ///< memory_read and memory_write groups
    std::int64_t memory_bits = 0;         ///< by its memory group; 0: not said
    bool guessed = false;  ///< from delays alone: the order of `pins` and what the cell computes are not known
    int line = 0;

    /// Whether one of its pins lies outside of the part.
    [[nodiscard]] bool is_pad() const {
        return std::any_of(pins.begin(), pins.end(), [](const LibraryPin& p) { return p.is_pad; });
    }
    [[nodiscard]] int pin(const std::string& name) const;       ///< -1 when there is none
    [[nodiscard]] const Bus* bus(std::string_view name) const;  ///< null when there is none
};

struct Library {
    std::string name, file;
    std::vector<LibraryCell> cells;
    std::unordered_map<std::string, size_t> by_name;

    [[nodiscard]] const LibraryCell* cell(const std::string& name) const;
    /// Adds the cells of another library; a cell that is there already stays.
    void merge(const Library& other);
    /// Lets cells of the library that ships be found by their former names too (former_names.hpp).
    void name_former();
};

}  // namespace kp
