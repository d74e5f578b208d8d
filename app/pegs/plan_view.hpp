// SPDX-License-Identifier: GPL-3.0-or-later
// The plan by positions instead of names, made once for each state of the session, so that drawing looks nothing up.
#pragma once

#include "core/session/session.hpp"

#include <optional>
#include <string>
#include <unordered_map>
#include <vector>

namespace kp::app {

struct PlanView {
    struct PinState {
        int port = -1;  ///< position in Netlist::ports of the (first) port pegged here
        bool loose = false, wired = false;
        bool locked = false;  ///< the peg is wired: nothing takes the pin unasked
        int severity = 3;     ///< of the worst open finding that names it; 3: none
    };
    struct PortState {
        int pin = -1;  ///< position in Part::pins; -1: adrift, or the part has no such pin
        bool pegged = false, loose = false;
        int severity = 3;
        std::string standard;
        std::optional<double> slack;  ///< the worse of setup and hold, ns
    };
    std::vector<PinState> pins;
    std::vector<PortState> ports;
    std::vector<int> adrift;
    std::unordered_map<std::string, int> port_of;  ///< name → position

    explicit PlanView(const Session& session);
    PlanView() = default;
};

}  // namespace kp::app
