// SPDX-License-Identifier: GPL-3.0-or-later
// What arrives where, as slots of a node and a tag; made once for each structure, before any time is computed.
#include "core/timing/slots.hpp"

#include <algorithm>
#include <set>
#include <tuple>

namespace kp::timing {

namespace {

class Maker {
public:
    Maker(const Graph& g, const Constraints& k, const ClockSet& clocks, Exceptions& x)
        : g_(g), k_(k), clocks_(clocks), exceptions_(x), first_start_(g.nodes, no_id) {
        for (const auto& c : k.clocks)
            for (const auto& o : c.sources)
                if (o.kind == ObjectKind::pin) inner_.insert(o.id);
    }

    std::optional<Slots> run(const std::stop_token& stop) {
        registers();
        ports();
        inner_clocks();
        out_.node.reserve(g_.nodes);
        out_.tag.reserve(g_.nodes);
        out_.of_rank.reserve(g_.nodes + 1);
        out_.in_start.reserve(g_.nodes + 1);
        out_.in_from.reserve(g_.arcs());
        out_.in_way.reserve(g_.arcs());
        size_t level = 0;
        for (std::uint32_t r = 0; r < g_.nodes; ++r) {
            if (r % 4096 == 0 && stop.stop_requested()) return std::nullopt;
            while (level < g_.level_start.size() && g_.level_start[level] == r) {
                out_.level.push_back(static_cast<SlotId>(out_.size()));
                ++level;
            }
            out_.of_rank.push_back(static_cast<SlotId>(out_.size()));
            place(g_.order[r]);
        }
        out_.of_rank.push_back(static_cast<SlotId>(out_.size()));
        out_.level.push_back(static_cast<SlotId>(out_.size()));
        out_.in_start.push_back(static_cast<std::uint32_t>(out_.in_from.size()));
        link_out();
        sort_starts();
        return std::move(out_);
    }

private:
    TagId intern(const Tag& tag) {
        if (last_ != no_id && out_.tags[last_] == tag) return last_;
        const auto [it, fresh] = ids_.emplace(tag, static_cast<TagId>(out_.tags.size()));
        if (fresh) out_.tags.push_back(tag);
        return last_ = it->second;
    }

    /// The tag of a path with `tag` after passing `node` with `edge`.
    TagId passed(TagId tag, NodeId node, int edge) {
        Tag t = out_.tags[tag];
        t.state = exceptions_.advance(t.state, node, edge);
        return intern(t);
    }

    /// Two data edges may be in different states (-rise_from); each makes a start of its own then.
    void add(Start s, std::uint32_t clock, int clock_edge) {
        const bool as_clock = s.kind == Start::clock_edge && !inner_.empty();
        TagId tag_of[2];
        for (const int e : {rise, fall}) {
            auto state = exceptions_.start(s.pin, s.arc == no_id ? e : s.pin_edge);
            if (s.node != s.pin) state = exceptions_.advance(state, s.node, e);
            tag_of[e] = intern({clock, clock_edge, state, as_clock});
        }
        out_.any_unshared |= !s.shares_source;
        const auto keep = [&](Start one, TagId tag, std::uint8_t edges) {
            one.tag = tag;
            one.edges = edges;
            next_start_.push_back(first_start_[s.node]);
            first_start_[s.node] = static_cast<std::uint32_t>(out_.starts.size());
            out_.starts.push_back(one);
        };
        if (tag_of[rise] == tag_of[fall]) return keep(s, tag_of[rise], s.edges);
        for (const int e : {rise, fall})
            if (s.edges >> e & 1) keep(s, tag_of[e], static_cast<std::uint8_t>(1u << e));
    }

    /// Every launching arc of a register whose clock pin a clock reaches.
    void registers() {
        for (ArcId a = 0; a < g_.arcs(); ++a) {
            if (g_.way[a] != Way::launch || g_.cut(a)) continue;
            const NodeId pin = g_.from[a];
            if (g_.cell_of(pin)->latch) enables_[g_.netlist->pins[pin].cell].push_back(a);
            const auto& list = clocks_[pin];
            for (std::uint32_t k = 0; k < list.size(); ++k) {
                Start s;
                s.kind = Start::launched;
                s.node = g_.to[a];
                s.pin = pin;
                s.arc = a;
                s.clock_entry = k;
                s.pin_edge = static_cast<std::uint8_t>(g_.launch_edge(a));
                add(s, list[k].clock, list[k].clock_edge(s.pin_edge));
            }
        }
    }

    /// Input ports: by their input delays, as a clock's own source, or with no clock at all.
    void ports() {
        const auto& ports = g_.netlist->ports;
        std::vector<std::vector<std::uint32_t>> delays(ports.size());
        for (std::uint32_t i = 0; i < k_.io_delays.size(); ++i)
            if (k_.io_delays[i].input) delays[k_.io_delays[i].port].push_back(i);
        for (std::uint32_t p = 0; p < ports.size(); ++p) {
            if (ports[p].direction == Direction::out) continue;
            const NodeId node = g_.input_node(p);
            std::map<std::tuple<std::uint32_t, int, bool>, Start> by_edge;
            for (const auto i : delays[p]) {
                const auto& d = k_.io_delays[i];
                Start s;
                s.kind = Start::input_delay;
                s.node = s.pin = node;
                s.shares_source = !d.source_latency_included;
                by_edge.try_emplace({d.clock, d.clock_fall ? fall : rise, d.source_latency_included}, s);
            }
            for (const auto& [key, s] : by_edge) add(s, std::get<0>(key), std::get<1>(key));
            clock_as_data(node);
            if (!by_edge.empty() || !clocks_[node].empty()) continue;
            Start s;
            s.node = s.pin = node;
            add(s, no_id, rise);
        }
    }

    /// The edges of a clock as data, from its source on; the way they take is that of data.
    void clock_as_data(NodeId node) {
        const auto& list = clocks_[node];
        for (std::uint32_t k = 0; k < list.size(); ++k)
            for (const int edge : {rise, fall}) {
                Start s;
                s.kind = Start::clock_edge;
                s.node = s.pin = node;
                s.clock_entry = k;
                s.pin_edge = static_cast<std::uint8_t>(edge);
                s.edges = static_cast<std::uint8_t>(1u << edge);
                add(s, list[k].clock, list[k].clock_edge(edge));
            }
    }

    /// Clocks that are defined on pins inside start there as data too.
    void inner_clocks() {
        for (const auto node : inner_) clock_as_data(node);
    }

    /// Data that pass an open latch go on as if its opening edge had launched them; see sweep.cpp for the times.
    void latch(ArcId id) {
        const NodeId pin = g_.from[id], node = g_.to[id];
        const auto enables = enables_.find(g_.netlist->pins[node].cell);
        if (enables == enables_.end()) return;
        for (const auto enable : enables->second) {
            if (g_.to[enable] != node) continue;
            const auto& list = clocks_[g_.from[enable]];
            const int opening = g_.launch_edge(enable);
            const auto [first, last] = out_.at(g_, pin);
            for (std::uint32_t k = 0; k < list.size(); ++k)
                for (auto from = first; from < last; ++from) {
                    if (out_.tags[out_.tag[from]].clock == no_id) continue;
                    for (const int in : {rise, fall}) {
                        Start s;
                        s.kind = Start::borrowed;
                        s.edges = static_cast<std::uint8_t>((g_.lets(id, in, rise) ? 1 : 0) |
                                                            (g_.lets(id, in, fall) ? 2 : 0));
                        s.node = node;
                        s.pin = pin;
                        s.arc = id;
                        s.pin_edge = static_cast<std::uint8_t>(in);
                        s.clock_entry = k;
                        s.enable = enable;
                        s.from = from;
                        s.shares_source = false;
                        if (s.edges) add(s, list[k].clock, list[k].clock_edge(opening));
                    }
                }
        }
    }

    /// A clock that meets a pin where only others are defined goes no further, as data neither.
    [[nodiscard]] bool ends_here(const Tag& tag, NodeId node) const {
        if (!tag.as_clock) return false;
        const auto& sources = k_.clocks[tag.clock].sources;
        return std::find(sources.begin(), sources.end(), ObjectRef{ObjectKind::pin, node}) == sources.end();
    }

    struct Link {
        TagId tag;
        SlotId from;
        std::uint32_t way;
    };

    /// All links into a node with the tags they bring.
    void collect(NodeId node) {
        links_.clear();
        const bool special = exceptions_.is_through_point(node), ends_clocks = !inner_.empty() && inner_.contains(node);
        for (auto a = g_.fanin_first[node]; a < g_.fanin_last[node]; ++a) {
            const EdgePairs pairs = g_.allowed[a];
            if (pairs == 0 || g_.way[a] == Way::launch) continue;
            if (g_.way[a] == Way::through) {
                latch(a);
                continue;
            }
            // A link that lets all pairs of its arc pass needs no mask.
            const EdgePairs mask = pairs == g_.passes[a] ? all_pairs : pairs;
            const auto [first, last] = out_.at(g_, g_.from[a]);
            for (auto from = first; from < last; ++from) {
                const TagId tag = out_.tag[from];
                if (ends_clocks && ends_here(out_.tags[tag], node)) continue;
                if (!special) {
                    links_.push_back({tag, from, Slots::way(a, mask)});
                    continue;
                }
                const TagId up = passed(tag, node, rise), down = passed(tag, node, fall);
                constexpr EdgePairs ups = pair_bit(rise, rise) | pair_bit(fall, rise);
                if (up == down)
                    links_.push_back({up, from, Slots::way(a, mask)});
                else if (pairs & ups)
                    links_.push_back({up, from, Slots::way(a, pairs & ups)});
                if (up != down && (pairs & ~ups & all_pairs))
                    links_.push_back({down, from, Slots::way(a, static_cast<EdgePairs>(pairs & ~ups & all_pairs))});
            }
        }
    }

    void place(NodeId node) {
        collect(node);
        if (links_.empty() && first_start_[node] == no_id) return;
        const auto begin = static_cast<SlotId>(out_.size());
        const auto slot_of = [&](TagId tag) {
            for (auto s = begin; s < out_.size(); ++s)
                if (out_.tag[s] == tag) return s;
            out_.node.push_back(node);
            out_.tag.push_back(tag);
            return static_cast<SlotId>(out_.size() - 1);
        };
        for (auto i = first_start_[node]; i != no_id; i = next_start_[i])
            out_.starts[i].slot = slot_of(out_.starts[i].tag);
        for (const auto& l : links_) slot_of(l.tag);
        const auto end = static_cast<SlotId>(out_.size());
        for (auto s = begin; s < end; ++s) {
            out_.in_start.push_back(static_cast<std::uint32_t>(out_.in_from.size()));
            for (const auto& l : links_)
                if (l.tag == out_.tag[s]) {
                    out_.in_from.push_back(l.from);
                    out_.in_way.push_back(l.way);
                }
        }
    }

    void link_out() {
        const auto slots = out_.size();
        out_.out_start.assign(slots + 1, 0);
        for (const auto from : out_.in_from) ++out_.out_start[from + 1];
        for (size_t i = 0; i < slots; ++i) out_.out_start[i + 1] += out_.out_start[i];
        out_.out_to.resize(out_.in_from.size());
        out_.out_way.resize(out_.in_from.size());
        auto next = out_.out_start;
        for (SlotId s = 0; s < slots; ++s)
            for (auto i = out_.in_start[s]; i < out_.in_start[s + 1]; ++i) {
                const auto at = next[out_.in_from[i]]++;
                out_.out_to[at] = s;
                out_.out_way[at] = out_.in_way[i];
            }
    }

    void sort_starts() {
        std::stable_sort(out_.starts.begin(), out_.starts.end(),
                         [](const Start& a, const Start& b) { return a.slot < b.slot; });
        out_.start_at.assign(out_.size(), no_id);
        for (auto i = static_cast<std::uint32_t>(out_.starts.size()); i-- > 0;) out_.start_at[out_.starts[i].slot] = i;
        for (auto& start : out_.starts)
            if (start.kind == Start::borrowed) start.window = out_.windows++;
    }

    const Graph& g_;
    const Constraints& k_;
    const ClockSet& clocks_;
    Exceptions& exceptions_;
    Slots out_;
    std::map<Tag, TagId> ids_;
    TagId last_ = no_id;
    std::set<NodeId> inner_;                               ///< pins inside where clocks are defined
    std::vector<std::uint32_t> first_start_, next_start_;  ///< per node; per start: the next of its node
    std::map<std::uint32_t, std::vector<ArcId>> enables_;  ///< of latches: cell, its enabling arcs
    std::vector<Link> links_;
};

}  // namespace

std::optional<Slots> make_slots(const Graph& graph, const Constraints& constraints, const ClockSet& clocks,
                                Exceptions& exceptions, const std::stop_token& stop) {
    return Maker(graph, constraints, clocks, exceptions).run(stop);
}

}  // namespace kp::timing
