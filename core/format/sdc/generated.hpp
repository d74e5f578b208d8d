// SPDX-License-Identifier: GPL-3.0-or-later
// Clocks made from other clocks: whose they are, and when they rise and fall.
#pragma once

#include "core/model/constraints.hpp"
#include "core/model/library.hpp"

#include <string>
#include <vector>

namespace kp::sdc {

/// What create_generated_clock asks for. Lists are empty where the option was not given.
struct GeneratedForm {
    std::vector<double> divide, multiply, duty;
    std::vector<double> edges;  ///< three edge numbers of the master, from 1 on
    std::vector<double> shift;  ///< ns, one for each of the edges
    bool invert = false;
};

/// Period and waveform of a generated clock. Dividing by 2, 4, 8 … toggles at the master's rising edges, other factors
/// scale its waveform (docs/timing.md, section 2); a division and a multiplication together mean their ratio. Gives one
/// sentence when the form makes no sense, and then leaves `out` as it was.
[[nodiscard]] std::string derive_clock(const ClockDefinition& master, const GeneratedForm& form, ClockDefinition& out);

/// Finds clocks upstream of a place in the netlist.
class ClockTracer {
public:
    ClockTracer(const Netlist& netlist, const Library& library) : n_(netlist), library_(library) {}
    /// The clocks that arrive at a pin or port, followed upwards through cells without state until clocks are met.
    [[nodiscard]] std::vector<std::uint32_t> clocks_at(ObjectRef from, const std::vector<ClockDefinition>& clocks);
    /// Nets replaced by the pins or ports that drive them; nets that nothing drives are left out.
    [[nodiscard]] ObjectSet driven(ObjectSet objects);

private:
    void find_drivers();
    const Netlist& n_;
    const Library& library_;
    std::vector<ObjectRef> drivers_;  ///< of each net; made when first asked
};

}  // namespace kp::sdc
