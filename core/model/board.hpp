// SPDX-License-Identifier: GPL-3.0-or-later
// What a board wires to the pins of its FPGA.
#pragma once

#include <optional>
#include <string>
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
    std::string standard;  ///< I/O standard this wire wants, may be empty
    int order = 0;         ///< as the hand sees it, from left
};

struct BoardPart {
    std::string ref, name, kind, label;
    double x = 0, y = 0, w = 0, h = 0;  ///< mm from the upper left corner
    std::vector<Terminal> terminals;
};

/// One wire from an FPGA pin to a terminal.
struct BoardNet {
    std::string pin;
    std::string terminal;  ///< "REF.name"
    double trace_mm = 0;
    double series_ohm = 0;
    std::string pull;  ///< "up", "down" or empty
    double pull_ohm = 0;
};

struct Oscillator {
    std::string terminal;
    double mhz = 0, ppm = 0;
    double duty_percent[2] = {40, 60};
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
    std::vector<std::string> notes;

    /// A terminal with the part it belongs to and the net that wires it; pointers live as long as the board.
    struct Found {
        const BoardPart* part = nullptr;
        const Terminal* terminal = nullptr;
        const BoardNet* net = nullptr;
        explicit operator bool() const { return terminal != nullptr; }
    };
    [[nodiscard]] Found at_pin(const std::string& pin) const;
    [[nodiscard]] Found at_terminal(const std::string& ref_and_name) const;
    [[nodiscard]] std::optional<double> rail(const std::string& bank) const;
    [[nodiscard]] const Oscillator* oscillator_at_pin(const std::string& pin) const;
};

}  // namespace kp
