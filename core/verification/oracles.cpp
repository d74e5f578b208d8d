// SPDX-License-Identifier: GPL-3.0-or-later
// Who may say what should come out: the netlist under other pegs, the same with delays, the source, a formula.
#include "core/verification/proof.hpp"

#include "core/base/text.hpp"
#include "core/simulation/event_simulator.hpp"
#include "core/hdl/source/interpreter.hpp"
#include "core/hdl/source/parser.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <map>

namespace kp::verification {

namespace {

class Names : public Oracle {
public:
    Names(BoardBench board, const Netlist& netlist, const Board& table, const PegMap& pegs) : board_(std::move(board)) {
        for (const auto& port : netlist.ports) {
            const auto peg = pegs.find(port.name);
            const auto at = peg == pegs.end() ? Board::Found{} : table.at_pin(peg->second.pin);
            terminal_.push_back(at ? at.part->ref + "." + at.terminal->name : "");
        }
    }
    [[nodiscard]] std::string name() const override { return "the netlist as the names ask"; }
    void set(std::uint32_t port, bool value) override { board_.drive(terminal_[port], value); }
    [[nodiscard]] Status run(board_sim::Time lasts) override {
        board_.run_for(lasts);
        return Done{};
    }
    [[nodiscard]] char port(std::uint32_t port) const override {
        switch (board_.level(terminal_[port])) {
            case Level::high: return '1';
            case Level::low: return '0';
            case Level::conflict: return 'x';
            default: return 'z';
        }
    }

private:
    BoardBench board_;
    std::vector<std::string> terminal_;
};

class Simulated : public Oracle {
public:
    Simulated(std::unique_ptr<simulation::Circuit> circuit, std::uint32_t clock, board_sim::Time period)
        : circuit_(std::move(circuit)), simulator_(*circuit_) {
        if (clock != no_id && period > 3) simulator_.clock(clock, period, period / 4);  // as the board's oscillators
        for (std::uint32_t i = 0; i < circuit_->netlist->ports.size(); ++i)
            if (i != clock && circuit_->netlist->ports[i].direction == Direction::in)
                simulator_.set(i, simulation::Bit::zero);
    }
    [[nodiscard]] std::string name() const override {
        return circuit_->has_delays ? "the simulation with delays" : "the simulation in four values";
    }
    void set(std::uint32_t port, bool value) override { simulator_.set(port, simulation::bit_of(value)); }
    [[nodiscard]] Status run(board_sim::Time lasts) override {
        if (const auto m = simulator_.run_until(simulator_.now() + lasts)) return *m;
        return Done{};
    }
    [[nodiscard]] char port(std::uint32_t port) const override { return simulation::letter(simulator_.port(port)); }
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
    std::unique_ptr<simulation::Circuit> circuit_;
    simulation::EventSimulator simulator_;
};

/// A source by its ports; bits of a bus are told together.
class Source : public Oracle {
public:
    Source(std::unique_ptr<source::DesignText> code, source::Interpreter interpreter, const Netlist& netlist,
           std::string clock, board_sim::Time period, std::string name)
        : code_(std::move(code)),
          interpreter_(std::move(interpreter)),
          clock_(std::move(clock)),
          period_(period),
          name_(std::move(name)) {
        bit_.resize(netlist.ports.size());
        for (const auto& group : simulation::groups_of(netlist)) {
            const auto known = std::find_if(interpreter_.ports().begin(), interpreter_.ports().end(),
                                            [&](const auto& p) { return p.name == group.name; });
            if (known == interpreter_.ports().end() || known->width != static_cast<int>(group.ports.size())) continue;
            for (size_t k = 0; k < group.ports.size(); ++k) bit_[group.ports[k]] = {group.name, k};
            if (group.direction != Direction::out) given_[group.name] = std::string(group.ports.size(), '0');
        }
    }
    [[nodiscard]] std::string name() const override { return name_; }
    void set(std::uint32_t port, bool value) override {
        if (!bit_[port].first.empty()) given_[bit_[port].first][bit_[port].second] = value ? '1' : '0';
    }
    [[nodiscard]] Status run(board_sim::Time lasts) override {
        for (const auto& [port, bits] : given_)
            if (port != clock_) interpreter_.set(port, bits);
        if (const auto m = interpreter_.settle()) return *m;
        now_ += lasts;
        if (clock_.empty() || period_ < 4) return Done{};
        // As the board's oscillators: the first rise after a quarter of a period, each edge before its row's end.
        for (; period_ / 4 + edges_ * period_ / 2 < now_; ++edges_) {
            interpreter_.set(clock_, edges_ % 2 ? "0" : "1");
            if (const auto m = interpreter_.settle()) return *m;
        }
        return Done{};
    }
    [[nodiscard]] char port(std::uint32_t port) const override {
        if (bit_[port].first.empty()) return '-';
        const auto bits = interpreter_.get(bit_[port].first);
        return bit_[port].second < bits.size() ? bits[bit_[port].second] : '-';
    }

private:
    std::unique_ptr<source::DesignText> code_;
    source::Interpreter interpreter_;
    std::string clock_;
    board_sim::Time period_, now_ = 0;
    std::int64_t edges_ = 0;
    std::string name_;
    std::vector<std::pair<std::string, size_t>> bit_;
    std::map<std::string, std::string> given_;
};

Result<std::unique_ptr<Oracle>> run_source(std::span<const SourceText> sources, const PortRequest& reading,
                                           const std::string& top, const Netlist& netlist, const std::string& clock,
                                           board_sim::Time period, const std::string& name) {
    auto read = source::read_code(sources, reading);
    if (!read) return read.messages();
    auto code = std::make_unique<source::DesignText>(read.take());
    auto interpreter = source::Interpreter::of(*code, top);
    if (!interpreter) return interpreter.messages();
    return std::unique_ptr<Oracle>(
        std::make_unique<Source>(std::move(code), interpreter.take(), netlist, clock, period, name));
}

}  // namespace

Result<std::unique_ptr<Oracle>> oracle_of_names(const Netlist& netlist, const Library& library, const Board& board,
                                                const PegMap& by_name) {
    auto made = BoardBench::make(netlist, library, board, by_name);
    if (!made) return made.messages();
    return std::unique_ptr<Oracle>(std::make_unique<Names>(made.take(), netlist, board, by_name));
}

Result<std::unique_ptr<Oracle>> oracle_of_simulation(const Netlist& netlist, const Library& library,
                                                     const DelayFile* delays, std::uint32_t clock,
                                                     board_sim::Time period) {
    auto circuit = simulation::Circuit::of(netlist, library);
    if (!circuit) return circuit.messages();
    auto kept = std::make_unique<simulation::Circuit>(circuit.take());
    if (delays)
        for (auto& m : kept->annotate(*delays))
            if (m.severity == Severity::stop) return m;
    return std::unique_ptr<Oracle>(std::make_unique<Simulated>(std::move(kept), clock, period));
}

Result<std::unique_ptr<Oracle>> oracle_of_source(std::span<const SourceText> sources, const PortRequest& reading,
                                                 const std::string& top, const Netlist& netlist, std::uint32_t clock,
                                                 board_sim::Time period) {
    return run_source(sources, reading, top, netlist, clock == no_id ? "" : netlist.ports[clock].name, period,
                      "the source");
}

Result<std::unique_ptr<Oracle>> oracle_of_formula(const std::string& formulas, const Netlist& netlist) {
    std::string text = "module formula(", body;
    bool first = true;
    for (const auto& group : simulation::groups_of(netlist)) {
        // A formula speaks of some outputs; the others are not ports of it.
        const auto written = [&] {
            for (size_t at = formulas.find(group.name); at != std::string::npos;
                 at = formulas.find(group.name, at + 1)) {
                const bool begins =
                    at == 0 || !(std::isalnum(static_cast<unsigned char>(formulas[at - 1])) || formulas[at - 1] == '_');
                const auto end = at + group.name.size();
                const bool ends = end >= formulas.size() ||
                                  !(std::isalnum(static_cast<unsigned char>(formulas[end])) || formulas[end] == '_');
                if (begins && ends) return true;
            }
            return false;
        }();
        if (group.direction == Direction::inout || (group.direction == Direction::out && !written)) continue;
        text += std::string(first ? "" : ", ") + (group.direction == Direction::in ? "input" : "output");
        if (group.ports.size() > 1) text += said(" [{}:0]", group.ports.size() - 1);
        text += " " + group.name;
        first = false;
    }
    text += "); ";
    for (size_t from = 0; from < formulas.size();) {
        const auto end = std::min(formulas.find_first_of(";\n", from), formulas.size());
        const auto one = formulas.substr(from, end - from);
        if (one.find_first_not_of(" \t\r") != std::string::npos) body += said("assign {};\n", one);
        from = end + 1;
    }
    text += body + "endmodule\n";
    const SourceText source{"formula", text};
    return run_source({&source, 1}, {}, "formula", netlist, "", 0, "the formula");
}

}  // namespace kp::verification
