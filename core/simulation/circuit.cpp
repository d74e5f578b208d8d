// SPDX-License-Identifier: GPL-3.0-or-later
// One plan for each cell type, one record for each instance; logic gets levels so that at one time nothing is worked
// out before what it listens to. Linear in pins.
#include "core/simulation/circuit.hpp"

#include "core/base/text.hpp"
#include "core/model/parameter.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <cmath>

namespace kp::simulation {

Time time_of(double ns) {
    return std::llround(ns * 1e6);
}
double ns_of(Time t) {
    return static_cast<double>(t) / 1e6;
}

namespace {

class Maker {
public:
    Maker(const Netlist& n, const Library& library) : n_(n), library_(library) { c_.netlist = &n; }

    Result<Circuit> run() {
        std::vector<std::uint32_t> plan_of(n_.types.size(), no_id);
        for (std::uint32_t id = 0; id < n_.cells.size(); ++id) {
            const auto type = n_.cells[id].type;
            if (plan_of[type] == no_id) {
                plan_of[type] = static_cast<std::uint32_t>(c_.plans.size());
                plan(id);
                if (error_) return *error_;
            }
            instance(id, plan_of[type]);
            if (error_) return *error_;
        }
        connect();
        levels();
        c_.wire.assign(c_.input_net.size(), {});
        c_.port_wire.assign(n_.ports.size(), {});
        c_.path_start.assign(c_.output_net.size() + 1, 0);
        return std::move(c_);
    }

private:
    void fail(std::uint32_t cell, const std::string& why) {
        if (!error_)
            error_ =
                Message{Severity::stop, Code::simulation,
                        said("Instance {} ({}) cannot be simulated: {}.", n_.cell_names[cell], n_.type_of(cell), why),
                        n_.files.empty() ? "" : n_.files[0],
                        cell < n_.cell_lines.size() ? static_cast<int>(n_.cell_lines[cell]) : 0};
    }

    /// Positions of the inputs of a function among inputs, state and its opposite.
    Function function(const BooleanFunction& f, const CellPlan& p, std::uint32_t cell) {
        if (f.empty()) return {};
        std::vector<std::uint16_t> at;
        for (const auto& name : f.inputs) {
            if (p.state && name == p.cell->state) {
                at.push_back(static_cast<std::uint16_t>(p.inputs.size()));
                continue;
            }
            if (p.state && name == p.cell->state_n) {
                at.push_back(static_cast<std::uint16_t>(p.inputs.size() + 1));
                continue;
            }
            const int pin = p.cell->pin(name);
            const auto found = std::find(p.inputs.begin(), p.inputs.end(), static_cast<std::uint32_t>(pin));
            if (pin < 0 || found == p.inputs.end()) {
                fail(cell, said("its function names '{}', which is not an input", name));
                return {};
            }
            at.push_back(static_cast<std::uint16_t>(found - p.inputs.begin()));
        }
        return Function(f, at);
    }

    void plan(std::uint32_t id) {
        CellPlan p;
        p.cell = library_.cell(n_.type_of(id));
        if (!p.cell) return fail(id, "the library has no such cell");
        if (p.cell->guessed) return fail(id, "only its delays are known, not what it computes");
        p.state = p.cell->flip_flop;
        p.latch = p.cell->latch;
        p.look = !p.cell->truth_table_parameter.empty();
        for (std::uint32_t k = 0; k < p.cell->pins.size(); ++k) {
            const auto direction = p.cell->pins[k].direction;
            if (direction != Direction::out) p.inputs.push_back(k);
            if (direction != Direction::in) p.outputs.push_back(k);
        }
        if (p.state) {
            p.clock = function(p.cell->clocked_on, p, id);
            p.next = function(p.cell->next_state, p, id);
            p.clear = function(p.cell->clear, p, id);
            p.preset = function(p.cell->preset, p, id);
            p.both = p.cell->both_state;
            p.both_n = p.cell->both_state_n;
        }
        memory(p, id);
        for (const auto k : p.outputs) output(p, p.cell->pins[k], id);
        c_.plans.push_back(std::move(p));
    }

    void output(CellPlan& p, const LibraryPin& pin, std::uint32_t id) {
        CellPlan::Output out;
        const bool read = std::any_of(p.reads.begin(), p.reads.end(), [&](const MemoryPlan& r) {
            return std::any_of(r.data.begin(), r.data.end(),
                               [&](std::uint16_t o) { return &p.cell->pins[p.outputs[o]] == &pin; });
        });
        std::vector<std::string> heard = pin.function.inputs;
        heard.insert(heard.end(), pin.three_state.inputs.begin(), pin.three_state.inputs.end());
        if (p.look) {
            std::vector<std::uint16_t> all;
            for (std::uint16_t k = 0; k < p.inputs.size(); ++k) all.push_back(k);
            if (all.size() > 6) return fail(id, "a look-up of more than six inputs");
            out.value = Function(0, all);
            out.listens = all;
        } else if (!read) {
            if (pin.function.empty()) return fail(id, said("the library does not say what pin {} computes", pin.name));
            out.value = function(pin.function, p, id);
            out.off = function(pin.three_state, p, id);
            for (std::uint16_t k = 0; k < p.inputs.size(); ++k)
                if (std::find(heard.begin(), heard.end(), p.cell->pins[p.inputs[k]].name) != heard.end())
                    out.listens.push_back(k);
        } else {
            for (const auto& r : p.reads) out.listens.insert(out.listens.end(), r.address.begin(), r.address.end());
        }
        p.out.push_back(std::move(out));
    }

    /// Positions of the bits of a bus among the inputs or the outputs, lowest bit first.
    std::vector<std::uint16_t> bits(const CellPlan& p, const std::string& name,
                                    const std::vector<std::uint32_t>& among) {
        const auto* bus = p.cell->bus(name);
        auto pins = bus ? bus->bits : std::vector<std::string>{name};
        std::reverse(pins.begin(), pins.end());
        std::vector<std::uint16_t> out;
        for (const auto& pin : pins) {
            const auto at = std::find(among.begin(), among.end(), static_cast<std::uint32_t>(p.cell->pin(pin)));
            if (at != among.end()) out.push_back(static_cast<std::uint16_t>(at - among.begin()));
        }
        return out;
    }

    void memory(CellPlan& p, std::uint32_t id) {
        for (const auto& port : p.cell->memory) {
            MemoryPlan m;
            m.address = bits(p, port.address, p.inputs);
            m.data = bits(p, port.data, port.write ? p.inputs : p.outputs);
            m.clock = function(port.clocked_on, p, id);
            m.enable = function(port.enable, p, id);
            if (m.address.empty() || m.address.size() > 20 || m.data.empty() || (port.write && m.clock.empty()))
                return fail(id, said("its memory port on {} is not complete", port.data));
            (port.write ? p.writes : p.reads).push_back(std::move(m));
        }
    }

    void instance(std::uint32_t id, std::uint32_t which) {
        const auto& p = c_.plans[which];
        CellInstance cell;
        cell.plan = which;
        cell.first_input = static_cast<std::uint32_t>(c_.input_net.size());
        cell.first_output = static_cast<std::uint32_t>(c_.output_net.size());
        const auto& c = n_.cells[id];
        const auto net_of = [&](std::uint32_t pin) {
            const auto& name = p.cell->pins[pin].name;
            for (auto k = c.first_pin; k < c.first_pin + c.pin_count; ++k)
                if (n_.pin_names[n_.pins[k].name] == name) return n_.pins[k].net;
            return no_id;
        };
        for (const auto pin : p.inputs) {
            c_.input_net.push_back(net_of(pin));
            c_.input_cell.push_back(id);
        }
        for (const auto pin : p.outputs) {
            c_.output_net.push_back(net_of(pin));
            c_.output_cell.push_back(id);
        }
        if (p.state) {
            cell.state = c_.states++;
            cell.start = start(id, *p.cell);
            c_.has_registers = true;
        }
        if (!p.writes.empty() || !p.reads.empty()) {
            cell.memory = memories_++;
            c_.has_registers = true;
        }
        if (p.look) {
            const auto* text = parameter_of(n_, id, p.cell->truth_table_parameter);
            const auto table = text ? number_of(*text) : std::nullopt;
            if (!table)
                return fail(id,
                            text ? said("its table '{}' cannot be read", *text)
                                 : said("the parameter {} with its table is missing", p.cell->truth_table_parameter));
            cell.table = *table;
        }
        c_.cells.push_back(cell);
    }

    Bit start(std::uint32_t id, const LibraryCell& cell) {
        std::string text = cell.initial_value;
        if (!cell.initial_value_parameter.empty())
            if (const auto* given = parameter_of(n_, id, cell.initial_value_parameter)) text = *given;
        if (text.empty()) return Bit::x;
        const char last = text.back();
        return last == '0' ? Bit::zero : last == '1' ? Bit::one : Bit::x;
    }

    static void index(const std::vector<std::uint32_t>& net_of, size_t nets, std::vector<std::uint32_t>& start,
                      std::vector<std::uint32_t>& list) {
        start.assign(nets + 1, 0);
        for (const auto net : net_of)
            if (net != no_id) ++start[net + 1];
        for (size_t i = 1; i < start.size(); ++i) start[i] += start[i - 1];
        list.resize(start.back());
        auto at = start;
        for (std::uint32_t k = 0; k < net_of.size(); ++k)
            if (net_of[k] != no_id) list[at[net_of[k]]++] = k;
    }

    void connect() {
        index(c_.input_net, n_.net_names.size(), c_.sink_start, c_.sinks);
        index(c_.output_net, n_.net_names.size(), c_.driver_start, c_.drivers);
    }

    /// Longest way through logic to each cell; in a loop the way round is cut where it is met.
    void levels() {
        const auto count = c_.cells.size();
        std::vector<std::uint32_t> waits(count, 0), ready;
        const auto is_logic = [&](std::uint32_t cell) {
            return c_.cells[cell].state == no_id && c_.plans[c_.cells[cell].plan].writes.empty();
        };
        const auto listens = [&](std::uint32_t input) {
            const auto& cell = c_.cells[c_.input_cell[input]];
            const auto k = static_cast<std::uint16_t>(input - cell.first_input);
            const auto& outs = c_.plans[cell.plan].out;
            return std::any_of(outs.begin(), outs.end(), [&](const auto& o) {
                return std::find(o.listens.begin(), o.listens.end(), k) != o.listens.end();
            });
        };
        const auto each = [&](std::uint32_t cell, auto&& act) {
            const auto& c = c_.cells[cell];
            const auto outs = c_.plans[c.plan].outputs.size();
            for (std::uint32_t o = c.first_output; o < c.first_output + outs; ++o) {
                const auto net = c_.output_net[o];
                if (net == no_id) continue;
                for (auto s = c_.sink_start[net]; s < c_.sink_start[net + 1]; ++s)
                    if (is_logic(c_.input_cell[c_.sinks[s]]) && listens(c_.sinks[s])) act(c_.input_cell[c_.sinks[s]]);
            }
        };
        for (std::uint32_t k = 0; k < count; ++k)
            if (is_logic(k)) each(k, [&](std::uint32_t to) { ++waits[to]; });
        for (std::uint32_t k = 0; k < count; ++k)
            if (is_logic(k) && waits[k] == 0) ready.push_back(k);
        for (size_t at = 0; at < ready.size(); ++at)
            each(ready[at], [&](std::uint32_t to) {
                c_.cells[to].level = std::max(c_.cells[to].level, c_.cells[ready[at]].level + 1);
                if (--waits[to] == 0) ready.push_back(to);
            });
        for (const auto& c : c_.cells) c_.levels = std::max(c_.levels, c.level + 1);
    }

    const Netlist& n_;
    const Library& library_;
    Circuit c_;
    std::optional<Message> error_;
    std::uint32_t memories_ = 0;
};

constexpr double longest_delay = 1e9;  ///< ns: no circuit waits a second

class Annotator {
public:
    explicit Annotator(Circuit& c) : c_(c), index_(*c.netlist), paths_(c.output_net.size()) {
        c.checks.resize(c.cells.size());
        for (std::uint32_t k = 0; k < c.netlist->cells.size(); ++k) of_type_[c.netlist->type_of(k)].push_back(k);
    }

    void take(const DelayEntry& e) {
        if (e.kind == DelayEntry::interconnect) return wire(e);
        if (e.instance == "*") {
            for (const auto cell : of_type_[std::string(e.cell_type)]) one(e, cell);
            return;
        }
        const auto cell = index_.cell(e.instance);
        if (cell == no_id) {
            if (!e.instance.empty()) ++unknown_;
            return;
        }
        one(e, cell);
    }

    std::vector<Message> finish(const std::string& file) {
        for (size_t o = 0; o < paths_.size(); ++o) {
            c_.path_start[o] = static_cast<std::uint32_t>(c_.paths.size());
            c_.paths.insert(c_.paths.end(), paths_[o].begin(), paths_[o].end());
        }
        c_.path_start.back() = static_cast<std::uint32_t>(c_.paths.size());
        c_.has_delays = true;
        std::vector<Message> out;
        // What comes before its cause comes at once with it.
        for (auto& p : c_.paths) p.rise = std::max<Time>(p.rise, 0), p.fall = std::max<Time>(p.fall, 0);
        for (auto* wires : {&c_.wire, &c_.port_wire})
            for (auto& w : *wires) w.rise = std::max<Time>(w.rise, 0), w.fall = std::max<Time>(w.fall, 0);
        if (too_long_)
            out.push_back(
                {Severity::stop, Code::delays,
                 counted(static_cast<long long>(too_long_), "value") +
                     " of the delay file (as a unit of time multiplies them) would be longer than a second. Look "
                     "at its TIMESCALE and its numbers.",
                 file});
        if (unknown_)
            out.push_back({Severity::note, Code::delays,
                           counted(unknown_, "entry of the delay file is", "entries of the delay file are") +
                               " for what the netlist does not have.",
                           file});
        return out;
    }

private:
    /// Typical, else maximum, else minimum; false when the triple is empty or no delay.
    bool member(const Triple& t, Time& out) {
        for (const int k : {1, 2, 0}) {
            const auto ns = t[static_cast<size_t>(k)];
            if (std::isnan(ns)) continue;
            if (std::abs(ns) > longest_delay) {
                ++too_long_;
                return false;
            }
            out = time_of(ns);
            return true;
        }
        return false;
    }

    int input(std::uint32_t cell, std::string_view pin) const {
        return place(c_.plans[c_.cells[cell].plan].inputs, cell, pin);
    }
    int output(std::uint32_t cell, std::string_view pin) const {
        return place(c_.plans[c_.cells[cell].plan].outputs, cell, pin);
    }
    int place(const std::vector<std::uint32_t>& pins, std::uint32_t cell, std::string_view name) const {
        const auto& lib = *c_.plans[c_.cells[cell].plan].cell;
        for (size_t k = 0; k < pins.size(); ++k)
            if (lib.pins[pins[k]].name == name) return static_cast<int>(k);
        return -1;
    }

    void wire(const DelayEntry& e) {
        const auto cut = e.to.rfind('/');
        Time t = 0;
        if (!member(e.rise, t)) return;
        if (cut == std::string_view::npos) {
            Time fall = t;
            member(e.fall, fall);
            const auto port = index_.port(e.to);
            if (port == no_id)
                ++unknown_;
            else
                c_.port_wire[port] = {t, fall};
            return;
        }
        const auto cell = index_.cell(e.to.substr(0, cut));
        const int k = cell == no_id ? -1 : input(cell, e.to.substr(cut + 1));
        if (k < 0) {
            ++unknown_;
            return;
        }
        Time fall = t;
        member(e.fall, fall);
        auto& wire = c_.wire[c_.cells[cell].first_input + static_cast<std::uint32_t>(k)];
        wire = {t + (e.increment ? wire.rise : 0), fall + (e.increment ? wire.fall : 0)};
    }

    void one(const DelayEntry& e, std::uint32_t cell) {
        if (e.kind == DelayEntry::iopath || e.kind == DelayEntry::device) return path(e, cell);
        if (e.kind == DelayEntry::setup || e.kind == DelayEntry::hold) return check(e, cell);
        if (e.kind != DelayEntry::port) return;
        Time t = 0;
        if (const int k = input(cell, e.to.empty() ? e.from : e.to); k >= 0 && member(e.rise, t))
            c_.wire[c_.cells[cell].first_input + static_cast<std::uint32_t>(k)] = {t, t};
    }

    void path(const DelayEntry& e, std::uint32_t cell) {
        PathDelay p;
        if (!member(e.rise, p.rise)) return;
        p.fall = p.rise;
        member(e.fall, p.fall);
        p.edge = e.from_edge;
        const auto& plan = c_.plans[c_.cells[cell].plan];
        const int to = e.to.empty() ? -1 : output(cell, e.to);
        for (size_t o = 0; o < plan.outputs.size(); ++o) {
            if (to >= 0 && o != static_cast<size_t>(to)) continue;
            for (size_t i = 0; i < plan.inputs.size(); ++i) {
                if (e.kind == DelayEntry::iopath && plan.cell->pins[plan.inputs[i]].name != e.from) continue;
                p.input = static_cast<std::uint32_t>(i);
                auto& list = paths_[c_.cells[cell].first_output + o];
                const auto known = std::find_if(list.begin(), list.end(), [&](const PathDelay& q) {
                    return q.input == p.input && q.edge == p.edge;
                });
                if (known == list.end())
                    list.push_back(p);
                else if (e.increment)
                    *known = {p.input, p.edge, known->rise + p.rise, known->fall + p.fall};
                else if (e.condition.empty())
                    *known = p;
                else  // which condition holds is not followed: the longer one counts
                    *known = {p.input, p.edge, std::max(known->rise, p.rise), std::max(known->fall, p.fall)};
            }
        }
    }

    void check(const DelayEntry& e, std::uint32_t cell) {
        const int data = input(cell, e.from), clock = input(cell, e.to);
        Time t = 0;
        if (data < 0 || clock < 0 || !member(e.rise, t)) return;
        auto& list = c_.checks[cell];
        auto at = std::find_if(list.begin(), list.end(), [&](const CheckLimit& l) {
            return l.data == static_cast<std::uint32_t>(data) && l.clock == static_cast<std::uint32_t>(clock);
        });
        if (at == list.end())
            at = list.insert(list.end(),
                             {static_cast<std::uint32_t>(data), static_cast<std::uint32_t>(clock), e.to_edge, 0, 0});
        (e.kind == DelayEntry::setup ? at->setup : at->hold) = t;
    }

    Circuit& c_;
    NetlistIndex index_;
    std::vector<std::vector<PathDelay>> paths_;
    std::map<std::string, std::vector<std::uint32_t>> of_type_;
    size_t unknown_ = 0, too_long_ = 0;
};

}  // namespace

Result<Circuit> Circuit::of(const Netlist& netlist, const Library& library) {
    return Maker(netlist, library).run();
}

std::vector<Message> Circuit::annotate(const DelayFile& delays) {
    Annotator a(*this);
    for (size_t i = 0; i < delays.size(); ++i) a.take(delays[i]);
    return a.finish(delays.file);
}

}  // namespace kp::simulation
