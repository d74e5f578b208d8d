// SPDX-License-Identifier: GPL-3.0-or-later
// A synchroniser is two registers of the receiving clock with nothing between them, behind one register of the sender:
// then an undecided first one has a whole cycle to settle. Common practice; the reasoning is in Ginosar, "Fourteen Ways
// to Fool Your Synchronizer", ASYNC 2003 (title from memory).
#include "core/design/crossings.hpp"

#include <algorithm>
#include <bit>
#include <cctype>
#include <map>
#include <set>

namespace kp::design {

namespace {

using Pair = std::pair<std::uint32_t, std::uint32_t>;

bool holds(const ObjectSet& set, ObjectKind kind, std::uint32_t id) {
    return std::any_of(set.begin(), set.end(), [&](const ObjectRef& o) { return o.kind == kind && o.id == id; });
}

/// One way from where data start to a register, for asking the exceptions.
struct Way {
    std::uint32_t from_clock = no_id, to_clock = no_id;
    std::uint32_t from_cell = no_id, from_port = no_id;  ///< one of the two
    std::uint32_t to_pin = no_id;
    const std::vector<std::uint32_t>* nets = nullptr;  ///< between
};

class Exceptions {
public:
    Exceptions(const Connections& c, const Constraints& k) : c_(c), k_(k) {}

    /// Clock groups, or an exception that names nothing but clocks.
    [[nodiscard]] bool separates(std::uint32_t from, std::uint32_t to) {
        const auto [at, fresh] = known_.try_emplace({from, to}, false);
        if (fresh)
            at->second = by_groups(from, to) ||
                         std::any_of(k_.exceptions.begin(), k_.exceptions.end(), [&](const PathException& e) {
                             return counts(e) && only_clocks(e) && meets(e, {from, to, no_id, no_id, no_id, nullptr});
                         });
        return at->second;
    }
    [[nodiscard]] bool excuse(const Way& way) const {
        return std::any_of(k_.exceptions.begin(), k_.exceptions.end(),
                           [&](const PathException& e) { return counts(e) && meets(e, way); });
    }

private:
    static bool counts(const PathException& e) {
        return e.setup && (e.kind == PathException::false_path || e.kind == PathException::max_delay);
    }
    static bool only_clocks(const PathException& e) {
        const auto all = [](const std::optional<PathException::Point>& p) {
            return !p || std::all_of(p->objects.begin(), p->objects.end(),
                                     [](const ObjectRef& o) { return o.kind == ObjectKind::clock; });
        };
        return e.through.empty() && all(e.from) && all(e.to);
    }
    [[nodiscard]] bool by_groups(std::uint32_t from, std::uint32_t to) const {
        for (const auto& g : k_.groups) {
            int a = -1, b = -1;
            for (int i = 0; i < static_cast<int>(g.groups.size()); ++i)
                for (const auto clock : g.groups[static_cast<size_t>(i)]) {
                    if (clock == from) a = i;
                    if (clock == to) b = i;
                }
            // One group alone stands apart from all other clocks.
            if (g.groups.size() == 1 ? (a == 0) != (b == 0) : a >= 0 && b >= 0 && a != b) return true;
        }
        return false;
    }
    [[nodiscard]] bool meets(const PathException& e, const Way& w) const {
        if (e.from && !starts(e.from->objects, w)) return false;
        if (e.to && !ends(e.to->objects, w)) return false;
        return std::all_of(e.through.begin(), e.through.end(),
                           [&](const PathException::Point& p) { return passes(p.objects, w); });
    }
    [[nodiscard]] bool starts(const ObjectSet& set, const Way& w) const {
        if (holds(set, ObjectKind::clock, w.from_clock)) return true;
        if (w.from_port != no_id) return holds(set, ObjectKind::port, w.from_port);
        return w.from_cell != no_id && cell_named(set, w.from_cell);
    }
    [[nodiscard]] bool ends(const ObjectSet& set, const Way& w) const {
        if (holds(set, ObjectKind::clock, w.to_clock)) return true;
        return w.to_pin != no_id &&
               (holds(set, ObjectKind::pin, w.to_pin) || holds(set, ObjectKind::cell, c_.netlist.pins[w.to_pin].cell));
    }
    [[nodiscard]] bool cell_named(const ObjectSet& set, std::uint32_t cell) const {
        return std::any_of(set.begin(), set.end(), [&](const ObjectRef& o) {
            return (o.kind == ObjectKind::cell && o.id == cell) ||
                   (o.kind == ObjectKind::pin && c_.netlist.pins[o.id].cell == cell);
        });
    }
    [[nodiscard]] bool passes(const ObjectSet& set, const Way& w) const {
        return w.nets && std::any_of(set.begin(), set.end(), [&](const ObjectRef& o) {
                   const auto net = o.kind == ObjectKind::pin    ? c_.netlist.pins[o.id].net
                                    : o.kind == ObjectKind::net  ? o.id
                                    : o.kind == ObjectKind::port ? c_.netlist.ports[o.id].net
                                                                 : no_id;
                   const bool there = net != no_id && std::find(w.nets->begin(), w.nets->end(), net) != w.nets->end();
                   return there || (o.kind == ObjectKind::cell &&
                                    std::any_of(w.nets->begin(), w.nets->end(), [&](std::uint32_t n) {
                                        return c_.driver(n) != no_id && c_.netlist.pins[c_.driver(n)].cell == o.id;
                                    }));
               });
    }
    const Connections& c_;
    const Constraints& k_;
    std::map<Pair, bool> known_;
};

class Search {
public:
    Search(const Connections& c, const ClockNets& clocks, const Constraints& k, DesignFacts& facts)
        : c_(c),
          n_(c.netlist),
          clocks_(clocks),
          exceptions_(c, k),
          k_(k),
          facts_(facts),
          port_of_(n_.net_names.size(), no_id) {
        for (std::uint32_t i = 0; i < n_.ports.size(); ++i)
            if (n_.ports[i].direction != Direction::out && n_.ports[i].net != no_id) port_of_[n_.ports[i].net] = i;
    }

    void run(const std::stop_token& stop) {
        for (std::uint32_t cell = 0; cell < n_.cells.size(); ++cell) {
            if (cell % 1024 == 0 && stop.stop_requested()) return;
            if (!c_.is_register(cell)) continue;
            const auto own = clocks_.of_register(c_, cell);
            for (auto p = n_.cells[cell].first_pin; own && p < n_.cells[cell].first_pin + n_.cells[cell].pin_count; ++p)
                if (c_.is_data_pin(p) && n_.pins[p].net != no_id) at_input(p, own);
        }
        for (auto& [pair, crossing] : found_)
            if (crossing.open > 0 || crossing.synchronised > 0) facts_.crossings.push_back(crossing);
        for (auto& [pair, crossing] : related_) facts_.related.push_back(crossing);
        for (const auto& [key, bits] : bits_) bus(key, bits);
    }

private:
    struct Bit {
        int index;
        std::uint32_t cell;
    };
    using BusKey = std::tuple<std::uint32_t, std::uint32_t, std::string>;

    void at_input(std::uint32_t pin, ClockMask own) {
        const auto arriving = clocks_.launch[n_.pins[pin].net];
        for (ClockMask a = arriving & ~own; a; a &= a - 1)
            for (ClockMask b = own; b; b &= b - 1) {
                const auto from = static_cast<std::uint32_t>(std::countr_zero(a)),
                           to = static_cast<std::uint32_t>(std::countr_zero(b));
                if (clocks_.asynchronous(from, to))
                    meet(pin, from, to);
                else
                    meet_related(pin, from, to);
            }
    }

    void meet(std::uint32_t pin, std::uint32_t from, std::uint32_t to) {
        auto& crossing = found_[{from, to}];
        crossing.from = from;
        crossing.to = to;
        const auto source = direct_source(n_.pins[pin].net);
        if (source != no_id && has_second(n_.pins[pin].cell)) {
            ++crossing.synchronised;
            const auto [stem, index] = stem_of(n_.cell_names[source]);
            if (index >= 0) bits_[{from, to, stem}].push_back({index, source});
            return;
        }
        if (exceptions_.separates(from, to)) return;
        trace(pin, from, to, crossing);
    }

    void meet_related(std::uint32_t pin, std::uint32_t from, std::uint32_t to) {
        auto& crossing = related_[{from, to}];
        crossing.from = from;
        crossing.to = to;
        const bool synchroniser = direct_source(n_.pins[pin].net) != no_id && has_second(n_.pins[pin].cell);
        (synchroniser ? crossing.synchronised : crossing.open) += 1;
    }

    /// The register whose output comes here through nothing but pads, buffers and inverters.
    [[nodiscard]] std::uint32_t direct_source(std::uint32_t net) const {
        for (int depth = 0; depth < 16 && net != no_id; ++depth) {
            const auto driver = c_.driver(net);
            if (driver == no_id) return no_id;
            if (c_.is_register(n_.pins[driver].cell)) return n_.pins[driver].cell;
            const auto before = c_.inputs_before(driver);
            if (before.size() != 1) return no_id;
            net = n_.pins[before[0]].net;
        }
        return no_id;
    }

    /// All that hears the register are data inputs of registers of the same clock.
    [[nodiscard]] bool has_second(std::uint32_t cell) const {
        const auto own = clocks_.of_register(c_, cell);
        bool any = false;
        for (const auto net : c_.register_outputs(cell))
            for (const auto load : c_.loads(net)) {
                if (!c_.is_data_pin(load) || clocks_.of_register(c_, n_.pins[load].cell) != own) return false;
                any = true;
            }
        return any;
    }

    void trace(std::uint32_t pin, std::uint32_t from, std::uint32_t to, ClockCrossing& crossing) {
        constexpr size_t most = 5000;  // beyond that the way is not followed and counts as open
        const auto bit = ClockMask{1} << from;
        std::vector<std::uint32_t> nets{n_.pins[pin].net};
        std::set<std::uint32_t> seen(nets.begin(), nets.end());
        for (size_t i = 0; i < nets.size() && i < most; ++i) {
            const auto net = nets[i];
            if (!(clocks_.launch[net] & bit)) continue;
            Way way{from, to, no_id, port_of_[net], pin, &nets};
            const auto driver = c_.driver(net);
            if (driver != no_id && c_.is_register(n_.pins[driver].cell)) {
                way.from_cell = n_.pins[driver].cell;
                way.from_port = no_id;
            }
            const bool starts = way.from_cell != no_id ? (clocks_.of_register(c_, way.from_cell) & bit) != 0
                                                       : way.from_port != no_id && port_launches(way.from_port, from);
            if (starts && !exceptions_.excuse(way)) {
                if (crossing.open++ == 0) {
                    crossing.open_from =
                        way.from_cell != no_id ? n_.cell_names[way.from_cell] : n_.ports[way.from_port].name;
                    crossing.open_to = n_.pin_name(pin);
                }
                return;
            }
            if (driver == no_id || way.from_cell != no_id) continue;
            for (const auto before : c_.inputs_before(driver))
                if (seen.insert(n_.pins[before].net).second) nets.push_back(n_.pins[before].net);
        }
    }

    [[nodiscard]] bool port_launches(std::uint32_t port, std::uint32_t clock) const {
        return std::any_of(k_.io_delays.begin(), k_.io_delays.end(),
                           [&](const IoDelay& d) { return d.input && d.port == port && d.clock == clock; });
    }

    /// "wide_g_3_reg" and "u/wide_g_reg[3]" → ("wide_g", 3); index -1 without a number.
    static std::pair<std::string, int> stem_of(std::string name) {
        const auto bracket = name.ends_with(']') ? name.rfind('[') : name.size();
        if (bracket != std::string::npos && std::string_view(name).substr(0, bracket).ends_with("_reg"))
            name.erase(bracket - 4, 4);
        if (name.ends_with(']')) name.pop_back();
        size_t digits = name.size();
        while (digits > 0 && std::isdigit(static_cast<unsigned char>(name[digits - 1]))) --digits;
        if (digits == name.size() || name.size() - digits > 6) return {name, -1};
        const int index = std::stoi(name.substr(digits));
        name.erase(digits);
        while (!name.empty() && (name.back() == '[' || name.back() == '_')) name.pop_back();
        return {name, index};
    }

    void bus(const BusKey& key, std::vector<Bit> bits) {
        std::sort(bits.begin(), bits.end(), [](const Bit& a, const Bit& b) { return a.index < b.index; });
        bits.erase(std::unique(bits.begin(), bits.end(), [](const Bit& a, const Bit& b) { return a.index == b.index; }),
                   bits.end());
        if (bits.size() < 2 || gray(bits)) return;
        facts_.buses.push_back({std::get<0>(key), std::get<1>(key), std::get<2>(key), static_cast<int>(bits.size())});
    }

    /// Gray code as a binary count makes it: bit i is b[i] xor b[i+1], so that neighbours share an input; the last is
    /// plain.
    [[nodiscard]] bool gray(const std::vector<Bit>& bits) const {
        std::vector<std::set<std::uint32_t>> inputs;
        for (const auto& bit : bits) {
            const auto* lib = c_.type(bit.cell);
            if (lib->next_state.inputs.empty()) return false;
            inputs.push_back(operands(c_.net_of(bit.cell, lib->next_state.inputs[0])));
        }
        for (size_t i = 0; i + 1 < inputs.size(); ++i) {
            if (inputs[i].size() != 2) return false;
            if (std::none_of(inputs[i].begin(), inputs[i].end(),
                             [&](std::uint32_t net) { return inputs[i + 1].contains(net); }))
                return false;
        }
        return true;
    }

    /// The two nets of an exclusive or; otherwise the net itself.
    [[nodiscard]] std::set<std::uint32_t> operands(std::uint32_t net) const {
        const auto driver = net == no_id ? no_id : c_.driver(net);
        if (driver == no_id || c_.is_register(n_.pins[driver].cell)) return {net};
        const auto before = c_.inputs_before(driver);
        if (before.size() != 2) return {net};
        unsigned inputs = 0;
        const auto table = c_.table(n_.pins[driver].cell, inputs);
        const auto* f = &c_.pin(driver)->function;
        const bool exclusive = table ? inputs == 2 && (*table & 15) == 6
                                     : f->inputs.size() == 2 && !f->eval(0) && f->eval(1) && f->eval(2) && !f->eval(3);
        return exclusive ? std::set<std::uint32_t>{n_.pins[before[0]].net, n_.pins[before[1]].net}
                         : std::set<std::uint32_t>{net};
    }

    const Connections& c_;
    const Netlist& n_;
    const ClockNets& clocks_;
    Exceptions exceptions_;
    const Constraints& k_;
    DesignFacts& facts_;
    std::vector<std::uint32_t> port_of_;
    std::map<Pair, ClockCrossing> found_, related_;
    std::map<BusKey, std::vector<Bit>> bits_;
};

}  // namespace

void find_crossings(const Connections& c, const ClockNets& clocks, const Constraints& constraints, DesignFacts& facts,
                    const std::stop_token& stop) {
    Search(c, clocks, constraints, facts).run(stop);
}

}  // namespace kp::design
