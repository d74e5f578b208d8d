// SPDX-License-Identifier: GPL-3.0-or-later
// The second opinion: arcs, constants, and their delays.
#include "tests/timing/reference.hpp"

#include <algorithm>
#include <cmath>

namespace kp::test {

namespace {
bool launches(const LibraryArc& a) {
    return a.kind == ArcKind::rising_edge || a.kind == ArcKind::falling_edge;
}
/// An edge that the library has no number for, while it has one for the other, does not exist.
bool edge_exists(const TimingTable (&tables)[2], int edge) {
    return !tables[edge].empty() || tables[1 - edge].empty();
}
}  // namespace

Reference::Reference(const Netlist& netlist, const Library& library, const Constraints& constraints,
                     const DelayFile* delays, const ReferenceOptions& options)
    : n_(netlist), library_(library), k_(constraints), options_(options) {
    build();
    if (delays) annotate(*delays);
    fix();
    cut();
    propagated_.assign(k_.clocks.size(), options.all_propagated);
    for (size_t c = 0; c < k_.clocks.size(); ++c) {
        for (const auto& o : k_.propagated)
            if ((o.kind == ObjectKind::clock && o.id == c) ||
                std::find(k_.clocks[c].sources.begin(), k_.clocks[c].sources.end(), o) != k_.clocks[c].sources.end())
                propagated_[c] = true;
        if (k_.clocks[c].sources.empty()) propagated_[c] = false;
    }
    clock_ways();  // which clocks reach which pins: transitions of ideal clocks depend on it
    calculate();
    checks();
    clock_ways();
    sources_.resize(k_.clocks.size());
    source_state_.assign(k_.clocks.size(), 0);
    for (size_t c = 0; c < k_.clocks.size(); ++c) find_source(static_cast<int>(c));
    walk();
    pulses();
    for (auto& [where, list] : slacks) std::sort(list.begin(), list.end());
}

std::string Reference::name(int node) const {
    return is_port(node) ? n_.ports[static_cast<size_t>(node) - n_.pins.size()].name
                         : n_.pin_name(static_cast<std::uint32_t>(node));
}

int Reference::pin_of(int cell, const std::string& name) const {
    const auto& c = n_.cells[static_cast<size_t>(cell)];
    for (auto p = c.first_pin; p < c.first_pin + c.pin_count; ++p)
        if (n_.pin_names[n_.pins[p].name] == name) return static_cast<int>(p);
    return -1;
}

int Reference::node_of(const ObjectRef& o) const {
    return o.kind == ObjectKind::port  ? static_cast<int>(n_.pins.size() + o.id)
           : o.kind == ObjectKind::pin ? static_cast<int>(o.id)
                                       : -1;
}

void Reference::build() {
    const auto add = [&](Arc a) { arcs_.push_back(a); };
    for (int c = 0; c < static_cast<int>(n_.cells.size()); ++c) {
        const auto* cell = library_.cell(n_.type_of(static_cast<std::uint32_t>(c)));
        for (const auto& l : cell->arcs) {
            const int from = pin_of(c, cell->pins[l.from].name), to = pin_of(c, cell->pins[l.to].name);
            if (from < 0 || to < 0) continue;
            if (l.kind == ArcKind::pulse_width) continue;
            if (l.is_check()) {
                Check k;
                k.data = to;
                k.clock = from;
                k.cell = c;
                k.library = &l;
                k.setup_like = l.kind == ArcKind::setup_rising || l.kind == ArcKind::setup_falling ||
                               l.kind == ArcKind::recovery_rising || l.kind == ArcKind::recovery_falling;
                k.asynchronous = l.kind == ArcKind::recovery_rising || l.kind == ArcKind::recovery_falling ||
                                 l.kind == ArcKind::removal_rising || l.kind == ArcKind::removal_falling;
                k.edge = l.kind == ArcKind::setup_falling || l.kind == ArcKind::hold_falling ||
                         l.kind == ArcKind::recovery_falling || l.kind == ArcKind::removal_falling;
                checks_.push_back(k);
                continue;
            }
            if (l.kind == ArcKind::clear || l.kind == ArcKind::preset) continue;
            Arc a;
            a.from = from;
            a.to = to;
            a.cell = c;
            a.library = &l;
            a.launch = launches(l);
            Sense sense = l.sense;
            if (sense == Sense::unknown) {
                // Unateness from the function: try all values of the other inputs.
                const auto& f = cell->pins[l.to].function;
                const auto at = std::find(f.inputs.begin(), f.inputs.end(), cell->pins[l.from].name) - f.inputs.begin();
                bool up = false, down = false;
                for (std::uint64_t v = 0; v < (1ull << f.inputs.size()); ++v)
                    if (at < static_cast<long>(f.inputs.size()) && !(v >> at & 1)) {
                        const bool low = f.eval(v), high = f.eval(v | 1ull << at);
                        up |= !low && high;
                        down |= low && !high;
                    }
                sense = up == down ? Sense::non_unate : up ? Sense::positive : Sense::negative;
            }
            for (const int in : {0, 1})
                for (const int out : {0, 1}) {
                    if (a.launch)
                        a.pass[in][out] = in == (l.kind == ArcKind::falling_edge);
                    else
                        a.pass[in][out] = sense == Sense::non_unate || (in == out) == (sense == Sense::positive);
                    a.pass[in][out] &= edge_exists(l.delay, out);
                }
            add(a);
        }
    }
    // Wires: whatever drives a net to whatever it feeds.
    const auto drives = [&](int node) {
        if (is_port(node)) return n_.ports[static_cast<size_t>(node) - n_.pins.size()].direction == Direction::in;
        const auto& p = n_.pins[static_cast<size_t>(node)];
        const auto* cell = library_.cell(n_.type_of(p.cell));
        return cell->pins[static_cast<size_t>(cell->pin(n_.pin_names[p.name]))].direction == Direction::out;
    };
    const int nodes = static_cast<int>(n_.pins.size() + n_.ports.size());
    const auto net = [&](int node) {
        return is_port(node) ? n_.ports[static_cast<size_t>(node) - n_.pins.size()].net
                             : n_.pins[static_cast<size_t>(node)].net;
    };
    for (int a = 0; a < nodes; ++a)
        for (int b = 0; b < nodes; ++b) {
            if (a == b || net(a) == no_id || net(a) != net(b) || !drives(a) || drives(b)) continue;
            Arc w;
            w.from = a;
            w.to = b;
            w.pass[0][0] = w.pass[1][1] = true;
            add(w);
        }
    for (int p = 0; p < static_cast<int>(n_.pins.size()); ++p) {
        const auto* cell = library_.cell(n_.type_of(n_.pins[static_cast<size_t>(p)].cell));
        const auto at = static_cast<std::uint32_t>(cell->pin(n_.pin_names[n_.pins[static_cast<size_t>(p)].name]));
        Pulse limit{cell->pins[at].min_pulse[0], cell->pins[at].min_pulse[1], cell->pins[at].min_period};
        for (const auto& l : cell->arcs)
            if (l.kind == ArcKind::pulse_width && l.to == at) {
                if (!l.constraint[0].empty()) limit.high = std::max(limit.high, l.constraint[0].at(0, 0));
                if (!l.constraint[1].empty()) limit.low = std::max(limit.low, l.constraint[1].at(0, 0));
            }
        if (limit.high > 0 || limit.low > 0 || limit.period > 0) pulse_[p] = limit;
    }
}

/// IEEE 1497: later values replace earlier ones, absent members change nothing.
void Reference::put(Arc& a, const DelayEntry& e) {
    for (const int side : {0, 1})
        for (const int in : {0, 1})
            for (const int out : {0, 1}) {
                const double v =
                    (out == 0 ? e.rise
                              : e.fall)[static_cast<size_t>(side == 0 ? options_.early_member : options_.late_member)];
                const bool edge = e.from_edge == 0 || (e.from_edge == 'p') == (in == 0);
                if (!a.pass[in][out] || std::isnan(v) || (a.cell >= 0 && !edge)) continue;
                if (!e.increment) {
                    a.delay[side][in][out] = v;
                    a.given[side][in][out] = true;
                } else if (a.given[side][in][out])
                    a.delay[side][in][out] += v;
                else
                    a.added[side][in][out] += v;
            }
}

void Reference::annotate(const DelayFile& delays) {
    const auto squeezed = [](std::string text) {
        std::erase(text, ' ');
        return text;
    };
    for (size_t i = 0; i < delays.size(); ++i) {
        const auto e = delays[i];
        const auto in_scope = [&](int cell) {
            const auto id = static_cast<std::uint32_t>(cell);
            return e.instance == "*" ? n_.type_of(id) == e.cell_type : n_.cell_names[id] == e.instance;
        };
        const auto full = [&](std::string_view pin) {
            return e.instance.empty() ? std::string(pin) : std::string(e.instance) + "/" + std::string(pin);
        };
        const auto condition = [&](const LibraryArc& l) {
            return e.condition.empty() || squeezed(std::string(e.condition)) == squeezed(l.sdf_cond);
        };
        for (auto& a : arcs_) {
            if (a.cell < 0) {
                if ((e.kind == DelayEntry::interconnect && name(a.from) == full(e.from) && name(a.to) == full(e.to)) ||
                    (e.kind == DelayEntry::port && name(a.to) == full(e.to)))
                    put(a, e);
                continue;
            }
            if (!in_scope(a.cell)) continue;
            const auto from = n_.pin_names[n_.pins[static_cast<size_t>(a.from)].name],
                       to = n_.pin_names[n_.pins[static_cast<size_t>(a.to)].name];
            if (e.kind == DelayEntry::iopath && from == e.from && to == e.to && condition(*a.library)) put(a, e);
            if (e.kind == DelayEntry::device && (e.to.empty() || e.to == to)) put(a, e);
        }
        for (auto& c : checks_) {
            const bool setup_like = e.kind == DelayEntry::setup || e.kind == DelayEntry::recovery,
                       asynchronous = e.kind == DelayEntry::recovery || e.kind == DelayEntry::removal;
            if (e.kind < DelayEntry::setup || e.kind > DelayEntry::removal || setup_like != c.setup_like ||
                asynchronous != c.asynchronous || !in_scope(c.cell))
                continue;
            if (n_.pin_names[n_.pins[static_cast<size_t>(c.data)].name] != e.from ||
                n_.pin_names[n_.pins[static_cast<size_t>(c.clock)].name] != e.to)
                continue;
            if ((e.to_edge != 0 && (e.to_edge == 'p') != (c.edge == 0)) || !condition(*c.library)) continue;
            const double v = e.rise[static_cast<size_t>(setup_like ? options_.late_member : options_.early_member)];
            for (const int edge : {0, 1})
                if (!std::isnan(v) && (e.from_edge == 0 || (e.from_edge == 'p') == (edge == 0))) {
                    c.value[edge] = v;
                    c.given[edge] = true;
                }
        }
        if (e.kind == DelayEntry::width || e.kind == DelayEntry::period)
            for (int c = 0; c < static_cast<int>(n_.cells.size()); ++c) {
                const double v = e.rise[static_cast<size_t>(options_.late_member)];
                const int pin = in_scope(c) ? pin_of(c, std::string(e.from)) : -1;
                if (pin < 0 || std::isnan(v)) continue;
                if (e.kind == DelayEntry::period) pulse_[pin].period = v;
                if (e.kind == DelayEntry::width && e.from_edge != 'n') pulse_[pin].high = v;
                if (e.kind == DelayEntry::width && e.from_edge != 'p') pulse_[pin].low = v;
            }
    }
}

/// Outputs whose function is the same for every value of the pins that are open become constants. True when something
/// changed.
bool Reference::evaluate(int c) {
    const auto* cell = library_.cell(n_.type_of(static_cast<std::uint32_t>(c)));
    if (cell->flip_flop) return false;
    bool changed = false;
    for (const auto& pin : cell->pins) {
        const int node = pin_of(c, pin.name);
        if (node < 0 || pin.direction != Direction::out || pin.function.empty() ||
            value_[static_cast<size_t>(node)] >= 0)
            continue;
        const auto& f = pin.function;
        bool zero = false, one = false;
        for (std::uint64_t v = 0; v < (1ull << f.inputs.size()); ++v) {
            bool fits = true;
            for (size_t i = 0; i < f.inputs.size(); ++i) {
                const int p = pin_of(c, f.inputs[i]);
                if (p >= 0 && value_[static_cast<size_t>(p)] >= 0 &&
                    value_[static_cast<size_t>(p)] != static_cast<int>(v >> i & 1))
                    fits = false;
            }
            if (fits) (f.eval(v) ? one : zero) = true;
        }
        if (zero != one) {
            value_[static_cast<size_t>(node)] = one;
            changed = true;
        }
    }
    return changed;
}

void Reference::fix() {
    value_.assign(n_.pins.size() + n_.ports.size(), -1);
    for (const auto& c : k_.cases)
        if (c.value <= 1) value_[static_cast<size_t>(node_of(c.object))] = c.value;
    for (const int v : {0, 1})
        for (size_t p = 0; p < n_.pins.size(); ++p)
            if (n_.constant_net[v] != no_id && n_.pins[p].net == n_.constant_net[v] && value_[p] < 0) value_[p] = v;
    for (bool changed = true; changed;) {
        changed = false;
        for (const auto& a : arcs_)
            if (a.cell < 0 && value_[static_cast<size_t>(a.from)] >= 0 && value_[static_cast<size_t>(a.to)] < 0) {
                value_[static_cast<size_t>(a.to)] = value_[static_cast<size_t>(a.from)];
                changed = true;
            }
        for (int c = 0; c < static_cast<int>(n_.cells.size()); ++c) changed |= evaluate(c);
    }
}

bool Reference::can_be(const std::string& when, int cell) const {
    if (when.empty()) return true;
    auto parsed = parse_boolean(when);
    const auto f = parsed.take();
    for (std::uint64_t v = 0; v < (1ull << f.inputs.size()); ++v) {
        bool fits = f.eval(v);
        for (size_t i = 0; i < f.inputs.size(); ++i) {
            const int p = pin_of(cell, f.inputs[i]);
            if (p >= 0 && value_[static_cast<size_t>(p)] >= 0 &&
                value_[static_cast<size_t>(p)] != static_cast<int>(v >> i & 1))
                fits = false;
        }
        if (fits) return true;
    }
    return false;
}

/// What constants, conditions and set_disable_timing leave of the arcs.
void Reference::cut() {
    for (auto& a : arcs_) {
        bool off = value_[static_cast<size_t>(a.from)] >= 0 || value_[static_cast<size_t>(a.to)] >= 0;
        if (a.cell >= 0 && !can_be(a.library->when, a.cell)) off = true;
        if (a.cell >= 0 && !a.launch && !off) {
            const auto* cell = library_.cell(n_.type_of(static_cast<std::uint32_t>(a.cell)));
            const auto& f = cell->pins[a.library->to].function;
            const auto own = static_cast<size_t>(
                std::find(f.inputs.begin(), f.inputs.end(), cell->pins[a.library->from].name) - f.inputs.begin());
            bool any_constant = false, up = false, down = false;
            for (auto p = n_.cells[static_cast<size_t>(a.cell)].first_pin,
                      e = p + n_.cells[static_cast<size_t>(a.cell)].pin_count;
                 p < e; ++p)
                any_constant |= value_[p] >= 0;
            for (std::uint64_t v = 0; own < f.inputs.size() && v < (1ull << f.inputs.size()); ++v) {
                bool fits = !(v >> own & 1);
                for (size_t i = 0; i < f.inputs.size(); ++i) {
                    const int p = pin_of(a.cell, f.inputs[i]);
                    if (i != own && p >= 0 && value_[static_cast<size_t>(p)] >= 0 &&
                        value_[static_cast<size_t>(p)] != static_cast<int>(v >> i & 1))
                        fits = false;
                }
                if (fits) {
                    up |= !f.eval(v) && f.eval(v | 1ull << own);
                    down |= f.eval(v) && !f.eval(v | 1ull << own);
                }
            }
            if (any_constant && own < f.inputs.size())
                for (const int e : {0, 1}) {
                    a.pass[e][e] &= up;
                    a.pass[e][1 - e] &= down;
                }
        }
        if (off) a.pass[0][0] = a.pass[0][1] = a.pass[1][0] = a.pass[1][1] = false;
    }
    for (auto& c : checks_)
        if (!can_be(c.library->when, c.cell)) c.off = true;
    for (const auto& d : k_.disabled) {
        const auto type_named = [&](int cell) {
            return std::find(d.cell_types.begin(), d.cell_types.end(), n_.type_of(static_cast<std::uint32_t>(cell))) !=
                   d.cell_types.end();
        };
        const auto pin_named = [&](int node) {
            for (const auto& o : d.objects)
                if (node_of(o) == node) return true;
            if (is_port(node)) return false;
            const auto& p = n_.pins[static_cast<size_t>(node)];
            return std::find(d.type_pins.begin(), d.type_pins.end(), n_.type_of(p.cell) + "/" + n_.pin_names[p.name]) !=
                   d.type_pins.end();
        };
        const auto cell_named = [&](int cell, int from, int to) {
            bool mine = type_named(cell);
            for (const auto& o : d.objects) mine |= o.kind == ObjectKind::cell && static_cast<int>(o.id) == cell;
            return mine && (d.from.empty() || n_.pin_names[n_.pins[static_cast<size_t>(from)].name] == d.from) &&
                   (d.to.empty() || n_.pin_names[n_.pins[static_cast<size_t>(to)].name] == d.to);
        };
        for (auto& a : arcs_)
            if (pin_named(a.from) || pin_named(a.to) || (a.cell >= 0 && cell_named(a.cell, a.from, a.to)))
                a.pass[0][0] = a.pass[0][1] = a.pass[1][0] = a.pass[1][1] = false;
        for (auto& c : checks_)
            if (pin_named(c.data) || pin_named(c.clock) || cell_named(c.cell, c.clock, c.data)) c.off = true;
    }
    leaving_.assign(value_.size(), {});
    entering_.assign(value_.size(), {});
    for (int i = 0; i < static_cast<int>(arcs_.size()); ++i) {
        leaving_[static_cast<size_t>(arcs_[static_cast<size_t>(i)].from)].push_back(i);
        entering_[static_cast<size_t>(arcs_[static_cast<size_t>(i)].to)].push_back(i);
    }
}

double Reference::load(int node, int side, Edge edge) const {
    const auto net = is_port(node) ? n_.ports[static_cast<size_t>(node) - n_.pins.size()].net
                                   : n_.pins[static_cast<size_t>(node)].net;
    double sum = 0;
    for (const auto& p : n_.pins) {
        if (p.net != net || net == no_id) continue;
        const auto* cell = library_.cell(n_.type_of(p.cell));
        const auto& pin = cell->pins[static_cast<size_t>(cell->pin(n_.pin_names[p.name]))];
        if (pin.direction == Direction::in)
            sum += edge == 0 ? (pin.rise_capacitance >= 0 ? pin.rise_capacitance : pin.capacitance)
                             : (pin.fall_capacitance >= 0 ? pin.fall_capacitance : pin.capacitance);
    }
    for (const auto& l : k_.loads)
        if (net != no_id && (l.object.kind == ObjectKind::port ? n_.ports[l.object.id].net == net : l.object.id == net))
            sum += l.value[side][edge];
    return sum;
}

double Reference::slew(int node, int side, Edge edge) {
    const auto key = std::tuple{node, side, edge};
    if (const auto at = slews_.find(key); at != slews_.end()) return at->second;
    double out = 0;
    bool any = false;
    if (is_port(node))
        for (const auto& t : k_.input_transitions)
            if (static_cast<int>(n_.pins.size() + t.port) == node && (side == 0 ? t.minimum : t.maximum) &&
                (edge == 0 ? t.rise : t.fall))
                out = t.value;
    for (const int i : entering_[static_cast<size_t>(node)]) {
        const auto& a = arcs_[static_cast<size_t>(i)];
        for (const int in : {0, 1}) {
            if (!a.pass[in][edge]) continue;
            const double before = slew(a.from, side, in);
            const double behind = a.cell < 0 ? before
                                  : a.library->transition[edge].empty()
                                      ? 0
                                      : std::max(0.0, a.library->transition[edge].at(before, load(node, side, edge)));
            out = !any ? behind : side == 1 ? std::max(out, behind) : std::min(out, behind);
            any = true;
        }
    }
    // At the clock pins of registers an ideal clock has the transition it is given.
    bool at_register = false, ideal = false, first = true;
    for (const auto& c : checks_) at_register |= c.clock == node;
    for (const auto& a : arcs_) at_register |= a.launch && a.from == node;
    for (const auto& w : ways_[static_cast<size_t>(node)])
        if (at_register && w.edge == edge && !propagated_[static_cast<size_t>(w.clock)]) {
            double t = 0;
            for (const auto& c : k_.clock_transitions)
                if (std::find(c.clocks.begin(), c.clocks.end(), static_cast<std::uint32_t>(w.clock)) !=
                        c.clocks.end() &&
                    (w.clock_edge == 0 ? c.rise : c.fall) && (side == 0 ? c.minimum : c.maximum))
                    t = c.value;
            if (!ideal)
                out = t;
            else
                out = first ? t : side == 1 ? std::max(out, t) : std::min(out, t);
            ideal = true;
            first = false;
        }
    return slews_[key] = out;
}

void Reference::calculate() {
    for (auto& a : arcs_) {
        if (a.cell < 0) continue;
        for (const int side : {0, 1})
            for (const int in : {0, 1})
                for (const int out : {0, 1})
                    if (a.pass[in][out] && !a.given[side][in][out])
                        a.delay[side][in][out] =
                            (a.library->delay[out].empty()
                                 ? 0
                                 : std::max(0.0,
                                            a.library->delay[out].at(slew(a.from, side, in), load(a.to, side, out)))) +
                            a.added[side][in][out];
    }
}

void Reference::checks() {
    for (auto& c : checks_) {
        const int side = c.setup_like ? 1 : 0;
        for (const int edge : {0, 1}) {
            if (!c.given[edge]) {
                if (!edge_exists(c.library->constraint, edge))
                    c.value[edge] = std::nan("");
                else
                    c.value[edge] =
                        c.library->constraint[edge].empty()
                            ? 0
                            : c.library->constraint[edge].at(slew(c.data, side, edge), slew(c.clock, 1 - side, c.edge));
            }
            c.value[edge] *= factor(false, c.cell, -1, side, edge, false, true);
        }
    }
}

/// set_timing_derate: the later command wins, one that names an object wins over one that names none.
double Reference::factor(bool net, int cell, int net_id, int side, Edge edge, bool clock, bool check) const {
    double general = 1, own = 1;
    bool named = false;
    for (const auto& d : k_.derates) {
        if (!(side == 0 ? d.early : d.late) || !(edge == 0 ? d.rise : d.fall)) continue;
        if (check ? !d.check : !((net ? d.net : d.cell) && (clock ? d.clock : d.data))) continue;
        if (d.objects.empty() && d.cell_types.empty()) {
            general = d.value;
            continue;
        }
        bool mine = cell >= 0 && std::find(d.cell_types.begin(), d.cell_types.end(),
                                           n_.type_of(static_cast<std::uint32_t>(cell))) != d.cell_types.end();
        for (const auto& o : d.objects)
            mine |= (o.kind == ObjectKind::cell && static_cast<int>(o.id) == cell) ||
                    (o.kind == ObjectKind::net && static_cast<int>(o.id) == net_id);
        if (mine) {
            own = d.value;
            named = true;
        }
    }
    return named ? own : general;
}

double Reference::delay(const Arc& a, int side, Edge in, Edge out, bool clock) const {
    const auto net = is_port(a.from) ? n_.ports[static_cast<size_t>(a.from) - n_.pins.size()].net
                                     : n_.pins[static_cast<size_t>(a.from)].net;
    return a.delay[side][in][out] *
           factor(a.cell < 0, a.cell, a.cell < 0 ? static_cast<int>(net) : -1, side, out, clock, false);
}

}  // namespace kp::test
