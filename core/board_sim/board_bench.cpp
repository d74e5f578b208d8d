// SPDX-License-Identifier: GPL-3.0-or-later
// Names of terminals to numbers of the board model, and what is asked of it in words.
#include "core/board_sim/board_bench.hpp"
#include "core/base/said.hpp"

namespace kp {

Result<BoardBench> BoardBench::make(const Netlist& netlist, const Library& library, const Board& board,
                                    const PegMap& pegs, const board_sim::BoardModelOptions& options) {
    auto model = board_sim::BoardModel::make(netlist, library, board, pegs, options);
    if (!model) return model.messages();
    return BoardBench(netlist, board, model.take());
}

void BoardBench::drive(const std::string& terminal, bool level) {
    const auto t = model_->terminal(terminal);
    if (t != no_id) model_->give(t, board_sim::drive_of(level));
}

Status BoardBench::set(const std::string& ref, const std::string& control, const std::string& value) {
    if (auto* part = model_->acting(ref)) return part->set(control, value);
    return Message{Severity::stop, Code::bench, said("There is no part {} to be worked on this board.", ref)};
}

void BoardBench::run(std::uint64_t cycles) {
    if (!has_clock()) return;
    const auto period = static_cast<double>(board_sim::second) / model_->clock_hz();
    run_for(static_cast<board_sim::Time>(static_cast<double>(cycles) * period));
}

Level BoardBench::level(const std::string& terminal) const {
    const auto t = model_->terminal(terminal);
    return t == no_id ? Level::floating : model_->level(t);
}

bool BoardBench::gives_high(const std::string& terminal) const {
    const auto t = model_->terminal(terminal);
    if (t == no_id) return false;
    const auto given = model_->given(t);
    return given == board_sim::Drive::off ? model_->level(t) == Level::high : given == board_sim::Drive::high;
}

bool BoardBench::active(const std::string& terminal) const {
    const auto found = board_->at_terminal(terminal);
    return found && level(terminal) == (found.terminal->active_low ? Level::low : Level::high);
}

std::vector<std::string> BoardBench::conflicts() const {
    std::vector<std::string> out;
    for (std::uint32_t t = 0; t < model_->terminal_count(); ++t) {
        const auto name = model_->name_of(t);
        const auto at = board_->at_terminal(name);
        if (!at || at.terminal->direction != TerminalDirection::drives) continue;
        for (const auto port : model_->ports_at(t))
            if (netlist_->ports[port].direction == Direction::out)
                out.push_back(netlist_->ports[port].name + " against " + name);
    }
    return out;
}

double BoardBench::frequency_hz(const std::string& terminal) const {
    const auto t = model_->terminal(terminal);
    if (t == no_id || model_->ports_at(t).empty()) return 0;
    const auto a = model_->simulator().activity(model_->ports_at(t).front());
    // Two changes make a period; one more is needed to close it.
    if (a.changes < 3 || a.last <= a.first) return 0;
    return static_cast<double>(board_sim::second) * static_cast<double>(a.changes - 1) / 2 /
           static_cast<double>(a.last - a.first);
}

}  // namespace kp
