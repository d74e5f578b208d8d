// SPDX-License-Identifier: GPL-3.0-or-later
// What a placed design takes from its supplies: activity times capacitance times voltage squared times frequency, net
// by net, with every assumption beside the figure.
#pragma once

#include "core/fabric/placement.hpp"
#include "core/format/vcd/read.hpp"

namespace kp::fabric {

struct PowerInput {
    /// By net: MHz of the clock it carries, or that launches what it carries; 0 or shorter: not known, then the fastest
    /// of all counts.
    std::vector<double> net_mhz;
    double core_volts = 1.1;                   ///< nom_voltage of the library
    std::map<std::string, double> pad_volts;   ///< by port; others 3.3
    std::map<std::string, std::string> banks;  ///< by port: the bank that feeds its pad
    /// Changes of each net per microsecond, from a simulation; negative: not known. Empty: none is.
    std::vector<double> changes;
    std::string changes_from;  ///< the file they come from
};

/// Changes per microsecond of each net by a dump that names them as the netlist does (with '_' for blanks); -1 for nets
/// it does not name.
[[nodiscard]] std::vector<double> changes_of(const Netlist& netlist, const vcd::Dump& dump);

struct PowerReport {
    double total_w = 0, static_w = 0;
    std::vector<std::pair<std::string, double>> groups;  ///< clock, logic, wire, pad, memory, in W
    /// The same once more, W: what pads take by bank, and logic, wires and memories by the module whose cell drives
    /// them (an empty path is the top itself; clocks and pads belong to no module).
    std::map<std::string, double> banks, modules;
    struct Assumed {
        std::string what, value, from;
    };
    std::vector<Assumed> assumed;
    std::string dominates;  ///< the largest group, and what would lower it
};

[[nodiscard]] PowerReport power_of(const Netlist& netlist, const Library& library, const Part& part,
                                   const std::vector<Spot>& spots, const PowerInput& input);

}  // namespace kp::fabric
