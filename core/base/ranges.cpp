// SPDX-License-Identifier: GPL-3.0-or-later
// Ranges and slices as data sheets write them; a range names at most some thousand things, so that a typing slip
// does not fill the memory.
#include "core/base/ranges.hpp"

#include "core/base/text.hpp"

#include <cctype>

namespace kp {

std::optional<std::vector<std::string>> expand_names(std::string_view text) {
    text = trim(text);
    std::vector<std::string> out;
    if (text.empty()) return out;
    const auto digits_at_end = [](std::string_view s) {
        size_t n = 0;
        while (n < s.size() && std::isdigit(static_cast<unsigned char>(s[s.size() - 1 - n]))) ++n;
        return n;
    };
    const auto count = [&](const std::string& stem, long long from, long long to, const std::string& behind) {
        if (distance_of(from, to) >= 4096) return false;
        for (long long i = from;; i += from <= to ? 1 : -1) {
            out.push_back(stem + std::to_string(i) + behind);
            if (i == to) return true;
        }
    };
    // D[7:0], D[7..0], D(7:0)
    const auto open = text.find_first_of("[(<");
    if (open != std::string_view::npos && open > 0) {
        const auto close = text.find_first_of("])>", open);
        auto inside =
            text.substr(open + 1, close == std::string_view::npos ? std::string_view::npos : close - open - 1);
        auto middle = inside.find("..");
        const size_t wide = middle == std::string_view::npos ? 1 : 2;
        if (middle == std::string_view::npos) middle = inside.find(':');
        if (close == text.size() - 1 && middle != std::string_view::npos) {
            const auto from = to_integer(trim(inside.substr(0, middle))),
                       to = to_integer(trim(inside.substr(middle + wide)));
            if (!from || !to || !count(std::string(text.substr(0, open)), *from, *to, "")) return std::nullopt;
            return out;
        }
    }
    // K1..K8 or K1…K8
    for (const std::string_view mark : {std::string_view(".."), std::string_view("\xE2\x80\xA6")}) {
        const auto middle = text.find(mark);
        if (middle == std::string_view::npos) continue;
        const auto a = trim(text.substr(0, middle)), b = trim(text.substr(middle + mark.size()));
        const size_t na = digits_at_end(a), nb = digits_at_end(b);
        const auto stem_a = a.substr(0, a.size() - na), stem_b = b.substr(0, b.size() - nb);
        const auto from = to_integer(a.substr(a.size() - na)), to = to_integer(b.substr(b.size() - nb));
        if (na == 0 || nb == 0 || !from || !to || (!stem_b.empty() && stem_a != stem_b) ||
            !count(std::string(stem_a), *from, *to, ""))
            return std::nullopt;
        return out;
    }
    // A list by commas or blanks.
    std::string word;
    for (const char c : std::string(text) + " ") {
        if (c != ',' && c != ' ' && c != ';') {
            word += c;
            continue;
        }
        if (!word.empty()) out.push_back(word);
        word.clear();
    }
    return out;
}

}  // namespace kp
