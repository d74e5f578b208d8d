// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/pegs/plan_view.hpp"

#include <algorithm>

namespace kp::app {

PlanView::PlanView(const Session& s) {
    const auto& w = s.world();
    pins.resize(w.part.pins.size());
    ports.resize(w.netlist.ports.size());
    port_of.reserve(ports.size());
    for (const auto& net : w.board.nets)
        if (const auto at = w.part.by_name.find(net.pin); at != w.part.by_name.end()) pins[at->second].wired = true;
    for (size_t i = 0; i < ports.size(); ++i) {
        const auto& name = w.netlist.ports[i].name;
        port_of.emplace(name, static_cast<int>(i));
        if (const auto a = s.project().attributes.find(name); a != s.project().attributes.end())
            ports[i].standard = a->second.standard;
        const auto peg = s.project().pegs.find(name);
        if (peg == s.project().pegs.end()) {
            adrift.push_back(static_cast<int>(i));
            continue;
        }
        ports[i].pegged = true;
        ports[i].loose = peg->second.state == PegState::loose;
        if (const auto at = w.part.by_name.find(peg->second.pin); at != w.part.by_name.end()) {
            ports[i].pin = static_cast<int>(at->second);
            if (pins[at->second].port < 0) {
                pins[at->second].port = static_cast<int>(i);
                pins[at->second].loose = ports[i].loose;
            }
        }
    }
    for (const auto& f : s.findings()) {
        if (f.waived) continue;
        const int severity = static_cast<int>(f.severity);
        for (const auto& o : f.objects) {
            if (o.kind == "pin") {
                if (const auto at = w.part.by_name.find(o.name); at != w.part.by_name.end())
                    pins[at->second].severity = std::min(pins[at->second].severity, severity);
            } else if (o.kind == "port") {
                if (const auto at = port_of.find(o.name); at != port_of.end())
                    ports[static_cast<size_t>(at->second)].severity =
                        std::min(ports[static_cast<size_t>(at->second)].severity, severity);
            }
        }
    }
    const auto& index = s.analysis().timing_index();
    for (size_t i = 0; i < ports.size(); ++i) ports[i].slack = index.slack_of_port(w.netlist.ports[i].name).worst();
}

}  // namespace kp::app
