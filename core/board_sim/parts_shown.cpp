// SPDX-License-Identifier: GPL-3.0-or-later
// What the eye and the ear see of a design: lamps by their share of time, digits by that of their segments while their
// digit is chosen, a tone by its rate.
#include "core/base/text.hpp"
#include "core/board_sim/part_makers.hpp"
#include "core/board_sim/shares.hpp"
#include "core/board_sim/board_model.hpp"
#include "core/base/said.hpp"

#include <algorithm>

namespace kp::board_sim {

std::vector<double> Shares::take() {
    const auto& model = *home_.model;
    const auto passed = model.now() - last_;
    last_ = model.now();
    std::vector<double> out;
    for (size_t i = 0; i < high_.size(); ++i) {
        const auto t = home_.first_terminal + static_cast<std::uint32_t>(i);
        const bool low = home_.part->terminals[i].active_low;
        const auto high = model.high_time(t), before = std::exchange(high_[i], high);
        const auto level = model.level(t);
        if (passed <= 0)
            out.push_back(level == (low ? Level::low : Level::high));
        else if (level == Level::floating || level == Level::conflict)
            out.push_back(0);  // whatever it was before: now nobody can say
        else
            out.push_back((low ? static_cast<double>(passed - (high - before)) : static_cast<double>(high - before)) /
                          static_cast<double>(passed));
    }
    return out;
}

namespace {

class Lamps : public SimulatedPart {
public:
    explicit Lamps(const Home& home) : SimulatedPart(home), shares_(home), last_(part().terminals.size(), 0) {}
    [[nodiscard]] Sight look() override {
        Sight s;
        s.lamps = last_ = shares_.take();
        return s;
    }
    /// Current of all lamps, by their share of time.
    [[nodiscard]] Words words() const override {
        double ma = 0, lit = 0;
        for (size_t i = 0; i < last_.size(); ++i) {
            ma += last_[i] * part().terminals[i].current_ma;
            lit += last_[i] > 0.02;
        }
        Words out{{"lit", said("{} of {}", static_cast<int>(lit), last_.size())}};
        if (ma > 0) out.emplace_back("current", fixed(ma, 1) + " mA");
        return out;
    }

private:
    Shares shares_;
    std::vector<double> last_;
};

class Digits : public SimulatedPart {
public:
    explicit Digits(const Home& home)
        : SimulatedPart(home), digits_(row("dig")), segments_(row("seg")), lit_(std::max<size_t>(1, digits_.size())) {
        segments_.resize(std::min<size_t>(8, segments_.size()));
    }
    [[nodiscard]] bool works() const { return !segments_.empty(); }
    void changed(size_t, Level) override { add_up(); }
    [[nodiscard]] Sight look() override {
        add_up();
        Sight s;
        const auto passed = static_cast<double>(std::max<Time>(1, now() - last_look_));
        for (auto& digit : lit_) {
            s.digits.emplace_back();
            for (size_t k = 0; k < 8; ++k)
                s.digits.back()[k] = static_cast<double>(std::exchange(digit[k], 0)) / passed;
        }
        last_look_ = now();
        shown_ = s.digits;
        return s;
    }
    /// What a reader makes of it; a dot for a shape that is not a figure.
    [[nodiscard]] Words words() const override {
        static const unsigned shapes[16] = {0x3F, 0x06, 0x5B, 0x4F, 0x66, 0x6D, 0x7D, 0x07,
                                            0x7F, 0x6F, 0x77, 0x7C, 0x39, 0x5E, 0x79, 0x71};
        std::string text;
        for (auto d = shown_.rbegin(); d != shown_.rend(); ++d) {
            unsigned shape = 0;
            const double most = *std::max_element(d->begin(), d->end());
            for (unsigned k = 0; k < 7; ++k)
                if (most > 0.02 && (*d)[k] > most / 2) shape |= 1u << k;
            const auto at = std::find(std::begin(shapes), std::end(shapes), shape);
            text += shape == 0 ? ' ' : at == std::end(shapes) ? '.' : "0123456789AbCdEF"[at - shapes];
        }
        return {{"reads", text}};
    }

private:
    /// What has been lit since the last change goes to the account of those that were.
    void add_up() {
        const auto passed = now() - since_;
        since_ = now();
        if (passed > 0)
            for (size_t d = 0; d < lit_.size(); ++d) {
                if (!chosen_.empty() && !chosen_[d]) continue;
                for (size_t k = 0; k < segments_.size(); ++k)
                    if (on_[k]) lit_[d][k] += passed;
            }
        chosen_.clear();
        for (const auto d : digits_) chosen_.push_back(active(d, level(d)));
        for (size_t k = 0; k < segments_.size(); ++k) on_[k] = active(segments_[k], level(segments_[k]));
    }

    std::vector<size_t> digits_, segments_;
    std::vector<std::array<Time, 8>> lit_;
    std::vector<std::array<double, 8>> shown_;
    std::vector<bool> chosen_;
    std::array<bool, 8> on_{};
    Time since_ = 0, last_look_ = 0;
};

/// The rate of the last whole period, and silence when a tenth of a second goes by without an edge.
class Sounder : public SimulatedPart {
public:
    explicit Sounder(const Home& home) : SimulatedPart(home) {}
    void changed(size_t, Level level) override {
        if (level != Level::high) return;
        period_ = last_ < 0 ? 0 : now() - last_;
        last_ = now();
    }
    [[nodiscard]] double hz() const {
        if (period_ <= 0 || now() - last_ > std::max(second / 10, 4 * period_)) return 0;
        return static_cast<double>(second) / static_cast<double>(period_);
    }
    [[nodiscard]] Words words() const override { return {{"tone", hz() > 0 ? fixed(hz(), 1) + " Hz" : "silent"}}; }

private:
    Time last_ = -1, period_ = 0;
};

}  // namespace

Made make_lamps(const SimulatedPart::Home& home) {
    return std::make_unique<Lamps>(home);
}
Made make_digits(const SimulatedPart::Home& home) {
    auto made = std::make_unique<Digits>(home);
    return made->works() ? Made(std::move(made)) : nullptr;
}
Made make_sounder(const SimulatedPart::Home& home) {
    return std::make_unique<Sounder>(home);
}

}  // namespace kp::board_sim
