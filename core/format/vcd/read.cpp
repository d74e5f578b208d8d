// SPDX-License-Identifier: GPL-3.0-or-later
// Words between blanks; a keyword's words go up to $end. One pass, nothing kept but what changes.
#include "core/format/vcd/read.hpp"

#include "core/base/text.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <charconv>
#include <unordered_map>

namespace kp::vcd {

namespace {

constexpr size_t most_signals = 1'000'000, most_changes = 50'000'000;
constexpr int widest = 65'536;

class Reader {
public:
    Reader(std::string_view text, const std::string& file) : text_(text), file_(file) {}

    Result<Dump> run() {
        while (good() && next())
            if (!declare()) break;
        if (good() && !declared_) fail("The file ends before $enddefinitions, so it is not a value change dump");
        while (good() && next()) value();
        if (!good()) return Message{Severity::stop, Code::vcd, error_ + ".", file_, error_line_};
        out_.end = std::max(out_.end, now_);
        return std::move(out_);
    }

private:
    [[nodiscard]] bool good() const { return error_.empty(); }
    void fail(std::string why) {
        if (!good()) return;
        error_ = std::move(why);
        error_line_ = line_;
    }

    bool next() {
        while (at_ < text_.size() && is_blank(text_[at_])) line_ += text_[at_++] == '\n';
        const auto from = at_;
        while (at_ < text_.size() && !is_blank(text_[at_])) ++at_;
        word_ = text_.substr(from, at_ - from);
        return !word_.empty();
    }
    static bool is_blank(char c) { return c == ' ' || c == '\n' || c == '\r' || c == '\t' || c == '\f' || c == '\v'; }
    [[nodiscard]] std::string shown() const { return "'" + std::string(word_.substr(0, 40)) + "'"; }

    /// Words up to $end.
    std::vector<std::string_view> rest(const char* of) {
        std::vector<std::string_view> words;
        while (next()) {
            if (word_ == "$end") return words;
            if (words.size() < 64) words.push_back(word_);
        }
        fail(std::string(of) + " has no $end");
        return words;
    }

    /// A keyword before $enddefinitions; false when that was it.
    bool declare() {
        const auto word = word_;
        if (word == "$timescale") {
            timescale(rest("$timescale"));
        } else if (word == "$scope") {
            const auto words = rest("$scope");
            scopes_.emplace_back(words.size() > 1 ? words[1] : "");
            if (scopes_.size() > 1000) fail("Scopes are nested more than 1000 deep");
        } else if (word == "$upscope") {
            (void)rest("$upscope");
            if (scopes_.empty()) fail("$upscope without $scope");
            if (good()) scopes_.pop_back();
        } else if (word == "$var") {
            variable(rest("$var"));
        } else if (word == "$enddefinitions") {
            (void)rest("$enddefinitions");
            declared_ = good();
            return false;
        } else if (word.starts_with("$")) {
            (void)rest("A keyword");
        } else {
            fail("A keyword such as $var is expected before $enddefinitions, not " + shown());
        }
        return good();
    }

    void timescale(const std::vector<std::string_view>& words) {
        std::string all;
        for (const auto w : words) all += w;
        static const std::pair<const char*, std::int64_t> units[] = {{"fs", 1},
                                                                     {"ps", 1'000},
                                                                     {"ns", 1'000'000},
                                                                     {"us", 1'000'000'000},
                                                                     {"ms", 1'000'000'000'000},
                                                                     {"s", 1'000'000'000'000'000}};
        for (const auto& [name, fs] : units)
            for (const auto& [number, times] : {std::pair("100", 100), {"10", 10}, {"1", 1}})
                if (all == std::string(number) + name) {
                    scale_ = fs * times;
                    return;
                }
        fail("The timescale '" + all.substr(0, 40) + "' is none of 1, 10 or 100 of s, ms, us, ns, ps, fs");
    }

    /// type width identifier name [range]
    void variable(const std::vector<std::string_view>& w) {
        if (!good()) return;
        Signal s;
        if (w.size() < 4 || !number(w[1], s.width) || s.width < 1 || s.width > widest)
            return fail("A $var has a type, a width from 1 to 65536, an identifier and a name");
        if (out_.variables.size() >= most_signals) return fail("The file has more than a million variables");
        std::string name(w[3]);
        for (size_t i = 4; i < w.size(); ++i) name += w[i];
        if (const auto open = name.find('['); open != std::string::npos && open > 0 && name.back() == ']') {
            const auto colon = name.find(':', open);
            int left = 0, right = 0;
            const auto inside = std::string_view(name).substr(open + 1, name.size() - open - 2);
            if (colon == std::string::npos
                    ? number(inside, left)
                    : number(inside.substr(0, colon - open - 1), left) && number(inside.substr(colon - open), right)) {
                s.left = left;
                s.right = colon == std::string::npos ? left : right;
                s.has_range = true;
                name.resize(open);
            }
        }
        s.name = name;
        s.in = scopes_;
        const bool real = w[0] == "real" || w[0] == "realtime" || w[0] == "event";
        by_code_.try_emplace(std::string(w[2]), real ? passed_over : static_cast<std::uint32_t>(out_.variables.size()));
        if (!real) out_.variables.push_back(std::move(s));
    }

    void value() {
        const char c = word_[0];
        if (c == '#') return time();
        if (c == '$') {
            // Values stand in $dumpvars and the like as anywhere else; a comment's words do not count.
            if (word_ == "$comment") (void)rest("$comment");
            return;
        }
        if (c == 'b' || c == 'B') return vector();
        if (c == 'r' || c == 'R' || c == 's' || c == 'S') {
            if (!next()) fail("The file ends inside of a value");
            return;
        }
        if (std::string_view("01xXzZ").find(c) == std::string_view::npos)
            return fail("A value change is expected, not " + shown());
        change(word_.substr(1), std::string(1, lower(c)));
    }

    void time() {
        std::int64_t t = 0;
        const auto [end, error] = std::from_chars(word_.data() + 1, word_.data() + word_.size(), t);
        if (error != std::errc() || end != word_.data() + word_.size() || t < 0 || t > INT64_MAX / scale_)
            return fail(said("The time {} cannot be read", shown()));
        if (t * scale_ < now_) return fail("Time runs backwards at " + shown());
        now_ = t * scale_;
    }

    void vector() {
        auto bits = std::string(word_.substr(1));
        if (!next()) return fail("The file ends inside of a value");
        for (char& c : bits) {
            c = lower(c);
            if (std::string_view("01xz").find(c) == std::string_view::npos)
                return fail("The value 'b" + bits.substr(0, 40) + "' has other digits than 0, 1, x and z");
        }
        change(word_, std::move(bits));
    }

    void change(std::string_view code, std::string value) {
        const auto at = by_code_.find(std::string(code));
        if (at == by_code_.end())
            return fail("The identifier '" + std::string(code.substr(0, 40)) + "' was not declared");
        if (at->second == passed_over) return;
        const auto width = static_cast<size_t>(out_.variables[at->second].width);
        if (value.empty() || value.size() > width)
            return fail(said("A value of {} for '{}', which has {}", counted(value.size(), "bit"),
                             out_.variables[at->second].name, width));
        // Filled at the left as 18.2.1 says: x and z with themselves, else with 0.
        const char fill = value[0] == 'x' || value[0] == 'z' ? value[0] : '0';
        value.insert(0, width - value.size(), fill);
        if (out_.changes.size() >= most_changes) return fail("The file has more than 50 million changes");
        out_.changes.push_back({now_, at->second, std::move(value)});
    }
    static char lower(char c) { return c >= 'A' && c <= 'Z' ? static_cast<char>(c - 'A' + 'a') : c; }
    static bool number(std::string_view text, int& out) {
        const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), out);
        return error == std::errc() && end == text.data() + text.size();
    }

    static constexpr std::uint32_t passed_over = 0xFFFFFFFFu;
    std::string_view text_, word_;
    const std::string& file_;
    size_t at_ = 0;
    int line_ = 1, error_line_ = 0;
    std::string error_;
    bool declared_ = false;
    std::int64_t scale_ = 1'000'000, now_ = 0;  ///< without a timescale: ns
    std::vector<std::string> scopes_;
    std::unordered_map<std::string, std::uint32_t> by_code_;
    Dump out_;
};

}  // namespace

Result<Dump> read_vcd(std::string_view text, const std::string& file) {
    return Reader(text, file).run();
}

}  // namespace kp::vcd
