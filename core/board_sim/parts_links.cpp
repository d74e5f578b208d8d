// SPDX-License-Identifier: GPL-3.0-or-later
// Links that come back: an Ethernet transceiver with a test frame and a loop, and pairs that are too fast to be acted
// bit by bit, of which only what stands beside them acts.
#include "core/base/text.hpp"
#include "core/board_sim/part_makers.hpp"
#include "core/format/image/image.hpp"
#include "core/board_sim/management.hpp"
#include "core/board_sim/board_model.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <deque>

namespace kp::board_sim {

namespace {

/// RGMII (version 2.0, from memory): four bits at each edge of a clock, the lower half at the rise; data are moved a
/// quarter of a period before the edge. Frames as in IEEE 802.3, clause 3: seven bytes 0x55, 0xD5, the frame, its
/// CRC-32.
class Phy : public SimulatedPart {
public:
    explicit Phy(const Home& home)
        : SimulatedPart(home),
          rxc_(find({"rxc"})),
          rx_ctl_(find({"rx_ctl"})),
          txc_(find({"txc"})),
          tx_ctl_(find({"tx_ctl"})),
          reset_(find({"rst_n"})),
          mdc_(find({"mdc"})),
          mdio_(find({"mdio"})),
          rxd_(row("rxd")),
          txd_(row("txd")) {
        const auto mhz = rxc_ == none ? std::nullopt : part().terminals[rxc_].clock_mhz;
        quarter_ = static_cast<Time>(static_cast<double>(microsecond) / mhz.value_or(125) / 4);
    }
    [[nodiscard]] bool works() const {
        return rxc_ != none && rx_ctl_ != none && txc_ != none && tx_ctl_ != none && rxd_.size() == 4 &&
               txd_.size() == 4;
    }
    void start() override {
        give(rxc_, false);
        nibble(0, false);
        wake_in(quarter_, 0);
    }
    void wake(std::uint32_t what) override {
        if (what == managed) return give(mdio_, answer_);
        if (!linked_ || (reset_ != none && level(reset_) == Level::low)) {  // no clock, and what was under way is lost
            out_.clear();
            at_ = 0;
            return wake_in(microsecond, 0);
        }
        if (move_data_)
            next_half();
        else
            give(rxc_, up_ = !up_);
        move_data_ = !move_data_;
        wake_in(quarter_, 0);
    }
    void changed(size_t terminal, Level now) override {
        if (terminal == mdc_ && mdio_ != none && now == Level::high) return manage();
        if (terminal == reset_ && now == Level::low) stop_managing();
        if (terminal != txc_ || (now != Level::high && now != Level::low)) return;
        unsigned half = 0;
        for (size_t k = 0; k < 4; ++k) half |= static_cast<unsigned>(high(txd_[k])) << k;
        const bool valid = high(tx_ctl_);
        if (now == Level::high) {
            low_half_ = half;
            low_valid_ = valid;
            return;
        }
        if (low_valid_ && valid)
            came_ += static_cast<char>(low_half_ | half << 4);
        else if (!came_.empty())
            frame_came();
        if (came_.size() > 20'000) came_.clear(), ++bad_;
    }
    [[nodiscard]] std::vector<Control> controls() const override {
        return {{Control::flip, "link", linked_ ? "1" : "0", {}},
                {Control::hold, "send a frame", "0", {}},
                {Control::flip, "loop back", loops_ ? "1" : "0", {}},
                {Control::flip, "preamble", preamble_ ? "1" : "0", {}},
                {Control::flip, "spoil the next", spoil_ ? "1" : "0", {}}};
    }
    Status set(const std::string& control, const std::string& value) override {
        if (value != "0" && value != "1") return no_such(control, value);
        if (control == "send a frame") {
            if (value == "1") send(test_frame());
        } else if (control == "link") {
            linked_ = value == "1";
            management_.set_link(linked_);
        } else if (control == "loop back") {
            loops_ = value == "1";
        } else if (control == "preamble") {
            preamble_ = value == "1";
        } else if (control == "spoil the next") {
            spoil_ = value == "1";
        } else {
            return no_such(control, value);
        }
        return Done{};
    }
    [[nodiscard]] Words words() const override {
        Words out{{"sent", counted(sent_, "frame")},
                  {"came, CRC good", std::to_string(good_)},
                  {"came, CRC bad", std::to_string(bad_)}};
        if (!linked_) out.emplace_back("state", "no link");
        if (mdc_ != none && mdio_ != none)
            out.emplace_back("registers", said("read {}, written {} at address {}", management_.reads,
                                               management_.writes, Management::address));
        if (management_.for_others) out.emplace_back("asked for others", std::to_string(management_.for_others));
        if (management_.no_preamble)
            out.emplace_back("asked without 32 ones before", std::to_string(management_.no_preamble));
        if (loops()) out.emplace_back("looped back", std::to_string(looped_));
        if (reset_ != none && level(reset_) == Level::low) out.emplace_back("state", "held in reset");
        return out;
    }

private:
    static constexpr std::uint32_t managed = 1;
    static constexpr Time answers_after = 150 * nanosecond;  ///< 0 to 300 ns after the rise (22.3.4)

    [[nodiscard]] bool loops() const { return loops_ || management_.loops_back(); }
    void stop_managing() {
        management_.reset();
        answer_ = Drive::off;
        if (mdio_ != none) give(mdio_, answer_);
    }
    void manage() {
        if (reset_ != none && level(reset_) == Level::low) return;
        const auto answer = management_.rise(level(mdio_) == Level::high);
        if (answer == answer_) return;
        answer_ = answer;
        wake_in(answers_after, managed);
    }
    /// The smallest frame: to all, from a made-up address, counting bytes.
    std::string test_frame() {
        std::string f(6, '\xFF');
        f += std::string("\x02\x4B\x50\x00\x00\x01\x88\xB5", 8);
        while (f.size() < 60) f += static_cast<char>(f.size() + sent_);
        return f;
    }
    void send(std::string frame) {
        const auto crc = crc32(frame);
        for (int k = 0; k < 4; ++k) frame += static_cast<char>(crc >> (8 * k));
        if (spoil_) frame[20] = static_cast<char>(frame[20] ^ 0x10);
        spoil_ = false;
        out_.push_back((preamble_ ? std::string(7, '\x55') + '\xD5' : std::string()) + frame);
        if (out_.size() > 64) out_.pop_front();
    }
    void frame_came() {
        auto f = std::exchange(came_, {});
        const auto head = f.find('\xD5');
        if (f.starts_with("\x55") && head != std::string::npos && head < 8) f.erase(0, head + 1);
        std::uint32_t told = 0;
        if (f.size() >= 5)
            for (size_t k = 0; k < 4; ++k)
                told |= static_cast<std::uint32_t>(static_cast<unsigned char>(f[f.size() - 4 + k])) << (8 * k);
        const bool good = f.size() >= 5 && told == crc32(std::string_view(f).substr(0, f.size() - 4));
        ++(good ? good_ : bad_);
        if (!loops()) return;
        ++looped_;
        if (f.size() >= 5) send(f.substr(0, f.size() - 4));
    }
    void nibble(unsigned half, bool valid) {
        for (size_t k = 0; k < 4; ++k) give(rxd_[k], (half >> k) & 1);
        give(rx_ctl_, valid);
    }
    /// What stands on the wires for the next edge.
    void next_half() {
        if (gap_ > 0 || out_.empty()) {
            if (gap_ > 0) --gap_;
            return nibble(0, false);
        }
        // A byte begins before a rise.
        if (at_ == 0 && up_) return;
        const auto& f = out_.front();
        const auto byte = static_cast<unsigned char>(f[at_ / 2]);
        nibble(at_ % 2 ? byte >> 4 : byte & 15, true);
        if (++at_ < 2 * f.size()) return;
        out_.pop_front();
        at_ = 0;
        gap_ = 24;  // twelve bytes between frames (IEEE 802.3, 4.4.2)
        ++sent_;
    }

    size_t rxc_, rx_ctl_, txc_, tx_ctl_, reset_, mdc_, mdio_;
    std::vector<size_t> rxd_, txd_;
    Management management_;
    Drive answer_ = Drive::off;
    Time quarter_ = 0;
    std::deque<std::string> out_;
    std::string came_;
    size_t at_ = 0;
    int gap_ = 0;
    unsigned low_half_ = 0;
    bool up_ = false, move_data_ = true, low_valid_ = false;
    bool loops_ = false, linked_ = true, preamble_ = true, spoil_ = false;
    std::uint64_t sent_ = 0, good_ = 0, bad_ = 0, looped_ = 0;
};

/// A cage or a host: its lanes are gigabits a second and are not acted; what stands beside them is.
class Loop : public SimulatedPart {
public:
    explicit Loop(const Home& home)
        : SimulatedPart(home),
          present_(find({"present_n"})),
          loss_(find({"loss"})),
          fault_(find({"fault"})),
          reset_(find({"rst_n"})) {}
    void start() override { show(); }
    [[nodiscard]] std::vector<Control> controls() const override {
        return {{Control::flip, present_ != none ? "plugged in" : "host is on", plugged_ ? "1" : "0", {}}};
    }
    Status set(const std::string& control, const std::string& value) override {
        if (control != controls()[0].name || (value != "0" && value != "1")) return no_such(control, value);
        plugged_ = value == "1";
        show();
        return Done{};
    }
    [[nodiscard]] Words words() const override {
        return {{"state", plugged_ ? "there" : "not there"}, {"fast lanes", "not simulated"}};
    }

private:
    void show() {
        give(present_, !plugged_);
        give(loss_, !plugged_);
        give(fault_, false);
        give(reset_, plugged_);
    }
    size_t present_, loss_, fault_, reset_;
    bool plugged_ = true;
};

}  // namespace

Made make_phy(const SimulatedPart::Home& home) {
    auto made = std::make_unique<Phy>(home);
    return made->works() ? Made(std::move(made)) : nullptr;
}
Made make_loop(const SimulatedPart::Home& home) {
    return std::make_unique<Loop>(home);
}

}  // namespace kp::board_sim
