// SPDX-License-Identifier: GPL-3.0-or-later
// What a board wires to the pins of its FPGA.
#pragma once

#include "core/base/result.hpp"

#include <optional>
#include <string>
#include <unordered_map>
#include <vector>

namespace kp {

/// Seen from the board part: a terminal that drives gives a level to the FPGA, one that reads takes it from there.
enum class TerminalDirection { drives, reads, both, passive };
[[nodiscard]] const char* name_of(TerminalDirection direction);
[[nodiscard]] std::optional<TerminalDirection> terminal_direction_of(const std::string& word);

struct Terminal {
    std::string name;
    TerminalDirection direction = TerminalDirection::both;
    bool active_low = false;
    std::string standard;     ///< I/O standard this wire wants, may be empty
    bool open_drain = false;  ///< only pulls down, and so do all others on its wire
    int order = 0;            ///< as the hand sees it, from left
    std::string
        must;  ///< "drive": the FPGA has to drive it; "low", "high": it has to be held there when nobody uses it
    /// Levels where the part says other than its standard, V; 0: as the standard. `volts_max`: what it bears.
    double vih = 0, vil = 0, voh = 0, vol = 0, volts_max = 0;
    double current_ma = 0;     ///< a lamp or a coil takes it when on
    double forward_volts = 0;  ///< of a lamp
    /// Numbers of its data sheet against the clock at terminal `clock` (name in the same part), ns. Reads: setup and
    /// hold; drives: earliest and latest change after the edge.
    std::string clock;
    std::optional<double> setup_ns, hold_ns, out_min_ns, out_max_ns;
    std::optional<double> clock_mhz;       ///< of a clock that the part drives: its rate
    std::optional<double> clock_delay_ns;  ///< of a clock that the part takes: by how much it delays it inside
};

struct BoardPart {
    std::string ref, name, kind, label;
    std::string header_kind;  ///< of a header: which modules fit
    std::string module;       ///< header a module brought it to, empty for the board's own

    double x = 0, y = 0, w = 0, h = 0;  ///< mm from the upper left corner
    std::vector<Terminal> terminals;

    /// What it is called in a sentence behind its ref: its label or name, where one says more than that, else its kind.
    [[nodiscard]] const std::string& shown() const {
        const auto says_more = [this](const std::string& word) { return !word.empty() && word != ref; };
        return says_more(label) ? label : says_more(name) ? name : kind;
    }
};

/// One wire from an FPGA pin to a terminal.
struct BoardNet {
    std::string pin;
    std::string terminal;  ///< "REF.name"
    double trace_mm = 0;
    double series_ohm = 0;
    std::string pull;  ///< "up", "down" or empty
    double pull_ohm = 0;
    double capacitance_pf = 0;
    double parallel_ohm =
        0;  ///< resistor at the receiver that ends the line, across the pair or to the middle of the levels
};

/// A configuration pin held by the board.
struct Strap {
    std::string pin;
    int level = 0;
};

/// The layer a trace runs in, for its delay: trace_delay() in core/model/trace.hpp.
struct Stack {
    std::string kind;  ///< "microstrip" or "stripline"
    double relative_permittivity = 0, height_mm = 0, width_mm = 0, thickness_mm = 0;
};

struct Oscillator {
    std::string terminal;
    double mhz = 0, ppm = 0;
    double duty_percent[2] = {0, 0};  ///< least and most; 0 0: nobody said
    [[nodiscard]] bool knows_duty() const { return duty_percent[1] > 0; }
};

/// A plug-in module: parts of its own, wired to the terminals of a header by name.
struct BoardModule {
    std::string name, header_kind;  ///< fits headers of this kind
    std::vector<BoardPart> parts;
    std::vector<std::pair<std::string, std::string>> wires;  ///< header terminal → "REF.name"
};

struct Rail {
    std::string bank;
    double volts = 0;
};

struct Board {
    std::string name, revision, part, fpga;
    double width_mm = 0, height_mm = 0;
    std::vector<BoardPart> parts;
    std::vector<BoardNet> nets;
    std::vector<Rail> rails;
    std::vector<Oscillator> oscillators;
    std::vector<std::string> notes;  ///< to be read before power is switched on
    std::vector<Strap> straps;
    std::string mode;  ///< configuration mode the board is made for
    Stack stack;
    std::vector<std::string> fitted;  ///< "module@HEADER", in order

    /// A terminal with the part it belongs to and the net that wires it; pointers live as long as the board.
    struct Found {
        const BoardPart* part = nullptr;
        const Terminal* terminal = nullptr;
        const BoardNet* net = nullptr;
        explicit operator bool() const { return terminal != nullptr; }
    };
    /// Makes the look-ups below take no time that grows with the board. To be called again when parts or nets have
    /// changed.
    void index();
    [[nodiscard]] Found at_pin(const std::string& pin) const;
    [[nodiscard]] Found at_terminal(const std::string& ref_and_name) const;
    [[nodiscard]] std::optional<double> rail(const std::string& bank) const;
    [[nodiscard]] const Oscillator* oscillator_at_pin(const std::string& pin) const;

private:
    struct TerminalIndex {
        size_t part, terminal;
    };
    [[nodiscard]] Found found(TerminalIndex place, const BoardNet* net) const {
        return {&parts[place.part], &parts[place.part].terminals[place.terminal], net};
    }
    friend Status fit_module(Board& board, const BoardModule& module, const std::string& header);
    [[nodiscard]] bool indexed() const { return !terminal_index_.empty() && indexed_nets_ == nets.size(); }
    size_t indexed_nets_ = 0;  ///< nets added later are found all the same, only slower
    std::unordered_map<std::string, TerminalIndex> terminal_index_;  ///< "REF.name"
    std::unordered_map<std::string, size_t> net_of_pin_, net_of_terminal_;
};

/// Plugs a module into a header: its parts join the board as HEADER.ref, and the nets of the header go on to its
/// terminals. Errors (nothing is changed then): no such header, one of another kind, one that is taken, a wire to a
/// terminal that is not there.
[[nodiscard]] Status fit_module(Board& board, const BoardModule& module, const std::string& header);

}  // namespace kp
