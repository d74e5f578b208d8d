// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/timing/coverage.hpp"

#include "core/format/sdc/text.hpp"

#include <algorithm>
#include <cmath>

namespace kp::timing {

namespace {

constexpr std::uint8_t setup_done = 1, hold_done = 2;

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

/// Per node: a path from it ends at a check or at an output port; the unused half of a pair goes nowhere.
std::vector<bool> lead_somewhere(const Graph& g, const std::vector<bool>& endpoint) {
    std::vector<bool> seen = endpoint;
    std::vector<NodeId> open;
    for (NodeId i = 0; i < g.nodes; ++i)
        if (seen[i]) open.push_back(i);
    while (!open.empty()) {
        const NodeId node = open.back();
        open.pop_back();
        for (auto a = g.fanin_first[node]; a < g.fanin_last[node]; ++a)
            if (!seen[g.from[a]]) seen[g.from[a]] = true, open.push_back(g.from[a]);
    }
    return seen;
}

/// Which halves of their delays ports have: bit 0 -min, bit 1 -max.
std::vector<std::uint8_t> halves(const CoverInput& in, bool input) {
    std::vector<std::uint8_t> out(in.g.netlist->ports.size(), 0);
    for (const auto& d : in.k.io_delays)
        if (d.input == input) out[d.port] |= static_cast<std::uint8_t>((d.early ? 1 : 0) | (d.late ? 2 : 0));
    return out;
}

UntimedObject half_given(const CoverInput& in, const std::string& port, bool input, std::uint8_t half) {
    const std::string what = input ? "input delay" : "output delay";
    const std::string why = half == 0 ? "no " + what : std::string("only ") + (half == 1 ? "-min" : "-max") + " of its " + what + " is given";
    return {port, why, delay_line(input ? "set_input_delay" : "set_output_delay", in.k, port, half == 0 ? quarter(in.k) : "0", half == 1 ? " -max" : half == 2 ? " -min" : ""), true};
}

void inputs(const CoverInput& in, TimingReport& report) {
    const auto& ports = in.g.netlist->ports;
    // A port whose every path is taken out on purpose needs no delay: it is named as the start of a false path.
    std::vector<bool> excluded(ports.size(), false);
    for (const auto& e : in.k.exceptions)
        if (e.from && e.setup && e.hold && e.kind == PathException::false_path && !e.to && e.through.empty())
            for (const auto& o : e.from->objects)
                if (o.kind == ObjectKind::port) excluded[o.id] = true;
    const auto half = halves(in, true);
    const auto leads = lead_somewhere(in.g, in.ends.endpoint);
    for (std::uint32_t i = 0; i < ports.size(); ++i) {
        const NodeId node = in.g.input_node(i);
        if (ports[i].direction == Direction::out || !in.clocks[node].empty() || excluded[i] || half[i] == 3) continue;
        if (!in.g.leaving(node).empty() && leads[node]) report.coverage.untimed.push_back(half_given(in, ports[i].name, true, half[i]));
    }
}

void output(const CoverInput& in, NodeId node, std::uint8_t half, TimingReport& report) {
    const auto done = in.done[node];
    if (half == 3) return;
    // Only one of the two: the other check is missing even where other ways to the port are taken out on purpose.
    if (half != 0 ? done == 0 : in.ends.on_purpose[node] || (done & setup_done)) return;
    if (in.g.fanin_first[node] == in.g.fanin_last[node]) return;
    report.coverage.untimed.push_back(half_given(in, in.g.netlist->ports[in.g.port_of(node)].name, false, half));
}

/// Registers without a clock, and how many have several.
void registers(const CoverInput& in, TimingReport& report) {
    std::vector<bool> told(in.g.nodes, false);
    size_t several = 0;
    NodeId first = no_id;
    for (const auto& c : in.g.checks) {
        if (told[c.clock]) continue;
        told[c.clock] = true;
        const auto& clocks = in.clocks[c.clock];
        if (clocks.empty()) report.coverage.untimed.push_back({in.g.name(c.clock), "no clock reaches this register", "create_clock -name NAME -period NS [get_ports PORT]", false});
        if (std::any_of(clocks.begin(), clocks.end(), [&](const ClockAt& o) { return o.clock != clocks[0].clock; }) && several++ == 0) first = c.clock;
    }
    if (several == 0) return;
    std::string names;
    for (const auto& c : in.clocks[first]) names += (names.empty() ? "" : ", ") + in.k.clocks[c.clock].name;
    report.messages.push_back({Severity::note, "several-clocks", std::to_string(several) + (several == 1 ? " clock pin is" : " clock pins are") + " reached by several clocks, such as " + in.g.name(first) + " by " + names + "; each pair of them is timed. set_clock_groups says which never run together.", "", 0, 0});
}

}  // namespace

void cover(const CoverInput& in, TimingReport& report) {
    const auto& g = in.g;
    inputs(in, report);
    const auto half = halves(in, false);
    std::vector<NodeId> bare;
    for (NodeId node = 0; node < g.nodes; ++node) {
        if (!in.ends.endpoint[node]) continue;
        ++report.coverage.endpoints;
        const bool on_purpose = in.ends.on_purpose[node];
        if (in.done[node] == (setup_done | hold_done) || on_purpose) ++report.coverage.constrained;
        if (on_purpose && in.done[node] == 0) ++report.coverage.excluded;
        if (g.is_port(node)) output(in, node, half[g.port_of(node)], report);
        if (in.done[node] == 0 && !on_purpose) bare.push_back(node);
    }
    if (!bare.empty()) {
        const auto plain = plain_delays(g, in.delays);
        for (const auto node : bare)
            if (plain[node].start != no_id) report.unconstrained.push_back({g.name(plain[node].start), g.name(node), plain[node].longest, plain[node].shortest});
    }
    registers(in, report);
    std::sort(report.unconstrained.begin(), report.unconstrained.end(), [](const auto& a, const auto& b) { return a.max_delay > b.max_delay; });
}

}  // namespace kp::timing
