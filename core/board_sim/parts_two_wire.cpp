// SPDX-License-Identifier: GPL-3.0-or-later
// Sensors on a two-wire bus, as UM10204 ("I2C-bus specification and user manual", rev. 7, from memory) asks of a
// target: it answers to its address, takes a register number and bytes, and gives bytes until one is not acknowledged.
#include "core/base/text.hpp"
#include "core/board_sim/part_makers.hpp"
#include "core/board_sim/board_model.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <cstdio>

namespace kp::board_sim {

namespace {

class TwoWire : public SimulatedPart {
public:
    explicit TwoWire(const Home& home) : SimulatedPart(home), scl_(find({"scl"})), sda_(find({"sda"})) {
        registers_[0] = 0x19;  // a temperature, degrees and sixteenths
        registers_[1] = 0x80;
        registers_[15] = 0x4B;
    }
    [[nodiscard]] bool works() const { return scl_ != none && sda_ != none; }
    void changed(size_t terminal, Level now) override {
        const bool up = now == Level::high;
        if (terminal == sda_) {
            // Our own answer moves the line only while the clock is low.
            if (level(scl_) != Level::high || (now != Level::high && now != Level::low)) return;
            give(sda_, Drive::off);
            if (!up) begin();
            if (up) state_ = idle;
            return;
        }
        if (terminal != scl_ || state_ == idle) return;
        if (now == Level::high) rise();
        if (now == Level::low) fall();
    }
    [[nodiscard]] std::vector<Control> controls() const override {
        return {{Control::dial, "degrees", std::to_string(static_cast<int>(registers_[0])), {}},
                {Control::choose, "answers", answers_ ? "yes" : "no", {"yes", "no"}}};
    }
    Status set(const std::string& control, const std::string& value) override {
        if (control == "answers" && (value == "yes" || value == "no")) {
            answers_ = value == "yes";
            return Done{};
        }
        const auto v = dialled(value, registers_[0]);
        if (control != "degrees" || !v) return no_such(control, value);
        registers_[0] = static_cast<std::uint8_t>(std::clamp(*v, 0, 125));
        return Done{};
    }
    [[nodiscard]] Words words() const override {
        char address[8];
        std::snprintf(address, sizeof address, "0x%02X", address_);
        return {{"address", address},
                {"answered", counted(answered_, "time")},
                {"gave, took", said("{}, {}", gave_, counted(took_, "byte"))},
                {"asked for others", std::to_string(others_)}};
    }

private:
    enum State : std::uint8_t { idle, address, taking, giving, silent };
    void begin() {
        state_ = address;
        bits_ = 0;
        byte_ = 0;
        first_ = true;
    }
    void rise() {
        if (state_ == silent) return;
        if (bits_ < 8) {
            byte_ = static_cast<std::uint8_t>((byte_ << 1) | (level(sda_) == Level::high ? 1 : 0));
            ++bits_;
            return;
        }
        bits_ = 9;
        if (state_ == giving && level(sda_) == Level::high) state_ = silent;  // not acknowledged: it was the last
    }
    void fall() {
        if (bits_ == 8 && state_ != giving && state_ != silent) return take_byte();
        if (bits_ == 9) {
            bits_ = 0;
            byte_ = 0;
            give(sda_, Drive::off);
            if (state_ == giving) {
                out_ = registers_[at_++ & 15];
                ++gave_;
            }
        }
        if (state_ == giving) give(sda_, bits_ < 8 && !((out_ >> (7 - bits_)) & 1) ? Drive::low : Drive::off);
    }
    /// Eight bits are in: acknowledge them if they are for us.
    void take_byte() {
        if (state_ == address) {
            if ((byte_ >> 1) != address_ || !answers_) {
                ++others_;
                state_ = silent;
                return;
            }
            ++answered_;
            state_ = byte_ & 1 ? giving : taking;
        } else if (first_) {
            at_ = byte_;
            first_ = false;
        } else {
            registers_[at_++ & 15] = byte_;
            ++took_;
        }
        give(sda_, Drive::low);
    }

    static constexpr std::uint8_t address_ = 0x48;
    size_t scl_, sda_;
    std::array<std::uint8_t, 16> registers_{};
    State state_ = idle;
    int bits_ = 0;
    std::uint8_t byte_ = 0, out_ = 0, at_ = 0;
    bool first_ = true, answers_ = true;
    std::uint64_t answered_ = 0, gave_ = 0, took_ = 0, others_ = 0;
};

}  // namespace

Made make_two_wire(const SimulatedPart::Home& home) {
    auto made = std::make_unique<TwoWire>(home);
    return made->works() ? Made(std::move(made)) : nullptr;
}

}  // namespace kp::board_sim
