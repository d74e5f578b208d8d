// SPDX-License-Identifier: GPL-3.0-or-later
// A stand-in for the chip at the end of a cable: the state machine of IEEE 1149.1, figure 6-1, with IDCODE and
// BYPASS, and what loading it goes through.
#include "core/jtag/chip.hpp"

#include "core/base/text.hpp"
#include "core/format/image/image.hpp"

#include <algorithm>
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

namespace {
constexpr size_t longest_image = size_t{1} << 28;  ///< bits
}

namespace {

constexpr size_t most_ahead = 64;  ///< bits of other devices that may come before the image

/// The image in what was shifted in: it begins where its mark does, whatever bits of other devices came first, and is
/// as long as it says.
std::string image_in(const std::vector<bool>& bits) {
    for (size_t from = 0; from < most_ahead && from + 8 <= bits.size(); ++from) {
        std::string bytes((bits.size() - from) / 8, '\0');
        for (size_t k = 0; k < bytes.size() * 8; ++k)
            if (bits[from + k]) bytes[k / 8] = static_cast<char>(bytes[k / 8] | (1 << (k % 8)));
        if (const auto size = image_size(bytes)) return bytes.substr(0, *size);
    }
    return {};
}

}  // namespace

size_t SimulatedChip::width() const {
    switch (ir_) {
        case ir_idcode: return 32;
        case ir_extest:
        case ir_sample: return std::max<size_t>(1, boundary_.size());
        default: return 1;  // BYPASS, and all that the chip does not know (IEEE 1149.1, 8.4.1)
    }
}

void SimulatedChip::capture() {
    dr_.assign(width(), false);
    dr_at_ = 0;
    if (ir_ == ir_idcode)
        for (size_t k = 0; k < 32; ++k) dr_[k] = (idcode_ >> k) & 1;
    if (ir_ != ir_extest && ir_ != ir_sample) return;
    // A pin that drives is seen as it drives, another one as its pull-up holds it.
    for (size_t k = 0; k + 2 < boundary_.size(); k += 3) {
        const bool drives = ir_ == ir_extest && update_[k + 1];
        dr_[k] = update_[k];
        dr_[k + 1] = update_[k + 1];
        dr_[k + 2] = board_ ? board_->sees(k / 3) : drives ? update_[k] : true;
    }
}

/// In EXTEST the update stage is what the pins carry; under any other instruction the design has them.
void SimulatedChip::show_boundary() {
    if (!board_) return;
    for (size_t k = 0; k + 2 < update_.size(); k += 3)
        board_->drive(k / 3, ir_ == ir_extest && update_[k + 1], update_[k]);
}

bool SimulatedChip::accept(const std::string& bytes) {
    const auto image = read_image(bytes, "");
    return image.ok() && image.value().idcode == idcode_;
}

void SimulatedChip::power_off() {
    state_ = TapState::test_logic_reset;
    ir_ = ir_idcode;
    received_.clear();
    update_.assign(update_.size(), false);
    loaded_ = !stored_.empty() && accept(stored_);
}

void SimulatedChip::store(std::string image) {
    stored_ = std::move(image);
    loaded_ = accept(stored_);
}

bool SimulatedChip::clock(bool tms, bool tdi) {
    using enum TapState;
    bool tdo = false;
    switch (state_) {
        case capture_dr:
            capture();
            if (ir_ == ir_load) received_.clear();
            break;
        case shift_dr:
            tdo = dr_[dr_at_];
            dr_[dr_at_] = tdi;
            dr_at_ = (dr_at_ + 1) % dr_.size();
            if (ir_ == ir_load && received_.size() < longest_image) received_.push_back(tdi);
            break;
        case update_dr:
            if (ir_ == ir_extest || ir_ == ir_sample)
                for (size_t k = 0; k < update_.size(); ++k) update_[k] = dr_[(dr_at_ + k) % dr_.size()];
            if (ir_ == ir_extest) show_boundary();
            break;
        case capture_ir: ir_shift_ = 1; break;  // IEEE 1149.1: the two lowest bits capture 01
        case shift_ir:
            tdo = ir_shift_ & 1;
            ir_shift_ = (ir_shift_ >> 1) | (static_cast<unsigned>(tdi) << (ir_bits - 1));
            break;
        case update_ir:
            ir_ = ir_shift_;
            show_boundary();
            if (ir_ == ir_start) loaded_ = accept(image_in(received_));
            break;
        default: break;
    }
    state_ = next_state(state_, tms);
    if (state_ == test_logic_reset && ir_ != ir_idcode) {
        ir_ = ir_idcode;
        show_boundary();
    }
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

}  // namespace

std::vector<bool> exchange(SimulatedChip& chip, unsigned code, const std::vector<bool>& bits) {
    if (chip.state() != TapState::run_test_idle) go(chip, {true, true, true, true, true, false});
    instruction(chip, code);
    go(chip, {true, false, false});
    std::vector<bool> out;
    for (size_t i = 0; i < bits.size(); ++i) out.push_back(chip.clock(i + 1 == bits.size(), bits[i]));
    go(chip, {true, false});
    return out;
}

}  // namespace kp
