// SPDX-License-Identifier: GPL-3.0-or-later
// Slacks at endpoints: register checks and output delays, for each tag that arrives and each clock that captures.
#pragma once

#include "core/timing/propagate.hpp"

#include <string>
#include <vector>

namespace kp::timing {

/// One comparison: an arriving tag and edge against one capture edge. slack = base - arrival (setup) or arrival - base (hold).
struct Seed {
    const char* check = "setup";
    bool setup = true;  ///< setup-like: late arrivals count
    NodeId node = 0;
    TagId tag = 0;
    int edge = rise;
    std::uint32_t capture = no_id;
    EdgePair edges;
    double base = 0;         ///< required time, counted from the launch edge
    double check_time = 0;   ///< library check, or output delay
    bool output_delay = false;
    double capture_latency = 0, uncertainty = 0, credit = 0;
    bool by_start = false;   ///< the credit depends on where the path starts, and is not in `base` yet
    NodeId clock_pin = no_id;
    std::uint32_t clock_entry = no_id;
    int pin_edge = rise, clock_edge = rise;
    std::string exception;
    double slack = 0;
};

struct CheckResult {
    std::vector<Seed> seeds;             ///< every comparison that counts
    std::vector<std::uint8_t> endpoint;  ///< per node: bit 0 is an endpoint, 1 setup-like checked, 2 hold-like checked, 3 taken out on purpose
    std::vector<Message> messages;
};

[[nodiscard]] CheckResult check_endpoints(Propagation& propagation, const TimingOptions& options);

}  // namespace kp::timing
