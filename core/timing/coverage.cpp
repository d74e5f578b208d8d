// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/timing/coverage.hpp"

#include "core/format/sdc/text.hpp"

#include <algorithm>
#include <cmath>
#include <unordered_map>
#include <unordered_set>

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
    report.coverage.untimed.push_back(half_given(in, in.g.name(node), false, half));
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

/// For every node, what upstream keeps it from being timed: a port without an input delay, or a clock pin that no clock reaches;
/// no_id when all that leads to it has a clock. One pass in the order of the graph.
std::vector<NodeId> untimed_origins(const CoverInput& in) {
    const auto& g = in.g;
    std::vector<NodeId> origin(g.nodes, no_id);
    const auto half = halves(in, true);
    for (std::uint32_t i = 0; i < g.netlist->ports.size(); ++i)
        if (g.netlist->ports[i].direction != Direction::out && half[i] != 3 && in.clocks[g.input_node(i)].empty()) origin[g.input_node(i)] = g.input_node(i);
    for (const auto node : g.order)
        for (auto a = g.fanin_first[node]; a < g.fanin_last[node] && origin[node] == no_id; ++a) {
            if (g.cut(a)) continue;
            origin[node] = g.way[a] == Way::launch ? (in.clocks[g.from[a]].empty() ? g.from[a] : no_id) : origin[g.from[a]];
        }
    return origin;
}

/// Why an endpoint inside is not wholly timed, and what would mend it.
class EndReasons {
public:
    explicit EndReasons(const CoverInput& in) : in_(in), origin_(untimed_origins(in)), half_(halves(in, true)) {
        for (const auto& c : in.g.checks)
            if (!in.clocks[c.clock].empty()) clocked_.insert(c.data);
            else clock_pin_.emplace(c.data, c.clock);
    }

    [[nodiscard]] UntimedObject of(NodeId node) const {
        UntimedObject u;
        const auto& g = in_.g;
        u.object = g.name(node), u.endpoint = true;
        const auto done = in_.done[node];
        const std::string missing = done == setup_done ? "its hold side is not timed: " : done == hold_done ? "its setup side is not timed: " : "";
        const NodeId from = origin_[node];
        if (!g.is_port(node) && !clocked_.contains(node)) {
            const auto pin = clock_pin_.find(node);
            u.why = pin == clock_pin_.end() ? "nothing captures here" : "no clock reaches " + g.name(pin->second);
            u.suggest = "create_clock -name NAME -period NS [get_ports PORT]";
        } else if (from != no_id && g.is_port(from)) {
            const auto port = g.port_of(from);
            const auto cause = half_given(in_, g.netlist->ports[port].name, true, half_[port]);
            u.why = missing + "paths come from " + cause.object + ": " + cause.why, u.suggest = cause.suggest;
        } else if (from != no_id) {
            u.why = missing + "paths come from " + g.name(from) + ", which no clock reaches", u.suggest = "create_clock -name NAME -period NS [get_ports PORT]";
        } else if (g.fanin_first[node] == g.fanin_last[node]) {
            u.why = "nothing drives it", u.suggest = take_out(node);
        } else {
            u.why = missing + "no path with a clock leads here", u.suggest = take_out(node);
        }
        return u;
    }

private:
    [[nodiscard]] std::string take_out(NodeId node) const { return "set_false_path -to " + (in_.g.is_port(node) ? sdc::get_ports_word({in_.g.name(node)}) : "[get_pins " + sdc::quote(in_.g.name(node)) + "]"); }

    const CoverInput& in_;
    std::vector<NodeId> origin_;
    std::vector<std::uint8_t> half_;
    std::unordered_set<NodeId> clocked_;              ///< data pins that a clock captures
    std::unordered_map<NodeId, NodeId> clock_pin_;    ///< of the others, the clock pin
};

/// Which sides an endpoint has checks for; both at an output.
std::vector<std::uint8_t> sides_checked(const CoverInput& in) {
    std::vector<std::uint8_t> out(in.g.nodes, 0);
    for (const auto& c : in.g.checks)
        if (!c.off) out[c.data] |= c.setup_like ? setup_done : hold_done;
    for (NodeId node = 0; node < in.g.nodes; ++node)
        if (in.ends.endpoint[node] && (in.g.is_port(node) || out[node] == 0)) out[node] = setup_done | hold_done;
    return out;
}

}  // namespace

void cover(const CoverInput& in, TimingReport& report) {
    const auto& g = in.g;
    inputs(in, report);
    const auto half = halves(in, false);
    const auto asked = sides_checked(in);
    std::vector<NodeId> bare, unsaid;
    for (NodeId node = 0; node < g.nodes; ++node) {
        if (!in.ends.endpoint[node]) continue;
        ++report.coverage.endpoints;
        const bool on_purpose = in.ends.on_purpose[node], whole = (in.done[node] & asked[node]) == asked[node];
        if (whole || on_purpose) ++report.coverage.constrained;
        if (on_purpose && in.done[node] == 0) ++report.coverage.excluded;
        const auto before = report.coverage.untimed.size();
        if (g.is_port(node)) output(in, node, half[g.port_of(node)], report);
        if (!whole && !on_purpose && report.coverage.untimed.size() == before) unsaid.push_back(node);
        if (in.done[node] == 0 && !on_purpose) bare.push_back(node);
    }
    if (!bare.empty()) {
        const auto plain = plain_delays(g, in.delays);
        for (const auto node : bare)
            if (plain[node].start != no_id) report.unconstrained.push_back({g.name(plain[node].start), g.name(node), plain[node].longest, plain[node].shortest});
    }
    registers(in, report);
    if (!unsaid.empty() && !g.netlist->cells.empty()) {  // ports that are only planned have no paths to miss
        const EndReasons reasons(in);
        for (const auto node : unsaid) report.coverage.untimed.push_back(reasons.of(node));
    }
    std::sort(report.unconstrained.begin(), report.unconstrained.end(), [](const auto& a, const auto& b) { return a.max_delay > b.max_delay; });
}

}  // namespace kp::timing
