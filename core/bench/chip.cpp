// SPDX-License-Identifier: GPL-3.0-or-later
// A stand-in for the chip at the end of a cable: the state machine of IEEE 1149.1, figure 6-1, with IDCODE and
// BYPASS, and what loading it goes through.
#include "core/bench/chip.hpp"

#include <array>
#include <cstdio>

namespace kp {

TapState next_state(TapState state, bool tms) {
    using enum TapState;
    // IEEE 1149.1, figure 6-1: {TMS = 0, TMS = 1} for each state, in the order of the enumeration.
    static constexpr std::array<std::array<TapState, 2>, 16> table{{{run_test_idle, test_logic_reset},
                                                                    {run_test_idle, select_dr},
                                                                    {capture_dr, select_ir},
                                                                    {shift_dr, exit1_dr},
                                                                    {shift_dr, exit1_dr},
                                                                    {pause_dr, update_dr},
                                                                    {pause_dr, exit2_dr},
                                                                    {shift_dr, update_dr},
                                                                    {run_test_idle, select_dr},
                                                                    {capture_ir, test_logic_reset},
                                                                    {shift_ir, exit1_ir},
                                                                    {shift_ir, exit1_ir},
                                                                    {pause_ir, update_ir},
                                                                    {pause_ir, exit2_ir},
                                                                    {shift_ir, update_ir},
                                                                    {run_test_idle, select_dr}}};
    return table[static_cast<size_t>(state)][tms ? 1 : 0];
}

bool SimulatedChip::clock(bool tms, bool tdi) {
    using enum TapState;
    bool tdo = false;
    const unsigned width = ir_ == ir_idcode ? 32 : ir_ == ir_bypass ? 1 : 32;
    switch (state_) {
        case capture_dr: dr_shift_ = ir_ == ir_idcode ? idcode_ : 0; break;
        case shift_dr:
            tdo = dr_shift_ & 1;
            dr_shift_ = (dr_shift_ >> 1) | (static_cast<std::uint64_t>(tdi) << (width - 1));
            break;
        case update_dr:
            if (ir_ == ir_load) received_ = dr_shift_;
            break;
        case capture_ir: ir_shift_ = 1; break;  // IEEE 1149.1: the two lowest bits capture 01
        case shift_ir:
            tdo = ir_shift_ & 1;
            ir_shift_ = (ir_shift_ >> 1) | (static_cast<unsigned>(tdi) << (ir_bits - 1));
            break;
        case update_ir:
            ir_ = ir_shift_;
            if (ir_ == ir_start) loaded_ = received_ == idcode_;
            break;
        default: break;
    }
    state_ = next_state(state_, tms);
    if (state_ == test_logic_reset) ir_ = ir_idcode;
    return tdo;
}

namespace {

void go(SimulatedChip& chip, std::initializer_list<bool> tms) {
    for (const bool bit : tms) chip.clock(bit, false);
}

/// From idle: an instruction, lowest bit first, back to idle.
void instruction(SimulatedChip& chip, unsigned code) {
    go(chip, {true, true, false, false});
    for (unsigned i = 0; i < SimulatedChip::ir_bits; ++i) chip.clock(i + 1 == SimulatedChip::ir_bits, (code >> i) & 1);
    go(chip, {true, false, false});
}

std::uint32_t data(SimulatedChip& chip, std::uint32_t out) {
    go(chip, {true, false, false});
    std::uint32_t in = 0;
    for (unsigned i = 0; i < 32; ++i) in |= static_cast<std::uint32_t>(chip.clock(i == 31, (out >> i) & 1)) << i;
    go(chip, {true, false, false});
    return in;
}

std::string hex(std::uint32_t v) {
    char text[16];
    std::snprintf(text, sizeof text, "0x%08X", v);
    return text;
}

}  // namespace

std::uint32_t read_idcode(SimulatedChip& chip) {
    go(chip, {true, true, true, true, true, false});
    return data(chip, 0);
}

LoadReport load_chip(SimulatedChip& chip, std::uint32_t expected) {
    LoadReport report;
    report.steps.push_back({"cable found", true});
    const auto found = report.idcode = read_idcode(chip);
    report.steps.push_back({"chip answers " + hex(found), true});
    const bool same = found == expected;
    report.steps.push_back({same ? "it is the project's part" : "the project's part answers " + hex(expected), same});
    if (!same) return report;
    // The stand-in's image is its own key: the chip starts only when it was told its own IDCODE.
    instruction(chip, SimulatedChip::ir_load);
    data(chip, expected);
    go(chip, {false});
    report.steps.push_back({"loaded, volatile", true});
    instruction(chip, SimulatedChip::ir_start);
    report.running = chip.loaded();
    report.steps.push_back({report.running ? "started: done lamp on" : "it did not start", report.running});
    return report;
}

}  // namespace kp
