// SPDX-License-Identifier: GPL-3.0-or-later
// The second opinion: every data path, and what it is compared with.
#include "tests/timing/reference.hpp"

#include <algorithm>
#include <cmath>

namespace kp::test {

namespace {

constexpr size_t most_paths = 200'000;

/// Edges as whole femtoseconds.
long long ticks(double ns) {
    return std::llround(ns * 1e6);
}

struct Edges {
    double launch = 0, capture = 0, hold_launch = 0, hold_capture = 0;
};

/// Writes all edges of both clocks down over their base period and takes the tightest pair (docs/timing.md, "Which
/// edges").
Edges tightest(const ClockDefinition& l, int launch_edge, const ClockDefinition& c, int capture_edge) {
    const long long tl = ticks(l.period), tc = ticks(c.period);
    long long base = tl;
    for (int k = 1; k < 1000 && base % tc != 0; ++k) base += tl;  // docs/timing.md: at most 1000 cycles
    Edges out;
    long long best = -1;
    for (long long at = ticks(l.waveform[static_cast<size_t>(launch_edge)]), end = at + base; at < end; at += tl) {
        long long capture = ticks(c.waveform[static_cast<size_t>(capture_edge)]) - 4 * tc;
        while (capture > at) capture -= tc;
        while (capture <= at) capture += tc;
        if (best < 0 || capture - at < best) {
            best = capture - at;
            out.launch = static_cast<double>(at) / 1e6;
            out.capture = static_cast<double>(capture) / 1e6;
        }
    }
    // Hold against the capture before, or against the next launch; the later capture of the two, seen from its launch,
    // is tighter.
    const double before = out.capture - c.period - out.launch, next = out.capture - (out.launch + l.period);
    out.hold_launch = before >= next ? out.launch : out.launch + l.period;
    out.hold_capture = before >= next ? out.capture - c.period : out.capture;
    return out;
}

}  // namespace

void Reference::walk() {
    const auto ports = [&](std::uint32_t p) { return static_cast<int>(n_.pins.size() + p); };
    const auto begin = [&](const Launch& launch, int node, Edge edge, double early, double late) {
        Path p;
        p.launch = launch;
        p.launch.begin[0] = early;
        p.launch.begin[1] = late;
        if (launch.pin != node) p.nodes.emplace_back(launch.pin, launch.pin_edge);
        p.nodes.emplace_back(node, edge);
        follow(p, false);
    };
    // Registers.
    for (const auto& a : arcs_) {
        if (!a.launch) continue;
        for (const auto& w : ways_[static_cast<size_t>(a.from)])
            for (const Edge out : {0, 1}) {
                if (!a.pass[w.edge][out]) continue;
                Launch l;
                l.clock = w.clock;
                l.clock_edge = w.clock_edge;
                l.pin = a.from;
                l.pin_edge = w.edge;
                l.way = &w;
                begin(l, a.to, out, latency(w, 0, true, true) + delay(a, 0, w.edge, out, false),
                      latency(w, 1, true, true) + delay(a, 1, w.edge, out, false));
            }
    }
    // Ports.
    for (std::uint32_t p = 0; p < n_.ports.size(); ++p) {
        if (n_.ports[p].direction != Direction::in) continue;
        bool delayed = false;
        std::map<std::tuple<int, int, int, bool>, Launch>
            launches;  // several delays against one edge are one start, at the worst of them
        for (const auto& d : k_.io_delays) {
            if (!d.input || d.port != p) continue;
            delayed = true;
            for (const Edge e : {0, 1}) {
                if (!(e == 0 ? d.rise : d.fall)) continue;
                Launch l;
                l.clock = d.clock == no_id ? -1 : static_cast<int>(d.clock);
                l.clock_edge = d.clock_fall;
                l.pin = ports(p);
                l.pin_edge = e;
                l.shares = !d.source_latency_included;
                l.side[0] = l.side[1] = false;
                auto& start = launches.try_emplace({l.clock, l.clock_edge, e, l.shares}, l).first->second;
                for (const int side : {0, 1}) {
                    if (!(side == 0 ? d.early : d.late)) continue;
                    const double at =
                        d.value + (l.clock >= 0 ? port_latency(l.clock, l.clock_edge, side, !d.source_latency_included,
                                                               !d.network_latency_included)
                                                : 0);
                    start.begin[side] = !start.side[side] ? at
                                        : side == 0       ? std::min(start.begin[0], at)
                                                          : std::max(start.begin[1], at);
                    start.side[side] = true;
                }
            }
        }
        for (const auto& [key, l] : launches) begin(l, ports(p), l.pin_edge, l.begin[0], l.begin[1]);
        if (delayed || is_source(ports(p))) continue;
        for (const Edge e : {0, 1}) {
            Launch l;
            l.pin = ports(p);
            l.pin_edge = e;
            begin(l, ports(p), e, 0, 0);
        }
    }
    // Clocks as data, from their sources on.
    for (int c = 0; c < static_cast<int>(k_.clocks.size()); ++c)
        for (const auto& o : k_.clocks[static_cast<size_t>(c)].sources)
            for (const Edge e : {0, 1}) {
                Launch l;
                l.clock = c;
                l.clock_edge = e;
                l.pin = node_of(o);
                l.pin_edge = e;
                l.as_clock = true;
                const auto& t = sources_[static_cast<size_t>(c)].time[e];
                begin(l, l.pin, e, t[0], t[1]);
            }
    for (const auto& path : data_) compare_data(path);
    // Without constraints: from any start pin.
    const auto plainly = [&](int pin, Edge pin_edge, int node, Edge edge, double early, double late) {
        Path p;
        p.launch.pin = pin;
        p.launch.pin_edge = pin_edge;
        p.launch.begin[0] = early;
        p.launch.begin[1] = late;
        p.nodes.emplace_back(node, edge);
        follow(p, true);
    };
    for (const auto& a : arcs_)
        for (const Edge in : {0, 1})
            for (const Edge out : {0, 1})
                if (a.launch && a.pass[in][out])
                    plainly(a.from, in, a.to, out, delay(a, 0, in, out, false), delay(a, 1, in, out, false));
    for (std::uint32_t p = 0; p < n_.ports.size(); ++p)
        for (const Edge e : {0, 1})
            if (n_.ports[p].direction == Direction::in) plainly(ports(p), e, ports(p), e, 0, 0);
    for (const auto& [node, both] : plain_) {
        const auto at = touched_.find(node);
        if (at == touched_.end() || at->second == 0) unconstrained[name(node)] = both;
    }
}

void Reference::follow(Path& path, bool only_delay) {
    if (++paths_ > most_paths) {
        whole = false;
        return;
    }
    only_delay ? plain(path) : arrive(path);
    const auto [node, edge] = path.nodes.back();
    for (const int i : leaving_[static_cast<size_t>(node)]) {
        const auto& a = arcs_[static_cast<size_t>(i)];
        if (a.launch) continue;
        if (path.launch.as_clock && !only_delay && is_source(a.to)) {
            // A clock that meets the source of another one ends there.
            bool shares = false;
            for (const auto& o : k_.clocks[static_cast<size_t>(path.launch.clock)].sources)
                shares |= node_of(o) == a.to;
            if (!shares) continue;
        }
        for (const Edge out : {0, 1}) {
            if (!a.pass[edge][out]) continue;
            const double d[2] = {delay(a, 0, edge, out, false), delay(a, 1, edge, out, false)};
            path.nodes.emplace_back(a.to, out);
            path.delay[0] += d[0];
            path.delay[1] += d[1];
            follow(path, only_delay);
            path.delay[0] -= d[0];
            path.delay[1] -= d[1];
            path.nodes.pop_back();
        }
    }
}

void Reference::plain(const Path& path) {
    const int node = path.nodes.back().first;
    bool end = is_port(node) && n_.ports[static_cast<size_t>(node) - n_.pins.size()].direction == Direction::out;
    for (const auto& c : checks_) end |= c.data == node && !c.off && value_[static_cast<size_t>(node)] < 0;
    for (const auto& d : k_.data_checks)
        for (const auto& o : d.to.objects) end |= node_of(o) == node;
    if (!end) return;
    const auto at = plain_.try_emplace(node, -1e30, 1e30).first;
    at->second.first = std::max(at->second.first, path.launch.begin[1] + path.delay[1]);
    at->second.second = std::min(at->second.second, path.launch.begin[0] + path.delay[0]);
}

void Reference::arrive(const Path& path) {
    const auto [node, edge] = path.nodes.back();
    for (const auto& c : checks_) {
        if (c.data != node || c.off || value_[static_cast<size_t>(node)] >= 0) continue;
        const char* kind = c.asynchronous ? (c.setup_like ? "recovery" : "removal") : c.setup_like ? "setup" : "hold";
        for (const auto& w : ways_[static_cast<size_t>(c.clock)])
            if (w.edge == c.edge && !std::isnan(c.value[edge]))
                compare(path, w.clock, w.clock_edge, &w, true, true, c.value[edge], kind, c.setup_like, c.clock);
        if (ways_[static_cast<size_t>(c.clock)].empty())
            compare(path, -1, 0, nullptr, false, false, 0, kind, c.setup_like, -1);
    }
    if (is_port(node)) {
        const auto port = static_cast<std::uint32_t>(node) - static_cast<std::uint32_t>(n_.pins.size());
        if (n_.ports[port].direction == Direction::out) {
            bool any[2] = {false, false};
            for (const auto& d : k_.io_delays) {
                if (d.input || d.port != port) continue;
                any[0] |= d.early;
                any[1] |= d.late;
                if (!(edge == 0 ? d.rise : d.fall)) continue;
                const int clock = d.clock == no_id ? -1 : static_cast<int>(d.clock);
                const bool source = !d.source_latency_included, network = !d.network_latency_included;
                if (d.late) compare(path, clock, d.clock_fall, nullptr, source, network, d.value, "setup", true, node);
                if (d.early)
                    compare(path, clock, d.clock_fall, nullptr, source, network, -d.value, "hold", false, node);
            }
            if (!any[1]) compare(path, -1, 0, nullptr, false, false, 0, "setup", true, -1);
            if (!any[0]) compare(path, -1, 0, nullptr, false, false, 0, "hold", false, -1);
        }
    }
    for (const auto& d : k_.data_checks)
        for (const auto* list : {&d.from.objects, &d.to.objects})
            for (const auto& o : *list)
                if (node_of(o) == node) {
                    data_.push_back(path);
                    return;
                }
}

bool Reference::named(const PathException::Point& p, int node, int role) const {
    for (const auto& o : p.objects) {
        if (o.kind == ObjectKind::clock) continue;
        if (o.kind == ObjectKind::port || o.kind == ObjectKind::pin) {
            if (node_of(o) == node) return true;
        } else if (!is_port(node) && o.kind == ObjectKind::cell) {
            if (n_.pins[static_cast<size_t>(node)].cell != o.id) continue;
            bool clock_pin = false, data_pin = false;
            for (const auto& c : checks_) {
                clock_pin |= c.clock == node;
                data_pin |= c.data == node;
            }
            for (const auto& a : arcs_) clock_pin |= a.launch && a.from == node;
            if (role == 1 || (role == 0 && clock_pin) || (role == 2 && data_pin)) return true;
        } else if (o.kind == ObjectKind::net) {
            const auto net = is_port(node) ? n_.ports[static_cast<size_t>(node) - n_.pins.size()].net
                                           : n_.pins[static_cast<size_t>(node)].net;
            bool drives =
                is_port(node) && n_.ports[static_cast<size_t>(node) - n_.pins.size()].direction == Direction::in;
            for (const auto& a : arcs_) drives |= a.cell < 0 && a.from == node;
            if (net == o.id && drives) return true;
        }
    }
    return false;
}

/// -1: this exception does not meet the path. Otherwise the more specific one is larger.
int Reference::weight(const PathException& e, const Path& path, int capture_clock, Edge capture_edge) const {
    const auto has_clock = [](const PathException::Point& p, int clock) {
        return clock >= 0 && std::any_of(p.objects.begin(), p.objects.end(), [&](const ObjectRef& o) {
                   return o.kind == ObjectKind::clock && static_cast<int>(o.id) == clock;
               });
    };
    const auto& l = path.launch;
    int w = 0;
    if (e.from) {
        const bool pin = named(*e.from, l.pin, 0) && (l.pin_edge == 0 ? e.from->rise : e.from->fall);
        const bool clock = has_clock(*e.from, l.clock) && (l.clock_edge == 0 ? e.from->rise : e.from->fall);
        if (!pin && !clock) return -1;
        w += pin ? 16 : 2;
    }
    size_t met = 0;
    for (const auto& [node, edge] : path.nodes)
        if (met < e.through.size() && named(e.through[met], node, 1) &&
            (edge == 0 ? e.through[met].rise : e.through[met].fall))
            ++met;
    if (met < e.through.size()) return -1;
    if (!e.through.empty()) w += 4;
    if (e.to) {
        const auto [node, edge] = path.nodes.back();
        const bool pin = named(*e.to, node, 2) && (edge == 0 ? e.to->rise : e.to->fall);
        const bool clock = has_clock(*e.to, capture_clock) && (capture_edge == 0 ? e.to->rise : e.to->fall);
        const bool any = e.to->objects.empty() && (edge == 0 ? e.to->rise : e.to->fall);
        if (!pin && !clock && !any) return -1;
        w += pin ? 8 : clock ? 1 : 0;
    }
    return w;
}

void Reference::compare(const Path& path, int capture, Edge capture_edge, const Way* way, bool use_source,
                        bool use_network, double check, const char* kind, bool setup, int uncertainty_pin) {
    const auto& l = path.launch;
    const int end = path.nodes.back().first;
    if (!l.side[setup ? 1 : 0]) return;
    const PathException *bound = nullptr, *cycles = nullptr, *hold_cycles = nullptr;
    int bound_weight = -1, cycles_weight = -1, hold_weight = -1;
    bool is_false = false;
    for (const auto& e : k_.exceptions) {
        const int w = weight(e, path, capture, capture_edge);
        if (w < 0) continue;
        if (e.kind == PathException::false_path) is_false |= setup ? e.setup : e.hold;
        if (e.kind == (setup ? PathException::max_delay : PathException::min_delay)) {
            const bool tighter = bound && (setup ? e.value < bound->value : e.value > bound->value);
            if (w > bound_weight || (w == bound_weight && tighter)) {
                bound = &e;
                bound_weight = w;
            }
        }
        if (e.kind == PathException::multicycle && e.setup && w >= cycles_weight) {
            cycles = &e;
            cycles_weight = w;
        }
        if (e.kind == PathException::multicycle && e.hold && w >= hold_weight) {
            hold_cycles = &e;
            hold_weight = w;
        }
    }
    if (l.clock >= 0 && capture >= 0)
        for (const auto& g : k_.groups) {
            const auto in = [&](const std::vector<std::uint32_t>& list, int clock) {
                return std::find(list.begin(), list.end(), static_cast<std::uint32_t>(clock)) != list.end();
            };
            if (g.groups.size() == 1) is_false |= in(g.groups[0], l.clock) != in(g.groups[0], capture);
            for (size_t a = 0; a < g.groups.size(); ++a)
                for (size_t b = 0; b < g.groups.size(); ++b)
                    is_false |= a != b && in(g.groups[a], l.clock) && in(g.groups[b], capture);
        }
    if (is_false) {
        touched_[end] = 1;  // on purpose
        return;
    }
    double launch_edge = 0, capture_at = 0;
    if (bound) {
        capture_at = bound->value;
    } else {
        if (l.clock < 0 || capture < 0) return;
        const auto &from = k_.clocks[static_cast<size_t>(l.clock)], &to = k_.clocks[static_cast<size_t>(capture)];
        const auto e = tightest(from, l.clock_edge, to, capture_edge);
        launch_edge = setup ? e.launch : e.hold_launch;
        capture_at = setup ? e.capture : e.hold_capture;
        if (cycles)
            (cycles->start_given ? launch_edge : capture_at) +=
                (cycles->value - 1) * (cycles->start_given ? -from.period : to.period);
        if (!setup && hold_cycles && !hold_cycles->only_setup_given)
            capture_at -= hold_cycles->value * (hold_cycles->end_given ? to.period : from.period);
    }
    const int launch_side = setup ? 1 : 0, capture_side = 1 - launch_side;
    double capture_latency = 0, unsure = 0, back = 0;
    if (capture >= 0) {
        capture_latency = way ? latency(*way, capture_side, use_source, use_network)
                              : port_latency(capture, capture_edge, capture_side, use_source, use_network);
        unsure = uncertainty(l.clock, l.clock_edge, capture, capture_edge, uncertainty_pin, setup);
        if (options_.credit && l.clock >= 0 && l.shares && use_source)
            back = credit(chain(l.way, l.clock, l.clock_edge, launch_side),
                          sources_[static_cast<size_t>(l.clock)].root[l.clock_edge],
                          chain(way, capture, capture_edge, capture_side),
                          sources_[static_cast<size_t>(capture)].root[capture_edge]);
    }
    const double arrival = launch_edge + l.begin[launch_side] + path.delay[launch_side];
    const double slack = setup ? capture_at + capture_latency - unsure - check + back - arrival
                               : arrival - (capture_at + capture_latency + unsure + check) + back;
    touched_[end] = 1;
    slacks[{kind, name(end)}].push_back(slack);
}

/// `to` is there `value` before the earliest of `from` (setup), and stays until `value` after its latest (hold), in the
/// same cycle.
void Reference::compare_data(const Path& path) {
    const auto [node, edge] = path.nodes.back();
    for (const auto& d : k_.data_checks) {
        const bool mine = std::any_of(d.to.objects.begin(), d.to.objects.end(),
                                      [&, at = node](const ObjectRef& o) { return node_of(o) == at; });
        if (!mine || !(edge == 0 ? d.to.rise : d.to.fall)) continue;
        for (const auto& other : data_) {
            const auto [from, from_edge] = other.nodes.back();
            const bool its = std::any_of(d.from.objects.begin(), d.from.objects.end(),
                                         [&, at = from](const ObjectRef& o) { return node_of(o) == at; });
            const auto &a = path.launch, &b = other.launch;
            if (!its || !(from_edge == 0 ? d.from.rise : d.from.fall) || a.clock < 0 || a.clock != b.clock ||
                a.clock_edge != b.clock_edge)
                continue;
            if (d.clock != no_id && static_cast<int>(d.clock) != a.clock) continue;
            if (d.setup && a.side[1] && b.side[0]) {
                slacks[{"setup", name(node)}].push_back(b.begin[0] + other.delay[0] - d.value -
                                                        (a.begin[1] + path.delay[1]));
                touched_[node] = 1;
            }
            if (d.hold && a.side[0] && b.side[1]) {
                slacks[{"hold", name(node)}].push_back(a.begin[0] + path.delay[0] -
                                                       (b.begin[1] + other.delay[1] + d.value));
                touched_[node] = 1;
            }
        }
    }
}

}  // namespace kp::test
