// SPDX-License-Identifier: GPL-3.0-or-later
// Time goes from one thing that happens to the next: a tick, or a part that wanted to be woken. After each, wires that
// moved take their new levels and the parts on them hear of it, until nothing moves.
#include "core/board_sim/board_model.hpp"

#include <algorithm>

namespace kp::board_sim {

namespace {

/// What moves a wire that nobody else drives.
Drive pull_of(const std::string& pull) {
    return pull == "up" ? Drive::high : pull == "down" ? Drive::low : Drive::off;
}

Drive chosen_pull(const Netlist& netlist, std::uint32_t port, const BoardModelOptions& options) {
    if (!options.attributes) return Drive::off;
    const auto at = options.attributes->find(netlist.ports[port].name);
    return at == options.attributes->end() ? Drive::off : pull_of(at->second.pull);
}

}  // namespace

Result<std::unique_ptr<BoardModel>> BoardModel::make(const Netlist& netlist, const Library& library, const Board& board,
                                                     const PegMap& pegs, const BoardModelOptions& options) {
    auto simulator = Simulator::make(netlist, library, options.plls);
    if (!simulator) return simulator.messages();
    std::unique_ptr<BoardModel> model(new BoardModel(netlist, board, simulator.take()));
    model->wire_up(pegs, options);
    model->add_oscillators();
    model->add_plls();
    model->start();
    return model;
}

BoardModel::BoardModel(const Netlist& netlist, const Board& board, Simulator simulator)
    : netlist_(&netlist), board_(&board), simulator_(std::make_unique<Simulator>(std::move(simulator))) {}

void BoardModel::wire_up(const PegMap& pegs, const BoardModelOptions& options) {
    for (std::uint32_t p = 0; p < board_->parts.size(); ++p) {
        first_.push_back(static_cast<std::uint32_t>(terminals_.size()));
        for (std::uint32_t t = 0; t < board_->parts[p].terminals.size(); ++t) {
            terminal_index_.emplace(board_->parts[p].ref + "." + board_->parts[p].terminals[t].name, terminals_.size());
            terminals_.push_back({p, t});
        }
    }
    const auto wire_at = [&](const std::string& pin) -> std::uint32_t {
        const auto [at, fresh] = wire_of_pin_.try_emplace(pin, wires_.size());
        if (fresh) {
            wires_.emplace_back();
            wires_.back().pin = pin;
        }
        return at->second;
    };
    for (const auto& net : board_->nets) {
        const auto t = terminal(net.terminal);
        if (t == no_id) continue;
        const auto w = wire_at(net.pin);
        terminals_[t].wire = w;
        wires_[w].terminals.push_back(t);
        if (const auto pull = pull_of(net.pull); pull != Drive::off) wires_[w].pull = pull;
    }
    wire_of_port_.assign(netlist_->ports.size(), no_id);
    for (std::uint32_t i = 0; i < netlist_->ports.size(); ++i) {
        const auto peg = pegs.find(netlist_->ports[i].name);
        if (peg == pegs.end()) continue;
        const auto w = wire_at(peg->second.pin);
        wire_of_port_[i] = w;
        wires_[w].ports.push_back(i);
        if (wires_[w].pull == Drive::off) wires_[w].pull = chosen_pull(*netlist_, i, options);
        simulator_->watch(i, i);
    }
}

void BoardModel::add_oscillators() {
    for (const auto& o : board_->oscillators) {
        Ticker t;
        t.terminal = terminal(o.terminal);
        if (t.terminal == no_id || o.mhz <= 0) continue;
        // Half a period in femtoseconds is 5e8 / MHz; a thousandth of a hertz is kept.
        t.numerator = 500'000'000'000'000'000;
        t.denominator = static_cast<std::int64_t>(o.mhz * 1e9 + 0.5);
        t.next = t.numerator / t.denominator / 2;  // so that whole cycles lie inside of whole periods from 0
        t.runs = true;
        const auto& wire = terminals_[t.terminal].wire;
        if (wire != no_id)
            for (const auto port : wires_[wire].ports)
                if (clock_port_ == no_id && netlist_->ports[port].direction == Direction::in) {
                    clock_port_ = port;
                    clock_hz_ = o.mhz * 1e6;
                    t.counts = true;
                }
        tickers_.push_back(t);
    }
}

void BoardModel::add_plls() {
    for (const auto& p : simulator_->plls()) {
        Lock lock;
        lock.input = p.input;
        lock.times = p.times;
        lock.over = p.over;
        lock.ticker = static_cast<std::uint32_t>(tickers_.size());
        Ticker t;
        t.net = p.output;
        tickers_.push_back(t);
        simulator_->watch_net(p.input, static_cast<std::uint32_t>(netlist_->ports.size() + locks_.size()));
        locks_.push_back(lock);
    }
}

void BoardModel::start() {
    std::vector<std::pair<std::string, std::shared_ptr<Shaft>>> shafts;
    for (std::uint32_t p = 0; p < board_->parts.size(); ++p)
        parts_.push_back(make_simulated_part({this, &board_->parts[p], p, first_[p]}, shafts));
    for (std::uint32_t w = 0; w < wires_.size(); ++w) touch(w);
    for (const auto& t : tickers_)
        if (t.terminal != no_id) give(t.terminal, Drive::low);
    for (const auto& part : parts_)
        if (part) part->start();
    settle();
}

void BoardModel::tick(Ticker& t) {
    t.level = !t.level;
    t.step();
    if (t.terminal != no_id) {
        if (t.counts && t.level) ++rises_;
        give(t.terminal, drive_of(t.level));
        return;
    }
    simulator_->set_net(t.net, t.level);
    settle();
}

/// Two rises tell the period; from then on the output runs, in step with the second. It stops with its input.
void BoardModel::input_of_pll(Lock& lock) {
    if (!simulator_->net(lock.input)) return;
    const auto last = std::exchange(lock.last, now_);
    auto& t = tickers_[lock.ticker];
    if (last < 0 || t.runs) return;
    lock.period = now_ - last;
    t.numerator = lock.period * static_cast<std::int64_t>(lock.over);
    t.denominator = 2 * static_cast<std::int64_t>(lock.times);
    if (t.numerator / t.denominator < 1) return;
    t.next = now_;
    t.carried = 0;
    t.runs = true;
}

void BoardModel::run_until(Time end) {
    while (true) {
        Ticker* ticker = nullptr;
        Time first = agenda_.empty() ? never : agenda_.top().when;
        for (auto& t : tickers_)
            if (t.runs && t.next < first) {
                first = t.next;
                ticker = &t;
            }
        if (first >= end) break;
        now_ = std::max(now_, first);
        simulator_->stamp(static_cast<std::uint64_t>(now_));
        if (ticker) {
            for (const auto& lock : locks_)  // its input is gone: it runs no longer
                if (&tickers_[lock.ticker] == ticker && now_ - lock.last > 3 * lock.period) ticker->runs = false;
            if (ticker->runs) tick(*ticker);
            continue;
        }
        const auto call = agenda_.top();
        agenda_.pop();
        if (parts_[call.part]) parts_[call.part]->wake(call.what);
        settle();
    }
    now_ = std::max(now_, end);
    simulator_->stamp(static_cast<std::uint64_t>(now_));
}

Drive BoardModel::outside(const Wire& wire, bool& conflict) const {
    bool low = false, high = false;
    for (const auto t : wire.terminals) {
        low |= terminals_[t].given == Drive::low;
        high |= terminals_[t].given == Drive::high;
    }
    conflict = low && high;
    if (low || high) return high && !low ? Drive::high : Drive::low;
    return wire.pull;
}

Level BoardModel::resolve(const Wire& wire) const {
    bool conflict = false, driven = false;
    const auto others = outside(wire, conflict);
    if (conflict) return Level::conflict;
    const bool by_hand = std::any_of(wire.terminals.begin(), wire.terminals.end(),
                                     [this](auto t) { return terminals_[t].given != Drive::off; });
    auto level = Level::floating;
    if (wire.chip != Drive::off) {
        level = wire.chip == Drive::high ? Level::high : Level::low;
        driven = true;
    }
    for (const auto port : wire.ports) {
        if (wire.chip != Drive::off || !simulator_->drives(port)) continue;
        const auto mine = simulator_->port(port) ? Level::high : Level::low;
        if (driven && mine != level) return Level::conflict;
        level = mine;
        driven = true;
    }
    const auto theirs = others == Drive::off ? Level::floating : others == Drive::high ? Level::high : Level::low;
    if (driven) return by_hand && theirs != level ? Level::conflict : level;
    return theirs;
}

void BoardModel::touch(std::uint32_t wire) {
    if (wires_[wire].touched) return;
    wires_[wire].touched = true;
    touched_.push_back(wire);
}

void BoardModel::give(std::uint32_t terminal, Drive drive) {
    auto& t = terminals_[terminal];
    if (t.given == drive) return;
    t.given = drive;
    if (t.wire == no_id) return;
    touch(t.wire);
    settle();
}

void BoardModel::settle() {
    if (settling_) return;  // what parts do while they hear of a change is seen to by the loop below
    settling_ = true;
    // Parts that answer each other on one wire for ever would never end; time goes on all the same.
    for (int round = 0; round < 10'000; ++round) {
        for (size_t k = 0; k < simulator_->noted().size(); ++k) {
            const auto tag = simulator_->noted()[k];
            if (tag < wire_of_port_.size()) {
                if (wire_of_port_[tag] != no_id) touch(wire_of_port_[tag]);
            } else {
                input_of_pll(locks_[tag - wire_of_port_.size()]);
            }
        }
        simulator_->noted().clear();
        if (touched_.empty()) break;
        const auto w = touched_.back();
        touched_.pop_back();
        auto& wire = wires_[w];
        wire.touched = false;
        bool conflict = false;
        const auto others = outside(wire, conflict);
        for (const auto port : wire.ports) simulator_->set_port(port, others == Drive::high);
        const auto now = resolve(wire);
        if (now == wire.level) continue;
        if (wire.level == Level::high) wire.high += now_ - wire.since;
        wire.since = now_;
        wire.level = now;
        if (wire.record >= 0) {
            auto& kept = records_[static_cast<size_t>(wire.record)];
            kept.push_back({now_, now});
            if (kept.size() > kept_edges) kept.pop_front();
        }
        for (size_t k = 0; k < wire.terminals.size(); ++k) {
            const auto& t = terminals_[wire.terminals[k]];
            if (t.part < parts_.size() && parts_[t.part]) parts_[t.part]->changed(t.index, now);
        }
    }
    settling_ = false;
}

Level BoardModel::level(std::uint32_t terminal) const {
    const auto& t = terminals_[terminal];
    if (t.wire != no_id) return wires_[t.wire].level;
    return t.given == Drive::off ? Level::floating : t.given == Drive::high ? Level::high : Level::low;
}

std::uint32_t BoardModel::terminal(const std::string& ref_and_name) const {
    const auto at = terminal_index_.find(ref_and_name);
    return at == terminal_index_.end() ? no_id : at->second;
}

std::string BoardModel::name_of(std::uint32_t terminal) const {
    const auto& t = terminals_[terminal];
    return board_->parts[t.part].ref + "." + board_->parts[t.part].terminals[t.index].name;
}

const std::string& BoardModel::pin_of(std::uint32_t terminal) const {
    static const std::string nothing;
    const auto w = terminals_[terminal].wire;
    return w == no_id ? nothing : wires_[w].pin;
}

const std::vector<std::uint32_t>& BoardModel::ports_at(std::uint32_t terminal) const {
    static const std::vector<std::uint32_t> nobody;
    const auto w = terminals_[terminal].wire;
    return w == no_id ? nobody : wires_[w].ports;
}

void BoardModel::drive_pin(const std::string& pin, Drive drive) {
    const auto at = wire_of_pin_.find(pin);
    if (at == wire_of_pin_.end() || wires_[at->second].chip == drive) return;
    wires_[at->second].chip = drive;
    touch(at->second);
    settle();
}

Level BoardModel::level_at_pin(const std::string& pin) const {
    const auto at = wire_of_pin_.find(pin);
    return at == wire_of_pin_.end() ? Level::floating : wires_[at->second].level;
}

SimulatedPart* BoardModel::acting(const std::string& ref) const {
    for (const auto& p : parts_)
        if (p && p->part().ref == ref) return p.get();
    return nullptr;
}

std::vector<BoardModel::Conflict> BoardModel::driver_conflicts() const {
    std::vector<Conflict> out;
    for (const auto& wire : wires_) {
        if (wire.level != Level::conflict || wire.terminals.empty()) continue;
        Conflict f;
        for (const auto t : wire.terminals)
            if (f.terminal == no_id || terminals_[t].given != Drive::off) f.terminal = t;
        for (const auto port : wire.ports) {
            if (!simulator_->drives(port)) continue;
            f.ports.push_back(port);
            f.design_high = simulator_->port(port);
        }
        out.push_back(std::move(f));
    }
    return out;
}

void BoardModel::record(std::uint32_t terminal) {
    const auto w = terminals_[terminal].wire;
    if (w == no_id || wires_[w].record >= 0) return;
    wires_[w].record = static_cast<std::int32_t>(records_.size());
    records_.emplace_back();
    records_.back().push_back({now_, wires_[w].level});
}

const std::deque<Edge>& BoardModel::edges(std::uint32_t terminal) const {
    static const std::deque<Edge> nothing;
    const auto w = terminals_[terminal].wire;
    return w == no_id || wires_[w].record < 0 ? nothing : records_[static_cast<size_t>(wires_[w].record)];
}

Time BoardModel::high_time(std::uint32_t terminal) const {
    const auto w = terminals_[terminal].wire;
    if (w == no_id) return 0;
    return wires_[w].high + (wires_[w].level == Level::high ? now_ - wires_[w].since : 0);
}

}  // namespace kp::board_sim
