// SPDX-License-Identifier: GPL-3.0-or-later
// Serial lines: a terminal with a person at it, and a receiver of satellite time.
#include "core/base/text.hpp"
#include "core/board_sim/part_makers.hpp"
#include "core/board_sim/board_model.hpp"

#include <algorithm>
#include <charconv>
#include <cstdio>
#include <deque>

namespace kp::board_sim {

namespace {

constexpr const char* measured = "measured";

/// Sends bytes one after another: start bit, eight data bits, lowest first, stop bit. The owner wakes it when asked.
class Sender {
public:
    void put(const std::string& bytes) { waiting_.insert(waiting_.end(), bytes.begin(), bytes.end()); }
    [[nodiscard]] bool idle() const { return at_ < 0 && waiting_.empty(); }
    /// The next level of the line; none when everything is sent.
    std::optional<bool> next() {
        if (at_ < 0) {
            if (waiting_.empty()) return {};
            byte_ = static_cast<unsigned char>(waiting_.front());
            waiting_.pop_front();
            at_ = 0;
        }
        const bool level = at_ == 0 ? false : at_ == 9 ? true : (byte_ >> (at_ - 1)) & 1;
        if (++at_ == 10) at_ = -1;
        return level;
    }

private:
    std::deque<char> waiting_;
    int at_ = -1;
    unsigned byte_ = 0;
};

/// What came in on a line, read at a rate that is told or measured.
class Listener {
public:
    void take(Time when, Level level) {
        line_.push_back({when, level});
        // What is read stays as text; the edges of it are not needed any more.
        if (line_.size() > 4000) {
            read(when, true);
            const auto last = line_.back();
            line_.assign(1, last);
        }
    }
    [[nodiscard]] Time bit(Time told) const { return told > 0 ? told : std::max(bit_, Time{0}); }
    void measure_bit() {
        if (const auto b = bit_length(line_); b > 0 && (bit_ == 0 || b < bit_)) bit_ = b;
    }
    void read(Time now, bool keep, Time told = 0) {
        measure_bit();
        fresh_.clear();
        faults_now_ = 0;
        for (const auto& w : read_serial(line_, bit(told), now)) {
            fresh_ += static_cast<char>(w.value);
            faults_now_ += !w.good;
        }
        if (!keep) return;
        text_ += fresh_;
        faults_ += faults_now_;
        fresh_.clear();
        faults_now_ = 0;
        if (text_.size() > 20'000) text_.erase(0, text_.size() - 10'000);
    }
    [[nodiscard]] std::string text() const { return text_ + fresh_; }
    [[nodiscard]] size_t faults() const { return faults_ + faults_now_; }
    void clear() {
        text_.clear();
        fresh_.clear();
        faults_ = 0;
        if (!line_.empty()) line_.assign(1, line_.back());
    }

private:
    std::vector<Edge> line_;
    std::string text_, fresh_;
    size_t faults_ = 0, faults_now_ = 0;
    Time bit_ = 0;
};

/// Bytes as a person reads them: what is not a letter in hexadecimal.
std::string readable(const std::string& bytes) {
    std::string out;
    for (const char c : bytes) {
        const auto v = static_cast<unsigned char>(c);
        if (c == '\n' || (v >= 32 && v < 127)) {
            out += c;
        } else if (c != '\r') {
            char text[8];
            std::snprintf(text, sizeof text, "<%02X>", v);
            out += text;
        }
    }
    return out;
}

Time bit_of(int rate) {
    return second / rate;
}

class Serial : public SimulatedPart {
public:
    explicit Serial(const Home& home) : SimulatedPart(home), out_(find({"tx", "host"})), in_(find({"rx"})) {
        for (size_t i = 0; i < part().terminals.size(); ++i) {
            if (part().terminals[i].direction == TerminalDirection::drives) out_ = i;
            if (part().terminals[i].direction == TerminalDirection::reads) in_ = i;
        }
    }
    [[nodiscard]] bool works() const { return out_ != none && in_ != none; }
    void start() override {
        give(out_, true);
        heard_.take(now(), level(in_));
    }
    void changed(size_t terminal, Level level) override {
        if (terminal == in_) heard_.take(now(), level);
    }
    void wake(std::uint32_t) override {
        const auto next = sender_.next();
        sending_ = next.has_value();
        give(out_, next.value_or(true));
        if (next) wake_in(send_bit(), 0);
    }
    [[nodiscard]] std::vector<Control> controls() const override {
        return {{Control::type, "send", "", {}},
                {Control::choose,
                 "rate",
                 rate_ ? std::to_string(rate_) : measured,
                 {measured, "9600", "19200", "38400", "57600", "115200", "230400", "460800", "921600"}}};
    }
    Status set(const std::string& control, const std::string& value) override {
        if (control == "send") {
            sender_.put(value);
            if (!sending_ && !sender_.idle()) {
                sending_ = true;
                heard_.measure_bit();
                wake_in(0, 0);
            }
            return Done{};
        }
        int rate = 0;
        const auto [end, error] = std::from_chars(value.data(), value.data() + value.size(), rate);
        const bool number =
            error == std::errc() && end == value.data() + value.size() && rate >= 50 && rate <= 50'000'000;
        if (control != "rate" || (!number && value != measured)) return no_such(control, value);
        rate_ = number ? rate : 0;
        heard_.clear();
        return Done{};
    }
    [[nodiscard]] Sight look() override {
        heard_.read(now(), false, told());
        Sight s;
        s.text = readable(heard_.text());
        return s;
    }
    [[nodiscard]] Words words() const override {
        const auto bit = heard_.bit(told());
        Words out{{"came in", counted(heard_.text().size(), "byte")}};
        if (bit > 0)
            out.emplace_back(rate_ ? "rate" : "rate, measured",
                             fixed(static_cast<double>(second) / static_cast<double>(bit), 0) + " /s");
        if (heard_.faults()) out.emplace_back("without stop bit", std::to_string(heard_.faults()));
        return out;
    }

private:
    [[nodiscard]] Time told() const { return rate_ ? bit_of(rate_) : 0; }
    [[nodiscard]] Time send_bit() const {
        const auto bit = heard_.bit(told());
        return bit > 0 ? bit : bit_of(115200);
    }
    size_t out_, in_;
    int rate_ = 0;  ///< 0: measured
    bool sending_ = false;
    Sender sender_;
    Listener heard_;
};

/// A pulse at each full second, and after it the time as a ZDA sentence (NMEA 0183, from memory). Seconds of the
/// receiver can be shortened, since board time runs far slower than life.
class Satellite : public SimulatedPart {
public:
    explicit Satellite(const Home& home) : SimulatedPart(home), pulse_(find({"pps"})), out_(find({"tx"})) {}
    [[nodiscard]] bool works() const { return pulse_ != none; }
    void start() override {
        give(pulse_, false);
        if (out_ != none) give(out_, true);
        wake_in(length_ / 2, new_second + (epoch_ << 2));
    }
    void wake(std::uint32_t what) override {
        if ((what & 3) == send_bit) {
            const auto next = sender_.next();
            sending_ = next.has_value();
            give(out_, next.value_or(true));
            if (next) wake_in(bit_of(9600), send_bit);
            return;
        }
        if (what >> 2 != epoch_) return;  // the length was changed meanwhile
        if ((what & 3) == pulse_end) return give(pulse_, false);
        give(pulse_, true);
        ++seconds_;
        wake_in(length_ / 10, pulse_end + (epoch_ << 2));
        wake_in(length_, new_second + (epoch_ << 2));
        if (out_ == none) return;
        sender_.put(sentence());
        if (!sending_) wake_in(0, send_bit);
        sending_ = true;
    }
    [[nodiscard]] std::vector<Control> controls() const override {
        return {{Control::choose, "a second takes", name(), {"1 s", "100 ms", "10 ms", "1 ms"}}};
    }
    Status set(const std::string& control, const std::string& value) override {
        const Time lengths[] = {second, 100 * millisecond, 10 * millisecond, millisecond};
        const auto all = controls()[0].choices;
        const auto at = std::find(all.begin(), all.end(), value);
        if (control != "a second takes" || at == all.end()) return no_such(control, value);
        length_ = lengths[at - all.begin()];
        ++epoch_;
        give(pulse_, false);
        wake_in(length_ / 2, new_second + (epoch_ << 2));
        return Done{};
    }
    [[nodiscard]] Words words() const override {
        return {{"pulses", std::to_string(seconds_)}, {"a second takes", name()}, {"says", sentence().substr(0, 17)}};
    }

private:
    enum : std::uint32_t { send_bit, new_second, pulse_end };
    [[nodiscard]] std::string name() const {
        return length_ == second              ? "1 s"
               : length_ == 100 * millisecond ? "100 ms"
               : length_ == 10 * millisecond  ? "10 ms"
                                              : "1 ms";
    }
    [[nodiscard]] std::string sentence() const {
        char body[64];
        std::snprintf(body, sizeof body, "GPZDA,%02u%02u%02u.00,01,01,2026,00,00", seconds_ / 3600 % 24,
                      seconds_ / 60 % 60, seconds_ % 60);
        unsigned sum = 0;
        for (const char* c = body; *c; ++c) sum ^= static_cast<unsigned char>(*c);
        char text[80];
        std::snprintf(text, sizeof text, "$%s*%02X\r\n", body, sum);
        return text;
    }
    size_t pulse_, out_;
    Time length_ = second;
    unsigned seconds_ = 0;
    std::uint32_t epoch_ = 0;
    bool sending_ = false;
    Sender sender_;
};

}  // namespace

Made make_serial(const SimulatedPart::Home& home) {
    auto made = std::make_unique<Serial>(home);
    return made->works() ? Made(std::move(made)) : nullptr;
}
Made make_satellite(const SimulatedPart::Home& home) {
    auto made = std::make_unique<Satellite>(home);
    return made->works() ? Made(std::move(made)) : nullptr;
}

}  // namespace kp::board_sim
