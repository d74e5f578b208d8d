// SPDX-License-Identifier: GPL-3.0-or-later
// A heap of events by time. An output has one event that waits: a new value before it takes its place, which is the
// inertial rule (IEEE 1364-2005, 14.6.1); wires hold as many as there are pulses. Work: cells that see a change.
#include "core/simulation/event_simulator.hpp"

#include "core/base/text.hpp"
#include "core/base/said.hpp"

#include <algorithm>

namespace kp::simulation {

namespace {
constexpr std::uint64_t most_rounds = 20'000;  ///< at one time
constexpr size_t most_violations = 10'000;

/// A variable of a register while clear and preset are both active (Liberty reference: clear_preset_var1, var2).
Bit together(char rule, Bit now) {
    switch (rule) {
        case 'L': return Bit::zero;
        case 'H': return Bit::one;
        case 'N': return now;
        case 'T': return known(now) ? bit_of(now == Bit::zero) : Bit::x;
        default: return Bit::x;
    }
}
}  // namespace

EventSimulator::EventSimulator(const Circuit& c) : circuit_(&c) {
    const auto nets = c.netlist->net_names.size();
    net_.assign(nets, Bit::z);
    pin_.assign(c.input_net.size(), Bit::x);
    before_ = pin_;
    changed_.assign(pin_.size(), -1);
    out_.assign(c.output_net.size(), Bit::x);
    pending_ = out_;
    pending_at_.assign(out_.size(), -1);
    pending_serial_.assign(out_.size(), 0);
    driven_.assign(c.netlist->ports.size(), Bit::z);
    state_.assign(c.states, Bit::x);
    seen_.resize(c.cells.size());
    clocked_.assign(c.cells.size(), -1);
    touched_.assign(c.cells.size(), 0);
    level_.resize(c.levels + 1);
    ports_of_net_.resize(nets);
    shown_at_net_.resize(nets);
    shown_.assign(c.netlist->ports.size(), Bit::z);
    for (std::uint32_t p = 0; p < c.netlist->ports.size(); ++p) {
        const auto& port = c.netlist->ports[p];
        if (port.net != no_id) shown_at_net_[port.net].push_back(p);
        if (port.direction == Direction::out || port.net == no_id) continue;
        ports_of_net_[port.net].push_back(p);
        if (port.direction == Direction::in) driven_[p] = Bit::x;
    }
    for (const auto& cell : c.cells) {
        if (cell.state != no_id) state_[cell.state] = cell.start;
        if (cell.memory == no_id) continue;
        const auto& plan = c.plans[cell.plan];
        const auto& port = plan.writes.empty() ? plan.reads[0] : plan.writes[0];
        memory_.resize(std::max<size_t>(memory_.size(), cell.memory + 1));
        memory_[cell.memory].assign((size_t{1} << port.address.size()) * port.data.size(), Bit::x);
    }
    settle_all();
}

void EventSimulator::settle_all() {
    const auto& c = *circuit_;
    // Registers show their start before clears and presets look at anything.
    for (const auto& cell : c.cells) {
        if (cell.state == no_id) continue;
        load(cell, false);
        const auto& plan = c.plans[cell.plan];
        for (size_t o = 0; o < plan.out.size(); ++o) out_[cell.first_output + o] = value_of(cell, plan, o);
    }
    for (std::uint32_t net = 0; net < net_.size(); ++net) update_net(net);
    for (std::uint32_t k = 0; k < c.cells.size(); ++k) touch(k);
    step(0);
    starting_ = false;
    events_ = 0;
    std::fill(changed_.begin(), changed_.end(), -1);
    moved_.clear();
}

void EventSimulator::touch(std::uint32_t cell) {
    if (touched_[cell]) return;
    touched_[cell] = 1;
    const auto& instance = circuit_->cells[cell];
    if (instance.state == no_id && instance.memory == no_id)
        level_[instance.level].push_back(cell);
    else
        registers_.push_back(cell);
}

void EventSimulator::set(std::uint32_t port, Bit value) {
    queue_.push({now_, ++serial_, port, value, port_event});
}

void EventSimulator::clock(std::uint32_t port, Time period, std::optional<Time> first_rise) {
    clocks_.push_back({port, period / 2, first_rise.value_or(period / 2)});
    queue_.push({0, ++serial_, port, Bit::zero, port_event});
}

void EventSimulator::tick_from(std::uint32_t port, Time first_rise, std::int64_t numerator, std::int64_t denominator) {
    Clock clock{port, numerator / denominator, first_rise};
    clock.rest = numerator % denominator;
    clock.denominator = denominator;
    clocks_.push_back(clock);
    if (now_ == 0 && first_rise > 0)
        queue_.push({0, ++serial_, port, Bit::zero, port_event});
    else
        queue_.push({std::max(first_rise, now_), ++serial_, port, Bit::one, port_event});
}

/// The next step; why there is none. A ring whose cells have delays never ends, and each of its steps does.
std::optional<Message> EventSimulator::step_or_stop() {
    const auto when = queue_.top().when;
    const bool settles = step(when);
    if (settles && applied_ - begun_ <= most_events_) return std::nullopt;
    const auto at = shortest(ns_of(when)) + " ns";
    const auto stop = [](std::string text) { return Message{Severity::stop, Code::simulation, std::move(text)}; };
    if (!settles) return stop(said("The logic does not settle at {}: it feeds itself without a register.", at));
    return stop(
        said("More than {} events by {}: simulate less time or with a slower clock, or look for logic that feeds "
             "itself without a register.",
             most_events_, at));
}

std::optional<Message> EventSimulator::run_until(Time until) {
    begun_ = applied_;
    while (!queue_.empty() && queue_.top().when < until)
        if (auto stop = step_or_stop()) return stop;
    now_ = std::max(now_, until);
    return std::nullopt;
}

std::optional<Message> EventSimulator::run_out() {
    begun_ = applied_;
    while (!queue_.empty())
        if (auto stop = step_or_stop()) return stop;
    return std::nullopt;
}

/// All that happens at one time; false when it never ends.
bool EventSimulator::step(Time at) {
    now_ = std::max(now_, at);
    for (std::uint64_t round = 0; round < most_rounds; ++round) {
        while (!queue_.empty() && queue_.top().when <= at) {
            const auto e = queue_.top();
            queue_.pop();
            ++applied_;
            apply(e);
        }
        for (size_t l = 0; l < level_.size(); ++l) {
            if (level_[l].empty()) continue;
            const auto cells = std::exchange(level_[l], {});
            for (const auto cell : cells) {
                touched_[cell] = 0;
                run_logic(cell);
            }
            // A loop may have touched what lies before.
            size_t again = 0;
            while (again <= l && level_[again].empty()) ++again;
            if (again <= l) {
                if (++round >= most_rounds) return false;
                l = again - 1;
            }
        }
        // All of them look before any of them shows what it saw.
        const auto registers = std::exchange(registers_, {});
        for (const auto cell : registers) {
            touched_[cell] = 0;
            circuit_->cells[cell].memory == no_id ? run_register(cell) : run_memory(cell);
        }
        for (const auto cell : registers) show(cell);
        const bool more = !registers_.empty() || (!queue_.empty() && queue_.top().when <= at) ||
                          std::any_of(level_.begin(), level_.end(), [](const auto& l) { return !l.empty(); });
        if (!more) {
            for (const auto pin : moved_) check_hold(pin);
            moved_.clear();
            return true;
        }
    }
    return false;
}

void EventSimulator::apply(const Event& e) {
    switch (e.kind) {
        case output_event:
            if (pending_at_[e.at] != e.when || pending_serial_[e.at] != e.serial) return;  // another took its place
            pending_at_[e.at] = -1;
            out_[e.at] = e.value;
            if (circuit_->output_net[e.at] != no_id) update_net(circuit_->output_net[e.at]);
            return;
        case input_event: return pin_changed(e.at, e.value);
        case shown_event: shown_[e.at] = e.value; return;
        case port_event: return tick(e.at, e.value);
    }
}

void EventSimulator::tick(std::uint32_t port, Bit value) {
    for (auto& clock : clocks_)
        if (clock.port == port)
            queue_.push({now_ == 0 && clock.first > 0 ? clock.first : now_ + clock.step(), ++serial_, port,
                         value == Bit::one ? Bit::zero : Bit::one, port_event});
    driven_[port] = value;
    if (const auto net = circuit_->netlist->ports[port].net; net != no_id) update_net(net);
}

void EventSimulator::update_net(std::uint32_t net) {
    const auto& c = *circuit_;
    Bit value = Bit::z;
    for (auto d = c.driver_start[net]; d < c.driver_start[net + 1]; ++d) value = resolve(value, out_[c.drivers[d]]);
    for (const auto port : ports_of_net_[net]) value = resolve(value, driven_[port]);
    if (net == c.netlist->constant_net[0]) value = Bit::zero;
    if (net == c.netlist->constant_net[1]) value = Bit::one;
    if (value == net_[net] && !starting_) return;
    net_[net] = value;
    ++events_;
    if (watcher_) watcher_({now_, net, value});
    for (const auto port : shown_at_net_[net]) {
        const auto& wire = c.port_wire[port];
        const auto late = value == Bit::one    ? wire.rise
                          : value == Bit::zero ? wire.fall
                                               : std::min(wire.rise, wire.fall);
        if (late == 0 || starting_)
            shown_[port] = value;
        else
            queue_.push({now_ + late, ++serial_, port, value, shown_event});
    }
    for (auto s = c.sink_start[net]; s < c.sink_start[net + 1]; ++s) {
        const auto pin = c.sinks[s];
        const auto wire = value == Bit::one    ? c.wire[pin].rise
                          : value == Bit::zero ? c.wire[pin].fall
                                               : std::min(c.wire[pin].rise, c.wire[pin].fall);
        if (wire == 0 || starting_)
            pin_changed(pin, value);
        else
            queue_.push({now_ + wire, ++serial_, pin, value, input_event});
    }
}

void EventSimulator::pin_changed(std::uint32_t pin, Bit value) {
    if (pin_[pin] == value) return;
    if (changed_[pin] != now_) before_[pin] = pin_[pin];
    changed_[pin] = now_;
    pin_[pin] = value;
    if (circuit_->has_delays && !starting_) moved_.push_back(pin);
    touch(circuit_->input_cell[pin]);
}

/// The inputs of a cell, as they are or as they were before now, its state and the opposite of that.
void EventSimulator::load(const CellInstance& cell, bool before) {
    const auto n = circuit_->plans[cell.plan].inputs.size();
    values_.resize(n + 2);
    for (size_t k = 0; k < n; ++k) {
        const auto pin = cell.first_input + k;
        values_[k] = before && changed_[pin] == now_ ? before_[pin] : pin_[pin];
    }
    if (cell.state == no_id) return;
    const auto s = state_[cell.state];
    values_[n] = s;
    const auto& seen = seen_[static_cast<size_t>(&cell - circuit_->cells.data())];
    values_[n + 1] = seen.both ? seen.state_n : known(s) ? bit_of(s == Bit::zero) : Bit::x;
}

Bit EventSimulator::value_of(const CellInstance& cell, const CellPlan& plan, size_t out) {
    const auto& o = plan.out[out];
    const auto value = plan.look ? o.value.eval(values_, cell.table) : o.value.eval(values_);
    if (o.off.empty()) return value;
    const auto off = o.off.eval(values_);
    return off == Bit::one ? Bit::z : off == Bit::zero ? value : Bit::x;
}

void EventSimulator::run_logic(std::uint32_t id) {
    const auto& cell = circuit_->cells[id];
    const auto& plan = circuit_->plans[cell.plan];
    for (size_t o = 0; o < plan.out.size(); ++o) {
        load(cell, false);
        output(cell.first_output + static_cast<std::uint32_t>(o), value_of(cell, plan, o));
    }
}

/// What a register is after one evaluation: its clock, then clear and preset.
void EventSimulator::run_register(std::uint32_t id) {
    const auto& cell = circuit_->cells[id];
    const auto& plan = circuit_->plans[cell.plan];
    auto& state = state_[cell.state];
    load(cell, false);
    const auto clock = plan.clock.eval(values_);
    const auto last = std::exchange(seen_[id].clock, clock);
    Bit next = state;
    if (plan.latch) {
        const auto data = plan.next.eval(values_);
        next = clock == Bit::one ? (data == Bit::z ? Bit::x : data) : clock == Bit::zero ? state : agree(state, data);
    } else if (!starting_ && last != clock) {
        const bool sure = last == Bit::zero && clock == Bit::one;
        const bool maybe = (last == Bit::zero && !known(clock)) || (!known(last) && clock == Bit::one);
        if (sure || maybe) {
            load(cell, true);
            const auto taken = plan.next.eval(values_);
            next = sure ? taken : agree(state, taken);
            check(id);
            load(cell, false);
        }
    }
    const auto clear = plan.clear.empty() ? Bit::zero : plan.clear.eval(values_);
    const auto preset = plan.preset.empty() ? Bit::zero : plan.preset.eval(values_);
    const bool both = clear == Bit::one && preset == Bit::one;
    if (both) {
        // Once, when both have come: what is turned over must not be turned over again.
        if (!seen_[id].both) {
            const auto was_n = known(state) ? bit_of(state == Bit::zero) : Bit::x;
            seen_[id].state_n = together(plan.both_n, was_n);
            next = together(plan.both, state);
        } else {
            next = state;
        }
    } else if (clear == Bit::one || preset == Bit::one)
        next = clear == preset ? Bit::x : !known(clear) || !known(preset) ? Bit::x : bit_of(preset == Bit::one);
    else if (!known(clear) || !known(preset))
        next = agree(agree(next, known(clear) ? next : Bit::zero), known(preset) ? next : Bit::one);
    seen_[id].both = both;
    state = known(next) ? next : Bit::x;
}

/// Outputs of a register or memory.
void EventSimulator::show(std::uint32_t id) {
    const auto& cell = circuit_->cells[id];
    const auto& plan = circuit_->plans[cell.plan];
    load(cell, false);
    if (cell.memory == no_id) {
        for (std::uint32_t o = 0; o < plan.out.size(); ++o) output(cell.first_output + o, value_of(cell, plan, o));
        return;
    }
    for (const auto& port : plan.reads)
        for (size_t k = 0; k < port.data.size(); ++k)
            output(cell.first_output + port.data[k], read_memory(cell, port, k));
}

/// Words an address may mean; `many` when there are more than 4,096 of them.
void EventSimulator::addresses(std::span<const Bit> values, const MemoryPlan& port, std::vector<std::uint32_t>& out,
                               bool& many) {
    std::uint32_t base = 0, open = 0;
    for (size_t k = 0; k < port.address.size(); ++k) {
        const auto v = values[port.address[k]];
        if (v == Bit::one) base |= 1U << k;
        if (!known(v)) open |= 1U << k;
    }
    out.clear();
    many = __builtin_popcount(open) > 12;
    if (many) return;
    for (std::uint32_t some = open;; some = (some - 1) & open) {
        out.push_back(base | some);
        if (some == 0) break;
    }
}

Bit EventSimulator::read_memory(const CellInstance& cell, const MemoryPlan& port, size_t bit) {
    std::vector<std::uint32_t> words;
    bool many = false;
    addresses(values_, port, words, many);
    if (many) return Bit::x;
    const auto& memory = memory_[cell.memory];
    const auto width = port.data.size();
    Bit out = memory[words[0] * width + bit];
    for (const auto w : words) out = agree(out, memory[w * width + bit]);
    return out;
}

void EventSimulator::write_memory(const CellInstance& cell, const MemoryPlan& port, bool sure) {
    const auto enable = port.enable.empty() ? Bit::one : port.enable.eval(values_);
    if (enable == Bit::zero) return;
    std::vector<std::uint32_t> words;
    bool many = false;
    addresses(values_, port, words, many);
    auto& memory = memory_[cell.memory];
    if (many) return std::fill(memory.begin(), memory.end(), Bit::x);
    sure &= enable == Bit::one && words.size() == 1;
    const auto width = port.data.size();
    for (const auto w : words)
        for (size_t k = 0; k < width; ++k) {
            auto v = values_[port.data[k]];
            if (!known(v)) v = Bit::x;
            auto& place = memory[w * width + k];
            place = sure ? v : agree(place, v);
        }
}

void EventSimulator::run_memory(std::uint32_t id) {
    const auto& cell = circuit_->cells[id];
    const auto& plan = circuit_->plans[cell.plan];
    for (const auto& port : plan.writes) {
        load(cell, false);
        const auto clock = port.clock.eval(values_);
        const auto last = std::exchange(seen_[id].clock, clock);
        if (starting_ || last == clock) continue;
        const bool sure = last == Bit::zero && clock == Bit::one;
        if (!sure && !(last == Bit::zero && !known(clock)) && !(!known(last) && clock == Bit::one)) continue;
        load(cell, true);
        write_memory(cell, port, sure);
        check(id);
    }
}

Time EventSimulator::delay(std::uint32_t pin, Bit from, Bit to) const {
    const auto& c = *circuit_;
    if (starting_ || c.path_start[pin] == c.path_start[pin + 1]) return 0;
    const auto& cell = c.cells[c.output_cell[pin]];
    Time best = -1, otherwise = 0;
    for (auto p = c.path_start[pin]; p < c.path_start[pin + 1]; ++p) {
        const auto& path = c.paths[p];
        const auto in = cell.first_input + path.input;
        const auto shorter = std::min(path.rise, path.fall);
        // Two values for all changes as IEEE 1364-2005, table 14-2, derives them.
        const Time t = to == Bit::one      ? path.rise
                       : to == Bit::zero   ? path.fall
                       : from == Bit::zero ? path.rise
                       : from == Bit::one  ? path.fall
                       : to == Bit::z      ? std::max(path.rise, path.fall)
                                           : shorter;
        otherwise = std::max(otherwise, t);
        const bool edge = path.edge == 0 || (path.edge == 'p') == (pin_[in] == Bit::one || before_[in] == Bit::zero);
        if (changed_[in] == now_ && edge) best = best < 0 ? t : std::min(best, t);
    }
    return best < 0 ? otherwise : best;
}

void EventSimulator::output(std::uint32_t pin, Bit value) {
    const bool waits = pending_at_[pin] >= 0;
    if (waits && pending_[pin] == value) return;
    if (value == out_[pin]) {
        pending_at_[pin] = -1;  // a pulse too short to pass
        return;
    }
    const auto t = delay(pin, out_[pin], value);
    if (t == 0) {
        pending_at_[pin] = -1;
        out_[pin] = value;
        if (circuit_->output_net[pin] != no_id) update_net(circuit_->output_net[pin]);
        return;
    }
    pending_[pin] = value;
    pending_at_[pin] = now_ + t;
    pending_serial_[pin] = ++serial_;
    queue_.push({now_ + t, serial_, pin, value, output_event});
}

/// Setup at an edge of the clock.
void EventSimulator::check(std::uint32_t id) {
    const auto& c = *circuit_;
    clocked_[id] = now_;
    if (c.checks.empty()) return;
    const auto& cell = c.cells[id];
    for (const auto& limit : c.checks[id]) {
        const auto at = changed_[cell.first_input + limit.data];
        if (at < 0 || now_ - at >= limit.setup || violations_.size() >= most_violations) continue;
        violations_.push_back({now_, id, c.plans[cell.plan].inputs[limit.data], true, limit.setup - (now_ - at)});
    }
}

/// Hold when data moves behind an edge.
void EventSimulator::check_hold(std::uint32_t pin) {
    const auto& c = *circuit_;
    const auto id = c.input_cell[pin];
    if (c.checks.empty() || clocked_[id] < 0) return;
    const auto& cell = c.cells[id];
    for (const auto& limit : c.checks[id]) {
        if (cell.first_input + limit.data != pin || now_ == clocked_[id] || now_ - clocked_[id] >= limit.hold ||
            violations_.size() >= most_violations)
            continue;
        violations_.push_back(
            {now_, id, c.plans[cell.plan].inputs[limit.data], false, limit.hold - (now_ - clocked_[id])});
    }
}

}  // namespace kp::simulation
