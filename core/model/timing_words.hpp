// SPDX-License-Identifier: GPL-3.0-or-later
// One verdict over all kinds of check, and its words. The sentence of the Slack station, the tether, the log, the
// report, the manifest, rule T01 and the exit status of `kpeg time` all ask here, so that none of them can know fewer
// kinds than another.
#pragma once

#include "core/model/timing_report.hpp"

#include <span>
#include <string>
#include <vector>

namespace kp {

/// A kind of check: `key` as in JSON and in EndpointSlack::check, `words` as people say it.
struct CheckWord {
    const char* key;
    const char* words;
    CheckSummary TimingReport::*summary;
};
/// Setup, hold, recovery, removal, pulse width, period, in this order.
[[nodiscard]] std::span<const CheckWord> check_words();
/// "pulse width" for "pulse_width"; an unknown key comes back as it is.
[[nodiscard]] std::string words_of_check(const std::string& key);

struct TimingVerdict {
    int failing = 0;                          ///< endpoints over all kinds
    int checked = 0;                          ///< endpoints that are checked, over all kinds
    std::optional<double> worst;              ///< smallest slack of all kinds, ns; none: nothing is checked
    std::string worst_kind;                   ///< its key
    std::string launch_clock, capture_clock;  ///< of the worst, when the report lists it
    std::string corner;                       ///< where it is; empty with one corner
    [[nodiscard]] bool met() const { return checked > 0 && failing == 0; }
};
[[nodiscard]] TimingVerdict verdict_of(const TimingReport& report);

/// "setup fails by 0.412 ns on 3 of 120 endpoints", "hold checks nothing": one kind by its words.
[[nodiscard]] std::string kind_sentence(const std::string& words, const CheckSummary& summary);

/// "Setup fails by 0.412 ns on 3 of 120 endpoints; recovery …; hold is met with …": what misses first, worst first.
/// Kinds that check nothing are left out, unless nothing is checked at all. Then how many endpoints are not timed.
[[nodiscard]] std::string timing_sentence(const TimingReport& report);

}  // namespace kp
