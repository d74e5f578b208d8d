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

/// What a PLL does: its outputs follow its input, or they stand still until set_net() moves them at their own rates.
enum class PllMode : std::uint8_t { follows, own_rate };

/// An output of a PLL that somebody else moves.
struct PllRate {
    std::uint32_t input = no_id, output = no_id;  ///< nets
    std::uint64_t times = 1, over = 1;            ///< its rate: that of the input times `times` over `over`
};

/// Only what changes is evaluated: work per clock edge is the number of cells whose inputs changed, in order of level.
class Simulator {
public:
    /// Prepares a netlist. Errors: a cell without function, a look-up table that cannot be read, more than 6 inputs, a
    /// combinational loop; each names the instance.
    static Result<Simulator> make(const Netlist& netlist, const Library& library, PllMode plls = PllMode::follows);

    /// Sets a port (position in Netlist::ports) from outside and lets everything settle. Where the design drives the
    /// port itself, what comes from outside is kept until it lets go.
    void set_port(std::uint32_t port, bool value);
    [[nodiscard]] bool port(std::uint32_t port) const { return value_[port_net_[port]]; }
    /// Whether the design drives the port now; a pad that can be switched off may not.
    [[nodiscard]] bool drives(std::uint32_t port) const;
    [[nodiscard]] bool net(std::uint32_t net) const { return value_[net]; }
    /// Moves a net that no cell drives, such as an output of a PLL at its own rate, and lets everything settle.
    void set_net(std::uint32_t net, bool value);
    [[nodiscard]] const std::vector<PllRate>& plls() const { return plls_; }
    /// From now on changes of a port (whether it is driven, too) or of a net are noted under a tag; whoever watches
    /// takes them away. A tag may stand there several times.
    void watch(std::uint32_t port, std::uint32_t tag);
    void watch_net(std::uint32_t net, std::uint32_t tag) {
        watchers_[net].push_back(tag);
        special_[net] = 1;
    }
    [[nodiscard]] std::vector<std::uint32_t>& noted() { return noted_; }
    /// `cycles` rises and falls of a clock port, ending low.
    void clock(std::uint32_t port, std::uint64_t cycles);
    /// Changes, and the clock cycles of the first and the last of them, since restart_counters().
    struct Activity {
        std::uint64_t changes = 0, first = 0, last = 0;
    };
    [[nodiscard]] Activity activity(std::uint32_t port) const { return activity_[port_net_[port]]; }
    void restart_counters();
    [[nodiscard]] std::uint64_t evaluations() const { return evaluations_; }
    /// Activity counts in units of the caller's time from here on, not in cycles of clock().
    void stamp(std::uint64_t now) { cycle_ = now; }

private:
    struct Cell {  // 48 bytes
        std::uint64_t table = 0;
        std::array<std::uint32_t, 6> input{};
        std::uint32_t output = no_id;
        std::uint8_t inputs = 0;
        bool is_register = false, is_latch = false;
        std::uint32_t level = 0;
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
    void special_change(std::uint32_t net, bool value);
    void settle();
    void fire(std::uint32_t clock_net, bool value);

    /// Of a pad that can be switched off: nets for what the outside gives and for whether it is off.
    struct Pad {
        std::uint32_t outside = no_id, off = no_id;
    };

    std::vector<Cell> cells_;
    std::vector<std::uint32_t> port_net_;
    std::vector<std::uint8_t> port_driven_;  ///< some cell gives it a value
    std::vector<Pad> pads_;                  ///< by port; `outside` is no_id for most
    std::vector<PllRate> plls_;
    std::vector<std::vector<std::uint32_t>> watchers_;  ///< tags by net
    std::vector<std::uint32_t> noted_;
    std::vector<std::uint8_t> value_;
    std::vector<std::uint8_t> special_;  ///< per net: a clock, a clear, a port, or watched; most are none of these
    std::vector<Activity> activity_;     ///< per net, of ports only
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
    std::vector<std::uint32_t> level_;  ///< per cell, apart from the rest of it, since every change asks for it
    static constexpr std::uint32_t of_register = no_id;
    size_t lowest_ = 0;
    std::vector<std::pair<std::uint32_t, bool>> edges_, updates_;
    std::uint64_t evaluations_ = 0, cycle_ = 0;
    friend class SimulatorBuilder;
};

}  // namespace kp
