// SPDX-License-Identifier: GPL-3.0-or-later
// Connections of one instance stand within one pair of parentheses: a stack of open ones tells them apart.
#include "core/hdl/swapped.hpp"

#include "core/base/text.hpp"
#include "core/hdl/words.hpp"

#include <array>
#include <map>
#include <string>

namespace kp {

namespace {

/// Names of a link's sides. Common practice, no source.
bool is_crossed_on_purpose(const std::string& name) {
    static constexpr std::array sides{"tx", "rx", "rts", "cts", "miso", "mosi"};
    const auto small = lower(name);
    for (const auto* side : sides)
        if (small.find(side) != std::string::npos) return true;
    return false;
}

class SwapScan {
public:
    SwapScan(const SourceText& source, std::vector<SwappedNames>& out)
        : file_(source.file), vhdl_(is_vhdl_file(source.file)), words_(hdl_words(source.text, vhdl_)), out_(out) {}

    void run() {
        open_.emplace_back();
        for (size_t i = 0; i < words_.size(); ++i) {
            if (word(i) == "(") open_.emplace_back();
            if (word(i) == ")" && open_.size() > 1) open_.pop_back();
            if (word(i) == ";") open_.back().clear();
            const bool verilog = !vhdl_ && word(i) == "." && word(i + 2) == "(" && word(i + 4) == ")";
            const bool arrow =
                vhdl_ && word(i + 1) == "=" && word(i + 2) == ">" && (word(i + 4) == "," || word(i + 4) == ")");
            if (verilog) connected(word(i + 1), word(i + 3), words_[i].line);
            if (arrow) connected(word(i), word(i + 3), words_[i].line);
        }
    }

private:
    using Connections = std::map<std::string, std::string>;  ///< signal by port

    [[nodiscard]] const std::string& word(size_t i) const {
        static const std::string none;
        return i < words_.size() ? words_[i].text : none;
    }

    void connected(const std::string& port, const std::string& signal, int line) {
        auto& all = open_.back();
        all[port] = signal;
        const auto other = port == signal ? all.end() : all.find(signal);
        if (other == all.end() || other->second != port) return;
        if (is_crossed_on_purpose(port) && is_crossed_on_purpose(signal)) return;
        out_.push_back({signal, port, file_, line});
    }

    const std::string& file_;
    bool vhdl_;
    std::vector<HdlWord> words_;
    std::vector<Connections> open_;  ///< by open parenthesis
    std::vector<SwappedNames>& out_;
};

}  // namespace

std::vector<SwappedNames> swapped_names(std::span<const SourceText> sources) {
    std::vector<SwappedNames> out;
    for (const auto& source : sources) SwapScan(source, out).run();
    return out;
}

}  // namespace kp
