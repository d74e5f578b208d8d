// SPDX-License-Identifier: GPL-3.0-or-later
// Statements one after the other; the way between two states is the shortest one of the state diagram. Linear in the
// bits that are shifted.
#include "core/jtag/svf.hpp"

#include "core/base/bytes.hpp"
#include "core/base/text.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <array>
#include <cctype>
#include <cmath>
#include <cstdio>
#include <map>
#include <queue>

namespace kp {

namespace {

constexpr size_t most_bits = size_t{1} << 26;
constexpr std::uint32_t other_device = 0x2B33A0FF;

const std::map<std::string, TapState, std::less<>> state_names{
    {"RESET", TapState::test_logic_reset}, {"IDLE", TapState::run_test_idle},   {"DRSELECT", TapState::select_dr},
    {"DRCAPTURE", TapState::capture_dr},   {"DRSHIFT", TapState::shift_dr},     {"DREXIT1", TapState::exit1_dr},
    {"DRPAUSE", TapState::pause_dr},       {"DREXIT2", TapState::exit2_dr},     {"DRUPDATE", TapState::update_dr},
    {"IRSELECT", TapState::select_ir},     {"IRCAPTURE", TapState::capture_ir}, {"IRSHIFT", TapState::shift_ir},
    {"IREXIT1", TapState::exit1_ir},       {"IRPAUSE", TapState::pause_ir},     {"IREXIT2", TapState::exit2_ir},
    {"IRUPDATE", TapState::update_ir}};

std::string name_of(TapState s) {
    for (const auto& [name, state] : state_names)
        if (state == s) return name;
    return {};
}

bool is_stable(TapState s) {
    return s == TapState::test_logic_reset || s == TapState::run_test_idle || s == TapState::pause_dr ||
           s == TapState::pause_ir;
}

/// TMS on the shortest way; a way from a state to itself goes round only where `round` asks for it.
std::vector<bool> way(TapState from, TapState to, bool round = false) {
    if (from == to && !round) return {};
    std::map<TapState, std::pair<TapState, bool>> came;
    std::queue<TapState> next;
    next.push(from);
    while (!next.empty()) {
        const auto s = next.front();
        next.pop();
        for (const bool tms : {false, true}) {
            const auto t = next_state(s, tms);
            if (t == s || came.count(t)) continue;
            came[t] = {s, tms};
            if (t == to) {
                std::vector<bool> out;
                for (auto at = to;;) {
                    const auto [before, bit] = came[at];
                    out.push_back(bit);
                    at = before;
                    if (at == from) break;
                }
                std::reverse(out.begin(), out.end());
                return out;
            }
            next.push(t);
        }
    }
    return {};
}

using BitList = std::vector<bool>;  ///< first shifted first

std::string to_hex(const BitList& bits) {
    static const char* digits = "0123456789ABCDEF";
    std::string out;
    for (size_t k = 0; k < bits.size(); k += 4) {
        unsigned v = 0;
        for (size_t i = 0; i < 4 && k + i < bits.size(); ++i) v |= unsigned{bits[k + i]} << i;
        out += digits[v];
    }
    std::reverse(out.begin(), out.end());
    return out;
}

struct Word {
    std::string text;
    bool bracket = false;  ///< hexadecimal digits that stood in brackets
    int line = 0;
};

class Player {
public:
    Player(std::string_view text, const std::string& file, ScanChain& chain, std::uint64_t most)
        : text_(text), file_(file), chain_(chain), left_(most) {}

    Result<std::vector<SvfStep>> run() {
        std::vector<Word> words;
        while (statement(words)) {
            if (words.empty()) continue;
            step_ = {};
            step_.line = words[0].line;
            step_.command = words[0].text;
            const auto& fault = chain_.fault();
            if (fault.kind == CableFault::power && steps_.size() + 1 == fault.at) {
                chain_.chip().power_off();
                power_lost_ = true;
            }
            command(words);
            if (error_) return *error_;
            step_.state = name_of(state_);
            steps_.push_back(step_);
        }
        if (error_) return *error_;
        return std::move(steps_);
    }

private:
    struct Shift {
        size_t length = 0;
        BitList tdi, mask, smask;
        std::optional<BitList> tdo;
    };

    bool fail(int line, const std::string& why) {
        if (!error_) error_ = Message{Severity::stop, Code::svf, why, file_, line};
        return false;
    }

    /// The words up to the next semicolon; false at the end.
    bool statement(std::vector<Word>& out) {
        out.clear();
        std::string word;
        const auto flush = [&] {
            if (!word.empty()) out.push_back({upper(word), false, line_});
            word.clear();
        };
        for (; at_ < text_.size(); ++at_) {
            const char c = text_[at_];
            if (c == '!' || (c == '/' && text_.substr(at_, 2) == "//")) {
                flush();
                while (at_ < text_.size() && text_[at_] != '\n') ++at_;
                if (at_ >= text_.size()) break;
                ++line_;
            } else if (c == '\n') {
                flush();
                ++line_;
            } else if (std::isspace(static_cast<unsigned char>(c))) {
                flush();
            } else if (c == '(') {
                flush();
                if (!brackets(out)) return false;
            } else if (c == ';') {
                flush();
                ++at_;
                return true;
            } else {
                word += c;
                if (word.size() > 200) return fail(line_, "This word is too long to be SVF.");
            }
        }
        flush();
        if (!out.empty()) return fail(out[0].line, "The last command has no ';'.");
        return false;
    }

    static std::string upper(std::string s) {
        for (auto& c : s) c = static_cast<char>(std::toupper(static_cast<unsigned char>(c)));
        return s;
    }

    bool brackets(std::vector<Word>& out) {
        Word w{"", true, line_};
        for (++at_; at_ < text_.size() && text_[at_] != ')'; ++at_) {
            const char c = text_[at_];
            if (c == '\n') ++line_;
            if (std::isspace(static_cast<unsigned char>(c))) continue;
            if (!std::isxdigit(static_cast<unsigned char>(c)))
                return fail(line_, said("'{}' is not a hexadecimal digit.", c));
            w.text += c;
            if (w.text.size() > most_bits / 4) return fail(line_, "These data are too long.");
        }
        if (at_ >= text_.size()) return fail(w.line, "A bracket has no end.");
        out.push_back(std::move(w));
        return true;
    }

    void command(const std::vector<Word>& w) {
        const auto& c = w[0].text;
        if (c == "SDR" || c == "SIR") {
            auto& shift = c == "SDR" ? data_ : instruction_;
            if (parse(w, shift)) scan(c == "SDR", shift);
        } else if (c == "HDR" || c == "TDR" || c == "HIR" || c == "TIR") {
            parse(w, c == "HDR"   ? head_data_
                     : c == "TDR" ? tail_data_
                     : c == "HIR" ? head_instruction_
                                  : tail_instruction_);
        } else if (c == "ENDDR" || c == "ENDIR") {
            const auto s = w.size() == 2 ? state_names.find(w[1].text) : state_names.end();
            if (s == state_names.end() || !is_stable(s->second)) {
                fail(w[0].line, c + " wants IDLE, RESET, DRPAUSE or IRPAUSE.");
                return;
            }
            (c == "ENDDR" ? end_data_ : end_instruction_) = s->second;
        } else if (c == "STATE") {
            go_through(w);
        } else if (c == "RUNTEST") {
            run_test(w);
        } else if (c == "FREQUENCY") {
            if (w.size() > 1 && (w.size() != 3 || !to_number(w[1].text) || w[2].text != "HZ"))
                fail(w[0].line, "FREQUENCY wants a number and HZ.");
        } else if (c == "TRST") {
            reset(w);
        } else if (c == "PIO" || c == "PIOMAP") {
            fail(w[0].line, c + " moves pins beside the test port, which this cable has not.");
        } else {
            fail(w[0].line, said("'{}' is not a command of SVF.", c));
        }
    }

    void reset(const std::vector<Word>& w) {
        static const std::array<const char*, 4> words{"ON", "OFF", "Z", "ABSENT"};
        if (w.size() != 2 || std::none_of(words.begin(), words.end(), [&](const char* x) { return w[1].text == x; })) {
            fail(w[0].line, "TRST wants ON, OFF, Z or ABSENT.");
            return;
        }
        if (w[1].text == "ON") clock_all(way(state_, TapState::test_logic_reset));
    }

    BitList bits_of(const Word& w, size_t length) {
        BitList out(length, false);
        for (size_t k = 0; k < w.text.size(); ++k) {
            const char c = static_cast<char>(std::toupper(static_cast<unsigned char>(w.text[w.text.size() - 1 - k])));
            const auto v = static_cast<unsigned>(c <= '9' ? c - '0' : c - 'A' + 10);
            for (size_t i = 0; i < 4; ++i) {
                if (!((v >> i) & 1)) continue;
                if (4 * k + i >= length) {
                    fail(w.line, said("These data have more bits than the length {} says.", length));
                    return out;
                }
                out[4 * k + i] = true;
            }
        }
        return out;
    }

    /// LENGTH [TDI (…)] [TDO (…)] [MASK (…)] [SMASK (…)]; what is not said stays while the length does.
    bool parse(const std::vector<Word>& w, Shift& s) {
        const auto length = w.size() > 1 ? to_integer(w[1].text) : std::nullopt;
        if (!length || *length < 0 || *length > static_cast<long long>(most_bits))
            return fail(w[0].line, w[0].text + " wants a length in bits.");
        const auto n = static_cast<size_t>(*length);
        if (n > left_) return fail(w[0].line, "The file shifts more bits than it is worth waiting for.");
        left_ -= n;
        const bool other = n != s.length;
        if (other) {
            s.tdi.clear();
            s.mask.assign(n, true);
            s.smask.assign(n, true);
        }
        s.length = n;
        s.tdo.reset();
        bool given = false;
        for (size_t k = 2; k < w.size(); k += 2) {
            if (k + 1 >= w.size() || w[k].bracket || !w[k + 1].bracket)
                return fail(w[0].line, w[0].text + " wants TDI, TDO, MASK or SMASK with data in brackets.");
            auto bits = bits_of(w[k + 1], n);
            if (error_) return false;
            if (w[k].text == "TDI") {
                s.tdi = std::move(bits);
                given = true;
            } else if (w[k].text == "TDO") {
                s.tdo = std::move(bits);
            } else if (w[k].text == "MASK") {
                s.mask = std::move(bits);
            } else if (w[k].text == "SMASK") {
                s.smask = std::move(bits);
            } else {
                return fail(w[k].line, said("'{}' is not part of {}.", w[k].text, w[0].text));
            }
        }
        if (n > 0 && !given && s.tdi.size() != n) return fail(w[0].line, w[0].text + " of a new length needs TDI.");
        return true;
    }

    bool clock(bool tms, bool tdi) {
        const bool tdo = chain_.clock(tms, tdi);
        state_ = next_state(state_, tms);
        return tdo;
    }
    void clock_all(const std::vector<bool>& tms) {
        for (const bool bit : tms) clock(bit, false);
    }

    void scan(bool data, const Shift& s) {
        const auto& head = data ? head_data_ : head_instruction_;
        const auto& tail = data ? tail_data_ : tail_instruction_;
        const auto target = data ? TapState::shift_dr : TapState::shift_ir;
        const size_t total = head.length + s.length + tail.length;
        if (total == 0) return;
        if (total > left_) {
            fail(step_.line, "The file shifts more bits than it is worth waiting for.");
            return;
        }
        left_ -= total;
        // A paused register is let go first: every scan captures anew.
        if (state_ == TapState::pause_dr || state_ == TapState::pause_ir) clock_all({true, true});
        clock_all(way(state_, target));
        BitList back;
        bool good = true;
        size_t k = 0;
        for (const auto* part : {&head, &s, &tail})
            for (size_t i = 0; i < part->length; ++i, ++k) {
                const bool tdo = clock(k + 1 == total, i < part->tdi.size() && part->tdi[i]);
                if (part == &s) back.push_back(tdo);
                if (part->tdo && part->mask[i] && (*part->tdo)[i] != tdo) good = false;
            }
        clock_all(way(state_, data ? end_data_ : end_instruction_));
        step_.tdo = to_hex(back);
        step_.ok = good;
        if (!good) step_.why = explain(back);
    }

    /// What a person would look for.
    std::string explain(const BitList& back) const {
        if (power_lost_) return "The chip lost its power on the way; load it from the beginning.";
        if (std::all_of(back.begin(), back.end(), [](bool b) { return b; }))
            return "Only ones come back: is the cable plugged in and the board on?";
        if (std::none_of(back.begin(), back.end(), [](bool b) { return b; }))
            return "Only zeros come back: is TDO held low, or another device in the chain?";
        return "Other bits come back than expected: another part, another device in the chain, or bits lost on the "
               "way.";
    }

    void go_through(const std::vector<Word>& w) {
        if (w.size() < 2) {
            fail(w[0].line, "STATE wants a state.");
            return;
        }
        for (size_t k = 1; k < w.size(); ++k) {
            const auto s = state_names.find(w[k].text);
            if (s == state_names.end() || (k + 1 == w.size() && !is_stable(s->second))) {
                fail(w[k].line, said("'{}' is {}", w[k].text,
                                     (s == state_names.end()
                                          ? "no state of the port."
                                          : "no state to stay in; STATE ends at RESET, IDLE, DRPAUSE or IRPAUSE.")));
                return;
            }
            if (w.size() > 2) {  // a path: each state follows the one before
                const bool low = next_state(state_, false) == s->second, high = next_state(state_, true) == s->second;
                if (!low && !high) {
                    fail(w[k].line, said("No way leads from {} to {} in one step.", name_of(state_), w[k].text));
                    return;
                }
                clock(!low, false);
                continue;
            }
            // RESET is reached from anywhere, known or not, by five ones.
            if (s->second == TapState::test_logic_reset)
                clock_all({true, true, true, true, true});
            else
                clock_all(way(state_, s->second, s->second != TapState::run_test_idle));
        }
    }

    void run_test(const std::vector<Word>& w) {
        size_t k = 1;
        long long count = 0;
        const auto state = [&](size_t at) { return at < w.size() ? state_names.find(w[at].text) : state_names.end(); };
        if (const auto s = state(k); s != state_names.end()) {
            if (!is_stable(s->second)) {
                fail(w[k].line, "RUNTEST runs in RESET, IDLE, DRPAUSE or IRPAUSE.");
                return;
            }
            run_state_ = end_run_ = s->second;
            ++k;
        }
        while (k < w.size()) {
            if (w[k].text == "ENDSTATE") {
                const auto s = state(k + 1);
                if (s == state_names.end() || !is_stable(s->second)) {
                    fail(w[k].line, "ENDSTATE wants RESET, IDLE, DRPAUSE or IRPAUSE.");
                    return;
                }
                end_run_ = s->second;
                k += 2;
                continue;
            }
            if (w[k].text == "MAXIMUM") {
                ++k;
                continue;
            }
            const auto n = to_number(w[k].text);
            const auto unit = k + 1 < w.size() ? w[k + 1].text : std::string();
            if (!n || *n < 0 || (unit != "TCK" && unit != "SCK" && unit != "SEC")) {
                fail(w[k].line, "RUNTEST wants a number and TCK, SCK or SEC.");
                return;
            }
            if (unit == "TCK") count = static_cast<long long>(std::min(*n, 1e9));
            k += 2;
        }
        if (w.size() == 1) {
            fail(w[0].line, "RUNTEST wants a number and TCK, SCK or SEC.");
            return;
        }
        clock_all(way(state_, run_state_));
        const bool hold = run_state_ == TapState::test_logic_reset;
        count = std::min(count, 1'000'000LL);
        if (static_cast<std::uint64_t>(count) > left_) {
            fail(w[0].line, "The file runs for more cycles than it is worth waiting for.");
            return;
        }
        left_ -= static_cast<std::uint64_t>(count);
        for (long long i = 0; i < count; ++i) clock(hold, false);
        clock_all(way(state_, end_run_));
    }

    std::string_view text_;
    const std::string& file_;
    ScanChain& chain_;
    size_t at_ = 0;
    int line_ = 1;
    TapState state_ = TapState::test_logic_reset, end_data_ = TapState::run_test_idle,
             end_instruction_ = TapState::run_test_idle;
    TapState run_state_ = TapState::run_test_idle, end_run_ = TapState::run_test_idle;
    Shift data_, instruction_, head_data_, tail_data_, head_instruction_, tail_instruction_;
    SvfStep step_;
    std::vector<SvfStep> steps_;
    std::optional<Message> error_;
    bool power_lost_ = false;
    std::uint64_t left_;  ///< cycles of TCK that may still come
};

}  // namespace

Result<CableFault> CableFault::parse(std::string_view text) {
    CableFault f;
    if (text == "no-cable") {
        f.kind = no_cable;
    } else if (text == "other-part") {
        f.kind = other_part;
    } else if (text == "second-device") {
        f.kind = second_device;
    } else {
        const auto colon = text.find(':');
        const auto n = colon == std::string_view::npos ? std::nullopt : to_integer(text.substr(colon + 1));
        const auto kind = text.substr(0, colon);
        if (!n || *n < 0 || (kind != "bit" && kind != "power") || (kind == "power" && *n < 1))
            return Message{
                Severity::stop, Code::fault,
                said("A fault is no-cable, other-part, second-device, bit:N or power:STEP, not '{}'.", text)};
        f.kind = kind == "bit" ? bit : power;
        f.at = static_cast<std::uint64_t>(*n);
    }
    return f;
}

ScanChain::ScanChain(SimulatedChip& chip, const CableFault& fault)
    : chip_(&chip), second_(other_device), fault_(fault) {}

bool ScanChain::clock(bool tms, bool tdi) {
    if (fault_.kind == CableFault::no_cable) return true;
    if (fault_.kind == CableFault::bit && chip_->configuring() && chip_->state() == TapState::shift_dr &&
        configuration_bits_++ == fault_.at)
        tdi = !tdi;
    const bool out = chip_->clock(tms, tdi);
    return fault_.kind == CableFault::second_device ? second_.clock(tms, out) : out;
}

Result<std::vector<SvfStep>> play_svf(std::string_view text, const std::string& file, ScanChain& chain,
                                      std::uint64_t most) {
    return Player(without_mark(text), file, chain, most).run();
}

std::vector<std::uint32_t> scan_idcodes(ScanChain& chain) {
    for (const bool tms : {true, true, true, true, true, false, true, false, false}) chain.clock(tms, true);
    std::vector<std::uint32_t> out;
    for (int device = 0; device < 8; ++device) {
        std::uint32_t code = 0;
        for (unsigned k = 0; k < 32; ++k) code |= static_cast<std::uint32_t>(chain.clock(false, true)) << k;
        if (code == 0xFFFFFFFFU) break;
        out.push_back(code);
    }
    for (const bool tms : {true, true, true, true, true}) chain.clock(tms, true);
    return out;
}

std::string write_svf(const std::string& image, std::uint32_t idcode) {
    const auto hex = [](std::uint32_t v, int digits) {
        char text[16];
        std::snprintf(text, sizeof text, "%0*X", digits, v);
        return std::string(text);
    };
    std::string out =
        "! made by Kite Peg for a made-up part\nTRST ABSENT;\nENDDR IDLE;\nENDIR IDLE;\nSTATE RESET;\nSTATE IDLE;\n";
    const auto instruction = [&](unsigned code) {
        out += said("SIR {} TDI ({});\n", SimulatedChip::ir_bits, hex(code, 2));
    };
    instruction(SimulatedChip::ir_idcode);
    out += said("SDR 32 TDI (00000000) TDO ({}) MASK (FFFFFFFF);\n", hex(idcode, 8));
    instruction(SimulatedChip::ir_load);
    out += said("SDR {} TDI (", image.size() * 8);
    for (size_t k = image.size(); k-- > 0;) {
        out += hex(static_cast<unsigned char>(image[k]), 2);
        if ((image.size() - k) % 32 == 0) out += "\n  ";
    }
    out += ");\n";
    instruction(SimulatedChip::ir_start);
    return out + "RUNTEST IDLE 100 TCK;\n";
}

}  // namespace kp
