// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/timing/coverage.hpp"

#include "core/format/sdc/text.hpp"

#include <algorithm>
#include <cmath>
#include <set>

namespace kp::timing {

namespace {

constexpr std::uint8_t is_endpoint = 1, setup_done = 2, hold_done = 4, on_purpose = 8;

/// The clock an I/O delay would most likely be against: the only one, or the first that has registers.
std::string likely_clock(const Constraints& c) { return c.clocks.empty() ? "CLOCK" : c.clocks.front().name; }

std::string delay_line(const char* command, const Constraints& c, const std::string& port, const std::string& value, const char* side) {
    return std::string(command) + " -clock " + sdc::quote(likely_clock(c)) + side + " " + value + " " + sdc::get_ports_word({port});
}

/// A start proposal: a quarter of the period for the outside world; the user replaces it by the board's numbers.
std::string quarter(const Constraints& c) {
    if (c.clocks.empty()) return "0";
    const double ns = std::round(c.clocks.front().period * 250.0) / 1000.0;
    char text[32];
    std::snprintf(text, sizeof text, "%g", ns);
    return text;
}

/// True when a path from this node ends at a check or at an output port; the unused half of a pair goes nowhere.
bool leads_somewhere(const Graph& g, const std::vector<std::uint8_t>& endpoint, NodeId from) {
    std::set<NodeId> seen{from};
    std::vector<NodeId> open{from};
    while (!open.empty()) {
        const NodeId node = open.back();
        open.pop_back();
        if (endpoint[node] & is_endpoint) return true;
        for (auto i = g.fanout_start[node]; i < g.fanout_start[node + 1]; ++i)
            if (const auto to = g.arcs[g.fanout[i]].to; seen.insert(to).second) open.push_back(to);
    }
    return false;
}

void inputs(Propagation& p, const CheckResult& checks, const std::vector<bool>& port_excluded, TimingReport& report) {
    const auto& ports = p.g.netlist->ports;
    for (std::uint32_t i = 0; i < ports.size(); ++i) {
        const NodeId node = p.g.input_node(i);
        if (ports[i].direction == Direction::out || !p.clocks_at[node].empty() || port_excluded[i]) continue;
        if (p.g.fanout_start[node] == p.g.fanout_start[node + 1]) continue;
        bool min = false, max = false;
        for (const auto& d : p.constraints.io_delays)
            if (d.input && d.port == i) min |= d.early, max |= d.late;
        if (min && max) continue;
        if (!leads_somewhere(p.g, checks.endpoint, node)) continue;
        const char* why = !min && !max ? "no input delay" : min ? "only -min of its input delay is given" : "only -max of its input delay is given";
        report.coverage.untimed.push_back({ports[i].name, why, delay_line("set_input_delay", p.constraints, ports[i].name, !min && !max ? quarter(p.constraints) : "0", min ? " -max" : max ? " -min" : ""), true});
    }
}

void output(Propagation& p, std::uint32_t i, std::uint8_t state, TimingReport& report) {
    const auto& port = p.g.netlist->ports[i];
    bool min = false, max = false;
    for (const auto& d : p.constraints.io_delays)
        if (!d.input && d.port == i) min |= d.early, max |= d.late;
    if (min && max) return;
    // Only one of the two: the other check is missing even where other ways to the port are taken out on purpose.
    if (min != max ? !(state & (setup_done | hold_done)) : (state & on_purpose) || (state & setup_done)) return;
    if (p.at[p.g.port_node(i)].empty() && p.g.fanin_start[p.g.port_node(i)] == p.g.fanin_start[p.g.port_node(i) + 1]) return;
    const char* why = !min && !max ? "no output delay" : min ? "only -min of its output delay is given" : "only -max of its output delay is given";
    report.coverage.untimed.push_back({port.name, why, delay_line("set_output_delay", p.constraints, port.name, !min && !max ? quarter(p.constraints) : "0", min ? " -max" : max ? " -min" : ""), true});
}

}  // namespace

void cover(Propagation& p, const CheckResult& checks, TimingReport& report) {
    const auto& g = p.g;
    const auto& ports = g.netlist->ports;
    const auto plain = plain_delays(g);
    // A port whose every path is taken out on purpose needs no delay: it is named as the start of a false path.
    std::vector<bool> excluded(ports.size(), false);
    for (const auto& e : p.constraints.exceptions)
        if (e.from && e.setup && e.hold && e.kind == PathException::false_path && !e.to && e.through.empty())
            for (const auto& o : e.from->objects)
                if (o.kind == ObjectKind::port) excluded[o.id] = true;
    inputs(p, checks, excluded, report);
    std::set<NodeId> no_clock;
    for (NodeId node = 0; node < g.nodes; ++node) {
        const auto state = checks.endpoint[node];
        if (!(state & is_endpoint)) continue;
        ++report.coverage.endpoints;
        const bool timed = (state & setup_done) && (state & hold_done);
        if (timed || (state & on_purpose)) ++report.coverage.constrained;
        if (!timed && (state & on_purpose) && !(state & (setup_done | hold_done))) ++report.coverage.excluded;
        if (g.is_port(node)) output(p, g.port_of(node), state, report);
        const bool half = (state & setup_done) || (state & hold_done);
        if (!half && !(state & on_purpose) && plain[node].start != no_id) report.unconstrained.push_back({g.name(plain[node].start), g.name(node), plain[node].longest, plain[node].shortest});
    }
    for (const auto& c : g.checks)
        if (p.clocks_at[c.clock].empty() && no_clock.insert(c.clock).second)
            report.coverage.untimed.push_back({g.name(c.clock), "no clock reaches this register", "create_clock -name NAME -period NS [get_ports PORT]", false});
    std::sort(report.unconstrained.begin(), report.unconstrained.end(), [](const auto& a, const auto& b) { return a.max_delay > b.max_delay; });
}

}  // namespace kp::timing
