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

/// The pins at the other side of the boundary cells: a board, or nothing.
class PinSide {
public:
    virtual ~PinSide() = default;
    /// In EXTEST a cell drives its pin, or does not.
    virtual void drive(size_t pin, bool drives, bool value) = 0;
    /// What stands at the pin.
    [[nodiscard]] virtual bool sees(size_t pin) const = 0;
};

class SimulatedChip {
public:
    /// `pins`: boundary cells, three a pin: what it drives, whether it drives, what is seen.
    explicit SimulatedChip(std::uint32_t idcode, size_t pins = 0)
        : idcode_(idcode), boundary_(3 * pins), update_(3 * pins) {}
    /// Puts the chip on a board; null takes it off. The board outlives it.
    void attach(PinSide* board) { board_ = board; }
    /// One cycle of TCK; gives TDO as it is before the rising edge.
    bool clock(bool tms, bool tdi);
    [[nodiscard]] TapState state() const { return state_; }
    [[nodiscard]] bool loaded() const { return loaded_; }
    /// Power goes away and comes back: an unstored configuration is lost, the port is reset.
    void power_off();
    /// What the chip loads by itself when power comes: an image in its memory.
    void store(std::string image);
    [[nodiscard]] bool configuring() const { return ir_ == ir_load; }  ///< what is shifted into data is an image

    static constexpr unsigned ir_bits = 7;
    static constexpr unsigned ir_extest = 0x00, ir_sample = 0x12, ir_idcode = 0x2A, ir_load = 0x35, ir_start = 0x4E,
                              ir_bypass = 0x7F;

private:
    [[nodiscard]] size_t width() const;
    void capture();
    void show_boundary();
    bool accept(const std::string& image);
    PinSide* board_ = nullptr;
    std::uint32_t idcode_;
    TapState state_ = TapState::test_logic_reset;
    unsigned ir_ = ir_idcode, ir_shift_ = 0;
    std::vector<bool> dr_;
    size_t dr_at_ = 0;  ///< the shift register turns round in place
    std::vector<bool> boundary_, update_;
    std::vector<bool> received_;
    std::string stored_;
    bool loaded_ = false;
};

/// One turn through the data register under an instruction (reset first is not needed): shifts `bits` in and gives
/// what came out, both in the order of the shift register, the cell next to TDO first.
[[nodiscard]] std::vector<bool> exchange(SimulatedChip& chip, unsigned instruction, const std::vector<bool>& bits);

/// What loading did, step by step, for the screen.
struct LoadStep {
    std::string text;
    bool good = true;
};
struct LoadReport {
    std::vector<LoadStep> steps;
    std::uint32_t idcode = 0;  ///< what the chip answered
    bool running = false;
    std::string why;  ///< when it does not run: what to do
};
}  // namespace kp
