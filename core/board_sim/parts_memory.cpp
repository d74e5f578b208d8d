// SPDX-License-Identifier: GPL-3.0-or-later
// A double-rate memory that stores: rows are opened, bursts of eight are written and read at both edges of the strobe
// (commands and bursts as in JESD79-3, from memory). It watches the order of commands and the least times between them.
#include "core/base/text.hpp"
#include "core/board_sim/part_makers.hpp"
#include "core/board_sim/board_model.hpp"

#include <algorithm>
#include <deque>
#include <map>
#include <optional>
#include <unordered_map>

namespace kp::board_sim {

namespace {

/// The least times of DDR3-800E with 1 Gb (JESD79-3, tables of speed bins, from memory): every faster bin keeps them.
constexpr Time row_to_column = 15 * nanosecond, precharge_to_row = 15 * nanosecond,
               row_stays_open = 37 * nanosecond + nanosecond / 2, refresh_lasts = 110 * nanosecond;
/// Eight of the average intervals of 7.8 us may be put off, so nine pass at most.
constexpr Time refresh_comes = 9 * 7'800 * nanosecond;

/// Times of commands, and how often they came too early or too late.
class Gaps {
public:
    void row(unsigned bank, Time now) {
        after_refresh(now);
        early(closed_, bank, now, precharge_to_row, "row opened too soon after closing");
        opened_[bank] = now;
    }
    void column(unsigned bank, Time now) {
        after_refresh(now);
        early(opened_, bank, now, row_to_column, "column asked too soon after its row");
    }
    /// The columns of a burst that closes its row by itself end later; the part waits with the closing.
    void close(unsigned bank, Time now) {
        after_refresh(now);
        if (opened_.count(bank)) early(opened_, bank, now, row_stays_open, "row closed too soon");
        closed_[bank] = now;
    }
    void refresh(Time now) {
        after_refresh(now);
        if (refreshed_ && now - *refreshed_ > refresh_comes) ++wrong_["refreshed too late"];
        refreshed_ = now;
    }
    [[nodiscard]] const std::map<std::string, int>& wrong() const { return wrong_; }

private:
    void after_refresh(Time now) {
        if (refreshed_ && now - *refreshed_ < refresh_lasts) ++wrong_["command during a refresh"];
    }
    void early(const std::unordered_map<unsigned, Time>& since, unsigned bank, Time now, Time least, const char* what) {
        const auto at = since.find(bank);
        if (at != since.end() && now - at->second < least) ++wrong_[what];
    }
    std::unordered_map<unsigned, Time> opened_, closed_;  ///< by bank
    std::optional<Time> refreshed_;
    std::map<std::string, int> wrong_;
};

class Memory : public SimulatedPart {
public:
    explicit Memory(const Home& home)
        : SimulatedPart(home),
          clock_(find({"ck_p"})),
          select_(find({"cs_n"})),
          enable_(find({"cke"})),
          ras_(find({"ras_n"})),
          cas_(find({"cas_n"})),
          we_(find({"we_n"})),
          reset_(find({"rst_n"})),
          address_(row("a")),
          bank_(row("ba")),
          data_(row("dq")),
          mask_(row("dm")),
          strobe_(row("dqs_p")),
          strobe_n_(row("dqs_n")) {}
    [[nodiscard]] bool works() const {
        return clock_ != none && ras_ != none && cas_ != none && we_ != none && !address_.empty() && !data_.empty() &&
               data_.size() <= 64 && !strobe_.empty();
    }
    void changed(size_t terminal, Level now) override {
        if (terminal == clock_ && (now == Level::high || now == Level::low)) clock_edge(now == Level::high);
        if (!strobe_.empty() && terminal == strobe_[0] && !giving_) strobe_edge(now);
    }
    [[nodiscard]] Words words() const override {
        Words out{{"written", counted(written_, "word")},
                  {"read", counted(read_, "word")},
                  {"holds", counted(words_.size(), "word")},
                  {"refreshed", std::to_string(refreshed_)}};
        if (wrong_) out.emplace_back("bank was not open", counted(wrong_, "time"));
        for (const auto& [what, times] : gaps_.wrong()) out.emplace_back(what, counted(times, "time"));
        return out;
    }
    [[nodiscard]] std::vector<Control> controls() const override {
        return {{Control::hold, "forget everything", "0", {}}};
    }
    Status set(const std::string& control, const std::string& value) override {
        if (control != "forget everything" || (value != "0" && value != "1")) return no_such(control, value);
        if (value == "1") words_.clear();
        return Done{};
    }

private:
    static constexpr int burst = 8;
    struct Burst {
        std::uint64_t base = 0;  ///< bank and row
        unsigned column = 0;
        std::uint64_t begins = 0;  ///< half clocks
    };
    [[nodiscard]] unsigned number(const std::vector<size_t>& lines) const {
        unsigned v = 0;
        for (size_t k = 0; k < lines.size() && k < 32; ++k) v |= static_cast<unsigned>(high(lines[k])) << k;
        return v;
    }
    static std::uint64_t place(const Burst& b, unsigned k) {
        // Bursts of eight turn round inside of eight columns.
        return b.base << 16 | ((b.column & ~7u) | ((b.column + k) & 7u));
    }

    void clock_edge(bool rise) {
        ++halves_;
        if (rise) command();
        // What is to be read stands on the wires a number of clocks later.
        if (!reads_.empty() && halves_ >= reads_.front().begins) {
            const auto k = static_cast<unsigned>(halves_ - reads_.front().begins);
            give_word(reads_.front(), k, rise);
            if (k + 1 == burst) {
                reads_.pop_front();
                ends_ = true;
            }
            return;
        }
        if (std::exchange(ends_, false)) let_go();
    }
    void command() {
        if ((select_ != none && level(select_) != Level::low) || (enable_ != none && level(enable_) != Level::high))
            return;
        const bool r = level(ras_) == Level::low, c = level(cas_) == Level::low, w = level(we_) == Level::low;
        const auto bank = number(bank_);
        const auto address = number(address_);
        if (r && c && w) {
            if (bank == 0) latency_ = 4 + static_cast<int>((address >> 4) & 7u);
            if (bank == 2) write_latency_ = 5 + static_cast<int>((address >> 3) & 7u);
        } else if (r && c) {
            ++refreshed_;
            gaps_.refresh(now());
        } else if (r && w) {
            close((address >> 10) & 1 ? std::nullopt : std::optional(bank));
        } else if (r) {
            open_[bank] = address;
            gaps_.row(bank, now());
        } else if (c) {
            gaps_.column(bank, now());
            const auto row = open_.find(bank);
            if (row == open_.end()) {
                ++wrong_;
                return;
            }
            const Burst b{static_cast<std::uint64_t>(bank) << 32 | row->second, address & 0x3FF, halves_};
            auto& list = w ? writes_ : reads_;
            list.push_back(b);
            list.back().begins += 2 * static_cast<std::uint64_t>(std::max(1, w ? write_latency_ : latency_));
            if ((address >> 10) & 1) open_.erase(bank);
        }
    }
    /// One bank, or all that are open.
    void close(std::optional<unsigned> bank) {
        for (const auto& [b, row] : open_)
            if (!bank || b == *bank) gaps_.close(b, now());
        if (bank)
            open_.erase(*bank);
        else
            open_.clear();
    }
    /// The strobe stands in the middle of what is written.
    void strobe_edge(Level now) {
        if (now != Level::high && now != Level::low) return;
        // The first rise half a clock around the time agreed begins the burst.
        if (writes_.empty() || halves_ + 2 < writes_.front().begins) return;
        if (taken_ == 0 && now != Level::high) return;
        const auto at = place(writes_.front(), taken_);
        auto& word = words_[at];
        const size_t lane = std::max<size_t>(1, data_.size() / std::max<size_t>(1, mask_.size()));
        for (size_t k = 0; k < data_.size(); ++k) {
            if (!mask_.empty() && high(mask_[std::min(k / lane, mask_.size() - 1)])) continue;
            word = (word & ~(std::uint64_t{1} << k)) | static_cast<std::uint64_t>(high(data_[k])) << k;
        }
        ++written_;
        if (++taken_ < burst) return;
        taken_ = 0;
        writes_.pop_front();
    }
    void give_word(const Burst& b, unsigned k, bool rise) {
        giving_ = true;
        const auto at = words_.find(place(b, k));
        const auto word = at == words_.end() ? 0 : at->second;
        for (size_t i = 0; i < data_.size(); ++i) give(data_[i], (word >> i) & 1);
        for (size_t i = 0; i < strobe_.size(); ++i) {
            give(strobe_[i], rise);
            if (i < strobe_n_.size()) give(strobe_n_[i], !rise);
        }
        ++read_;
    }
    void let_go() {
        for (const auto* lines : {&data_, &strobe_, &strobe_n_})
            for (const auto t : *lines) give(t, Drive::off);
        giving_ = false;
    }

    size_t clock_, select_, enable_, ras_, cas_, we_, reset_;
    std::vector<size_t> address_, bank_, data_, mask_, strobe_, strobe_n_;
    std::unordered_map<std::uint64_t, std::uint64_t> words_;
    std::unordered_map<unsigned, unsigned> open_;  ///< row by bank
    std::deque<Burst> reads_, writes_;
    Gaps gaps_;
    int latency_ = 6, write_latency_ = 5;
    unsigned taken_ = 0;
    bool giving_ = false, ends_ = false;
    std::uint64_t halves_ = 0, written_ = 0, read_ = 0, refreshed_ = 0, wrong_ = 0;
};

}  // namespace

Made make_memory(const SimulatedPart::Home& home) {
    auto made = std::make_unique<Memory>(home);
    return made->works() ? Made(std::move(made)) : nullptr;
}

}  // namespace kp::board_sim
