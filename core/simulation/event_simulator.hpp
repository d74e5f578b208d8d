// SPDX-License-Identifier: GPL-3.0-or-later
// Event-driven simulation of a circuit with four values and, if it has them, delays. At one time logic settles level by
// level; then registers see what their clocks did, and take the data from before that time.
#pragma once

#include "core/simulation/circuit.hpp"

#include <functional>
#include <optional>
#include <queue>

namespace kp::simulation {

/// A setup or hold limit that was not kept.
struct Violation {
    Time when = 0;
    std::uint32_t cell = 0, data = 0;  ///< instance, and the pin of its cell
    bool setup = true;
    Time missing = 0;  ///< by how much
};

/// A net took another value.
struct Change {
    Time when;
    std::uint32_t net;
    Bit value;
};

class EventSimulator {
public:
    /// Everything is settled with inputs unknown and registers at their start. `circuit` outlives it.
    explicit EventSimulator(const Circuit& circuit);

    /// An input takes a value at now().
    void set(std::uint32_t port, Bit value);
    /// A clock: 0 at time 0, rises at `first_rise` for the first time, without one at half the period.
    void clock(std::uint32_t port, Time period, std::optional<Time> first_rise = {});
    /// From `first_rise` (not before now) on, an input ticks: half a period is numerator / denominator femtoseconds,
    /// and what is left over of each is carried on, so that the rate stays exact.
    void tick_from(std::uint32_t port, Time first_rise, std::int64_t numerator, std::int64_t denominator);
    /// More events than this in one run are not waited for: a million take a second or two.
    void limit(std::uint64_t most_events) { most_events_ = most_events; }
    /// Everything before `until` happens; then it is now. Errors: logic that never settles, more events than the limit.
    [[nodiscard]] std::optional<Message> run_until(Time until);
    /// Until nothing moves. Errors: as run_until.
    [[nodiscard]] std::optional<Message> run_out();

    [[nodiscard]] Time now() const { return now_; }
    [[nodiscard]] Bit net(std::uint32_t net) const { return net_[net]; }
    /// What a port shows: its net, behind the wire to it.
    [[nodiscard]] Bit port(std::uint32_t port) const { return shown_[port]; }
    [[nodiscard]] std::uint64_t events() const { return events_; }
    [[nodiscard]] const std::vector<Violation>& violations() const { return violations_; }
    /// Called for each change of a net.
    void watch(std::function<void(const Change&)> watcher) { watcher_ = std::move(watcher); }

private:
    enum Kind : std::uint8_t { output_event, input_event, port_event, shown_event };
    struct Event {
        Time when;
        std::uint64_t serial;
        std::uint32_t at;  ///< output pin, input pin, port
        Bit value;
        Kind kind;
        bool operator>(const Event& o) const { return when != o.when ? when > o.when : serial > o.serial; }
    };
    struct Clock {
        std::uint32_t port;
        Time half, first;
        std::int64_t rest = 0, denominator = 1, carried = 0;  ///< of half a period, beyond whole femtoseconds
        [[nodiscard]] Time step() {
            carried += rest;
            const bool more = carried >= denominator;
            if (more) carried -= denominator;
            return half + more;
        }
    };
    struct Seen {
        Bit clock = Bit::x;    ///< value of the clock function when the register looked last
        bool both = false;     ///< clear and preset are active together
        Bit state_n = Bit::x;  ///< meanwhile, what stands for its opposite
    };

    [[nodiscard]] std::optional<Message> step_or_stop();
    void settle_all();
    bool step(Time at);
    void apply(const Event& e);
    void tick(std::uint32_t port, Bit value);
    void update_net(std::uint32_t net);
    void pin_changed(std::uint32_t pin, Bit value);
    void touch(std::uint32_t cell);
    void run_logic(std::uint32_t cell);
    void run_register(std::uint32_t cell);
    void run_memory(std::uint32_t cell);
    void show(std::uint32_t cell);
    Bit read_memory(const CellInstance& cell, const MemoryPlan& port, size_t bit);
    void write_memory(const CellInstance& cell, const MemoryPlan& port, bool sure);
    void addresses(std::span<const Bit> values, const MemoryPlan& port, std::vector<std::uint32_t>& out, bool& many);
    void load(const CellInstance& cell, bool before);
    void output(std::uint32_t pin, Bit value);
    [[nodiscard]] Time delay(std::uint32_t pin, Bit from, Bit to) const;
    void check(std::uint32_t cell);
    void check_hold(std::uint32_t pin);
    Bit value_of(const CellInstance& cell, const CellPlan& plan, size_t out);

    const Circuit* circuit_;
    Time now_ = 0;
    bool starting_ = true;
    std::vector<Bit> net_, pin_, before_, out_, pending_, driven_;  ///< driven_: what the outside gives a port
    std::vector<Time> changed_;                                     ///< by input pin: when last
    std::vector<Time> pending_at_;                                  ///< by output pin; -1: nothing waits
    std::vector<std::uint64_t> pending_serial_;
    std::vector<Bit> state_;
    std::vector<Seen> seen_;
    std::vector<Time> clocked_;  ///< by cell: last edge of its clock
    std::vector<std::vector<Bit>> memory_;
    std::vector<std::vector<std::uint32_t>> level_;  ///< touched logic
    std::vector<std::uint32_t> registers_;           ///< touched registers and memories
    std::vector<std::uint8_t> touched_;
    std::vector<std::vector<std::uint32_t>> ports_of_net_;  ///< those that drive it
    std::vector<std::vector<std::uint32_t>> shown_at_net_;  ///< all of them
    std::vector<Bit> shown_;                                ///< by port
    std::priority_queue<Event, std::vector<Event>, std::greater<>> queue_;
    std::vector<Clock> clocks_;
    std::vector<Bit> values_;
    std::vector<std::uint32_t> moved_;  ///< input pins that changed in this step
    std::uint64_t serial_ = 0, events_ = 0, applied_ = 0, begun_ = 0;
    std::uint64_t most_events_ = 50'000'000;
    std::vector<Violation> violations_;
    std::function<void(const Change&)> watcher_;
};

}  // namespace kp::simulation
