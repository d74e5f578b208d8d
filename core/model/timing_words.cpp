// SPDX-License-Identifier: GPL-3.0-or-later
// Counts the six summaries of a report and says them. Costs nothing beside the report itself.
#include "core/model/timing_words.hpp"

#include "core/base/text.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <array>

namespace kp {

const char* word_of(PointKind kind) {
    constexpr const char* words[] = {"source", "launch", "cell", "wire", "input_delay", "output_delay", "check"};
    return words[static_cast<std::size_t>(kind)];
}

std::span<const CheckWord> check_words() {
    static constexpr std::array<CheckWord, 6> words{{{"setup", "setup", &TimingReport::setup},
                                                     {"hold", "hold", &TimingReport::hold},
                                                     {"recovery", "recovery", &TimingReport::recovery},
                                                     {"removal", "removal", &TimingReport::removal},
                                                     {"pulse_width", "pulse width", &TimingReport::pulse_width},
                                                     {"period", "period", &TimingReport::period}}};
    return words;
}

std::string words_of_check(const std::string& key) {
    for (const auto& w : check_words())
        if (key == w.key) return w.words;
    return key;
}

TimingVerdict verdict_of(const TimingReport& report) {
    TimingVerdict v;
    for (const auto& w : check_words()) {
        const auto& s = report.*w.summary;
        v.failing += s.failing;
        v.checked += s.endpoints;
        if (!s.wns || (v.worst && *v.worst <= *s.wns)) continue;
        v.worst = s.wns;
        v.worst_kind = w.key;
    }
    for (const auto& e : report.endpoints) {
        if (!v.worst || e.check != v.worst_kind || e.slack != *v.worst) continue;
        v.launch_clock = e.launch_clock;
        v.capture_clock = e.capture_clock;
        v.corner = e.corner;
        break;
    }
    return v;
}

std::string kind_sentence(const std::string& words, const CheckSummary& s) {
    if (!s.wns) return words + " checks nothing";
    const auto n = counted(s.endpoints, "endpoint");
    if (s.failing == 0) return said("{} is met with {} ns to spare on {}", words, fixed(*s.wns, 3), n);
    return said("{} fails by {} ns on {} of {}", words, fixed(-*s.wns, 3), s.failing, n);
}

std::string timing_sentence(const TimingReport& report) {
    std::vector<CheckWord> kinds;
    for (const auto& w : check_words())
        if ((report.*w.summary).wns) kinds.push_back(w);
    std::stable_sort(kinds.begin(), kinds.end(), [&](const CheckWord& a, const CheckWord& b) {
        const auto key = [&](const CheckWord& w) {
            return (report.*w.summary).failing > 0 ? *(report.*w.summary).wns : 0.0;
        };
        return key(a) < key(b);
    });
    std::string text;
    for (const auto& w : kinds) text += (text.empty() ? "" : "; ") + kind_sentence(w.words, report.*w.summary);
    if (text.empty()) text = "nothing is checked";
    text[0] = static_cast<char>(text[0] - 'a' + 'A');
    text += ".";
    if (const auto v = verdict_of(report); v.failing > 0 && !v.capture_clock.empty()) {
        text += v.launch_clock == v.capture_clock || v.launch_clock.empty()
                    ? " The worst is of " + v.capture_clock
                    : said(" The worst is from {} to {}", v.launch_clock, v.capture_clock);
        text += v.corner.empty() ? "." : said(", in corner {}.", v.corner);
    } else if (!v.corner.empty()) {
        text += said(" Corner {} governs.", v.corner);
    }
    const auto& c = report.coverage;
    const int left = c.endpoints - c.constrained;
    if (left > 0)
        text +=
            said(" {} of {}{} unconstrained.", left, counted(c.endpoints, "endpoint"), (left == 1 ? " is" : " are"));
    return text;
}

}  // namespace kp
