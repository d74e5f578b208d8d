// SPDX-License-Identifier: GPL-3.0-or-later
// Cells become truth tables of at most six inputs in the order of their levels. A change is put into the queue of
// its level, so that a cycle costs the cells that see one.
#include "core/simulation/simulator.hpp"

#include "core/model/parameter.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <array>
#include <unordered_map>

namespace kp {

/// Turns library functions into truth tables of at most six inputs and orders the cells by level.
class SimulatorBuilder {
public:
    SimulatorBuilder(const Netlist& n, const Library& library, PllMode plls) : n_(n), library_(library), plls_(plls) {}

    Result<Simulator> run() {
        s_.value_.assign(n_.net_names.size() + 1, 0);  // the last one is what an open input sees
        s_.activity_.assign(s_.value_.size(), {});
        s_.clock_of_net_.assign(s_.value_.size(), no_id);
        for (const auto& port : n_.ports) s_.port_net_.push_back(port.net);
        s_.pads_.resize(n_.ports.size());
        for (std::uint32_t i = 0; i < n_.ports.size(); ++i) ports_of_net_[n_.ports[i].net].push_back(i);
        for (std::uint32_t c = 0; c < n_.cells.size() && error_.empty(); ++c) cell(c);
        if (!error_.empty()) return Message{Severity::stop, Code::simulation, error_};
        connect();
        if (!order()) return Message{Severity::stop, Code::simulation, error_};
        start();
        return std::move(s_);
    }

private:
    std::uint32_t net_of(std::uint32_t cell, const std::string& pin) const {
        const auto& c = n_.cells[cell];
        for (auto p = c.first_pin; p < c.first_pin + c.pin_count; ++p)
            if (n_.pin_names[n_.pins[p].name] == pin) return n_.pins[p].net;
        return static_cast<std::uint32_t>(n_.net_names.size());
    }

    void fail(std::uint32_t c, const std::string& why) {
        error_ = said("Instance {} ({}) cannot be simulated: {}.", n_.cell_names[c], n_.type_of(c), why);
    }

    void cell(std::uint32_t id) {
        const auto* lib = library_.cell(n_.type_of(id));
        if (!lib) return fail(id, "the library has no such cell");
        if (!lib->memory.empty()) return memory(id, *lib);
        if (lib->flip_flop) return flip_flop(id, *lib);
        for (const auto& pin : lib->pins) {
            if (pin.direction == Direction::in) continue;
            if (!lib->truth_table_parameter.empty())
                look_up(id, *lib, pin);
            else if (plls_ == PllMode::own_rate && !pin.divide_parameter.empty())
                pll(id, *lib, pin);
            else if (!pin.three_state.empty() && !pin.function.empty())
                pad(id, pin);
            else if (!pin.function.empty())
                add(id, pin.function, pin.name, false);
            else
                fail(id, said("pin {} has no function", pin.name));
        }
    }

    void look_up(std::uint32_t id, const LibraryCell& lib, const LibraryPin& output) {
        Simulator::Cell c;
        for (const auto& pin : lib.pins)
            if (pin.direction == Direction::in && c.inputs < 6) c.input[c.inputs++] = net_of(id, pin.name);
        const auto* text = parameter_of(n_, id, lib.truth_table_parameter);
        if (!text) return fail(id, said("the parameter {} with its table is missing", lib.truth_table_parameter));
        const auto v = number_of(*text);
        if (!v) return fail(id, said("the table '{}' cannot be read", *text));
        c.table = *v;
        c.output = net_of(id, output.name);
        s_.cells_.push_back(c);
        origin_.push_back(id);
    }

    /// A function over pin names; `state` of a register reads its own output.
    void add(std::uint32_t id, const BooleanFunction& f, const std::string& output, bool is_register,
             const LibraryCell* lib = nullptr, const std::string& state_pin = "") {
        if (f.inputs.size() > 6) return fail(id, "a function of more than six inputs");
        Simulator::Cell c;
        c.is_register = is_register;
        c.output = net_of(id, output);
        for (const auto& name : f.inputs)
            c.input[c.inputs++] = lib && name == lib->state ? net_of(id, state_pin) : net_of(id, name);
        for (std::uint64_t v = 0; v < (std::uint64_t{1} << c.inputs); ++v)
            c.table |= static_cast<std::uint64_t>(f.eval(v)) << v;
        s_.cells_.push_back(c);
        origin_.push_back(id);
    }

    std::uint64_t divider(std::uint32_t id, const std::string& parameter) const {
        const auto* text = parameter.empty() ? nullptr : parameter_of(n_, id, parameter);
        const auto v = text ? number_of(*text) : std::nullopt;
        return v && *v > 0 ? *v : 1;
    }

    /// Its rate is that of its input times the loop's divider, over the one before the detector and its own.
    void pll(std::uint32_t id, const LibraryCell& lib, const LibraryPin& output) {
        PllRate out;
        if (output.function.inputs.size() != 1) return fail(id, "its output does not come from a single pin");
        out.input = net_of(id, output.function.inputs[0]);
        out.output = net_of(id, output.name);
        out.times = divider(id, lib.multiply_parameter);
        out.over = divider(id, lib.divide_parameter) * divider(id, output.divide_parameter);
        if (out.output < n_.net_names.size()) s_.plls_.push_back(out);
    }

    /// A pad that can be switched off gives what the outside gives while it is off.
    void pad(std::uint32_t id, const LibraryPin& pin) {
        const auto net = net_of(id, pin.name);
        const auto ports = ports_of_net_.find(net);
        if (ports == ports_of_net_.end()) return add(id, pin.function, pin.name, false);
        auto inputs = pin.function.inputs;
        for (const auto& name : pin.three_state.inputs)
            if (std::find(inputs.begin(), inputs.end(), name) == inputs.end()) inputs.push_back(name);
        if (inputs.size() > 5) return fail(id, "a pad with more than five inputs");
        const auto outside = static_cast<std::uint32_t>(s_.value_.size());
        s_.value_.resize(s_.value_.size() + 2, 0);
        s_.activity_.resize(s_.value_.size());
        s_.clock_of_net_.resize(s_.value_.size(), no_id);
        Simulator::Cell c, off;
        for (const auto& name : inputs) c.input[c.inputs++] = net_of(id, name);
        const auto bit = [&](std::uint64_t v, const BooleanFunction& f) {
            std::uint64_t of = 0;
            for (size_t k = 0; k < f.inputs.size(); ++k) {
                const auto at = std::find(inputs.begin(), inputs.end(), f.inputs[k]) - inputs.begin();
                of |= ((v >> at) & 1) << k;
            }
            return f.eval(of);
        };
        off = c;
        off.output = outside + 1;
        for (std::uint64_t v = 0; v < (std::uint64_t{1} << inputs.size()); ++v)
            off.table |= static_cast<std::uint64_t>(bit(v, pin.three_state)) << v;
        const auto given = c.inputs;
        c.input[c.inputs++] = outside;
        c.output = net;
        for (std::uint64_t v = 0; v < (std::uint64_t{1} << c.inputs); ++v)
            c.table |= static_cast<std::uint64_t>(bit(v, pin.three_state) ? (v >> given) & 1 : bit(v, pin.function))
                       << v;
        for (const auto port : ports->second) s_.pads_[port] = {outside, outside + 1};
        for (const auto& cell : {c, off}) {
            s_.cells_.push_back(cell);
            origin_.push_back(id);
        }
    }

    void flip_flop(std::uint32_t id, const LibraryCell& lib) {
        std::string q;
        for (const auto& pin : lib.pins)
            if (pin.direction != Direction::in && pin.function.inputs.size() == 1 &&
                pin.function.inputs[0] == lib.state && pin.function.code.size() == 1)
                q = pin.name;
        if (q.empty()) return fail(id, "no output gives its state");
        if (lib.clocked_on.inputs.size() != 1) return fail(id, "its clock is not a single pin");
        if (lib.latch) {
            latch(id, lib, q);
        } else {
            add(id, lib.next_state, q, true, &lib, q);
            clock(net_of(id, lib.clocked_on.inputs[0]), !lib.clocked_on.eval(1));
        }
        if (!error_.empty()) return;
        // The first that is active wins, so that both together give what the library says.
        auto lines = std::array{std::pair(&lib.clear, false), std::pair(&lib.preset, true)};
        if (lib.both_state == 'H') std::swap(lines[0], lines[1]);
        for (const auto& [f, to] : lines) {
            if (f->empty()) continue;
            if (f->inputs.size() != 1) return fail(id, "its clear or preset is not a single pin");
            s_.async_.resize(s_.cells_.size());
            s_.async_.back().push_back({net_of(id, f->inputs[0]), f->eval(1), to});
        }
        s_.value_[s_.cells_.back().output] = starts_high(id, lib);
    }

    void clock(std::uint32_t net, bool falling) {
        auto& at = s_.clock_of_net_[net];
        if (at == no_id) {
            at = static_cast<std::uint32_t>(s_.clocks_.size());
            s_.clocks_.emplace_back();
        }
        register_clock_.emplace_back(static_cast<std::uint32_t>(s_.cells_.size() - 1), at, falling);
    }

    /// Logic that reads its own output: follows while it is open.
    void latch(std::uint32_t id, const LibraryCell& lib, const std::string& q) {
        if (lib.next_state.inputs.size() != 1) return fail(id, "what it stores is not a single pin");
        Simulator::Cell c;
        c.input = {net_of(id, lib.next_state.inputs[0]), net_of(id, lib.clocked_on.inputs[0]), net_of(id, q)};
        c.inputs = 3;
        c.is_latch = true;
        c.output = net_of(id, q);
        for (unsigned v = 0; v < 8; ++v) {
            const bool open = lib.clocked_on.eval((v >> 1) & 1), d = lib.next_state.eval(v & 1);
            c.table |= static_cast<std::uint64_t>(open ? d : (v >> 2) & 1) << v;
        }
        s_.cells_.push_back(c);
        origin_.push_back(id);
    }

    bool starts_high(std::uint32_t id, const LibraryCell& lib) const {
        const auto* given =
            lib.initial_value_parameter.empty() ? nullptr : parameter_of(n_, id, lib.initial_value_parameter);
        const auto& text = given ? *given : lib.initial_value;
        return !text.empty() && text.back() == '1';
    }

    std::vector<std::uint32_t> bus(std::uint32_t id, const LibraryCell& lib, const std::string& name) const {
        const auto* b = lib.bus(name);
        std::vector<std::uint32_t> out;
        if (!b) return {net_of(id, name)};
        for (auto bit = b->bits.rbegin(); bit != b->bits.rend(); ++bit) out.push_back(net_of(id, *bit));
        return out;
    }

    void memory(std::uint32_t id, const LibraryCell& lib) {
        const auto which = static_cast<std::uint32_t>(s_.memories_.size());
        s_.memories_.emplace_back();
        for (const auto& p : lib.memory) {
            Simulator::MemoryPort port;
            port.memory = which;
            port.address = bus(id, lib, p.address);
            const auto data = bus(id, lib, p.data);
            if (port.address.size() > 20) return fail(id, "a memory of more than 20 address bits");
            auto& m = s_.memories_[which];
            m.width = data.size();
            m.bits.assign((size_t{1} << port.address.size()) * data.size(), 0);
            if (p.write) {
                if (p.clocked_on.inputs.size() != 1 || p.enable.inputs.size() > 1)
                    return fail(id, "the clock or enable of its memory is not a single pin");
                port.data = data;
                port.clock = net_of(id, p.clocked_on.inputs[0]);
                port.falling = !p.clocked_on.eval(1);
                if (!p.enable.empty()) port.enable = net_of(id, p.enable.inputs[0]);
                auto& at = s_.clock_of_net_[port.clock];
                if (at == no_id) {
                    at = static_cast<std::uint32_t>(s_.clocks_.size());
                    s_.clocks_.emplace_back();
                }
                s_.writes_.push_back(std::move(port));
                continue;
            }
            for (size_t k = 0; k < data.size(); ++k) {
                Simulator::Cell c;
                c.memory = static_cast<std::uint32_t>(s_.reads_.size());
                c.table = k;
                c.output = data[k];
                port.data.push_back(static_cast<std::uint32_t>(s_.cells_.size()));
                s_.cells_.push_back(c);
                origin_.push_back(id);
            }
            s_.reads_.push_back(std::move(port));
        }
    }

    void connect() {
        s_.clock_of_cell_.assign(s_.cells_.size(), no_id);
        s_.falling_.assign(s_.cells_.size(), 0);
        for (const auto& [cell, clock, falling] : register_clock_) {
            s_.clock_of_cell_[cell] = clock;
            s_.falling_[cell] = falling;
        }
        s_.async_.resize(s_.cells_.size());
        s_.async_of_net_.resize(s_.value_.size());
        for (std::uint32_t c = 0; c < s_.cells_.size(); ++c)
            for (const auto& a : s_.async_[c]) s_.async_of_net_[a.net].push_back(c);
        s_.watchers_.resize(s_.value_.size());
        std::vector<bool> driven(s_.value_.size(), false);
        for (const auto& c : s_.cells_) driven[c.output] = true;
        for (const auto net : s_.port_net_) s_.port_driven_.push_back(driven[net]);
        s_.sink_start_.assign(s_.value_.size() + 1, 0);
        for (const auto& c : s_.cells_)
            for (const auto net : s_.inputs_of(c)) ++s_.sink_start_[net + 1];
        for (size_t i = 1; i < s_.sink_start_.size(); ++i) s_.sink_start_[i] += s_.sink_start_[i - 1];
        s_.sinks_.resize(s_.sink_start_.back());
        auto at = s_.sink_start_;
        for (std::uint32_t c = 0; c < s_.cells_.size(); ++c)
            for (const auto net : s_.inputs_of(s_.cells_[c])) s_.sinks_[at[net]++] = c;
    }

    bool order() {
        std::vector<std::uint32_t> waiting(s_.cells_.size(), 0), ready;
        std::vector<bool> driven(s_.value_.size(), false);
        for (const auto& c : s_.cells_)
            if (!c.is_register) driven[c.output] = true;
        for (std::uint32_t c = 0; c < s_.cells_.size(); ++c) {
            if (s_.cells_[c].is_register) continue;
            // A latch reads itself; it does not wait for itself.
            for (const auto net : s_.inputs_of(s_.cells_[c]))
                waiting[c] += driven[net] && !(s_.cells_[c].is_latch && net == s_.cells_[c].output);
            if (waiting[c] == 0) ready.push_back(c);
        }
        size_t done = 0, levels = 1;
        for (; done < ready.size(); ++done) {
            const auto& c = s_.cells_[ready[done]];
            levels = std::max<size_t>(levels, c.level + 1u);
            for (auto i = s_.sink_start_[c.output]; i < s_.sink_start_[c.output + 1]; ++i) {
                auto& sink = s_.cells_[s_.sinks_[i]];
                if (sink.is_register || (sink.is_latch && s_.sinks_[i] == ready[done])) continue;
                sink.level = std::max(sink.level, c.level + 1);
                if (--waiting[s_.sinks_[i]] == 0) ready.push_back(s_.sinks_[i]);
            }
        }
        const auto combinational = static_cast<size_t>(
            std::count_if(s_.cells_.begin(), s_.cells_.end(), [](const auto& c) { return !c.is_register; }));
        s_.queue_.resize(levels);
        if (done == combinational) return true;
        for (std::uint32_t c = 0; c < s_.cells_.size(); ++c)
            if (waiting[c] > 0) {
                fail(origin_[c], "it is part of a combinational loop");
                return false;
            }
        return true;
    }

    void start() {
        if (n_.constant_net[1] != no_id) s_.value_[n_.constant_net[1]] = 1;
        s_.queued_.assign(s_.cells_.size(), 0);
        for (const auto& cell : s_.cells_) s_.level_.push_back(cell.is_register ? Simulator::of_register : cell.level);
        s_.special_.assign(s_.value_.size(), 0);
        for (size_t net = 0; net < s_.value_.size(); ++net)
            s_.special_[net] = s_.clock_of_net_[net] != no_id || !s_.async_of_net_[net].empty();
        for (const auto net : s_.port_net_) s_.special_[net] = 1;
        for (std::uint32_t c = 0; c < s_.cells_.size(); ++c) {
            s_.queued_[c] = 1;
            if (!s_.async_[c].empty()) s_.forced_.push_back(c);
            if (s_.cells_[c].is_register)
                s_.clocks_[s_.clock_of_cell_[c]].dirty.push_back(c);
            else
                s_.queue_[s_.cells_[c].level].push_back(c);
        }
        s_.settle();
        s_.restart_counters();
        s_.edges_.clear();
    }

    const Netlist& n_;
    const Library& library_;
    PllMode plls_;
    Simulator s_;
    std::unordered_map<std::uint32_t, std::vector<std::uint32_t>> ports_of_net_;
    std::vector<std::uint32_t> origin_;
    std::vector<std::tuple<std::uint32_t, std::uint32_t, bool>> register_clock_;
    std::string error_;
};

Result<Simulator> Simulator::make(const Netlist& netlist, const Library& library, PllMode plls) {
    return SimulatorBuilder(netlist, library, plls).run();
}

std::span<const std::uint32_t> Simulator::inputs_of(const Cell& c) const {
    if (c.memory != no_id) return reads_[c.memory].address;
    return {c.input.data(), c.inputs};
}

size_t Simulator::address_of(const MemoryPort& port) const {
    size_t at = 0;
    for (size_t k = 0; k < port.address.size(); ++k) at |= static_cast<size_t>(value_[port.address[k]]) << k;
    return at;
}

bool Simulator::evaluate(const Cell& c) const {
    if (c.memory != no_id) {
        const auto& port = reads_[c.memory];
        const auto& m = memories_[port.memory];
        return m.bits[address_of(port) * m.width + c.table];
    }
    unsigned index = 0;
    for (unsigned i = 0; i < c.inputs; ++i) index |= static_cast<unsigned>(value_[c.input[i]]) << i;
    return (c.table >> index) & 1;
}

/// What few nets do beside telling their sinks.
void Simulator::special_change(std::uint32_t net, bool value) {
    auto& activity = activity_[net];
    if (activity.changes++ == 0) activity.first = cycle_;
    activity.last = cycle_;
    for (const auto tag : watchers_[net]) noted_.push_back(tag);
    if (clock_of_net_[net] != no_id) edges_.emplace_back(net, value);
    for (const auto c : async_of_net_[net]) forced_.push_back(c);
}

void Simulator::change(std::uint32_t net, bool value) {
    value_[net] = value;
    if (special_[net]) special_change(net, value);
    for (auto i = sink_start_[net]; i < sink_start_[net + 1]; ++i) {
        const auto c = sinks_[i];
        if (queued_[c]) continue;
        queued_[c] = 1;
        const auto level = level_[c];
        if (level == of_register) {
            clocks_[clock_of_cell_[c]].dirty.push_back(c);
        } else {
            queue_[level].push_back(c);
            lowest_ = std::min<size_t>(lowest_, level);
        }
    }
}

void Simulator::settle() {
    // A register's output can clock another register; a chain of more edges than registers would be an oscillation.
    for (size_t round = 0; round <= cells_.size() + 1; ++round) {
        for (size_t level = lowest_; level < queue_.size(); ++level) {
            auto& list = queue_[level];
            for (size_t k = 0; k < list.size(); ++k) {
                const auto id = list[k];
                queued_[id] = 0;
                ++evaluations_;
                const auto& c = cells_[id];
                const bool v = evaluate(c);
                if (v != static_cast<bool>(value_[c.output])) change(c.output, v);
            }
            list.clear();
        }
        lowest_ = queue_.size();
        bool more = false;
        for (const auto c : std::exchange(forced_, {})) more |= force(c);
        if (more) continue;
        if (edges_.empty()) return;
        const auto [net, value] = edges_.front();
        edges_.erase(edges_.begin());
        fire(net, value);
    }
}

/// Clears or presets a register whose line is active; true when that changed it.
bool Simulator::force(std::uint32_t cell) {
    for (const auto& a : async_[cell]) {
        if (static_cast<bool>(value_[a.net]) != a.active) continue;
        const auto out = cells_[cell].output;
        if (static_cast<bool>(value_[out]) == a.to) return false;
        if (cells_[cell].is_register && !queued_[cell]) {  // its data may differ from now on
            queued_[cell] = 1;
            clocks_[clock_of_cell_[cell]].dirty.push_back(cell);
        }
        change(out, a.to);
        return true;
    }
    return false;
}

/// Words are written with what stands before anything follows the edge; what shows them is worked out again.
void Simulator::write_memories(std::uint32_t clock_net, bool value) {
    for (const auto& w : writes_) {
        if (w.clock != clock_net || w.falling == value || (w.enable != no_id && !value_[w.enable])) continue;
        auto& m = memories_[w.memory];
        const auto at = address_of(w) * m.width;
        for (size_t k = 0; k < w.data.size(); ++k) m.bits[at + k] = value_[w.data[k]];
        for (const auto& r : reads_) {
            if (r.memory != w.memory) continue;
            for (const auto c : r.data) {
                if (queued_[c]) continue;
                queued_[c] = 1;
                queue_[cells_[c].level].push_back(c);
                lowest_ = std::min<size_t>(lowest_, cells_[c].level);
            }
        }
    }
}

void Simulator::fire(std::uint32_t clock_net, bool value) {
    auto& dirty = clocks_[clock_of_net_[clock_net]].dirty;
    updates_.clear();
    size_t kept = 0;
    for (const auto id : dirty) {
        if (static_cast<bool>(falling_[id]) == value) {  // waits for the other edge
            dirty[kept++] = id;
            continue;
        }
        const bool held = std::any_of(async_[id].begin(), async_[id].end(),
                                      [this](const Async& a) { return static_cast<bool>(value_[a.net]) == a.active; });
        if (held) {  // looks again at the next edge
            dirty[kept++] = id;
            continue;
        }
        queued_[id] = 0;
        ++evaluations_;
        const bool v = evaluate(cells_[id]);
        if (v != static_cast<bool>(value_[cells_[id].output])) updates_.emplace_back(cells_[id].output, v);
    }
    dirty.resize(kept);
    write_memories(clock_net, value);
    for (size_t i = 0; i < updates_.size(); ++i) change(updates_[i].first, updates_[i].second);
}

void Simulator::set_net(std::uint32_t net, bool value) {
    if (static_cast<bool>(value_[net]) == value) return;
    change(net, value);
    settle();
}

void Simulator::set_port(std::uint32_t port, bool value) {
    const auto& pad = pads_[port];
    if (pad.outside != no_id)
        set_net(pad.outside, value);
    else if (!port_driven_[port])
        set_net(port_net_[port], value);
}

bool Simulator::drives(std::uint32_t port) const {
    const auto& pad = pads_[port];
    return pad.outside == no_id ? port_driven_[port] != 0 : !value_[pad.off];
}

void Simulator::watch(std::uint32_t port, std::uint32_t tag) {
    watch_net(port_net_[port], tag);
    if (pads_[port].off != no_id) watch_net(pads_[port].off, tag);
}

void Simulator::clock(std::uint32_t port, std::uint64_t cycles) {
    for (std::uint64_t i = 0; i < cycles; ++i) {
        ++cycle_;
        set_port(port, true);
        set_port(port, false);
    }
}

void Simulator::restart_counters() {
    std::fill(activity_.begin(), activity_.end(), Activity{});
}

}  // namespace kp
