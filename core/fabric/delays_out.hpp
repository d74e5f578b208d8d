// SPDX-License-Identifier: GPL-3.0-or-later
// What places mean for time: the delays of wires and cells, as values and as SDF.
#pragma once

#include "core/fabric/placement.hpp"
#include "core/model/delays.hpp"

namespace kp::fabric {

/// What a part's fabric and a speed grade say of delays, all of the slow corner, ns.
struct WireModel {
    double base = 0, per_column = 0, per_row = 0, clock = 0, clock_skew = 0;
    double factor = 1;             ///< of the speed grade, on cells too
    double fast = 1, typical = 1;  ///< of min and typ, against max
};
/// Speed factor 1 for a code the part does not have.
[[nodiscard]] WireModel wire_model(const Part& part, const std::string& speed);

/// Delay of a wire between two places, slow corner, speed included.
[[nodiscard]] double wire_ns(const WireModel& model, const Spot& from, const Spot& to);

/// Every wire between cells by its length (wires of clock roots by the clock's numbers), every path through a cell by
/// its table, at an input transition of 0.1 ns and the load of its pins; min, typ and max, rounded to 0.1 ps.
void delays_of(const Netlist& netlist, const Library& library, const std::vector<Spot>& spots, const WireModel& model,
               DelaySink& out);
/// The same as SDF 3.0.
[[nodiscard]] std::string write_delays(const Netlist& netlist, const Library& library, const std::vector<Spot>& spots,
                                       const WireModel& model);

}  // namespace kp::fabric
