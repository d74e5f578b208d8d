// SPDX-License-Identifier: GPL-3.0-or-later
// What hangs behind a port, found by walking from it with a bound on depth: a port that reaches half of the design
// says no more than one that reaches a register.
#include "core/design/port_facts.hpp"

#include "core/model/parameter.hpp"

#include <algorithm>
#include <bit>
#include <map>
#include <set>

namespace kp::design {

namespace {

constexpr int deepest = 16;

class Behind {
public:
    Behind(const Connections& c, const ClockNets& clocks, PortFacts& f)
        : c_(c), n_(c.netlist), clocks_(clocks), f_(f) {}

    void input(std::uint32_t net) {
        f_.read = !c_.loads(net).empty();
        as_clock(net, 0);
        f_.steady = f_.read ? steady(net, 0) : 0;
        cleared(net);
    }

    void output(std::uint32_t net) {
        const auto driver = c_.driver(net);
        if (driver == no_id) return;
        const auto* lib = c_.pin(driver);
        // A pad that can let go: what it drives when it does not is its function.
        if (lib->direction == Direction::inout)
            for (const auto before : c_.inputs_before(driver)) f_.only_low |= c_.constant(n_.pins[before].net) == false;
        counter(net);
    }

private:
    /// Along pads, buffers and inverters only: a gate may be a clock gate, but what enables it is not a clock.
    void as_clock(std::uint32_t net, int depth) {
        for (const auto load : c_.loads(net)) {
            if (c_.is_clock_pin(load)) f_.clocks_registers = true;
            if (c_.cell_of(load)->resource == "pll")
                f_.feeds_pll = true;
            else if (depth < deepest && c_.passes(load) != 0)
                as_clock(n_.pins[c_.outputs_after(load)[0]].net, depth + 1);
        }
    }

    [[nodiscard]] int steady(std::uint32_t net, int depth) const {
        int least = deepest;
        for (const auto load : c_.loads(net)) {
            if (depth >= deepest) return depth;
            // What only starts a reset over may bounce: the synchroniser lets go once it has been quiet.
            if (c_.is_async_pin(load) && lets_go_in_step(n_.pins[load].cell, 0)) continue;
            if (c_.is_data_pin(load)) {
                int chain = 1;
                for (const auto next : c_.register_outputs(n_.pins[load].cell))
                    if (!c_.loads(next).empty()) chain = 1 + steady(next, depth + 1);
                least = std::min(least, chain);
            } else if (c_.passes(load) != 0) {
                least = std::min(least, steady(n_.pins[c_.outputs_after(load)[0]].net, depth + 1));
            } else if (!c_.outputs_after(load).empty() || c_.is_clock_pin(load) || c_.is_async_pin(load)) {
                return 0;
            }
        }
        return least;
    }

    /// A register whose data never change, or come from such a one: it is there to let go of a reset in step with its
    /// clock.
    [[nodiscard]] bool lets_go_in_step(std::uint32_t cell, int depth) const {
        for (const auto& name : c_.type(cell)->next_state.inputs) {
            const auto net = c_.net_of(cell, name);
            if (net == no_id || c_.constant(net)) continue;
            const auto driver = c_.driver(net);
            if (depth > 4 || driver == no_id || !c_.is_register(n_.pins[driver].cell) ||
                !lets_go_in_step(n_.pins[driver].cell, depth + 1))
                return false;
        }
        return true;
    }

    void cleared(std::uint32_t from) {
        std::vector<std::uint32_t> open{from};
        std::set<std::uint32_t> seen{from};
        for (size_t i = 0; i < open.size() && i < 10000; ++i)
            for (const auto load : c_.loads(open[i])) {
                if (c_.is_async_pin(load) && !lets_go_in_step(n_.pins[load].cell, 0)) {
                    if (f_.cleared++ == 0) f_.cleared_first = n_.cell_names[n_.pins[load].cell];
                }
                for (const auto out : c_.outputs_after(load))
                    if (seen.insert(n_.pins[out].net).second) open.push_back(n_.pins[out].net);
            }
    }

    /// Registers that the next state of a register depends on; empty when they are more than a counter would have.
    [[nodiscard]] std::set<std::uint32_t> support(std::uint32_t cell) const {
        constexpr size_t most_nets = 400, most_registers = 48;
        std::set<std::uint32_t> registers, seen;
        std::vector<std::uint32_t> open;
        for (const auto& name : c_.type(cell)->next_state.inputs)
            if (const auto net = c_.net_of(cell, name); net != no_id && seen.insert(net).second) open.push_back(net);
        for (size_t i = 0; i < open.size(); ++i) {
            if (open.size() > most_nets || registers.size() > most_registers) return {};
            const auto driver = c_.driver(open[i]);
            if (driver == no_id) {
                if (!c_.constant(open[i])) return {};  // from outside
                continue;
            }
            if (c_.is_register(n_.pins[driver].cell)) {
                registers.insert(n_.pins[driver].cell);
                continue;
            }
            for (const auto before : c_.inputs_before(driver))
                if (seen.insert(n_.pins[before].net).second) open.push_back(n_.pins[before].net);
        }
        return registers;
    }

    /// Bit k of a binary counter depends on bits 0 to k and on nothing else, and so does each bit below it.
    void counter(std::uint32_t net) {
        std::uint32_t cell = no_id;
        for (int depth = 0; depth < deepest; ++depth) {
            const auto driver = c_.driver(net);
            if (driver == no_id) return;
            const auto at = n_.pins[driver].cell;
            if (c_.is_register(at)) {
                const auto own = support(at);
                if (own.contains(at)) {
                    cell = at;
                    break;
                }
                if (own.size() != 1 || c_.type(at)->next_state.inputs.size() != 1) return;
                net = c_.net_of(at, c_.type(at)->next_state.inputs[0]);
            } else {
                const auto before = c_.inputs_before(driver);
                if (before.size() != 1) return;
                net = n_.pins[before[0]].net;
            }
        }
        if (cell == no_id) return;
        const auto all = support(cell);
        const auto own_clock = clocks_.of_register(c_, cell);
        std::set<size_t> sizes;
        for (const auto member : all) {
            const auto below = support(member);
            if (!below.contains(member) || !std::includes(all.begin(), all.end(), below.begin(), below.end()) ||
                !sizes.insert(below.size()).second)
                return;
            if (clocks_.of_register(c_, member) != own_clock) return;
        }
        if (sizes.empty() || *sizes.rbegin() != all.size() || own_clock == 0) return;
        f_.counter_clock = static_cast<std::uint32_t>(std::countr_zero(own_clock));
        f_.divided_by = static_cast<double>(std::uint64_t{1} << all.size());
    }

    const Connections& c_;
    const Netlist& n_;
    const ClockNets& clocks_;
    PortFacts& f_;
};

std::optional<long long> parameter(const Netlist& n, std::uint32_t cell, const std::string& name) {
    const auto* text = name.empty() ? nullptr : parameter_of(n, cell, name);
    const auto v = text ? number_of(*text) : std::nullopt;
    return v ? std::optional<long long>(static_cast<long long>(*v)) : std::nullopt;
}

std::string port_before(const Connections& c, std::uint32_t net) {
    for (int depth = 0; depth < deepest && net != no_id; ++depth) {
        for (const auto& port : c.netlist.ports)
            if (port.net == net) return port.name;
        const auto driver = c.driver(net);
        const auto before = driver == no_id ? std::vector<std::uint32_t>{} : c.inputs_before(driver);
        if (before.size() != 1) return {};
        net = c.netlist.pins[before[0]].net;
    }
    return {};
}

}  // namespace

PortFacts facts_of(const Connections& c, const ClockNets& clocks, std::uint32_t port) {
    PortFacts f;
    const auto& p = c.netlist.ports[port];
    if (p.net == no_id) return f;
    Behind behind(c, clocks, f);
    if (p.direction != Direction::out) behind.input(p.net);
    if (p.direction != Direction::in) behind.output(p.net);
    return f;
}

std::vector<PllFacts> plls_of(const Connections& c, const ClockNets& clocks, const Constraints& k) {
    std::vector<PllFacts> out;
    const auto& n = c.netlist;
    for (std::uint32_t cell = 0; cell < n.cells.size(); ++cell) {
        const auto* lib = c.type(cell);
        if (!lib || lib->resource != "pll") continue;
        PllFacts f;
        f.cell = n.cell_names[cell];
        f.divide = parameter(n, cell, lib->divide_parameter);
        f.multiply = parameter(n, cell, lib->multiply_parameter);
        for (auto p = n.cells[cell].first_pin; p < n.cells[cell].first_pin + n.cells[cell].pin_count; ++p) {
            const auto* pin = c.pin(p);
            if (!pin || n.pins[p].net == no_id) continue;
            if (pin->direction == Direction::in) {
                if (const auto mask = clocks.clock[n.pins[p].net]; mask && f.clock == no_id) {
                    f.clock = static_cast<std::uint32_t>(std::countr_zero(mask));
                    f.port = port_before(c, n.pins[p].net);
                    f.input = n.pin_name(p);
                }
                continue;
            }
            PllOutput o{n.pin_name(p), parameter(n, cell, pin->divide_parameter), no_id};
            for (std::uint32_t i = 0; i < k.clocks.size(); ++i)
                for (const auto& source : k.clocks[i].sources)
                    if ((source.kind == ObjectKind::pin && source.id == p) ||
                        (source.kind == ObjectKind::net && source.id == n.pins[p].net))
                        o.clock = i;
            f.outputs.push_back(std::move(o));
        }
        out.push_back(std::move(f));
    }
    return out;
}

}  // namespace kp::design
