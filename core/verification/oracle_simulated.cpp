// SPDX-License-Identifier: GPL-3.0-or-later
// The netlist in four values, with delays. The outputs of PLLs are taken off their cells and become inputs that tick.
#include "core/verification/proof.hpp"

#include "core/base/said.hpp"
#include "core/base/text.hpp"
#include "core/simulation/event_simulator.hpp"

#include <algorithm>
#include <map>
#include <utility>

namespace kp::verification {

namespace {

struct RunningPll {
    PllRate rate;
    std::uint32_t port = 0;  ///< input that stands for its output
    board_sim::Time last = -1;
    bool runs = false;
};
/// A netlist whose PLLs drive nothing; null where it has none.
struct WithoutPlls {
    std::unique_ptr<Netlist> netlist;
    std::vector<RunningPll> plls;
};

Result<WithoutPlls> without_plls(const Netlist& netlist, const Library& library) {
    WithoutPlls out;
    const bool any = std::any_of(netlist.types.begin(), netlist.types.end(), [&](const std::string& type) {
        const auto* cell = library.cell(type);
        return cell && !cell->multiply_parameter.empty();
    });
    if (!any) return out;
    const auto simulator = Simulator::make(netlist, library, PllMode::own_rate);
    if (!simulator) return simulator.messages();
    out.netlist = std::make_unique<Netlist>(netlist);
    auto& n = *out.netlist;
    std::map<std::uint32_t, std::uint32_t> port_of_net;
    for (const auto& rate : simulator.value().plls()) {
        const auto port = static_cast<std::uint32_t>(n.ports.size());
        n.ports.push_back({n.net_names[rate.output], n.net_names[rate.output], -1, Direction::in, rate.output});
        port_of_net[rate.output] = port;
        out.plls.push_back({rate, port});
    }
    for (auto& pin : n.pins) {
        const auto* cell = library.cell(n.type_of(pin.cell));
        const auto at = cell && !cell->multiply_parameter.empty() ? cell->pin(n.pin_names[pin.name]) : -1;
        const bool drives = at >= 0 && cell->pins[static_cast<size_t>(at)].direction != Direction::in;
        if (drives && port_of_net.contains(pin.net)) pin.net = no_id;
    }
    return out;
}

class Simulated : public Oracle {
public:
    Simulated(WithoutPlls netlist, std::unique_ptr<simulation::Circuit> circuit, const std::vector<ProofClock>& clocks)
        : netlist_(std::move(netlist)), circuit_(std::move(circuit)), simulator_(*circuit_) {
        simulator_.watch([this](const simulation::Change& change) { follow(change); });
        const auto ticks = [&](std::uint32_t port) {
            return std::any_of(clocks.begin(), clocks.end(), [&](const ProofClock& c) { return c.port == port; });
        };
        for (std::uint32_t i = 0; i < circuit_->netlist->ports.size(); ++i)
            if (circuit_->netlist->ports[i].direction == Direction::in && !ticks(i))
                simulator_.set(i, simulation::Bit::zero);
        for (const auto& c : clocks) simulator_.tick_from(c.port, c.first_rise(), c.numerator, c.denominator);
    }
    [[nodiscard]] std::string name() const override {
        return circuit_->has_delays ? "the simulation with delays" : "the simulation in four values";
    }
    void set(std::uint32_t port, bool value) override { simulator_.set(port, simulation::bit_of(value)); }
    [[nodiscard]] Status run(board_sim::Time lasts) override {
        if (const auto m = simulator_.run_until(simulator_.now() + lasts)) return *m;
        return Done{};
    }
    [[nodiscard]] char port(std::uint32_t port) const override {
        // Who drives a port that goes both ways, only a board sees.
        if (circuit_->netlist->ports[port].direction == Direction::inout) return '-';
        return simulation::letter(simulator_.port(port));
    }
    /// Each pin once, with how often and by how much at worst.
    [[nodiscard]] std::vector<std::string> seen() const override {
        struct Worst {
            size_t times = 0;
            board_sim::Time missing = 0, first = 0;
        };
        std::map<std::pair<std::string, bool>, Worst> pins;
        for (const auto& v : simulator_.violations()) {
            const auto& plan = circuit_->plans[circuit_->cells[v.cell].plan];
            auto& w = pins[{circuit_->netlist->cell_names[v.cell] + "/" + plan.cell->pins[v.data].name, v.setup}];
            if (w.times++ == 0) w.first = v.when;
            w.missing = std::max(w.missing, v.missing);
        }
        std::vector<std::string> out;
        for (const auto& [pin, w] : pins)
            out.push_back(said("{}: {} failed {}, by {} ns at worst, first at {} ms", pin.first,
                               (pin.second ? "setup" : "hold"), counted(w.times, "time"),
                               fixed(simulation::ns_of(w.missing), 3), fixed(simulation::ns_of(w.first) * 1e-6, 6)));
        return out;
    }

private:
    /// Two rises of its input tell a PLL its period; from then on it runs, in step with the second, as on the board.
    void follow(const simulation::Change& change) {
        if (change.value != simulation::Bit::one) return;
        for (auto& pll : netlist_.plls) {
            if (pll.rate.input != change.net || pll.runs) continue;
            const auto last = std::exchange(pll.last, change.when);
            if (last < 0 || change.when == last) continue;
            pll.runs = true;
            simulator_.tick_from(pll.port, change.when, (change.when - last) * static_cast<std::int64_t>(pll.rate.over),
                                 2 * static_cast<std::int64_t>(pll.rate.times));
        }
    }

    WithoutPlls netlist_;
    std::unique_ptr<simulation::Circuit> circuit_;
    simulation::EventSimulator simulator_;
};

}  // namespace

Result<std::unique_ptr<Oracle>> oracle_of_simulation(const Netlist& netlist, const Library& library,
                                                     const DelayFile* delays, const std::vector<ProofClock>& clocks) {
    auto whole = without_plls(netlist, library);
    if (!whole) return whole.messages();
    auto own = whole.take();
    auto circuit = simulation::Circuit::of(own.netlist ? *own.netlist : netlist, library);
    if (!circuit) return circuit.messages();
    auto kept = std::make_unique<simulation::Circuit>(circuit.take());
    if (delays)
        for (auto& m : kept->annotate(*delays))
            if (m.severity == Severity::stop) return m;
    return std::unique_ptr<Oracle>(std::make_unique<Simulated>(std::move(own), std::move(kept), clocks));
}

}  // namespace kp::verification
