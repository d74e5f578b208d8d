// SPDX-License-Identifier: GPL-3.0-or-later
// Who drives and who hears each net of a design, and what a pin is to its cell.
#pragma once

#include "core/model/library.hpp"
#include "core/model/netlist.hpp"

#include <optional>
#include <span>
#include <vector>

namespace kp::design {

/// Made once per netlist; both outlive it.
struct Connections {
    Connections(const Netlist& netlist, const Library& library);

    const Netlist& netlist;
    const Library& library;

    [[nodiscard]] const LibraryCell* cell_of(std::uint32_t pin) const { return type(netlist.pins[pin].cell); }
    [[nodiscard]] const LibraryCell* type(std::uint32_t cell) const { return types_[netlist.cells[cell].type]; }
    /// Null when the library does not know cell or pin.
    [[nodiscard]] const LibraryPin* pin(std::uint32_t pin) const;
    [[nodiscard]] std::uint32_t driver(std::uint32_t net) const { return driver_[net]; }  ///< instance pin; no_id: none
    [[nodiscard]] std::span<const std::uint32_t> loads(std::uint32_t net) const {
        return {loads_.data() + start_[net], start_[net + 1] - start_[net]};
    }
    /// Instance pin of a cell by its name; no_id when it is not connected.
    [[nodiscard]] std::uint32_t pin_of(std::uint32_t cell, std::string_view name) const;
    [[nodiscard]] std::uint32_t net_of(std::uint32_t cell, std::string_view name) const;

    [[nodiscard]] bool is_register(std::uint32_t cell) const { return type(cell) && type(cell)->flip_flop; }
    [[nodiscard]] bool is_clock_pin(std::uint32_t pin) const;
    [[nodiscard]] bool is_data_pin(std::uint32_t pin) const;
    /// Clear or preset of a register.
    [[nodiscard]] bool is_async_pin(std::uint32_t pin) const;
    /// Outputs of a cell that is not a register which follow one of its inputs.
    [[nodiscard]] std::vector<std::uint32_t> outputs_after(std::uint32_t input) const;
    /// Inputs of a cell that is not a register which one of its outputs follows.
    [[nodiscard]] std::vector<std::uint32_t> inputs_before(std::uint32_t output) const;
    /// Nets behind the outputs of a register.
    [[nodiscard]] std::vector<std::uint32_t> register_outputs(std::uint32_t cell) const;
    /// 1 or -1 when a cell of one input hands it on as it is or turned over; 0 otherwise.
    [[nodiscard]] int passes(std::uint32_t input) const;
    /// The truth table of a look-up cell; none for other cells or when it cannot be read. `inputs`: how many it has.
    [[nodiscard]] std::optional<std::uint64_t> table(std::uint32_t cell, unsigned& inputs) const;
    /// The value of a net that never changes, as far as the cell that drives it says so.
    [[nodiscard]] std::optional<bool> constant(std::uint32_t net) const;

private:
    std::vector<const LibraryCell*> types_;
    std::vector<std::int16_t> position_;  ///< per instance pin, in its library cell; -1: none
    std::vector<std::uint32_t> driver_, start_, loads_;
};

}  // namespace kp::design
