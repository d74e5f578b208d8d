// SPDX-License-Identifier: GPL-3.0-or-later
// Names are looked up once here; who draws has positions. Made anew for each state of the session.
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
    const auto position = [&](const Pin* pin) { return pin ? static_cast<int>(pin - w.part.pins.data()) : -1; };
    for (const auto* seat : s.plan().seats()) {
        if (seat->order == no_id) continue;
        const auto i = static_cast<int>(seat->order);
        auto& port = ports[seat->order];
        port_of.emplace(seat->name, i);
        port.standard = seat->chosen->standard;
        port.pegged = seat->peg != nullptr;
        if (!port.pegged) {
            adrift.push_back(i);
            continue;
        }
        port.loose = seat->peg->state == PegState::loose;
        port.pin = position(seat->pin);
        if (port.pin < 0 || pins[static_cast<size_t>(port.pin)].port >= 0) continue;
        pins[static_cast<size_t>(port.pin)].port = i;
        pins[static_cast<size_t>(port.pin)].loose = port.loose;
        pins[static_cast<size_t>(port.pin)].locked = seat->peg->wired;
    }
    for (const auto& f : s.findings()) {
        if (f.waived) continue;
        const int severity = static_cast<int>(f.severity);
        for (const auto& o : f.objects) {
            if (o.kind == Subject::pin) {
                if (const auto at = w.part.by_name.find(o.name); at != w.part.by_name.end())
                    pins[at->second].severity = std::min(pins[at->second].severity, severity);
            } else if (o.kind == Subject::port) {
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
