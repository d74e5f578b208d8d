// SPDX-License-Identifier: GPL-3.0-or-later
// Converters: one that is read over SPI, and one that sends its lanes with a clock of its own.
#include "core/base/text.hpp"
#include "core/board_sim/part_makers.hpp"
#include "core/board_sim/board_model.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace kp::board_sim {

namespace {

/// Gives a number of 24 bits, highest first: the next bit at each fall of the clock while selected (SPI mode 0, common
/// practice, no source). Tells by a line of its own that a new one is there.
class ScaleConverter : public SimulatedPart {
public:
    static constexpr int bits = 24;
    explicit ScaleConverter(const Home& home)
        : SimulatedPart(home),
          clock_(find({"sck", "sclk"})),
          out_(find({"miso", "sdo"})),
          in_(find({"mosi", "sdi"})),
          select_(find({"cs_n"})),
          ready_(find({"drdy_n"})) {}
    [[nodiscard]] bool works() const { return clock_ != none && out_ != none; }
    void start() override {
        give(out_, false);
        give(ready_, true);
        wake_in(millisecond, 0);
    }
    void wake(std::uint32_t) override {  // a thousand numbers a second
        give(ready_, false);
        wake_in(millisecond, 0);
    }
    void changed(size_t terminal, Level now) override {
        if (terminal == select_ && select_ != none) {
            if (now == Level::low) begin();
            if (now == Level::high && at_ > 0 && at_ < bits) ++short_;
            return;
        }
        if (terminal != clock_ || !selected()) return;
        if (now == Level::high && at_ == 0 && select_ == none) begin();
        if (now == Level::high) {
            came_ = (came_ << 1) | (high(in_) ? 1u : 0u);
            if (++at_ == bits) {
                ++read_;
                give(ready_, true);
                told_ = came_ & 0xFFFFFF;
            }
        }
        if (now == Level::low) give(out_, at_ < bits ? (sent_ >> (bits - 1 - at_)) & 1 : false);
        if (now == Level::low && at_ >= bits && select_ == none) at_ = 0;
    }
    [[nodiscard]] std::vector<Control> controls() const override {
        return {{Control::dial, "weight", std::to_string(weight_), {}}};
    }
    Status set(const std::string& control, const std::string& value) override {
        const auto v = dialled(value, weight_, 100);
        if (control != "weight" || !v) return no_such(control, value);
        weight_ = std::clamp(*v, 0, 0x7FFFFF);
        return Done{};
    }
    [[nodiscard]] Words words() const override {
        Words out{{"weight", said("{} g", weight_)}, {"read", counted(read_, "time")}};
        if (read_) out.emplace_back("was told", std::to_string(told_));
        if (short_) out.emplace_back("cut off", counted(short_, "time"));
        return out;
    }

private:
    [[nodiscard]] bool selected() const { return select_ == none || level(select_) == Level::low; }
    void begin() {
        sent_ = static_cast<std::uint32_t>(weight_);
        at_ = 0;
        came_ = 0;
        give(out_, (sent_ >> (bits - 1)) & 1);
    }
    size_t clock_, out_, in_, select_, ready_;
    int weight_ = 1250, at_ = 0;
    std::uint32_t sent_ = 0, came_ = 0, told_ = 0;
    std::uint64_t read_ = 0, short_ = 0;
};

/// Twelve bits a word and lane, highest first, at both edges of its clock; data move in the middle between two edges.
/// The frame line falls with the last bit of a word and rises six bits later. Its settings come in over SPI.
class Sampler : public SimulatedPart {
public:
    explicit Sampler(const Home& home)
        : SimulatedPart(home),
          clock_(find({"clk_out_p"}), find({"clk_out_n"})),
          frame_(find({"frame_p"}), find({"frame_n"})),
          sleep_(find({"sleep"})),
          sck_(find({"sck"})),
          sdi_(find({"sdi"})),
          select_(find({"cs_n"})) {
        const auto p = row("d_p"), n = row("d_n");
        for (size_t k = 0; k < p.size(); ++k) lanes_.emplace_back(p[k], k < n.size() ? n[k] : none);
        const auto mhz = clock_.first == none ? std::nullopt : part().terminals[clock_.first].clock_mhz;
        quarter_ = static_cast<Time>(static_cast<double>(microsecond) / mhz.value_or(125) / 4);
    }
    [[nodiscard]] bool works() const { return clock_.first != none && !lanes_.empty(); }
    void start() override {
        pair(clock_, false);
        pair(frame_, false);
        for (const auto& lane : lanes_) pair(lane, false);
        wake_in(quarter_, 0);
    }
    void wake(std::uint32_t) override {
        if (high(sleep_) || !powered_) return wake_in(microsecond, 0);  // nothing moves
        if (move_data_) {
            data();
        } else {
            up_ = !up_;
            pair(clock_, up_);
        }
        move_data_ = !move_data_;
        wake_in(quarter_, 0);
    }
    void changed(size_t terminal, Level now) override {
        if (terminal == select_ && now == Level::low) came_ = bits_ = 0;
        if (terminal != sck_ || now != Level::high || (select_ != none && level(select_) != Level::low)) return;
        came_ = (came_ << 1) | (high(sdi_) ? 1u : 0u);
        if (++bits_ == 24) {
            ++settings_;
            setting_ = came_ & 0xFFFFFF;
        }
    }
    [[nodiscard]] std::vector<Control> controls() const override {
        return {{Control::flip, "power", powered_ ? "1" : "0", {}},
                {Control::choose, "wave", wave_, {"sine", "saw", "steady", "nothing"}},
                {Control::dial, "steps of a period", std::to_string(period_), {}}};
    }
    Status set(const std::string& control, const std::string& value) override {
        if (control == "power" && (value == "0" || value == "1")) {
            powered_ = value == "1";
            return Done{};
        }
        const auto choices = controls()[1].choices;
        if (control == "wave" && std::find(choices.begin(), choices.end(), value) != choices.end()) {
            wave_ = value;
            return Done{};
        }
        const auto v = dialled(value, period_);
        if (control != "steps of a period" || !v) return no_such(control, value);
        period_ = std::clamp(*v, 4, 1'000'000);
        return Done{};
    }
    [[nodiscard]] Words words() const override {
        Words out{{"samples", std::to_string(sample_)},
                  {"clock", fixed(250e6 / static_cast<double>(quarter_), 1) + " MHz"}};
        std::string values;
        for (size_t k = 0; k < lanes_.size(); ++k) values += (k ? " " : "") + std::to_string(value(k, sample_));
        out.emplace_back("sends", values);
        if (high(sleep_) || !powered_) out.emplace_back("state", powered_ ? "asleep" : "off");
        if (settings_) out.emplace_back("settings, last", said("{}, {}", settings_, setting_));
        return out;
    }
    /// What a lane sends as its n-th sample.
    [[nodiscard]] unsigned value(size_t lane, std::uint64_t n) const {
        const double phase = std::fmod(static_cast<double>(n) / period_ + static_cast<double>(lane) / 8, 1.0);
        if (wave_ == "sine")
            return static_cast<unsigned>(std::lround(2048 + 1800 * std::sin(2 * std::numbers::pi * phase)));
        if (wave_ == "saw") return static_cast<unsigned>(phase * 4096);
        return wave_ == "steady" ? static_cast<unsigned>(1024 * (lane + 1) - 1) & 0xFFF : 0;
    }

private:
    using Pair = std::pair<size_t, size_t>;
    void pair(const Pair& p, bool level) {
        give(p.first, level);
        give(p.second, !level);
    }
    void data() {
        // The first bit is there before a rise of the clock.
        if (bit_ == 0 && up_) return;
        if (bit_ == 0)
            for (size_t k = 0; k < lanes_.size() && k < 16; ++k) now_[k] = value(k, sample_);
        for (size_t k = 0; k < lanes_.size() && k < 16; ++k) pair(lanes_[k], (now_[k] >> (11 - bit_)) & 1);
        pair(frame_, bit_ >= 5 && bit_ < 11);
        bit_ = (bit_ + 1) % 12;
        if (bit_ == 0) ++sample_;
    }
    Pair clock_, frame_;
    std::vector<Pair> lanes_;
    size_t sleep_, sck_, sdi_, select_;
    Time quarter_ = 0;
    std::array<unsigned, 16> now_{};
    int bit_ = 0, period_ = 64;
    std::uint64_t sample_ = 0, settings_ = 0;
    std::uint32_t came_ = 0, bits_ = 0, setting_ = 0;
    bool up_ = false, move_data_ = true, powered_ = true;
    std::string wave_ = "sine";
};

}  // namespace

Made make_scale_converter(const SimulatedPart::Home& home) {
    auto made = std::make_unique<ScaleConverter>(home);
    return made->works() ? Made(std::move(made)) : nullptr;
}
Made make_sampler(const SimulatedPart::Home& home) {
    auto made = std::make_unique<Sampler>(home);
    return made->works() ? Made(std::move(made)) : nullptr;
}

}  // namespace kp::board_sim
