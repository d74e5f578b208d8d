// SPDX-License-Identifier: GPL-3.0-or-later
// A simulated board by the names on it: what the hand sets reaches the ports through the pegs as they are, and what the
// ports give reaches lamps and sounder through the same pegs.
#pragma once

#include "core/board_sim/board_model.hpp"

#include <map>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace kp {

class BoardBench {
public:
    /// Errors: those of Simulator::make. All arguments but `pegs` must outlive the bench.
    static Result<BoardBench> make(const Netlist& netlist, const Library& library, const Board& board,
                                   const PegMap& pegs, const board_sim::BoardModelOptions& options = {});

    /// The hand sets a driving terminal ("S1.hold") to a level on the wire.
    void drive(const std::string& terminal, bool level);
    /// Works a control of an simulated part, as the hand does. Errors: no such part or control.
    Status set(const std::string& ref, const std::string& control, const std::string& value);
    /// Lets board time pass: so many periods of the first oscillator that reaches a port.
    void run(std::uint64_t cycles);
    void run_for(board_sim::Time time) { model_->run_until(model_->now() + time); }
    [[nodiscard]] Level level(const std::string& terminal) const;
    /// Whether the part at this terminal drives it high, whatever else is on the wire; where it drives nothing: whether
    /// the wire is high.
    [[nodiscard]] bool gives_high(const std::string& terminal) const;
    /// True when a lamp or the like at this terminal is on: its level is the active one.
    [[nodiscard]] bool active(const std::string& terminal) const;
    /// Ports the FPGA drives against a board part, whatever the levels are now.
    [[nodiscard]] std::vector<std::string> conflicts() const;
    [[nodiscard]] double seconds() const { return static_cast<double>(model_->now()) / board_sim::second; }
    [[nodiscard]] std::uint64_t cycles() const { return model_->rises(); }
    /// Frequency at a terminal from the edges since the last mark(): whole periods only, 0 when there is none yet.
    [[nodiscard]] double frequency_hz(const std::string& terminal) const;
    void mark() { model_->simulator().restart_counters(); }
    [[nodiscard]] bool has_clock() const { return model_->clock_port() != no_id; }
    [[nodiscard]] board_sim::BoardModel& model() { return *model_; }
    [[nodiscard]] const board_sim::BoardModel& model() const { return *model_; }

private:
    BoardBench(const Netlist& netlist, const Board& board, std::unique_ptr<board_sim::BoardModel> model)
        : netlist_(&netlist), board_(&board), model_(std::move(model)) {}

    const Netlist* netlist_;
    const Board* board_;
    std::unique_ptr<board_sim::BoardModel> model_;
};

/// Gray code of n: n xor n/2 (F. Gray, US patent 2632058, 1953).
[[nodiscard]] constexpr unsigned to_gray(unsigned n) {
    return n ^ (n >> 1);
}

}  // namespace kp
