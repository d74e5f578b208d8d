// SPDX-License-Identifier: GPL-3.0-or-later
// Random small designs with everything the timing engine knows: clock trees with inverters, gates, multiplexers and
// dividers, registers of both edges with and without clear, tables, conditional arcs, SDF of all kinds, and every SDC
// command. Invented numbers.
#pragma once

#include "core/model/constraints.hpp"
#include "core/model/delays.hpp"
#include "core/model/library.hpp"

#include <memory>
#include <random>
#include <string>

namespace kp::test {

struct Scenario {
    std::string verilog, sdc, sdf;  ///< sdf may be empty
    Library library;
    Netlist netlist;
    Constraints constraints;
    DelayFile delays;
    std::unique_ptr<NetlistIndex> index;

    explicit Scenario(unsigned seed);
    [[nodiscard]] std::string text() const { return verilog + "\n" + sdc + "\n" + sdf; }
    [[nodiscard]] Constraints read(const std::string& text) const;
    /// One more random line for the constraints.
    [[nodiscard]] std::string line();

private:
    [[nodiscard]] size_t below(size_t n) { return random_() % n; }
    [[nodiscard]] bool chance(int percent) { return static_cast<int>(random_() % 100) < percent; }
    /// ns with an odd last digit, so that ties do not happen by themselves.
    [[nodiscard]] std::string number(double low, double high);
    [[nodiscard]] std::string triple(double low, double high);
    void clocks();
    void gates();
    void registers();
    void make_sdf();
    void make_sdc();
    [[nodiscard]] std::string place(char port, const char* pin);
    [[nodiscard]] std::string start();
    [[nodiscard]] std::string end();
    [[nodiscard]] std::string through();
    [[nodiscard]] std::string clock();
    [[nodiscard]] std::string exception();
    [[nodiscard]] std::string io();

    std::mt19937 random_;
    std::vector<std::string> clock_nets_, nets_, clock_names_, cells_, pins_, register_names_, gate_outputs_;
    std::string divider_, cells_text_;
};

extern const char* const rich_cells;

}  // namespace kp::test
