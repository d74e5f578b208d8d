// SPDX-License-Identifier: GPL-3.0-or-later
// A check is compared with every arrival it may meet; the worst comparison of a group is kept, so that a change asks
// only its own.
#include "core/timing/ends.hpp"

#include "core/base/text.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <set>

namespace kp::timing {

const char* name_of(Kind kind) {
    constexpr const char* names[] = {"setup", "hold", "recovery", "removal"};
    return names[static_cast<size_t>(kind)];
}

namespace {

/// All captures, by node and kind.
class Captures {
public:
    Captures(const EndInput& in, Ends& out) : in_(in), g_(in.g), out_(out) {
        out_.endpoint.assign(g_.nodes, false);
        out_.on_purpose.assign(g_.nodes, false);
        for (std::uint32_t i = 0; i < g_.checks.size(); ++i) registers(i);
        outputs();
        for (std::uint32_t i = 0; i < in.k.data_checks.size(); ++i) between_data(i);
        std::stable_sort(out_.captures.begin(), out_.captures.end(), [](const Capture& a, const Capture& b) {
            return a.node != b.node ? a.node < b.node : a.kind < b.kind;
        });
    }

private:
    void registers(std::uint32_t i) {
        const auto& c = g_.checks[i];
        const auto& n = *g_.netlist;
        const auto net = n.pins[c.data].net;
        const bool constant =
            net == n.constant_net[0] || net == n.constant_net[1] || g_.fixed[c.data] == 0 || g_.fixed[c.data] == 1;
        if (net == no_id || constant || c.off) return;
        out_.endpoint[c.data] = true;
        const auto& list = in_.clocks[c.clock];
        const Kind kind = c.asynchronous ? (c.setup_like ? Kind::recovery : Kind::removal)
                          : c.setup_like ? Kind::setup
                                         : Kind::hold;
        if (list.empty() && !in_.k.exceptions.empty()) bare(kind, c.data);
        for (std::uint32_t e = 0; e < list.size(); ++e) {
            if (!std::isfinite(list[e].time[late][c.clock_edge])) continue;
            Capture k;
            k.kind = kind;
            k.node = c.data;
            k.clock_pin = c.clock;
            k.clock = list[e].clock;
            k.clock_entry = e;
            k.pin_edge = c.clock_edge;
            k.item = i;
            k.clock_edge = static_cast<std::uint8_t>(list[e].clock_edge(c.clock_edge));
            k.edges = checked_edges(i);
            out_.captures.push_back(k);
        }
    }

    [[nodiscard]] std::uint8_t checked_edges(std::uint32_t check) const {
        const auto checked = [&](size_t edge) {
            return std::any_of(in_.corners.begin(), in_.corners.end(),
                               [&](const Corner* c) { return !std::isnan(c->check[check][edge]); });
        };
        return static_cast<std::uint8_t>((checked(rise) ? 1 : 0) | (checked(fall) ? 2 : 0));
    }

    /// An end that no clock captures: only set_max_delay and set_min_delay can hold it, and a false path can take it
    /// out.
    void bare(Kind kind, NodeId node) {
        Capture k;
        k.kind = kind;
        k.from = Capture::bare;
        k.node = node;
        out_.captures.push_back(k);
    }

    void outputs() {
        const auto& ports = g_.netlist->ports;
        std::vector<bool> any[2] = {std::vector<bool>(ports.size(), false), std::vector<bool>(ports.size(), false)};
        for (std::uint32_t i = 0; i < in_.k.io_delays.size(); ++i) {
            const auto& d = in_.k.io_delays[i];
            if (d.input) continue;
            for (const bool setup : {true, false}) {
                if (!(setup ? d.late : d.early)) continue;
                any[setup][d.port] = true;
                Capture k;
                k.kind = setup ? Kind::setup : Kind::hold;
                k.from = Capture::output_delay;
                k.item = i;
                k.node = g_.port_node(d.port);
                k.clock = d.clock;
                k.clock_edge = d.clock_fall ? fall : rise;
                k.edges = static_cast<std::uint8_t>((d.rise ? 1 : 0) | (d.fall ? 2 : 0));
                k.use_source = !d.source_latency_included;
                k.use_network = !d.network_latency_included;
                out_.captures.push_back(k);
            }
        }
        for (std::uint32_t i = 0; i < ports.size(); ++i) {
            if (ports[i].direction == Direction::in) continue;
            out_.endpoint[g_.port_node(i)] = true;
            for (const bool setup : {true, false})
                if (!in_.k.exceptions.empty() && !any[setup][i])
                    bare(setup ? Kind::setup : Kind::hold, g_.port_node(i));
        }
    }

    /// One data pin against another, in the same cycle: setup asks `to` to be there `value` before the earliest of
    /// `from`, hold to stay until `value` after its latest.
    void between_data(std::uint32_t i) {
        const auto& c = in_.k.data_checks[i];
        const auto node_of = [&](const ObjectRef& o) {
            return o.kind == ObjectKind::port ? g_.port_node(o.id) : static_cast<NodeId>(o.id);
        };
        for (const auto& to : c.to.objects)
            for (const auto& from : c.from.objects)
                for (const auto kind : {Kind::setup, Kind::hold}) {
                    if (!(kind == Kind::setup ? c.setup : c.hold)) continue;
                    out_.endpoint[node_of(to)] = true;
                    const auto [first, last] = in_.slots.at(g_, node_of(from));
                    for (auto s = first; s < last; ++s)
                        for (const int f : {rise, fall}) {
                            if (!(f == rise ? c.from.rise : c.from.fall)) continue;
                            Capture k;
                            k.kind = kind;
                            k.from = Capture::data;
                            k.node = node_of(to);
                            k.item = i;
                            k.against = s;
                            k.against_edge = static_cast<std::uint8_t>(f);
                            k.edges = static_cast<std::uint8_t>((c.to.rise ? 1 : 0) | (c.to.fall ? 2 : 0));
                            out_.captures.push_back(k);
                        }
                }
    }

    const EndInput& in_;
    const Graph& g_;
    Ends& out_;
};

class Comparer {
public:
    Comparer(const EndInput& in, Exceptions& x, Ends& out)
        : in_(in), exceptions_(x), out_(out), named_(in.g.nodes, false) {
        for (const auto& u : in.k.uncertainties)
            for (const auto& o : u.objects) {
                if (o.kind == ObjectKind::pin) named_[o.id] = true;
                if (o.kind == ObjectKind::port) named_[in.g.port_node(o.id)] = true;
            }
    }

    void run() {
        out_.group_at.assign(in_.g.nodes, no_id);
        for (std::uint32_t i = 0; i < out_.captures.size(); ++i) {
            const auto& k = out_.captures[i];
            const auto before = static_cast<std::uint32_t>(out_.comparisons.size());
            const auto [first, last] = in_.slots.at(in_.g, k.node);
            for (auto s = first; s < last; ++s)
                for (const int edge : {rise, fall})
                    if ((k.edges >> edge & 1) && reached(s, lane_of(setup_like(k.kind) ? late : early, edge)))
                        compare(i, s, edge);
            close_group(k, before);
        }
    }

private:
    [[nodiscard]] bool reached(SlotId s, int lane) const {
        return std::any_of(in_.arrivals.begin(), in_.arrivals.end(),
                           [&](const auto* a) { return (*a)[s].v[lane] != never; });
    }

    void close_group(const Capture& k, std::uint32_t before) {
        const auto now = static_cast<std::uint32_t>(out_.comparisons.size());
        if (now == before) return;
        const bool same =
            !out_.groups.empty() && out_.groups.back().node == k.node && out_.groups.back().kind == k.kind;
        if (!same) {
            if (out_.group_at[k.node] == no_id) out_.group_at[k.node] = static_cast<std::uint32_t>(out_.groups.size());
            out_.groups.push_back({k.node, k.kind, false, before, now});
        }
        out_.groups.back().last = now;
        const auto id = static_cast<std::uint32_t>(out_.groups.size() - 1);
        if (k.from == Capture::data && (out_.data_groups.empty() || out_.data_groups.back() != id))
            out_.data_groups.push_back(id);
    }

    void compare(std::uint32_t capture, SlotId slot, int edge) {
        const auto& k = out_.captures[capture];
        const Tag& tag = in_.slots.tags[in_.slots.tag[slot]];
        if (k.from == Capture::data) return compare_data(capture, slot, edge);
        const auto verdict = exceptions_.judge(
            {tag.state, tag.clock, k.clock, tag.clock_edge, k.clock_edge, k.node, edge, setup_like(k.kind)});
        if (verdict.is_false) {
            out_.on_purpose[k.node] = true;
            return;
        }
        if (!verdict.bound && (tag.clock == no_id || k.clock == no_id)) return;  // nothing relates the two ends
        out_.comparisons.push_back({slot, capture, relation(k, tag, verdict), static_cast<std::uint8_t>(edge)});
    }

    void compare_data(std::uint32_t capture, SlotId slot, int edge) {
        const auto& k = out_.captures[capture];
        const auto &a = in_.slots.tags[in_.slots.tag[slot]], &b = in_.slots.tags[in_.slots.tag[k.against]];
        const auto wanted = in_.k.data_checks[k.item].clock;
        if (a.clock == no_id || a.clock != b.clock || a.clock_edge != b.clock_edge ||
            (wanted != no_id && wanted != a.clock))
            return;
        if (reached(k.against, lane_of(k.kind == Kind::setup ? early : late, k.against_edge)))
            out_.comparisons.push_back({slot, capture, no_id, static_cast<std::uint8_t>(edge)});
    }

    /// Few launching and capturing edges meet in few ways: each is worked out once.
    std::uint32_t relation(const Capture& k, const Tag& tag, const Exceptions::Verdict& verdict) {
        const auto place = [&](const PathException* e) {
            return e ? static_cast<std::uint32_t>(e - in_.k.exceptions.data()) : no_id;
        };
        const NodeId pin = k.clock_pin == no_id ? k.node : k.clock_pin;
        const std::uint32_t bits = static_cast<std::uint32_t>(tag.clock_edge) | k.clock_edge << 1 |
                                   (setup_like(k.kind) ? 4u : 0u) | (k.use_source ? 8u : 0u);
        const Key key{tag.clock,
                      k.clock,
                      bits,
                      place(verdict.bound),
                      place(verdict.cycles_setup),
                      place(verdict.cycles_hold),
                      named_[pin] ? pin : no_id};
        if (last_id_ != no_id && key == last_key_) return last_id_;
        const auto [at, fresh] = known_.try_emplace(key, static_cast<std::uint32_t>(out_.relations.size()));
        if (fresh) out_.relations.push_back(work_out(k, tag, verdict));
        last_key_ = key;
        return last_id_ = at->second;
    }

    Relation work_out(const Capture& k, const Tag& tag, const Exceptions::Verdict& verdict) {
        Relation r;
        r.setup = setup_like(k.kind);
        r.launch = tag.clock;
        r.capture = k.clock;
        r.launch_edge = static_cast<std::uint8_t>(tag.clock_edge);
        r.capture_edge = k.clock_edge;
        if (tag.clock != no_id && k.clock != no_id) r.edges = edges(tag, k, verdict, r.exception);
        r.separation = r.edges.capture - r.edges.launch;
        if (verdict.bound) {
            r.separation = verdict.bound->value;
            r.exception = verdict.bound->kind == PathException::max_delay ? "max_delay" : "min_delay";
        }
        if (k.clock == no_id) return r;
        const NodeId pin = k.clock_pin == no_id ? k.node : k.clock_pin;
        const ObjectRef end = in_.g.is_port(k.node) ? ObjectRef{ObjectKind::port, in_.g.port_of(k.node)}
                                                    : ObjectRef{ObjectKind::pin, pin};
        r.uncertainty = uncertainty(in_.k, {tag.clock, tag.clock_edge}, {k.clock, k.clock_edge}, end, r.setup);
        r.shares = in_.credit && tag.clock != no_id && k.use_source;
        return r;
    }

    EdgePair edges(const Tag& tag, const Capture& k, const Exceptions::Verdict& verdict, std::string& exception) {
        const auto& launch = in_.k.clocks[tag.clock];
        const auto& capture = in_.k.clocks[k.clock];
        const auto r = relate(launch, tag.clock_edge, capture, k.clock_edge);
        if (!r.common_base && told_.insert({tag.clock, k.clock}).second)
            out_.messages.push_back(
                {Severity::caution, Code::no_common_period,
                 said("Clocks {} and {} have no common period within 1000 cycles; the tightest pair of 1000 is used.",
                      launch.name, capture.name)});
        const bool setup = setup_like(k.kind);
        EdgePair e = setup ? r.setup : r.hold;
        if (const auto* m = verdict.cycles_setup) {
            if (m->start_given)
                e.launch -= (m->value - 1) * launch.period;
            else
                e.capture += (m->value - 1) * capture.period;
            exception = "multicycle " + shortest(m->value);
        }
        // Without -setup and -hold it sets hold 0, and so takes back what a less specific one says.
        if (const auto* m = verdict.cycles_hold; m && !setup && !m->only_setup_given) {
            e.capture -= m->value * (m->end_given ? capture.period : launch.period);
            exception = "multicycle hold " + shortest(m->value);
        }
        return e;
    }

    using Key = std::array<std::uint32_t, 7>;
    const EndInput& in_;
    Exceptions& exceptions_;
    Ends& out_;
    std::vector<bool> named_;  ///< per node: an uncertainty names it
    std::map<Key, std::uint32_t> known_;
    Key last_key_{};
    std::uint32_t last_id_ = no_id;
    std::set<std::pair<std::uint32_t, std::uint32_t>> told_;
};

}  // namespace

Ends make_ends(const EndInput& input, Exceptions& exceptions) {
    Ends out;
    Captures(input, out);
    Comparer(input, exceptions, out).run();
    for (auto& g : out.groups)
        for (auto i = g.first; i < g.last && !g.by_start; ++i) {
            const auto id = out.comparisons[i].relation;
            if (id == no_id || !out.relations[id].shares) continue;
            const auto& r = out.relations[id];
            g.by_start = input.slots.any_unshared || input.propagated[r.launch] || input.propagated[r.capture];
        }
    return out;
}

void EndTimes::prepare() {
    worst.assign(ends_.groups.size(), free_lane);
    worst_of.assign(ends_.groups.size(), no_id);
    limit_.assign(ends_.comparisons.size(), free_lane);
    credit_.assign(ends_.relations.size(), 0);
    by_start_.assign(ends_.relations.size(), false);
    for (size_t i = 0; i < ends_.relations.size(); ++i) {
        const auto& r = ends_.relations[i];
        if (!r.shares) continue;
        const double by_source = times_.shared_credit(times_.way_to_port(r.launch, r.launch_edge),
                                                      times_.way_to_port(r.capture, r.capture_edge));
        // With ideal clocks only sources differ, the same for every start of the tag; else each start has its own
        // credit.
        by_start_[i] =
            times_.propagated(r.launch) || times_.propagated(r.capture) || (slots_.any_unshared && by_source > 0);
        if (!by_start_[i]) credit_[i] = by_source;
    }
}

double EndTimes::check_time(const Comparison& c) const {
    const auto& k = ends_.captures[c.capture];
    switch (k.from) {
        case Capture::library: return corner_.check[k.item][c.edge];
        case Capture::output_delay:
            return setup_like(k.kind) ? k_.io_delays[k.item].value : 0.0 - k_.io_delays[k.item].value;
        case Capture::data: return k_.data_checks[k.item].value;
        case Capture::bare: break;
    }
    return 0;
}

double EndTimes::capture_latency(const Comparison& c, const std::vector<Lanes>& arrival) const {
    const auto& k = ends_.captures[c.capture];
    const int side = setup_like(k.kind) ? early : late;
    if (k.from == Capture::data) return arrival[k.against].time(side, k.against_edge);
    if (k.clock == no_id) return 0;
    const auto latency = k.clock_entry != no_id
                             ? times_.at_pin(clocks_[k.clock_pin][k.clock_entry], k.clock_pin, k.pin_edge)
                             : times_.at_port(k.clock, k.clock_edge);
    return (k.use_source ? latency.source[side] : 0) + (k.use_network ? latency.network[side] : 0);
}

void EndTimes::refresh_limit(std::uint32_t i, const std::vector<Lanes>& arrival) {
    const auto& c = ends_.comparisons[i];
    const double latency = capture_latency(c, arrival), check = check_time(c);
    if (std::isnan(check)) {  // this edge is not checked here
        limit_[i] = free_lane;
        return;
    }
    const bool setup = setup_like(ends_.captures[c.capture].kind);
    double base = 0;
    if (c.relation == no_id) {
        base = setup ? latency - check : latency + check;
    } else {
        const auto& r = ends_.relations[c.relation];
        base = setup ? r.separation + latency - r.uncertainty - check + credit_[c.relation]
                     : r.separation + latency + r.uncertainty + check - credit_[c.relation];
    }
    limit_[i] = setup ? base + 0.0 : 0.0 - base;
}

void EndTimes::refresh(std::uint32_t group, const std::vector<Lanes>& arrival) {
    const auto& g = ends_.groups[group];
    worst[group] = free_lane;
    worst_of[group] = no_id;
    for (auto i = g.first; i < g.last; ++i) {
        const double s = slack(i, arrival);
        if (std::isfinite(s) && s < worst[group]) {
            worst[group] = s;
            worst_of[group] = i;
        }
    }
}

Lanes EndTimes::limits_of(SlotId slot) const {
    Lanes out{{free_lane, free_lane, free_lane, free_lane}};
    const NodeId node = slots_.node[slot];
    for (auto g = ends_.group_at[node]; g < ends_.groups.size() && ends_.groups[g].node == node; ++g)
        for (auto i = ends_.groups[g].first; i < ends_.groups[g].last; ++i)
            if (const auto& c = ends_.comparisons[i]; c.slot == slot)
                out.v[lane(c)] = std::min(out.v[lane(c)], limit_[i]);
    return out;
}

void EndTimes::put_limits(std::vector<Lanes>& required) const {
    for (std::uint32_t i = 0; i < ends_.comparisons.size(); ++i) {
        const auto& c = ends_.comparisons[i];
        double& v = required[c.slot].v[lane(c)];
        v = std::min(v, limit_[i]);
    }
}

void Tally::resize(size_t leaves) {
    leaves_ = 1;
    while (leaves_ < leaves) leaves_ *= 2;
    sums_.assign(leaves_ * 2, {});
}

void Tally::set(size_t leaf, double slack, bool now) {
    auto& s = sums_[leaves_ + leaf];
    s = std::isfinite(slack) ? Sum{slack, slack < 0 ? slack : 0, slack < 0 ? 1u : 0u, 1u} : Sum{};
    for (size_t i = (leaves_ + leaf) / 2; now && i >= 1; i /= 2) sums_[i] = together(sums_[i * 2], sums_[i * 2 + 1]);
}

void Tally::build() {
    for (size_t i = leaves_ - 1; i >= 1; --i) sums_[i] = together(sums_[i * 2], sums_[i * 2 + 1]);
}

}  // namespace kp::timing
