// SPDX-License-Identifier: GPL-3.0-or-later
// A winch: its driver turns a shaft as fast as the share of time its line is on asks for, not at once, and not at all
// with the brake on. An encoder on the same shaft hears of it.
#include "core/base/text.hpp"
#include "core/board_sim/part_makers.hpp"
#include "core/board_sim/shares.hpp"
#include "core/board_sim/board_model.hpp"

#include <cmath>

namespace kp::board_sim {

namespace {

class Winch : public SimulatedPart {
public:
    static constexpr double fastest = 20;      ///< turns a second
    static constexpr double follows_in = 0.1;  ///< seconds to two thirds of what is asked for
    static constexpr Time step = millisecond;
    Winch(const Home& home, std::shared_ptr<Shaft> shaft)
        : SimulatedPart(home),
          shaft_(std::move(shaft)),
          shares_(home),
          power_(find({"pwm"})),
          direction_(find({"dir"})),
          brake_(find({"brake_n"})),
          fault_(find({"fault_n"})) {}
    [[nodiscard]] bool works() const { return power_ != none; }
    void start() override {
        give(fault_, true);
        wake_in(step, 0);
    }
    void wake(std::uint32_t) override {
        duty_ = shares_.take()[power_];
        const bool braked = faulty_ || (brake_ != none && level(brake_) == Level::low);
        const double wanted = braked ? 0 : duty_ * fastest * (high(direction_) ? -1 : 1);
        const double part_of = braked ? 1 : 1 - std::exp(-1e-3 / follows_in);
        speed_ += (wanted - speed_) * part_of;
        shaft_->turn_at(now(), speed_);
        wake_in(step, 0);
    }
    [[nodiscard]] std::vector<Control> controls() const override {
        return {{Control::flip, "fault", faulty_ ? "1" : "0", {}}};
    }
    Status set(const std::string& control, const std::string& value) override {
        if (control != "fault" || (value != "0" && value != "1")) return no_such(control, value);
        faulty_ = value == "1";
        give(fault_, !faulty_);
        return Done{};
    }
    [[nodiscard]] Words words() const override {
        return {{"on", fixed(duty_ * 100, 0) + " % of time"},
                {"speed", fixed(speed_, 2) + " turns/s"},
                {"brake", brake_ != none && level(brake_) == Level::low ? "on" : "off"}};
    }
    [[nodiscard]] Sight look() override {
        Sight s;
        s.angle = shaft_->turns_at(now());
        return s;
    }

private:
    std::shared_ptr<Shaft> shaft_;
    Shares shares_;
    size_t power_, direction_, brake_, fault_;
    double duty_ = 0, speed_ = 0;
    bool faulty_ = false;
};

}  // namespace

Made make_winch(const SimulatedPart::Home& home, std::shared_ptr<Shaft> shaft) {
    auto made = std::make_unique<Winch>(home, std::move(shaft));
    return made->works() ? Made(std::move(made)) : nullptr;
}

}  // namespace kp::board_sim
