// SPDX-License-Identifier: GPL-3.0-or-later
// Event-driven two-state simulation of a flat netlist: zero-delay, registers start as after loading.
#pragma once

#include "core/base/result.hpp"
#include "core/model/library.hpp"
#include "core/model/netlist.hpp"

#include <array>
#include <span>
#include <cstdint>
#include <string>
#include <vector>

namespace kp {

/// Only what changes is evaluated: work per clock edge is the number of cells whose inputs changed, in order of level.
class Simulator {
public:
    /// Prepares a netlist. Errors: a cell without function, a look-up table that cannot be read, more than 6 inputs, a
    /// combinational loop; each names the instance.
    static Result<Simulator> make(const Netlist& netlist, const Library& library);

    /// Sets an input port (position in Netlist::ports) and lets everything settle.
    void set_port(std::uint32_t port, bool value);
    [[nodiscard]] bool port(std::uint32_t port) const { return value_[port_net_[port]]; }
    [[nodiscard]] bool net(std::uint32_t net) const { return value_[net]; }
    /// `cycles` rises and falls of a clock port, ending low.
    void clock(std::uint32_t port, std::uint64_t cycles);
    /// Changes, and the clock cycles of the first and the last of them, since restart_counters().
    struct Activity {
        std::uint64_t changes = 0, first = 0, last = 0;
    };
    [[nodiscard]] Activity activity(std::uint32_t port) const { return activity_[port_net_[port]]; }
    void restart_counters();
    [[nodiscard]] std::uint64_t evaluations() const { return evaluations_; }

private:
    struct Cell {  // 48 bytes
        std::uint64_t table = 0;
        std::array<std::uint32_t, 6> input{};
        std::uint32_t output = no_id;
        std::uint8_t inputs = 0;
        bool is_register = false, is_latch = false;
        std::uint16_t level = 0;
        std::uint32_t memory = no_id;  ///< of a bit that a memory shows: which read port; `table` is the bit
    };
    /// What is set whatever the clock does: by a net, at a level.
    struct Async {
        std::uint32_t net = no_id;
        bool active = true, to = false;
    };
    /// The words of one memory, and its write ports.
    struct Memory {
        std::vector<std::uint8_t> bits;
        size_t width = 0;
    };
    struct MemoryPort {
        std::uint32_t memory = 0;
        std::vector<std::uint32_t> address, data;  ///< nets, lowest bit first; data of a read: cells
        std::uint32_t clock = no_id, enable = no_id;
        bool falling = false;
    };
    /// Registers that share a clock net; `dirty` are those whose inputs changed since their last edge.
    struct ClockNet {
        std::vector<std::uint32_t> dirty;
    };

    bool evaluate(const Cell& c) const;
    [[nodiscard]] std::span<const std::uint32_t> inputs_of(const Cell& c) const;
    [[nodiscard]] size_t address_of(const MemoryPort& port) const;
    void write_memories(std::uint32_t clock_net, bool value);
    bool force(std::uint32_t cell);
    void change(std::uint32_t net, bool value);
    void settle();
    void fire(std::uint32_t clock_net, bool value);

    std::vector<Cell> cells_;
    std::vector<std::uint32_t> port_net_;
    std::vector<std::uint8_t> value_;
    std::vector<Activity> activity_;  ///< per net
    std::vector<std::uint32_t> sink_start_, sinks_;
    std::vector<std::uint32_t> clock_of_net_;   ///< per net: position in clocks_, or no_id
    std::vector<std::uint32_t> clock_of_cell_;  ///< per register
    std::vector<std::uint8_t> falling_;         ///< per register: triggers on the falling edge
    std::vector<ClockNet> clocks_;
    std::vector<std::vector<Async>> async_;                 ///< per cell; empty for most
    std::vector<std::vector<std::uint32_t>> async_of_net_;  ///< registers that a net clears or presets
    std::vector<std::uint32_t> forced_;                     ///< registers to be looked at for that
    std::vector<Memory> memories_;
    std::vector<MemoryPort> reads_, writes_;
    std::vector<std::vector<std::uint32_t>> queue_;  ///< per level
    std::vector<std::uint8_t> queued_;
    size_t lowest_ = 0;
    std::vector<std::pair<std::uint32_t, bool>> edges_, updates_;
    std::uint64_t evaluations_ = 0, cycle_ = 0;
    friend class SimulatorBuilder;
};

}  // namespace kp
