// SPDX-License-Identifier: GPL-3.0-or-later
// What a placed design takes from its supplies: activity times capacitance times voltage squared times frequency, net
// by net, with every assumption beside the figure.
#pragma once

#include "core/builder/placement.hpp"

namespace kp::build {

struct PowerInput {
    std::map<std::uint32_t, double> clock_mhz;  ///< by clock net (behind its root)
    double core_volts = 1.1;                    ///< nom_voltage of the library
    std::map<std::string, double> pad_volts;    ///< by port; others 3.3
};

struct PowerReport {
    double total_w = 0, static_w = 0;
    std::vector<std::pair<std::string, double>> groups;  ///< clock, logic, wire, pad, memory, in W
    struct Assumed {
        std::string what, value, from;
    };
    std::vector<Assumed> assumed;
    std::string dominates;  ///< the largest group, and what would lower it
};

[[nodiscard]] PowerReport power_of(const Netlist& netlist, const Library& library, const Part& part,
                                   const std::vector<Spot>& spots, const PowerInput& input);

}  // namespace kp::build
