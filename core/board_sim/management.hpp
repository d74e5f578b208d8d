// SPDX-License-Identifier: GPL-3.0-or-later
// The management registers of an Ethernet transceiver behind two wires, as IEEE 802.3, clause 22.2.4 (from memory).
#pragma once

#include "core/board_sim/simulated_part.hpp"

#include <cstdint>

namespace kp::board_sim {

class Management {
public:
    static constexpr unsigned address = 1;

    /// A rise of the clock with the data line at this level. What the transceiver drives from then on; off: it lets go.
    Drive rise(bool data);
    /// As after a reset; what was counted stays.
    void reset();
    /// A link that was lost stays lost in the status register until somebody reads it (22.2.4.2.13).
    void set_link(bool up);
    [[nodiscard]] bool loops_back() const { return (control_ & 0x4000) != 0; }

    unsigned reads = 0, writes = 0;
    unsigned for_others = 0;   ///< frames for another address
    unsigned no_preamble = 0;  ///< frames that began before 32 ones

private:
    [[nodiscard]] std::uint16_t read(unsigned number);
    void write(unsigned number, std::uint16_t value);
    void head_bit(bool data);
    void end();

    int ones_ = 0;  ///< of the preamble
    int bit_ = -1;  ///< of the frame, from its start; -1: between frames
    std::uint32_t head_ = 0;
    std::uint16_t word_ = 0;
    bool ours_ = false, asks_ = false;
    std::uint16_t control_ = usual_control;
    bool link_ = true, link_told_ = true;
    static constexpr std::uint16_t usual_control = 0x1140;  ///< finds the speed by itself, both ways at once, gigabit
};

}  // namespace kp::board_sim
