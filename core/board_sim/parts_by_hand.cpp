// SPDX-License-Identifier: GPL-3.0-or-later
// What a hand works: contacts that bounce, a vane, an encoder, and plain terminals.
#include "core/base/text.hpp"
#include "core/board_sim/part_makers.hpp"
#include "core/board_sim/shares.hpp"
#include "core/board_sim/board_model.hpp"

#include <cmath>

namespace kp::board_sim {

namespace {

/// A contact closes and opens a few times before it stays. Up to 1.5 ms, in times that differ from press to press but
/// not from run to run (common practice for small keys, no source).
class Contacts : public SimulatedPart {
public:
    explicit Contacts(const Home& home) : SimulatedPart(home), down_(part().terminals.size()), left_(down_.size()) {}

    void start() override {
        for (size_t i = 0; i < down_.size(); ++i) give(i, part().terminals[i].active_low);
    }

    [[nodiscard]] std::vector<Control> controls() const override {
        std::vector<Control> out;
        for (size_t i = 0; i < down_.size(); ++i)
            out.push_back({part().kind == "key" ? Control::hold : Control::flip,
                           part().terminals[i].name,
                           down_[i] ? "1" : "0",
                           {}});
        out.push_back({Control::choose, "bounce", bounces_ ? "1.5 ms" : "none", {"1.5 ms", "none"}});
        return out;
    }

    Status set(const std::string& control, const std::string& value) override {
        if (control == "bounce" && (value == "none" || value == "1.5 ms")) {
            bounces_ = value != "none";
            return Done{};
        }
        for (size_t i = 0; i < down_.size(); ++i) {
            if (part().terminals[i].name != control || (value != "0" && value != "1")) continue;
            if (down_[i] == (value == "1")) return Done{};
            down_[i] = value == "1";
            left_[i] = bounces_ ? 2 * (2 + next() % 3) : 0;
            show(i, down_[i]);
            if (left_[i]) wake_in(gap(), static_cast<std::uint32_t>(i));
            return Done{};
        }
        return no_such(control, value);
    }

    void wake(std::uint32_t what) override {
        if (left_[what] == 0) return;
        --left_[what];
        show(what, down_[what] == (left_[what] % 2 == 0));
        if (left_[what]) wake_in(gap(), what);
    }

private:
    void show(size_t i, bool down) { give(i, down != part().terminals[i].active_low); }
    std::uint32_t next() { return random_ = random_ * 1664525u + 1013904223u, random_ >> 8; }
    Time gap() { return (20 + next() % 160) * microsecond; }

    std::vector<bool> down_;
    std::vector<unsigned> left_;  ///< changes still to come
    bool bounces_ = true;
    std::uint32_t random_ = 1;
};

/// A position in Gray code, its lowest bit first (F. Gray, US patent 2632058, 1953).
class Vane : public SimulatedPart {
public:
    explicit Vane(const Home& home) : SimulatedPart(home), bits_(std::min<size_t>(8, part().terminals.size())) {}
    void start() override { show(); }
    [[nodiscard]] std::vector<Control> controls() const override {
        return {{Control::dial, "position", std::to_string(position_), {}}};
    }
    Status set(const std::string& control, const std::string& value) override {
        const auto to = dialled(value, static_cast<int>(position_));
        if (control != "position" || !to) return no_such(control, value);
        position_ = static_cast<unsigned>(*to) & ((1u << bits_) - 1);
        show();
        return Done{};
    }
    [[nodiscard]] Sight look() override {
        Sight s;
        s.angle = static_cast<double>(position_) / static_cast<double>(1u << bits_);
        return s;
    }
    [[nodiscard]] Words words() const override {
        std::string gray;
        for (size_t k = bits_; k-- > 0;) gray += (code() >> k) & 1 ? '1' : '0';
        return {{"position", std::to_string(position_)}, {"gray", gray}};
    }

private:
    [[nodiscard]] unsigned code() const { return position_ ^ (position_ >> 1); }
    void show() {
        for (size_t k = 0; k < bits_; ++k) give(k, (code() >> k) & 1);
    }
    size_t bits_;
    unsigned position_ = 0;
};

/// Two lines a quarter of a step apart, and one that is high for a quarter step each turn. Turned by a winch or by
/// hand, one quarter step a millisecond.
class Encoder : public SimulatedPart {
public:
    static constexpr int quarters = 256;  ///< a turn: 64 lines
    Encoder(const Home& home, std::shared_ptr<Shaft> shaft)
        : SimulatedPart(home), shaft_(std::move(shaft)), a_(find({"a"})), b_(find({"b"})), z_(find({"z"})) {}
    [[nodiscard]] bool works() const { return a_ != none && b_ != none; }
    void start() override {
        show();
        wake_in(millisecond, 0);
    }
    void wake(std::uint32_t) override {
        // Looks often enough that no quarter is missed: the next time is when half a quarter has gone by at most.
        const double speed = std::abs(shaft_->per_second) * quarters;
        if (by_hand_ != 0) {
            const int step = by_hand_ > 0 ? 1 : -1;
            offset_ += step;
            by_hand_ -= step;
        }
        const auto wanted = std::lround(shaft_->turns_at(now()) * quarters) + offset_;
        if (wanted != at_) at_ += wanted > at_ ? 1 : -1;
        show();
        const double wait = wanted != at_ ? 0.02 : speed > 0 ? std::clamp(500.0 / speed, 0.02, 1.0) : 1.0;
        wake_in(static_cast<Time>(wait * static_cast<double>(millisecond)), 0);
    }
    [[nodiscard]] std::vector<Control> controls() const override {
        return {{Control::dial, "quarter steps", std::to_string(at_), {}}};
    }
    Status set(const std::string& control, const std::string& value) override {
        const auto to = dialled(value, by_hand_);
        if (control != "quarter steps" || !to) return no_such(control, value);
        by_hand_ = *to;
        return Done{};
    }
    [[nodiscard]] Words words() const override {
        return {{"turns", fixed(static_cast<double>(at_) / quarters, 3)}, {"quarter steps", std::to_string(at_)}};
    }
    [[nodiscard]] Sight look() override {
        Sight s;
        s.angle = static_cast<double>(at_) / quarters;
        return s;
    }

private:
    void show() {
        const auto phase = at_ & 3;
        give(a_, phase == 1 || phase == 2);
        give(b_, phase == 2 || phase == 3);
        if (z_ != none) give(z_, (at_ % quarters) == 0);
    }
    std::shared_ptr<Shaft> shaft_;
    size_t a_, b_, z_;
    long at_ = 0, offset_ = 0;
    int by_hand_ = 0;
};

/// What is not known acts by its terminals: those it drives rest inactive and can be turned over, those that go both
/// ways are left alone until the hand drives them.
class Plain : public SimulatedPart {
public:
    explicit Plain(const Home& home) : SimulatedPart(home), shares_(home) {}
    void start() override {
        for (size_t i = 0; i < part().terminals.size(); ++i)
            if (drives(i)) give(i, part().terminals[i].active_low);
    }
    [[nodiscard]] std::vector<Control> controls() const override {
        std::vector<Control> out;
        for (size_t i = 0; i < part().terminals.size(); ++i) {
            const auto given = home().model->given(home().first_terminal + static_cast<std::uint32_t>(i));
            const char* value = given == Drive::high ? "1" : given == Drive::low ? "0" : "off";
            if (drives(i)) out.push_back({Control::flip, part().terminals[i].name, value, {}});
            if (part().terminals[i].direction == TerminalDirection::both)
                out.push_back({Control::choose, part().terminals[i].name, value, {"off", "0", "1"}});
        }
        return out;
    }
    Status set(const std::string& control, const std::string& value) override {
        for (size_t i = 0; i < part().terminals.size(); ++i) {
            if (part().terminals[i].name != control || part().terminals[i].direction == TerminalDirection::reads ||
                (value != "0" && value != "1" && value != "off"))
                continue;
            give(i, value == "off" ? Drive::off : drive_of(value == "1"));
            return Done{};
        }
        return no_such(control, value);
    }
    [[nodiscard]] Sight look() override {
        Sight s;
        s.lamps = shares_.take();
        return s;
    }

private:
    [[nodiscard]] bool drives(size_t i) const { return part().terminals[i].direction == TerminalDirection::drives; }
    Shares shares_;
};

}  // namespace

Made make_contacts(const SimulatedPart::Home& home) {
    return std::make_unique<Contacts>(home);
}
Made make_vane(const SimulatedPart::Home& home) {
    return std::make_unique<Vane>(home);
}
Made make_encoder(const SimulatedPart::Home& home, std::shared_ptr<Shaft> shaft) {
    auto made = std::make_unique<Encoder>(home, std::move(shaft));
    return made->works() ? Made(std::move(made)) : nullptr;
}
Made make_plain(const SimulatedPart::Home& home) {
    return std::make_unique<Plain>(home);
}

}  // namespace kp::board_sim
