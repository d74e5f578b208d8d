// SPDX-License-Identifier: GPL-3.0-or-later
// Word by word: an amount is a word that begins with a digit, its unit ends it or follows it, and what it is of stands
// before it.
#include "core/format/table/remarks.hpp"

#include "core/base/said.hpp"
#include "core/base/text.hpp"
#include "core/format/table/grid.hpp"

#include <algorithm>
#include <cctype>

namespace kp::table {

namespace {

bool is_digit(char c) {
    return std::isdigit(static_cast<unsigned char>(c)) != 0;
}

/// Words between blanks; a comma, where no digit stands at both its sides, and a semicolon are words of their own.
std::vector<std::string> words_of(std::string_view text) {
    std::string plain;
    for (size_t i = 0; i < text.size(); ++i) {
        const bool decimal =
            text[i] == ',' && i > 0 && i + 1 < text.size() && is_digit(text[i - 1]) && is_digit(text[i + 1]);
        const bool blank = text[i] == '=' || text[i] == ':' || text[i] == '(' || text[i] == ')' || text[i] == '/';
        if (text[i] == ';' || (text[i] == ',' && !decimal))
            plain += " , ";
        else
            plain += blank ? ' ' : decimal ? '.' : text[i];
    }
    for (const std::string_view sign : {"\xC2\xB1", "+/-", "+-", "\xE2\x89\xA4", "<", "~"})
        for (size_t at = plain.find(sign); at != std::string::npos; at = plain.find(sign))
            plain.replace(at, sign.size(), " ");
    std::vector<std::string> out;
    for (const auto word : split(plain, ' '))
        if (!word.empty()) out.emplace_back(word);
    return out;
}

/// A word that is a number, with what stands behind it in the word or as the next word.
struct Amount {
    std::string number, unit;
    bool own_word = false;  ///< the unit is the next word
};

std::optional<Amount> amount_at(const std::vector<std::string>& words, size_t i) {
    const auto& w = words[i];
    if (!is_digit(w[0])) return std::nullopt;
    const auto end = std::min(w.find_first_not_of("0123456789."), w.size());
    Amount out{w.substr(0, end), w.substr(end), false};
    if (out.unit.empty() && i + 1 < words.size() && !is_digit(words[i + 1][0]) && words[i + 1] != ",") {
        out.unit = words[i + 1];
        out.own_word = true;
    }
    return out;
}

/// The words before an amount, as far as the amount before that, in small letters without signs.
std::string before(const std::vector<std::string>& words, size_t i, size_t from) {
    std::string out;
    for (size_t k = std::max(from, i < 4 ? 0 : i - 4); k < i; ++k)
        if (words[k] == ",")
            out.clear();
        else
            for (const char c : lower(words[k]))
                if (std::isalnum(static_cast<unsigned char>(c))) out += c;
    return out;
}

/// The next two words; none where an amount follows them, to which they belong.
std::string behind(const std::vector<std::string>& words, size_t i) {
    std::string out;
    for (size_t k = i; k < std::min(words.size(), i + 3) && words[k] != ","; ++k) {
        if (is_digit(words[k][0])) return {};
        for (const char c : k < i + 2 ? lower(words[k]) : std::string())
            if (std::isalnum(static_cast<unsigned char>(c))) out += c;
    }
    return out;
}

bool ends_with_one(const std::string& text, std::initializer_list<const char*> ends) {
    return std::any_of(ends.begin(), ends.end(), [&](const char* end) { return text.ends_with(end); });
}

class Reader {
public:
    explicit Reader(std::string_view text) : words_(words_of(text)) {}

    Remark run() {
        size_t from = 0;
        for (size_t i = 0; i < words_.size(); ++i) {
            const auto amount = amount_at(words_, i);
            if (!amount) continue;
            take(*amount, before(words_, i, from), behind(words_, i + (amount->own_word ? 2 : 1)));
            from = i + (amount->own_word ? 2 : 1);
        }
        level();
        return std::move(out_);
    }

private:
    void take(const Amount& a, const std::string& of, const std::string& next) {
        const auto unit = lower(a.unit);
        const auto value = to_number(a.number);
        if (!value) return;
        if (unit == "mhz" || unit == "khz" || unit == "hz" || unit == "ghz") {
            out_.mhz = *value * (unit == "mhz" ? 1 : unit == "khz" ? 1e-3 : unit == "hz" ? 1e-6 : 1e3);
            out_.said.push_back(said("{} MHz", shortest(*out_.mhz)));
        } else if (unit == "ppm") {
            out_.ppm = *value;
            out_.said.push_back(said("{} ppm", shortest(*value)));
        } else if (unit == "ma") {
            out_.current_ma = *value;
            out_.said.push_back(said("{} mA", shortest(*value)));
        } else if (unit == "ns" || unit == "ps") {
            time(*value * (unit == "ns" ? 1 : 1e-3), of);
        } else if (const auto ohm = resistance(a)) {
            resistor(*ohm, of + next);
        }
    }

    void time(double ns, const std::string& of) {
        const auto put = [&](std::optional<double>& into, const char* what) {
            into = ns;
            out_.said.push_back(said("{} of {} ns", what, shortest(ns)));
        };
        if (ends_with_one(of, {"tco", "clocktoout", "clocktooutput", "tpd", "tval", "tacc"}))
            put(out_.out_max_ns, "a clock-to-output time");
        else if (ends_with_one(of, {"tsu", "tsetup", "setup", "ts"}))
            put(out_.setup_ns, "a setup time");
        else if (ends_with_one(of, {"th", "thold", "hold"}))
            put(out_.hold_ns, "a hold time");
    }

    /// A letter or word says that it is one; a bare number is none.
    static std::optional<double> resistance(const Amount& a) {
        const auto unit = lower(a.unit);
        static constexpr std::string_view omega = "\xCE\xA9", ohm_sign = "\xE2\x84\xA6";
        const bool letter = !unit.empty() && (unit[0] == 'k' || unit[0] == 'r' || a.unit[0] == 'M');
        const bool word = unit.starts_with("ohm") || a.unit == omega || a.unit == ohm_sign;
        const auto rest = letter ? unit.substr(1) : std::string();
        const bool clean = word || rest.empty() || std::all_of(rest.begin(), rest.end(), is_digit) ||
                           rest.starts_with("ohm") || rest == lower(omega) || rest == lower(ohm_sign);
        if ((!letter && !word) || !clean) return std::nullopt;
        return amount(a.number + a.unit);
    }

    void resistor(double ohm, const std::string& of) {
        const bool up = of.find("pullup") != std::string::npos;
        const bool down = !up && of.find("pulldown") != std::string::npos;
        if (up || down) {
            out_.pull = up ? "up" : "down";
            out_.pull_ohm = ohm;
            out_.said.push_back(said("a pull-{} of {} ohm", out_.pull, shortest(ohm)));
        } else {
            out_.series_ohm = ohm;
            out_.said.push_back(said("a series resistor of {} ohm", shortest(ohm)));
        }
    }

    /// "active low", "low active".
    void level() {
        for (size_t i = 0; i + 1 < words_.size(); ++i) {
            const auto a = lower(words_[i]), b = lower(words_[i + 1]);
            const auto& other = a == "active" ? b : a;
            if ((a != "active" && b != "active") || (other != "low" && other != "high")) continue;
            out_.active_low = other == "low";
            out_.said.push_back("active " + other);
            return;
        }
    }

    std::vector<std::string> words_;
    Remark out_;
};

}  // namespace

Remark read_remark(std::string_view text) {
    return Reader(text).run();
}

std::string take_tail(std::string& cell) {
    if (!cell.ends_with(')')) return {};
    const auto open = cell.rfind('(');
    if (open == std::string::npos || open == 0) return {};
    const auto inside = std::string(trim(std::string_view(cell).substr(open + 1, cell.size() - open - 2)));
    const bool index = std::all_of(inside.begin(), inside.end(), [](unsigned char c) { return std::isdigit(c); }) ||
                       inside.find(" downto ") != std::string::npos || inside.find(" to ") != std::string::npos;
    const bool apart = cell[open - 1] == ' ' || cell[open - 1] == '\t';
    if (inside.empty() || (index && !apart)) return {};
    cell = std::string(trim(std::string_view(cell).substr(0, open)));
    return inside;
}

}  // namespace kp::table
