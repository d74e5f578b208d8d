// SPDX-License-Identifier: GPL-3.0-or-later
// Bit by bit at the rises of the clock: 32 ones, then a frame of 32 bits, of which the first 14 say who is asked for
// what. A frame that is not well begun is passed over until the next 32 ones. Nothing fails here: what is not
// understood gets no answer, as on the wire.
#include "core/board_sim/management.hpp"

namespace kp::board_sim {

namespace {

// A frame: start 01, read 10 or write 01, five bits of transceiver, five of register, two to turn round, sixteen of
// data.
constexpr int head_bits = 14, first_data = 16, frame_bits = 32;

}  // namespace

Drive Management::rise(bool data) {
    if (bit_ < 0) {
        if (data) {
            if (ones_ < frame_bits) ++ones_;
            return Drive::off;
        }
        if (ones_ < frame_bits) {
            // Some ones are a frame's own; half a preamble was meant as one.
            no_preamble += ones_ >= frame_bits / 2;
            ones_ = 0;
            return Drive::off;
        }
        bit_ = 0;
        head_ = 0;
    }
    if (bit_ < head_bits) {
        head_bit(data);
        return Drive::off;
    }
    const int now = bit_++;
    if (asks_) {
        if (!ours_) {
            if (bit_ == frame_bits) end();
            return Drive::off;
        }
        if (now == head_bits) return Drive::low;  // the second bit of the turn
        if (bit_ == frame_bits) {
            end();
            return Drive::off;
        }
        return drive_of(((word_ >> (frame_bits - 1 - bit_)) & 1) != 0);
    }
    if (now >= first_data) word_ = static_cast<std::uint16_t>((word_ << 1) | (data ? 1 : 0));
    if (bit_ == frame_bits) {
        if (ours_) write(head_ & 31, word_);
        end();
    }
    return Drive::off;
}

void Management::head_bit(bool data) {
    head_ = (head_ << 1) | (data ? 1U : 0U);
    ++bit_;
    const unsigned op = head_ & 3;
    // Start 00 is that of clause 45, which this one does not speak; an operation is one of two.
    if ((bit_ == 2 && op != 1) || (bit_ == 4 && op != 1 && op != 2)) return end();
    if (bit_ != head_bits) return;
    asks_ = ((head_ >> 10) & 3) == 2;
    ours_ = ((head_ >> 5) & 31) == address;
    if (!ours_) ++for_others;
    word_ = ours_ && asks_ ? read(head_ & 31) : std::uint16_t{0};
}

void Management::end() {
    bit_ = -1;
    ones_ = 0;
}

void Management::reset() {
    control_ = usual_control;
    end();
}

void Management::set_link(bool up) {
    link_ = up;
    if (!up) link_told_ = false;
}

std::uint16_t Management::read(unsigned number) {
    ++reads;
    switch (number) {
        case 0: return control_;
        case 1: {
            // More status in 15; finds the speed by itself and has; the link; more registers.
            const auto status = static_cast<std::uint16_t>(0x0109 | (link_ ? 0x0020 : 0) | (link_told_ ? 0x0004 : 0));
            link_told_ = link_;
            return status;
        }
        case 2: return 0x4B50;  // nobody's number: the stand-in's own letters
        case 3: return 0x0001;
        case 15: return 0x2000;  // gigabit, both ways at once
        default: return 0;
    }
}

void Management::write(unsigned number, std::uint16_t value) {
    ++writes;
    if (number != 0) return;
    if ((value & 0x8000) != 0)
        control_ = usual_control;
    else
        control_ = static_cast<std::uint16_t>(value & ~0x0200U);  // "begin again" clears itself
}

}  // namespace kp::board_sim
