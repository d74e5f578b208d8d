// SPDX-License-Identifier: GPL-3.0-or-later
// The board as wires: who drives each, what level that makes, and what happens when. Oscillators and PLLs tick at their
// own rates, parts act when a wire of theirs moves or when a time they asked for has come.
#pragma once

#include "core/board_sim/edges.hpp"
#include "core/simulation/simulator.hpp"
#include "core/model/project.hpp"

#include <deque>
#include <memory>
#include <queue>
#include <string>
#include <unordered_map>
#include <vector>

namespace kp::board_sim {

/// What is chosen beside the pegs. Both may be null.
struct BoardModelOptions {
    const std::map<std::string, PortAttributes>* attributes = nullptr;  ///< pulls of ports
    PllMode plls = PllMode::own_rate;
};

class BoardModel {
public:
    /// Errors: those of Simulator::make. Netlist and board must outlive the board model.
    static Result<std::unique_ptr<BoardModel>> make(const Netlist& netlist, const Library& library, const Board& board,
                                                    const PegMap& pegs, const BoardModelOptions& options = {});
    BoardModel(const BoardModel&) = delete;
    BoardModel& operator=(const BoardModel&) = delete;

    // What parts and hands do. Terminals are numbered through, part after part, as the board file has them.
    void give(std::uint32_t terminal, Drive drive);
    [[nodiscard]] Drive given(std::uint32_t terminal) const { return terminals_[terminal].given; }
    void wake(std::uint32_t part, Time at, std::uint32_t what) { agenda_.push({at, serial_++, part, what}); }
    [[nodiscard]] Time now() const { return now_; }
    [[nodiscard]] Level level(std::uint32_t terminal) const;

    /// Lets time pass up to `end`; what happens at `end` itself is still to come.
    void run_until(Time end);

    [[nodiscard]] std::uint32_t terminal(const std::string& ref_and_name) const;  ///< no_id: there is none
    [[nodiscard]] std::string name_of(std::uint32_t terminal) const;
    [[nodiscard]] std::uint32_t terminal_count() const { return static_cast<std::uint32_t>(terminals_.size()); }
    [[nodiscard]] const std::string& pin_of(std::uint32_t terminal) const;  ///< empty: it is not wired
    /// Ports pegged to the pin at a terminal.
    [[nodiscard]] const std::vector<std::uint32_t>& ports_at(std::uint32_t terminal) const;

    /// The chip's boundary register drives a pin in the place of the design (EXTEST), or lets go of it.
    void drive_pin(const std::string& pin, Drive drive);
    /// What the boundary register sees at a pin.
    [[nodiscard]] Level level_at_pin(const std::string& pin) const;

    [[nodiscard]] SimulatedPart* acting(const std::string& ref) const;
    [[nodiscard]] const std::vector<std::unique_ptr<SimulatedPart>>& parts() const { return parts_; }

    /// A wire on which driver conflict now: the terminal, and the ports of the design.
    struct Conflict {
        std::uint32_t terminal = no_id;
        std::vector<std::uint32_t> ports;
        bool design_high = false;
    };
    [[nodiscard]] std::vector<Conflict> driver_conflicts() const;

    /// From now on edges at this terminal are kept, the newest `kept_edges`.
    void record(std::uint32_t terminal);
    [[nodiscard]] const std::deque<Edge>& edges(std::uint32_t terminal) const;
    static constexpr size_t kept_edges = 200'000;

    /// Time the wire was high since the beginning, for shares of time between two looks.
    [[nodiscard]] Time high_time(std::uint32_t terminal) const;
    [[nodiscard]] const Simulator& simulator() const { return *simulator_; }
    [[nodiscard]] Simulator& simulator() { return *simulator_; }
    [[nodiscard]] const Board& board() const { return *board_; }
    /// The first oscillator that reaches a port: its rate, Hz; 0: none does.
    [[nodiscard]] double clock_hz() const { return clock_hz_; }
    [[nodiscard]] std::uint32_t clock_port() const { return clock_port_; }
    [[nodiscard]] std::uint64_t rises() const { return rises_; }  ///< of that oscillator

private:
    struct Wire {
        std::string pin;
        std::vector<std::uint32_t> ports, terminals;
        Drive pull = Drive::off, chip = Drive::off;
        Level level = Level::floating;
        Time since = 0, high = 0;
        std::int32_t record = -1;
        bool touched = false;
    };
    struct TerminalState {
        std::uint32_t part = 0, index = 0, wire = no_id;
        Drive given = Drive::off;
    };
    struct Call {
        Time when;
        std::uint64_t serial;
        std::uint32_t part, what;
        bool operator>(const Call& o) const { return when != o.when ? when > o.when : serial > o.serial; }
    };
    /// What ticks: an oscillator at a terminal, or an output of a PLL. Half a period is a fraction; what is left over
    /// of each femtosecond is carried on, so that rates stay exact however long it runs.
    struct Ticker {
        std::uint32_t terminal = no_id, net = no_id;
        Time next = 0;
        std::int64_t numerator = 0, denominator = 1;  ///< of half a period, fs
        std::int64_t carried = 0;
        bool level = false, runs = false, counts = false;
        void step() {
            next += numerator / denominator;
            carried += numerator % denominator;
            if (carried >= denominator) {
                carried -= denominator;
                ++next;
            }
        }
    };
    struct Lock {
        std::uint32_t input = no_id, ticker = no_id;
        std::uint64_t times = 1, over = 1;
        Time last = -1, period = 0;
    };

    BoardModel(const Netlist& netlist, const Board& board, Simulator simulator);
    void wire_up(const PegMap& pegs, const BoardModelOptions& options);
    void add_oscillators();
    void add_plls();
    void start();
    void tick(Ticker& t);
    void input_of_pll(Lock& lock);
    void settle();
    void touch(std::uint32_t wire);
    [[nodiscard]] Drive outside(const Wire& wire, bool& conflict) const;
    [[nodiscard]] Level resolve(const Wire& wire) const;

    const Netlist* netlist_;
    const Board* board_;
    std::unique_ptr<Simulator> simulator_;
    std::vector<TerminalState> terminals_;
    std::vector<std::uint32_t> first_;  ///< terminal of each part
    std::vector<Wire> wires_;
    std::vector<std::uint32_t> wire_of_port_;
    std::unordered_map<std::string, std::uint32_t> terminal_index_, wire_of_pin_;
    std::vector<std::unique_ptr<SimulatedPart>> parts_;  ///< by board part; null for those that do nothing
    std::priority_queue<Call, std::vector<Call>, std::greater<>> agenda_;
    std::vector<Ticker> tickers_;
    std::vector<Lock> locks_;
    std::vector<std::uint32_t> touched_;
    std::vector<std::deque<Edge>> records_;
    Time now_ = 0;
    std::uint64_t serial_ = 0, rises_ = 0;
    double clock_hz_ = 0;
    std::uint32_t clock_port_ = no_id;
    bool settling_ = false;
};

}  // namespace kp::board_sim
