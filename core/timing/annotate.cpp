// SPDX-License-Identifier: GPL-3.0-or-later
// SDF values onto arcs and checks (IEEE 1497). Early takes one member of each triple, late another; a member that is
// absent leaves the earlier value.
#include "core/timing/corner.hpp"

#include "core/base/text.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <cmath>

namespace kp::timing {

namespace {

std::string stripped(const std::string& text) {
    std::string out;
    for (const char c : text)
        if (c != ' ' && c != '\t') out += c;
    return out;
}

/// Whether a timing check of the SDF speaks of this edge of the data. Without an edge it is about the edges that the
/// library checks: a clear that only has to be released in time gets no check for being asserted.
bool sets_edge(const DelayEntry& e, const LibraryArc& check, int edge) {
    if (e.from_edge != 0) return (e.from_edge == 'p') == (edge == rise);
    return !check.constraint[edge].empty() || check.constraint[1 - edge].empty();
}

/// What one pin of a cell type asks; pin attributes first, then min_pulse_width groups.
void limits_of_pin(const LibraryCell& cell, size_t at, NodeId pin, std::vector<PulseLimit>& out) {
    const auto& p = cell.pins[at];
    if (p.min_pulse[0] > 0 || p.min_pulse[1] > 0 || p.min_period > 0)
        out.push_back({pin, {p.min_pulse[0], p.min_pulse[1]}, p.min_period});
    for (const auto& arc : cell.arcs) {
        if (arc.kind != ArcKind::pulse_width || arc.to != at) continue;
        auto& limit = out.emplace_back();
        limit.pin = pin;
        for (const size_t e : {0u, 1u}) limit.width[e] = arc.constraint[e].empty() ? 0 : arc.constraint[e].at(0, 0);
    }
}

void library_limits(const Graph& g, Corner& c) {
    std::vector<std::vector<bool>> asks;  // per type and pin
    for (const auto* cell : c.cell_types) {
        auto& pins = asks.emplace_back(cell ? cell->pins.size() : 0);
        for (size_t i = 0; i < pins.size(); ++i) {
            std::vector<PulseLimit> some;
            limits_of_pin(*cell, i, 0, some);
            pins[i] = !some.empty();
        }
    }
    for (NodeId pin = 0; pin < g.pins; ++pin) {
        const int at = g.cell_pin(pin);
        if (at >= 0 && asks[g.type_of(pin)][static_cast<size_t>(at)])
            limits_of_pin(*c.cell_types[g.type_of(pin)], static_cast<size_t>(at), pin, c.pulse_limits);
    }
}

}  // namespace

Result<Corner> start_corner(const Graph& g, const Library& library, std::string name, const TimingOptions& options) {
    Corner c;
    c.name = std::move(name);
    c.member[early] = options.early_member;
    c.member[late] = options.late_member;
    for (size_t i = 0; i < g.netlist->types.size(); ++i) {
        const auto* cell = library.cell(g.netlist->types[i]);
        const auto* first = g.cell_types[i];
        const auto alike = [](const LibraryArc& a, const LibraryArc& b) {
            return a.from == b.from && a.to == b.to && a.kind == b.kind;
        };
        const bool same = (!cell && !first) || (cell && first &&
                                                std::equal(cell->arcs.begin(), cell->arcs.end(), first->arcs.begin(),
                                                           first->arcs.end(), alike));
        if (!same)
            return Message{Severity::stop, Code::corner,
                           said("Library {} of corner {} does not have cell {} with the arcs of the first corner; use "
                                "libraries that differ in their numbers only.",
                                library.name, c.name, g.netlist->types[i]),
                           library.file};
        c.cell_types.push_back(cell);
    }
    c.base = Delays(g.passes);
    c.given.assign(g.arcs(), 0);
    c.check_given.assign(g.checks.size(), {absent, absent});
    library_limits(g, c);
    return c;
}

std::vector<Message> without_delay(const Graph& g, const Corner& c) {
    std::vector<Message> out;
    std::vector<bool> told(g.netlist->types.size(), false);
    for (ArcId a = 0; a < g.arcs(); ++a) {
        const auto* arc = c.given[a] == 0 ? g.library_of(a, c.cell_types) : nullptr;
        if (!arc || !arc->delay[rise].empty() || !arc->delay[fall].empty()) continue;
        const auto type = g.type_of(g.from[a]);
        if (told[type]) continue;
        told[type] = true;
        out.push_back({Severity::caution, Code::no_delay,
                       said("Cell {} has no delay from {} to {} in library or SDF, first at {}; 0 ns is taken.",
                            g.netlist->types[type], c.cell_types[type]->pins[arc->from].name,
                            c.cell_types[type]->pins[arc->to].name, g.name(g.from[a]))});
    }
    return out;
}

Annotator::Annotator(const Graph& g, Corner& corner, std::string file) : g_(g), c_(corner), file_(std::move(file)) {
    const auto& n = *g.netlist;
    for (const auto& name : n.cell_names) cells_.add(name);
    for (const auto& port : n.ports) ports_.add(port.name);
    first_check_.assign(n.cells.size() + 1, static_cast<std::uint32_t>(g.checks.size()));
    for (auto i = static_cast<std::uint32_t>(g.checks.size()); i-- > 0;)
        first_check_[n.pins[g.checks[i].data].cell] = i;
    for (size_t i = 0; i < corner.pulse_limits.size(); ++i) limit_at_.emplace(corner.pulse_limits[i].pin, i);
}

std::vector<Message> Annotator::finish() {
    if (misses_ > messages_.size())
        messages_.push_back({Severity::caution, Code::sdf,
                             counted(misses_ - messages_.size(), "more entry fits nothing in the netlist.",
                                     "more entries fit nothing in the netlist."),
                             file_});
    return std::move(messages_);
}

void Annotator::miss(const DelayEntry& e, std::string text) {
    if (misses_++ < 20) messages_.push_back({Severity::caution, Code::sdf, std::move(text), file_, e.line});
}

/// Entries of one instance follow each other: the last one found is asked first.
std::uint32_t Annotator::find_cell(std::string_view instance) {
    if (last_cell_ == no_id || instance != last_text_) {
        last_text_ = instance;
        last_cell_ = cells_.find(instance);
    }
    return last_cell_;
}

NodeId Annotator::pin_of(std::uint32_t cell, std::string_view name) const {
    const auto& n = *g_.netlist;
    const auto& c = n.cells[cell];
    for (NodeId p = c.first_pin; p < c.first_pin + c.pin_count; ++p)
        if (n.pin_names[n.pins[p].name] == name) return p;
    return no_id;
}

NodeId Annotator::find_node(std::string_view prefix, std::string_view name, bool drives) {
    if (!prefix.empty()) {
        text_.assign(prefix).append("/").append(name);
        name = text_;
    }
    if (const auto slash = name.rfind('/'); slash != std::string_view::npos)
        if (const auto cell = cells_.find(name.substr(0, slash)); cell != NameTable::none)
            return pin_of(cell, name.substr(slash + 1));
    const auto port = ports_.find(name);
    return port == NameTable::none ? no_id : drives ? g_.input_node(port) : g_.port_node(port);
}

void Annotator::take(const DelayEntry& e) {
    if (e.kind == DelayEntry::interconnect || e.kind == DelayEntry::port) return wire(e);
    const auto& n = *g_.netlist;
    if (e.instance == "*") {
        for (std::uint32_t c = 0; c < n.cells.size(); ++c)
            if (n.type_of(c) == e.cell_type) cell(e, c);
    } else if (const auto id = find_cell(e.instance); id != NameTable::none) {
        cell(e, id);
    } else {
        miss(e, said("There is no instance '{}' in the netlist.", e.instance));
    }
}

void Annotator::put(ArcId a, int in, int out, const Triple& t, bool increment) {
    if (!(g_.passes[a] & pair_bit(in, out))) return;
    for (const int side : {early, late}) {
        const double v = t[static_cast<size_t>(c_.member[side])];
        if (std::isnan(v)) continue;
        const int bit = side * 4 + in * 2 + out;
        const bool given = c_.given[a] >> bit & 1;
        if (increment && !given) {
            c_.added.try_emplace(a).first->second[static_cast<size_t>(bit)] += v;
            continue;
        }
        c_.base.set(a, side, in, out, increment ? c_.base.at(a, side, in, out) + v : v);
        c_.given[a] |= static_cast<std::uint8_t>(1u << bit);
    }
}

void Annotator::wire(const DelayEntry& e) {
    const NodeId to = find_node(e.instance, e.to, false);
    const NodeId from = e.kind == DelayEntry::port ? to : find_node(e.instance, e.from, true);
    if (to == no_id || from == no_id)
        return miss(e, said("There is no pin '{}{}' in the netlist.",
                            (e.instance.empty() ? "" : std::string(e.instance) + "/"), to == no_id ? e.to : e.from));
    bool found = false;
    for (auto a = g_.fanin_first[to]; a < g_.fanin_last[to]; ++a) {
        if (g_.way[a] != Way::net || (e.kind == DelayEntry::interconnect && g_.from[a] != from)) continue;
        put(a, rise, rise, e.rise, e.increment);
        put(a, fall, fall, e.fall, e.increment);
        found = true;
    }
    if (!found) miss(e, said("No wire leads from '{}' to '{}'.", e.from, e.to));
}

void Annotator::cell(const DelayEntry& e, std::uint32_t id) {
    if (e.kind == DelayEntry::iopath || e.kind == DelayEntry::device)
        path(e, id);
    else if (e.kind == DelayEntry::width || e.kind == DelayEntry::period)
        pulse(e, id);
    else
        check(e, id);
}

void Annotator::check(const DelayEntry& e, std::uint32_t id) {
    const bool setup_like = e.kind == DelayEntry::setup || e.kind == DelayEntry::recovery;
    const bool asynchronous = e.kind == DelayEntry::recovery || e.kind == DelayEntry::removal;
    const double v = e.rise[static_cast<size_t>(c_.member[setup_like ? late : early])];
    const auto& n = *g_.netlist;
    for (auto i = first_check_[id]; i < g_.checks.size() && n.pins[g_.checks[i].data].cell == id; ++i) {
        const auto& k = g_.checks[i];
        const bool same = k.setup_like == setup_like && k.asynchronous == asynchronous &&
                          n.pin_names[n.pins[k.data].name] == e.from && n.pin_names[n.pins[k.clock].name] == e.to;
        const bool edge = e.to_edge == 0 || (e.to_edge == 'p') == (k.clock_edge == rise);
        if (!same || !edge || std::isnan(v)) continue;
        if (!e.condition.empty() && e.condition != stripped(g_.library_of(k, g_.cell_types).sdf_cond)) continue;
        for (const int edge : {rise, fall})
            if (sets_edge(e, g_.library_of(k, g_.cell_types), edge)) c_.check_given[i][static_cast<size_t>(edge)] = v;
    }
}

void Annotator::pulse(const DelayEntry& e, std::uint32_t id) {
    const double v = e.rise[static_cast<size_t>(c_.member[late])];
    const NodeId pin = pin_of(id, e.from);
    if (pin == no_id || std::isnan(v)) return;
    const auto [at, fresh] = limit_at_.try_emplace(pin, c_.pulse_limits.size());
    if (fresh) c_.pulse_limits.push_back({pin, {0, 0}, 0});
    auto& limit = c_.pulse_limits[at->second];
    if (e.kind == DelayEntry::period)
        limit.period = v;
    else if (e.from_edge != 'n')
        limit.width[0] = v;
    if (e.kind == DelayEntry::width && e.from_edge != 'p') limit.width[1] = v;
}

void Annotator::paths_to(const DelayEntry& e, NodeId to, bool& found) {
    const auto& n = *g_.netlist;
    for (auto a = g_.fanin_first[to]; a < g_.fanin_last[to]; ++a) {
        if (g_.way[a] == Way::net || (e.kind == DelayEntry::iopath && n.pin_names[n.pins[g_.from[a]].name] != e.from))
            continue;
        if (!e.condition.empty() && e.condition != stripped(g_.library_of(a)->sdf_cond)) continue;
        found = true;
        for (const int in : {rise, fall}) {
            if ((e.from_edge == 'p' && in == fall) || (e.from_edge == 'n' && in == rise)) continue;
            put(a, in, rise, e.rise, e.increment);
            put(a, in, fall, e.fall, e.increment);
        }
    }
}

/// An arc that the library has but the analysis does not follow, such as clear to output, or one that ends in the air.
bool Annotator::is_left_out(const DelayEntry& e, std::uint32_t id) const {
    const auto* cell = g_.cell_types[g_.netlist->cells[id].type];
    return cell && std::any_of(cell->arcs.begin(), cell->arcs.end(), [&](const LibraryArc& arc) {
               const bool ends = e.kind == DelayEntry::device || cell->pins[arc.from].name == e.from;
               return !arc.is_check() && ends && (e.to.empty() || cell->pins[arc.to].name == e.to);
           });
}

void Annotator::path(const DelayEntry& e, std::uint32_t id) {
    const auto& n = *g_.netlist;
    bool found = false;
    if (e.kind == DelayEntry::device && e.to.empty()) {
        const auto& c = n.cells[id];
        for (NodeId p = c.first_pin; p < c.first_pin + c.pin_count; ++p) paths_to(e, p, found);
    } else if (const NodeId to = pin_of(id, e.to); to != no_id) {
        paths_to(e, to, found);
    }
    if (!found && e.condition.empty() && !is_left_out(e, id))
        miss(e, said("Cell {} has no path from '{}' to '{}'.", n.cell_names[id], e.from, e.to));
}

}  // namespace kp::timing
