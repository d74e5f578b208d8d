// SPDX-License-Identifier: GPL-3.0-or-later
// Why an endpoint has no check is found by walking back to the first cause; what stands before others is told, and
// those only counted.
#include "core/timing/coverage.hpp"

#include "core/base/text.hpp"
#include "core/model/sdc_words.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <bit>
#include <cmath>
#include <set>
#include <unordered_map>
#include <unordered_set>

namespace kp::timing {

namespace {

constexpr std::uint8_t setup_done = 1, hold_done = 2;

using ClockMask = std::uint64_t;
constexpr std::size_t most_masked = 64;  // clocks that are told apart; designs have ten

/// The clock and the edge an I/O delay should be against.
struct Reference {
    std::uint32_t clock = no_id;
    bool fall = false;
    bool several = false;  ///< other clocks capture or launch there too
};

/// For every node: which clock edges capture what leaves it, and which launch what arrives at it. Two passes over the
/// graph in its order; a bit per clock and edge, so a design with more clocks than fit gets no proposal for the rest.
class ClockReach {
public:
    explicit ClockReach(const CoverInput& in) : in_(in), ahead_(in.g.nodes), behind_(in.g.nodes) {
        const auto& g = in.g;
        for (const auto& c : g.checks)
            if (!c.off)
                for (const auto& at : in.clocks[c.clock]) mark(ahead_[c.data], at.clock, at.clock_edge(c.clock_edge));
        for (const auto& d : in.k.io_delays) {
            if (d.clock == no_id) continue;
            const auto edge = d.clock_fall ? fall : rise;
            if (d.input)
                mark(behind_[g.input_node(d.port)], d.clock, edge);
            else
                mark(ahead_[g.port_node(d.port)], d.clock, edge);
        }
        for (auto node = g.order.rbegin(); node != g.order.rend(); ++node)
            for (const auto a : g.leaving(*node))
                if (!g.cut(a) && g.way[a] != Way::launch) merge(ahead_[*node], ahead_[g.to[a]]);
        for (const auto node : g.order)
            for (auto a = g.fanin_first[node]; a < g.fanin_last[node]; ++a) {
                if (g.cut(a)) continue;
                if (g.way[a] != Way::launch)
                    merge(behind_[node], behind_[g.from[a]]);
                else
                    for (const auto& at : in.clocks[g.from[a]])
                        mark(behind_[node], at.clock, at.clock_edge(g.launch_edge(a)));
            }
    }
    /// All of them at a node: of what leaves it, or of what arrives there.
    [[nodiscard]] std::vector<PortClock> all(NodeId node, bool ahead) const {
        std::vector<PortClock> out;
        const auto& e = ahead ? ahead_[node] : behind_[node];
        for (ClockMask left = e.clock[rise] | e.clock[fall]; left != 0; left &= left - 1) {
            const auto clock = static_cast<std::uint32_t>(std::countr_zero(left));
            out.push_back({clock, (e.clock[rise] >> clock & 1) != 0, (e.clock[fall] >> clock & 1) != 0});
        }
        return out;
    }
    [[nodiscard]] Reference captures(NodeId node) const { return reference(ahead_[node]); }
    [[nodiscard]] Reference launches(NodeId node) const { return reference(behind_[node]); }

private:
    struct Edges {
        ClockMask clock[2] = {0, 0};
    };
    static void mark(Edges& e, std::uint32_t clock, int edge) {
        if (clock < most_masked) e.clock[edge] |= ClockMask{1} << clock;
    }
    static void merge(Edges& into, const Edges& from) {
        for (const int edge : {rise, fall}) into.clock[edge] |= from.clock[edge];
    }
    static Reference reference(const Edges& e) {
        const ClockMask both = e.clock[rise] | e.clock[fall];
        if (both == 0) return {};
        const auto first = static_cast<std::uint32_t>(std::countr_zero(both));
        return {first, (e.clock[rise] >> first & 1) == 0, (both & (both - 1)) != 0};
    }

    const CoverInput& in_;
    std::vector<Edges> ahead_, behind_;
};

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
            if (!seen[g.from[a]]) {
                seen[g.from[a]] = true;
                open.push_back(g.from[a]);
            }
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

/// The command that already gives one half of a port's delay; null when there is none.
const IoDelay* given_half(const CoverInput& in, std::uint32_t port, bool input) {
    for (const auto& d : in.k.io_delays)
        if (d.port == port && d.input == input) return &d;
    return nullptr;
}

/// No register and no clock pin lies on any way from or to this port: only other ports are at its other ends.
bool port_to_port(const CoverInput& in, std::uint32_t port, bool input) {
    const auto& g = in.g;
    const NodeId first = input ? g.input_node(port) : g.port_node(port);
    std::vector<NodeId> open{first};
    std::unordered_set<NodeId> seen{first};
    constexpr std::size_t far = 100'000;  // a cone of this size has registers
    std::unordered_set<NodeId> checked;
    if (input)
        for (const auto& c : g.checks) checked.insert(c.data);
    for (std::size_t i = 0; i < open.size(); ++i) {
        if (open.size() > far || (input && checked.contains(open[i]))) return false;
        const auto visit = [&](ArcId a, NodeId next) {
            if (g.cut(a)) return true;
            if (g.way[a] == Way::launch) return false;
            if (seen.insert(next).second) open.push_back(next);
            return true;
        };
        if (input) {
            for (const auto a : g.leaving(open[i]))
                if (!visit(a, g.to[a])) return false;
        } else {
            for (auto a = g.fanin_first[open[i]]; a < g.fanin_last[open[i]]; ++a)
                if (!visit(a, g.from[a])) return false;
        }
    }
    return true;
}

/// A missing delay: against the clock of the half that is given, else the one that really captures or launches there.
/// The number is the board's, and nobody said it yet.
UntimedObject half_given(const CoverInput& in, const ClockReach& reach, std::uint32_t port, bool input,
                         std::uint8_t half) {
    const auto& name = in.g.netlist->ports[port].name;
    const std::string what = input ? "input delay" : "output delay";
    UntimedObject u;
    u.object = name;
    u.port = true;
    u.why = half == 0 ? "no " + what : said("only {} of its {} is given", (half == 1 ? "-min" : "-max"), what);
    u.nothing_given = half == 0;
    auto against = input ? reach.captures(in.g.input_node(port)) : reach.launches(in.g.port_node(port));
    if (const auto* given = half == 0 ? nullptr : given_half(in, port, input))
        against = {given->clock, given->clock_fall, false};
    if (against.clock == no_id && !in.k.clocks.empty() && port_to_port(in, port, input)) {
        against.clock = 0;
        u.why += "; there are ports at both ends, so any clock that both know will do";
    }
    if (against.clock == no_id) {
        u.why += said("; no clock reaches {}, so a clock comes first", input ? "what it feeds" : "what drives it");
        return u;
    }
    u.clock = in.k.clocks[against.clock].name;
    u.clock_fall = against.fall;
    const std::string side = half == 1 ? " -max" : half == 2 ? " -min" : "";
    u.suggest = said("{} -clock {}{}{}{} {} {}", input ? "set_input_delay" : "set_output_delay", sdc::quote(u.clock),
                     (against.fall ? " -clock_fall" : ""), (half == 0 ? "" : " -add_delay"), side, number_wanted,
                     sdc::get_ports_word({name}));
    u.ask = what + " of " + name + " against " + u.clock +
            (side.empty() ? "" : "," + side.substr(0, 1) + side.substr(2)) + ", ns";
    if (against.several) u.why += said("; several clocks {} there, {} is one", input ? "capture" : "launch", u.clock);
    return u;
}

/// A clock that is missing at a clock pin: by which port it comes in, where that can be followed; nothing to write
/// otherwise.
UntimedObject no_clock_at(const CoverInput& in, NodeId pin, std::string why) {
    UntimedObject u;
    u.object = in.g.name(pin);
    u.why = std::move(why);
    const auto& g = in.g;
    std::unordered_set<NodeId> seen;
    for (NodeId at = pin; seen.insert(at).second;) {
        if (g.is_port(at)) {
            const auto& port = g.netlist->ports[g.port_of(at)].name;
            u.why += "; it comes from port " + port;
            u.suggest = said("create_clock -name {} -period {} {}", sdc::quote(port), number_wanted,
                             sdc::get_ports_word({port}));
            u.ask = said("period of {}, ns", port);
            u.clock_port = port;
            break;
        }
        const auto first = g.fanin_first[at];
        if (first == g.fanin_last[at]) break;
        if (g.way[first] == Way::launch) {
            // A register that is used as a clock. It turns at most at every edge that clocks it.
            const auto name = g.name(at), source = g.name(g.from[first]);
            u.why += said("; it comes from {}, a register, which makes at most half the frequency of its clock", name);
            u.suggest = said("create_generated_clock -name {} -source [get_pins {}] -divide_by 2 [get_pins {}]",
                             sdc::quote(name), sdc::quote(source), sdc::quote(name));
            break;
        }
        at = g.from[first];
    }
    return u;
}

void inputs(const CoverInput& in, const ClockReach& reach, TimingReport& report) {
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
        if (!in.g.leaving(node).empty() && leads[node])
            report.coverage.untimed.push_back(half_given(in, reach, i, true, half[i]));
    }
}

void output(const CoverInput& in, const ClockReach& reach, NodeId node, std::uint8_t half, TimingReport& report) {
    const auto done = in.done[node];
    if (half == 3) return;
    // Only one of the two: the other check is missing even where other ways to the port are taken out on purpose.
    if (half != 0 ? done == 0 : in.ends.on_purpose[node] || (done & setup_done)) return;
    if (in.g.fanin_first[node] == in.g.fanin_last[node]) return;
    report.coverage.untimed.push_back(half_given(in, reach, in.g.port_of(node), false, half));
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
        if (clocks.empty())
            report.coverage.untimed.push_back(no_clock_at(in, c.clock, "no clock reaches this register"));
        if (std::any_of(clocks.begin(), clocks.end(), [&](const ClockAt& o) { return o.clock != clocks[0].clock; }) &&
            several++ == 0)
            first = c.clock;
    }
    if (several == 0) return;
    std::vector<std::string> names;
    for (const auto& c : in.clocks[first]) names.push_back(in.k.clocks[c.clock].name);
    report.messages.push_back(
        {Severity::note, Code::several_clocks,
         said("{} reached by several clocks, such as {} by {}; each pair of them is timed. set_clock_groups says which "
              "never run together.",
              counted(several, "clock pin is", "clock pins are"), in.g.name(first), list_names(names, 5))});
}

/// For every node, what upstream keeps it from being timed: a port without an input delay, or a clock pin that no clock
/// reaches; no_id when all that leads to it has a clock. One pass in the order of the graph.
std::vector<NodeId> untimed_origins(const CoverInput& in) {
    const auto& g = in.g;
    std::vector<NodeId> origin(g.nodes, no_id);
    const auto half = halves(in, true);
    for (std::uint32_t i = 0; i < g.netlist->ports.size(); ++i)
        if (g.netlist->ports[i].direction != Direction::out && half[i] != 3 && in.clocks[g.input_node(i)].empty())
            origin[g.input_node(i)] = g.input_node(i);
    for (const auto node : g.order)
        for (auto a = g.fanin_first[node]; a < g.fanin_last[node] && origin[node] == no_id; ++a) {
            if (g.cut(a)) continue;
            origin[node] =
                g.way[a] == Way::launch ? (in.clocks[g.from[a]].empty() ? g.from[a] : no_id) : origin[g.from[a]];
        }
    return origin;
}

/// Why an endpoint inside is not wholly timed, and what would mend it.
class EndReasons {
public:
    EndReasons(const CoverInput& in, const ClockReach& reach)
        : in_(in), reach_(reach), origin_(untimed_origins(in)), half_(halves(in, true)) {
        for (const auto& c : in.g.checks)
            if (!in.clocks[c.clock].empty())
                clocked_.insert(c.data);
            else
                clock_pin_.emplace(c.data, c.clock);
    }

    [[nodiscard]] UntimedObject of(NodeId node) const {
        UntimedObject u;
        const auto& g = in_.g;
        u.object = g.name(node);
        u.endpoint = true;
        const auto done = in_.done[node];
        const std::string missing = done == setup_done  ? "its hold side is unconstrained: "
                                    : done == hold_done ? "its setup side is unconstrained: "
                                                        : "";
        const NodeId from = origin_[node];
        if (!g.is_port(node) && !clocked_.contains(node)) {
            const auto pin = clock_pin_.find(node);
            if (pin == clock_pin_.end()) {
                u.why = "nothing captures here";
                u.suggest = take_out(node);
            } else
                borrow(u, no_clock_at(in_, pin->second, "no clock reaches " + g.name(pin->second)), "");
        } else if (from != no_id && g.is_port(from)) {
            const auto port = g.port_of(from);
            borrow(u, half_given(in_, reach_, port, true, half_[port]),
                   said("{}paths come from {}: ", missing, g.netlist->ports[port].name));
            u.by_port = true;
        } else if (from != no_id) {
            borrow(u, no_clock_at(in_, from, said("paths come from {}, which no clock reaches", g.name(from))),
                   missing);
        } else if (g.fanin_first[node] == g.fanin_last[node]) {
            u.why = "nothing drives it";
            u.suggest = take_out(node);
        } else {
            u.cause = "no path with a clock leads here";
            u.why = missing + u.cause;
            u.suggest = take_out(node);
        }
        return u;
    }

private:
    /// The reason and the proposal of what stands before the end.
    static void borrow(UntimedObject& u, UntimedObject cause, const std::string& lead) {
        u.why = lead + cause.why;
        u.cause = std::move(cause.why);
        u.clock_port = std::move(cause.clock_port);
        u.clock_fall = cause.clock_fall;
        u.suggest = std::move(cause.suggest);
        u.ask = std::move(cause.ask);
        u.clock = std::move(cause.clock);
    }
    [[nodiscard]] std::string take_out(NodeId node) const {
        return "set_false_path -to " + (in_.g.is_port(node) ? sdc::get_ports_word({in_.g.name(node)})
                                                            : said("[get_pins {}]", sdc::quote(in_.g.name(node))));
    }

    const CoverInput& in_;
    const ClockReach& reach_;
    std::vector<NodeId> origin_;
    std::vector<std::uint8_t> half_;
    std::unordered_set<NodeId> clocked_;            ///< data pins that a clock captures
    std::unordered_map<NodeId, NodeId> clock_pin_;  ///< of the others, the clock pin
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

/// Data pins that their instances leave out altogether: they are not nodes, so their checks were never made.
void not_connected(const CoverInput& in, TimingReport& report) {
    const auto& g = in.g;
    const auto& n = *g.netlist;
    std::vector<std::vector<std::size_t>> checked(g.cell_types.size());  // per type: pins of its library cell
    for (std::size_t t = 0; t < checked.size(); ++t) {
        std::set<std::size_t> pins;
        for (const auto& arc : g.cell_types[t] ? g.cell_types[t]->arcs : std::vector<LibraryArc>{})
            if (arc.is_check()) pins.insert(arc.to);
        checked[t].assign(pins.begin(), pins.end());
    }
    for (std::uint32_t cell = 0; cell < n.cells.size(); ++cell) {
        const auto& c = n.cells[cell];
        for (const auto pin : checked[c.type]) {
            bool there = false;
            for (NodeId p = c.first_pin; p < c.first_pin + c.pin_count; ++p)
                there |= g.cell_pin(p) == static_cast<int>(pin);
            if (!there)
                report.coverage.left_out.push_back(
                    {n.cell_names[cell] + "/" + g.cell_types[c.type]->pins[pin].name, "it is not connected"});
        }
    }
}

/// Data and asynchronous pins whose every check has gone, each with what took it.
void left_out(const CoverInput& in, TimingReport& report) {
    const auto& g = in.g;
    const auto& n = *g.netlist;
    NodeId last = no_id;
    for (const auto& c : g.checks) {
        if (in.ends.endpoint[c.data] || c.data == last) continue;
        last = c.data;
        const auto net = n.pins[c.data].net;
        const auto level = g.fixed[c.data];
        const bool tied = net != no_id && (net == n.constant_net[0] || net == n.constant_net[1]);
        report.coverage.left_out.push_back(
            {g.name(c.data), net == no_id ? "it is not connected"
                             : tied       ? said("it is tied to {}", net == n.constant_net[1] ? 1 : 0)
                             : level == 0 || level == 1
                                 ? said("it stays at {} by constants or case analysis", level)
                                 : "its checks are switched off by set_disable_timing or by a condition"});
    }
}

/// What nothing constrains, from each start and not only from the worst: one pass for a start.
void other_starts(const CoverInput& in, const std::vector<NodeId>& bare, const std::vector<PlainDelay>& worst,
                  TimingReport& report) {
    const auto& g = in.g;
    auto leads = std::vector<bool>(g.nodes, false);
    for (const auto node : bare) leads[node] = true;
    leads = lead_somewhere(g, leads);
    auto starts = plain_starts(g);
    std::erase_if(starts, [&](NodeId start) { return !leads[start]; });
    if (starts.size() > in.other_starts / (g.from.size() + 1)) {
        report.other_starts_known = false;
        return;
    }
    for (const auto start : starts) {
        const auto from = plain_delays_from(g, in.delays, start);
        for (const auto node : bare)
            if (from[node].start != no_id && worst[node].start != start)
                report.other_starts.push_back({g.name(start), g.name(node), from[node].longest, from[node].shortest});
    }
    std::stable_sort(report.other_starts.begin(), report.other_starts.end(),
                     [](const auto& a, const auto& b) { return a.max_delay > b.max_delay; });
}

}  // namespace

void cover(const CoverInput& in, TimingReport& report) {
    const auto& g = in.g;
    const ClockReach reach(in);
    report.port_clocks.resize(g.netlist->ports.size());
    for (std::uint32_t i = 0; i < g.netlist->ports.size(); ++i)
        report.port_clocks[i] = {reach.all(g.input_node(i), true), reach.all(g.port_node(i), false)};
    inputs(in, reach, report);
    left_out(in, report);
    not_connected(in, report);
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
        if (g.is_port(node)) output(in, reach, node, half[g.port_of(node)], report);
        if (!whole && !on_purpose && report.coverage.untimed.size() == before) unsaid.push_back(node);
        if (in.done[node] == 0 && !on_purpose) bare.push_back(node);
    }
    if (!bare.empty()) {
        const auto plain = plain_delays(g, in.delays);
        for (const auto node : bare)
            if (plain[node].start != no_id)
                report.unconstrained.push_back(
                    {g.name(plain[node].start), g.name(node), plain[node].longest, plain[node].shortest});
        other_starts(in, bare, plain, report);
    }
    registers(in, report);
    if (!unsaid.empty() && !g.netlist->cells.empty()) {  // ports that are only planned have no paths to miss
        const EndReasons reasons(in, reach);
        for (const auto node : unsaid) report.coverage.untimed.push_back(reasons.of(node));
    }
    std::sort(report.unconstrained.begin(), report.unconstrained.end(),
              [](const auto& a, const auto& b) { return a.max_delay > b.max_delay; });
}

}  // namespace kp::timing
