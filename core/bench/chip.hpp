// SPDX-License-Identifier: GPL-3.0-or-later
// A simulated chip behind a simulated cable: the test access port of IEEE 1149.1 as far as reading the IDCODE and
// loading go. A stand-in for hardware, and it says so wherever it is shown.
#pragma once

#include "core/base/result.hpp"

#include <cstdint>
#include <string>
#include <vector>

namespace kp {

/// The sixteen states of the TAP controller, IEEE 1149.1, figure 6-1.
enum class TapState : std::uint8_t {
    test_logic_reset,
    run_test_idle,
    select_dr,
    capture_dr,
    shift_dr,
    exit1_dr,
    pause_dr,
    exit2_dr,
    update_dr,
    select_ir,
    capture_ir,
    shift_ir,
    exit1_ir,
    pause_ir,
    exit2_ir,
    update_ir
};

/// The state after one rising edge of TCK.
[[nodiscard]] TapState next_state(TapState state, bool tms);

class SimulatedChip {
public:
    explicit SimulatedChip(std::uint32_t idcode) : idcode_(idcode) {}
    /// One cycle of TCK; gives TDO as it is before the rising edge.
    bool clock(bool tms, bool tdi);
    [[nodiscard]] TapState state() const { return state_; }
    [[nodiscard]] bool loaded() const { return loaded_; }
    void power_off() { loaded_ = false; }

    static constexpr unsigned ir_bits = 6;
    static constexpr unsigned ir_idcode = 0x09, ir_load = 0x05, ir_start = 0x0C, ir_bypass = 0x3F;

private:
    std::uint32_t idcode_;
    TapState state_ = TapState::test_logic_reset;
    unsigned ir_ = ir_idcode, ir_shift_ = 0;
    std::uint64_t dr_shift_ = 0;
    std::uint64_t received_ = 0;
    bool loaded_ = false;
};

/// Resets the port and shifts 32 bits out of the data register that reset selects.
[[nodiscard]] std::uint32_t read_idcode(SimulatedChip& chip);

/// What loading did, step by step, for the screen.
struct LoadStep {
    std::string text;
    bool good = true;
};
struct LoadReport {
    std::vector<LoadStep> steps;
    std::uint32_t idcode = 0;  ///< what the chip answered
    bool running = false;
};
/// Finds the chip, compares its IDCODE with `expected`, and loads it when they agree.
[[nodiscard]] LoadReport load_chip(SimulatedChip& chip, std::uint32_t expected);

}  // namespace kp
