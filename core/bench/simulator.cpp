// SPDX-License-Identifier: GPL-3.0-or-later
// Cells become truth tables of at most six inputs in the order of their levels. A change is put into the queue of
// its level, so that a cycle costs the cells that see one.
#include "core/bench/simulator.hpp"

#include "core/model/parameter.hpp"

#include <algorithm>

namespace kp {

/// Turns library functions into truth tables of at most six inputs and orders the cells by level.
class SimulatorBuilder {
public:
    SimulatorBuilder(const Netlist& n, const Library& library) : n_(n), library_(library) {}

    Result<Simulator> run() {
        s_.value_.assign(n_.net_names.size() + 1, 0);  // the last one is what an open input sees
        s_.activity_.assign(s_.value_.size(), {});
        s_.clock_of_net_.assign(s_.value_.size(), no_id);
        for (const auto& port : n_.ports) s_.port_net_.push_back(port.net);
        for (std::uint32_t c = 0; c < n_.cells.size() && error_.empty(); ++c) cell(c);
        if (!error_.empty()) return Message{Severity::stop, "simulation", error_, "", 0, 0};
        connect();
        if (!order()) return Message{Severity::stop, "simulation", error_, "", 0, 0};
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
        error_ = "Instance " + n_.cell_names[c] + " (" + n_.type_of(c) + ") cannot be simulated: " + why + ".";
    }

    void cell(std::uint32_t id) {
        const auto* lib = library_.cell(n_.type_of(id));
        if (!lib) return fail(id, "the library has no such cell");
        if (lib->flip_flop) return flip_flop(id, *lib);
        for (const auto& pin : lib->pins) {
            if (pin.direction == Direction::in) continue;
            if (!lib->truth_table_parameter.empty())
                look_up(id, *lib, pin);
            else if (!pin.function.empty())
                add(id, pin.function, pin.name, false);
            else
                fail(id, "pin " + pin.name + " has no function");
        }
    }

    void look_up(std::uint32_t id, const LibraryCell& lib, const LibraryPin& output) {
        Simulator::Cell c;
        for (const auto& pin : lib.pins)
            if (pin.direction == Direction::in && c.inputs < 6) c.input[c.inputs++] = net_of(id, pin.name);
        const auto* text = parameter_of(n_, id, lib.truth_table_parameter);
        if (!text) return fail(id, "the parameter " + lib.truth_table_parameter + " with its table is missing");
        const auto v = number_of(*text);
        if (!v) return fail(id, "the table '" + *text + "' cannot be read");
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

    void flip_flop(std::uint32_t id, const LibraryCell& lib) {
        std::string q;
        for (const auto& pin : lib.pins)
            if (pin.direction != Direction::in && pin.function.inputs.size() == 1 &&
                pin.function.inputs[0] == lib.state && pin.function.code.size() == 1)
                q = pin.name;
        if (q.empty()) return fail(id, "no output gives its state");
        if (lib.latch) return fail(id, "latches are not simulated yet");
        if (lib.clocked_on.inputs.size() != 1) return fail(id, "its clock is not a single pin");
        if (!lib.clear.empty() || !lib.preset.empty()) return fail(id, "clear and preset are not simulated yet");
        add(id, lib.next_state, q, true, &lib, q);
        const auto clock = net_of(id, lib.clocked_on.inputs[0]);
        auto& at = s_.clock_of_net_[clock];
        if (at == no_id) {
            at = static_cast<std::uint32_t>(s_.clocks_.size());
            s_.clocks_.emplace_back();
        }
        register_clock_.emplace_back(static_cast<std::uint32_t>(s_.cells_.size() - 1), at, !lib.clocked_on.eval(1));
    }

    void connect() {
        s_.clock_of_cell_.assign(s_.cells_.size(), no_id);
        s_.falling_.assign(s_.cells_.size(), 0);
        for (const auto& [cell, clock, falling] : register_clock_) {
            s_.clock_of_cell_[cell] = clock;
            s_.falling_[cell] = falling;
        }
        s_.sink_start_.assign(s_.value_.size() + 1, 0);
        for (const auto& c : s_.cells_)
            for (int i = 0; i < c.inputs; ++i) ++s_.sink_start_[c.input[static_cast<size_t>(i)] + 1];
        for (size_t i = 1; i < s_.sink_start_.size(); ++i) s_.sink_start_[i] += s_.sink_start_[i - 1];
        s_.sinks_.resize(s_.sink_start_.back());
        auto at = s_.sink_start_;
        for (std::uint32_t c = 0; c < s_.cells_.size(); ++c)
            for (int i = 0; i < s_.cells_[c].inputs; ++i)
                s_.sinks_[at[s_.cells_[c].input[static_cast<size_t>(i)]]++] = c;
    }

    bool order() {
        std::vector<std::uint32_t> waiting(s_.cells_.size(), 0), ready;
        std::vector<bool> driven(s_.value_.size(), false);
        for (const auto& c : s_.cells_)
            if (!c.is_register) driven[c.output] = true;
        for (std::uint32_t c = 0; c < s_.cells_.size(); ++c) {
            if (s_.cells_[c].is_register) continue;
            for (int i = 0; i < s_.cells_[c].inputs; ++i)
                waiting[c] += driven[s_.cells_[c].input[static_cast<size_t>(i)]];
            if (waiting[c] == 0) ready.push_back(c);
        }
        size_t done = 0, levels = 1;
        for (; done < ready.size(); ++done) {
            const auto& c = s_.cells_[ready[done]];
            levels = std::max<size_t>(levels, c.level + 1u);
            for (auto i = s_.sink_start_[c.output]; i < s_.sink_start_[c.output + 1]; ++i) {
                auto& sink = s_.cells_[s_.sinks_[i]];
                if (sink.is_register) continue;
                sink.level = std::max<std::uint16_t>(sink.level, static_cast<std::uint16_t>(c.level + 1));
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
        for (std::uint32_t c = 0; c < s_.cells_.size(); ++c) {
            s_.queued_[c] = 1;
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
    Simulator s_;
    std::vector<std::uint32_t> origin_;
    std::vector<std::tuple<std::uint32_t, std::uint32_t, bool>> register_clock_;
    std::string error_;
};

Result<Simulator> Simulator::make(const Netlist& netlist, const Library& library) {
    return SimulatorBuilder(netlist, library).run();
}

bool Simulator::evaluate(const Cell& c) const {
    unsigned index = 0;
    for (unsigned i = 0; i < c.inputs; ++i) index |= static_cast<unsigned>(value_[c.input[i]]) << i;
    return (c.table >> index) & 1;
}

void Simulator::change(std::uint32_t net, bool value) {
    value_[net] = value;
    auto& activity = activity_[net];
    if (activity.changes++ == 0) activity.first = cycle_;
    activity.last = cycle_;
    if (clock_of_net_[net] != no_id) edges_.emplace_back(net, value);
    for (auto i = sink_start_[net]; i < sink_start_[net + 1]; ++i) {
        const auto c = sinks_[i];
        if (queued_[c]) continue;
        queued_[c] = 1;
        if (cells_[c].is_register) {
            clocks_[clock_of_cell_[c]].dirty.push_back(c);
        } else {
            queue_[cells_[c].level].push_back(c);
            lowest_ = std::min<size_t>(lowest_, cells_[c].level);
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
        if (edges_.empty()) return;
        const auto [net, value] = edges_.front();
        edges_.erase(edges_.begin());
        fire(net, value);
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
        queued_[id] = 0;
        ++evaluations_;
        const bool v = evaluate(cells_[id]);
        if (v != static_cast<bool>(value_[cells_[id].output])) updates_.emplace_back(cells_[id].output, v);
    }
    dirty.resize(kept);
    for (size_t i = 0; i < updates_.size(); ++i) change(updates_[i].first, updates_[i].second);
}

void Simulator::set_port(std::uint32_t port, bool value) {
    const auto net = port_net_[port];
    if (static_cast<bool>(value_[net]) != value) change(net, value);
    settle();
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
