// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/timing/checks.hpp"

#include "core/base/text.hpp"

#include <algorithm>
#include <cmath>
#include <set>

namespace kp::timing {

namespace {

constexpr std::uint8_t is_endpoint = 1, setup_done = 2, hold_done = 4, on_purpose = 8;

/// What captures at an endpoint.
struct Capture {
    const char* check = "setup";
    bool setup = true;
    NodeId node = 0;
    NodeId clock_pin = no_id;  ///< no_id: an output port
    std::uint32_t clock = no_id;
    int clock_edge = rise;
    std::uint32_t clock_entry = no_id;  ///< in the list of clocks at `clock_pin`
    int pin_edge = rise;       ///< edge at the clock pin
    double value[2] = {0, 0};  ///< check time by data edge; for outputs the delay (max, or minus min)
    bool value_for[2] = {true, true};
    bool output = false;
    bool use_source = true, use_network = true;
};

class Checker {
public:
    Checker(Propagation& p, const TimingOptions& options) : p_(p), options_(options) { out_.endpoint.assign(p.g.nodes, 0); }

    CheckResult run() {
        for (const auto& c : p_.g.checks) registers(c);
        outputs();
        for (const auto& c : p_.constraints.data_checks) between_data(c);
        return std::move(out_);
    }

private:
    void registers(const Check& c) {
        const auto net = p_.g.netlist->pins[c.data].net;
        const auto& n = *p_.g.netlist;
        const bool constant = net == n.constant_net[0] || net == n.constant_net[1] || p_.g.fixed[c.data] == 0 || p_.g.fixed[c.data] == 1;
        if (net == no_id || constant || c.off) return;
        out_.endpoint[c.data] |= is_endpoint;
        for (std::uint32_t i = 0; i < p_.clocks_at[c.clock].size(); ++i) {
            const auto& clock = p_.clocks_at[c.clock][i];
            if (!std::isfinite(clock.time[late][c.clock_edge])) continue;
            Capture k;
            k.clock_entry = i, k.pin_edge = c.clock_edge;
            k.check = c.asynchronous ? (c.setup_like ? "recovery" : "removal") : c.setup_like ? "setup" : "hold";
            k.setup = c.setup_like, k.node = c.data, k.clock_pin = c.clock, k.clock = clock.clock;
            k.clock_edge = clock.inverted ? 1 - c.clock_edge : c.clock_edge;
            k.value[rise] = c.value[rise], k.value[fall] = c.value[fall];
            capture(k);
        }
    }

    /// One data pin against another, in the same cycle: setup asks `to` to be there `value` before the earliest of `from`, hold to
    /// stay until `value` after its latest.
    void between_data(const DataCheck& c) {
        const auto node_of = [&](const ObjectRef& o) { return o.kind == ObjectKind::port ? p_.g.port_node(o.id) : static_cast<NodeId>(o.id); };
        for (const auto& to : c.to.objects)
            for (const auto& from : c.from.objects)
                for (const bool setup : {true, false})
                    if (setup ? c.setup : c.hold) pair(c, node_of(from), node_of(to), setup);
    }
    void pair(const DataCheck& c, NodeId from, NodeId to, bool setup) {
        out_.endpoint[to] |= is_endpoint;
        for (const auto& mine : p_.at[to])
            for (const auto& other : p_.at[from]) {
                const auto &a = p_.tags[mine.tag], &b = p_.tags[other.tag];
                if (a.clock == no_id || a.clock != b.clock || a.clock_edge != b.clock_edge || (c.clock != no_id && c.clock != a.clock)) continue;
                for (const int e : {rise, fall})
                    for (const int f : {rise, fall}) {
                        const double arrival = mine.time[setup ? late : early][e], against = other.time[setup ? early : late][f];
                        if (!(e == rise ? c.to.rise : c.to.fall) || !(f == rise ? c.from.rise : c.from.fall) || !std::isfinite(arrival) || !std::isfinite(against)) continue;
                        Seed s;
                        s.check = setup ? "setup" : "hold", s.setup = setup, s.node = to, s.tag = mine.tag, s.edge = e, s.capture = a.clock;
                        const auto& definition = p_.constraints.clocks[a.clock];
                        s.edges.launch = s.edges.capture = definition.waveform[static_cast<size_t>(a.clock_edge)];
                        s.check_time = c.value;
                        s.capture_latency = against;
                        s.base = setup ? against - c.value : against + c.value;
                        s.slack = setup ? s.base - arrival : arrival - s.base;
                        out_.endpoint[to] |= setup ? setup_done : hold_done;
                        out_.seeds.push_back(std::move(s));
                    }
            }
    }

    void outputs() {
        const auto& ports = p_.g.netlist->ports;
        for (std::uint32_t i = 0; i < ports.size(); ++i) {
            if (ports[i].direction == Direction::in) continue;
            const NodeId node = p_.g.port_node(i);
            out_.endpoint[node] |= is_endpoint;
            bool any = false;
            for (const auto& d : p_.constraints.io_delays) {
                if (d.input || d.port != i) continue;
                any = true;
                for (const bool setup : {true, false}) {
                    if (!(setup ? d.late : d.early)) continue;
                    Capture k;
                    k.check = setup ? "setup" : "hold";
                    k.setup = setup, k.node = node, k.clock = d.clock, k.clock_edge = d.clock_fall ? fall : rise;
                    k.output = true;
                    k.value[rise] = k.value[fall] = setup ? d.value : -d.value;
                    k.value_for[rise] = d.rise, k.value_for[fall] = d.fall;
                    k.use_source = !d.source_latency_included, k.use_network = !d.network_latency_included;
                    capture(k);
                }
            }
            if (any) continue;
            // Without an output delay only set_max_delay and set_min_delay can hold a port.
            for (const bool setup : {true, false}) {
                Capture k;
                k.check = setup ? "setup" : "hold";
                k.setup = setup, k.node = node, k.output = true;
                capture(k);
            }
        }
    }

    void capture(const Capture& k) {
        for (size_t i = 0; i < p_.at[k.node].size(); ++i) {
            const Arrival a = p_.at[k.node][i];
            for (const int edge : {rise, fall}) {
                const double time = a.time[k.setup ? late : early][edge];
                if (std::isfinite(time) && k.value_for[edge]) compare(k, a.tag, edge, time);
            }
        }
    }

    void compare(const Capture& k, TagId tag_id, int edge, double arrival) {
        const Tag tag = p_.tags[tag_id];
        const auto verdict = p_.exceptions.judge({tag.state, tag.clock, k.clock, tag.clock_edge, k.clock_edge, k.node, edge, k.setup});
        if (verdict.is_false) {
            out_.endpoint[k.node] |= on_purpose;
            return;
        }
        const bool both_clocks = tag.clock != no_id && k.clock != no_id;
        if (!verdict.bound && !both_clocks) return;  // nothing relates the two ends
        Seed s;
        s.check = k.check, s.setup = k.setup, s.node = k.node, s.tag = tag_id, s.edge = edge, s.capture = k.clock;
        s.check_time = k.value[edge], s.output_delay = k.output && k.clock != no_id;
        if (both_clocks) s.edges = edges(tag, k, verdict, s.exception);
        double separation = s.edges.capture - s.edges.launch;
        if (verdict.bound) {
            separation = verdict.bound->value;
            s.exception = verdict.bound->kind == PathException::max_delay ? "max_delay" : "min_delay";
        }
        if (k.clock != no_id) {
            const NodeId pin = k.clock_pin == no_id ? k.node : k.clock_pin;
            const auto latency = k.clock_entry != no_id ? p_.times.at_pin(p_.clocks_at[k.clock_pin][k.clock_entry], k.clock_pin, k.pin_edge) : p_.times.at_port(k.clock, k.clock_edge, k.node);
            const int side = k.setup ? early : late;
            s.capture_latency = (k.use_source ? latency.source[side] : 0) + (k.use_network ? latency.network[side] : 0);
            const ObjectRef end = p_.g.is_port(k.node) ? ObjectRef{ObjectKind::port, p_.g.port_of(k.node)} : ObjectRef{ObjectKind::pin, pin};
            s.uncertainty = uncertainty(p_.constraints, tag.clock, k.clock, end, k.setup);
            if (options_.common_path_credit && tag.clock != no_id && k.use_source) {
                s.clock_pin = k.clock_pin, s.clock_entry = k.clock_entry, s.pin_edge = k.pin_edge, s.clock_edge = k.clock_edge;
                // With ideal clocks only sources differ, the same for every start of the tag; else each start has its own credit.
                const double by_source = shared_credit(p_.times.way_to_port(tag.clock, tag.clock_edge), p_.times.way_to_port(k.clock, k.clock_edge));
                s.by_start = p_.times.propagated(tag.clock) || p_.times.propagated(k.clock) || (p_.any_unshared && by_source > 0);
                if (!s.by_start) s.credit = by_source;
            }
        }
        if (k.setup) {
            s.base = separation + s.capture_latency - s.uncertainty - s.check_time + s.credit;
            s.slack = s.base - arrival;
        } else {
            s.base = separation + s.capture_latency + s.uncertainty + s.check_time - s.credit;
            s.slack = arrival - s.base;
        }
        out_.endpoint[k.node] |= k.setup ? setup_done : hold_done;
        out_.seeds.push_back(std::move(s));
    }

    EdgePair edges(const Tag& tag, const Capture& k, const Exceptions::Verdict& verdict, std::string& exception) {
        const auto& launch = p_.constraints.clocks[tag.clock];
        const auto& capture = p_.constraints.clocks[k.clock];
        const auto r = relate(launch, tag.clock_edge, capture, k.clock_edge);
        if (!r.common_base && told_.insert({tag.clock, k.clock}).second)
            out_.messages.push_back({Severity::caution, "no-common-period", "Clocks " + launch.name + " and " + capture.name + " have no common period within 1000 cycles; the tightest pair of 1000 is used.", "", 0, 0});
        double shift_launch = 0, shift_capture = 0;
        if (const auto* m = verdict.cycles_setup) {
            if (m->start_given) shift_launch = -(m->value - 1) * launch.period;
            else shift_capture = (m->value - 1) * capture.period;
            exception = "multicycle " + shortest(m->value);
        }
        EdgePair e = k.setup ? r.setup : r.hold;
        e.launch += shift_launch, e.capture += shift_capture;
        if (const auto* m = verdict.cycles_hold; m && !k.setup) {
            if (m->end_given) e.capture -= m->value * capture.period;
            else e.capture -= m->value * launch.period;
            exception = "multicycle hold " + shortest(m->value);
        }
        return e;
    }

    Propagation& p_;
    const TimingOptions& options_;
    CheckResult out_;
    std::set<std::pair<std::uint32_t, std::uint32_t>> told_;
};

}  // namespace

CheckResult check_endpoints(Propagation& propagation, const TimingOptions& options) { return Checker(propagation, options).run(); }

}  // namespace kp::timing
