// SPDX-License-Identifier: GPL-3.0-or-later
// The board as its file describes it, around a simulated netlist: what terminals drive goes to the ports pegged
// there, what ports drive comes back to lamps and displays. A step costs what the simulator finds changed.
#include "core/bench/board_bench.hpp"

#include <algorithm>
#include <set>

namespace kp {

BoardBench::BoardBench(const Netlist& netlist, const Board& board, Simulator simulator)
    : netlist_(&netlist), board_(&board), simulator_(std::make_unique<Simulator>(std::move(simulator))) {}

Result<BoardBench> BoardBench::make(const Netlist& netlist, const Library& library, const Board& board,
                                    const PegMap& pegs) {
    auto simulator = Simulator::make(netlist, library);
    if (!simulator) return simulator.messages();
    BoardBench bench(netlist, board, simulator.take());
    for (std::uint32_t i = 0; i < netlist.ports.size(); ++i) {
        const auto peg = pegs.find(netlist.ports[i].name);
        if (peg == pegs.end()) continue;
        bench.ports_at_[peg->second.pin].push_back(i);
        const auto* oscillator = board.oscillator_at_pin(peg->second.pin);
        if (oscillator && netlist.ports[i].direction == Direction::in && bench.clock_port_ == no_id) {
            bench.clock_port_ = i;
            bench.clock_hz_ = oscillator->mhz * 1e6;
        }
    }
    // Keys and the like rest at the level that is not active.
    for (const auto& part : board.parts)
        for (const auto& t : part.terminals)
            if (t.direction == TerminalDirection::drives) bench.drive(part.ref + "." + t.name, t.active_low);
    return bench;
}

void BoardBench::drive(const std::string& terminal, bool level) {
    driven_[terminal] = level;
    const auto found = board_->at_terminal(terminal);
    if (!found.net) return;
    const auto at = ports_at_.find(found.net->pin);
    if (at == ports_at_.end()) return;
    for (const auto port : at->second)
        if (netlist_->ports[port].direction != Direction::out && port != clock_port_) simulator_->set_port(port, level);
}

void BoardBench::run(std::uint64_t cycles) {
    if (clock_port_ == no_id) return;
    simulator_->clock(clock_port_, cycles);
    cycles_ += cycles;
    seconds_ += static_cast<double>(cycles) / clock_hz_;
}

std::uint32_t BoardBench::driver_port(const std::string& pin) const {
    const auto at = ports_at_.find(pin);
    if (at == ports_at_.end()) return no_id;
    for (const auto port : at->second)
        if (netlist_->ports[port].direction != Direction::in) return port;
    return no_id;
}

Level BoardBench::level(const std::string& terminal) const {
    const auto found = board_->at_terminal(terminal);
    if (!found) return Level::floating;
    const auto by_hand = driven_.find(terminal);
    const auto port = found.net ? driver_port(found.net->pin) : no_id;
    if (by_hand != driven_.end() && port != no_id && simulator_->port(port) != by_hand->second) return Level::conflict;
    if (by_hand != driven_.end()) return by_hand->second ? Level::high : Level::low;
    if (port == no_id) return Level::floating;
    return simulator_->port(port) ? Level::high : Level::low;
}

bool BoardBench::active(const std::string& terminal) const {
    const auto found = board_->at_terminal(terminal);
    const auto now = level(terminal);
    return found &&
           ((now == Level::high && !found.terminal->active_low) || (now == Level::low && found.terminal->active_low));
}

std::vector<std::string> BoardBench::conflicts() const {
    std::vector<std::string> out;
    for (const auto& [pin, ports] : ports_at_) {
        const auto at = board_->at_pin(pin);
        if (!at || at.terminal->direction != TerminalDirection::drives) continue;
        for (const auto port : ports)
            if (netlist_->ports[port].direction == Direction::out)
                out.push_back(netlist_->ports[port].name + " against " + at.net->terminal);
    }
    return out;
}

double BoardBench::frequency_hz(const std::string& terminal) const {
    const auto found = board_->at_terminal(terminal);
    const auto port = found.net ? driver_port(found.net->pin) : no_id;
    if (port == no_id) return 0;
    const auto a = simulator_->activity(port);
    // Two changes make a period; one more is needed to close it.
    if (a.changes < 3) return 0;
    const auto whole = (a.changes - 1) / 2 * 2;
    return clock_hz_ * static_cast<double>(whole) / 2.0 * static_cast<double>(a.changes - 1) /
           static_cast<double>(whole) / static_cast<double>(a.last - a.first);
}

Result<std::vector<DirectionRow>> compare_directions(const Netlist& netlist, const Library& library, const Board& board,
                                                     const PegMap& by_name, const PegMap& as_is,
                                                     const BoardPart& source, const BoardPart& lamps) {
    // Long enough for two synchronising registers, a holding register and the output register, with room.
    constexpr std::uint64_t settle_cycles = 16;
    auto wanted = BoardBench::make(netlist, library, board, by_name);
    if (!wanted) return wanted.messages();
    auto real = BoardBench::make(netlist, library, board, as_is);
    if (!real) return real.messages();
    // A key may have to be looked at once before the board shows anything: one full turn of the slowest sampling
    // counter.
    for (auto* bench : {&wanted.value(), &real.value()}) bench->run(40000);
    const auto bits = std::min<size_t>(source.terminals.size(), 8);
    std::vector<DirectionRow> rows;
    for (unsigned position = 0; position < (1u << bits); ++position) {
        DirectionRow row;
        row.position = position;
        for (size_t k = 0; k < bits; ++k) {
            const bool level = (to_gray(position) >> k) & 1;
            row.gray.insert(row.gray.begin(), level ? '1' : '0');
            for (auto* bench : {&wanted.value(), &real.value()})
                bench->drive(source.ref + "." + source.terminals[k].name, level);
        }
        for (auto* bench : {&wanted.value(), &real.value()}) {
            bench->run(settle_cycles);
            for (const auto& lamp : lamps.terminals)
                if (bench->active(lamps.ref + "." + lamp.name))
                    (bench == &wanted.value() ? row.expected : row.observed).push_back(lamp.name);
        }
        rows.push_back(std::move(row));
    }
    return rows;
}

std::optional<CrossedPair> crossed_pair(const std::vector<DirectionRow>& rows, const Board& board, const PegMap& pegs) {
    std::set<std::pair<std::string, std::string>> instead;  // wanted, lit
    for (const auto& row : rows)
        if (!row.agrees() && row.expected.size() == 1 && row.observed.size() == 1)
            instead.insert({row.expected[0], row.observed[0]});
    const auto port_on = [&](const std::string& terminal) {
        for (const auto& [port, peg] : pegs)
            if (const auto at = board.at_pin(peg.pin); at && at.terminal->name == terminal) return port;
        return std::string();
    };
    for (const auto& [wanted, lit] : instead)
        if (instead.contains({lit, wanted})) return CrossedPair{{wanted, lit}, {port_on(wanted), port_on(lit)}};
    return {};
}

}  // namespace kp
