// SPDX-License-Identifier: GPL-3.0-or-later
// T01: a check that is missed is a finding, so that it holds the handoff as every other stop does. One for each kind,
// pair of clocks and place (inside, from an input, to an output); its waiver names the worst endpoint, so another one
// is not hidden. T02: what is not timed, one finding for each cause. T03: exceptions that meet no path.
#include "core/model/sdc_words.hpp"
#include "core/base/text.hpp"
#include "core/model/timing_words.hpp"
#include "core/rules/all.hpp"
#include "core/rules/say.hpp"
#include "core/base/said.hpp"

#include <map>
#include <tuple>

namespace kp::rules {

namespace {

struct Missed {
    const EndpointSlack* worst = nullptr;
    int count = 0;
    double total = 0;
};

std::string between(const EndpointSlack& e) {
    if (e.launch_clock == e.capture_clock || e.launch_clock.empty())
        return e.capture_clock.empty() ? "" : " of " + e.capture_clock;
    return " from " + e.launch_clock + (e.capture_clock.empty() ? "" : " to " + e.capture_clock);
}

const TimingPath* path_to(const RuleInput& in, const EndpointSlack& e) {
    for (const auto& p : in.timing.paths)
        if (p.endpoint == e.endpoint && p.check == e.check && p.launch_clock == e.launch_clock &&
            p.capture_clock == e.capture_clock)
            return &p;
    return nullptr;
}

Finding missed_check(const RuleInput& in, const RuleRow& row, const Missed& m) {
    const auto& e = *m.worst;
    std::string kind = words_of_check(e.check);
    kind[0] = static_cast<char>(kind[0] - 'a' + 'A');
    std::string text = said("{}{} fails by {} ns", kind, between(e), number(-e.slack, 3));
    text += m.count == 1 ? " at " + e.endpoint : said(" on {}, worst at {}", counted(m.count, "endpoint"), e.endpoint);
    if (const auto* path = path_to(in, e)) text += ", from " + path->startpoint;
    auto f = finding(row, text + (e.corner.empty() ? "." : said(", in corner {}.", e.corner)),
                     {{Subject::check, words_of_check(e.check)}});
    for (const auto& clock : {e.launch_clock, e.capture_clock})
        if (!clock.empty() && (f.objects.back().kind != Subject::clock || f.objects.back().name != clock))
            f.objects.push_back({Subject::clock, clock});
    f.objects.push_back({in.port(e.endpoint) ? Subject::port : Subject::endpoint, e.endpoint});
    f.numbers = {{"worst slack", "ns", e.slack},
                 {"failing endpoints", "", static_cast<double>(m.count)},
                 {"total", "ns", m.total}};
    return f;
}

}  // namespace

void t01(const RuleInput& in, const RuleRow& row, std::vector<Finding>& out) {
    std::map<std::tuple<std::string, std::string, std::string, bool>, Missed> groups;
    for (const auto& e : in.timing.endpoints) {
        if (e.slack >= 0) continue;
        auto& m = groups[{e.check, e.launch_clock, e.capture_clock, in.port(e.endpoint) != nullptr}];
        ++m.count;
        m.total += e.slack;
        if (!m.worst || e.slack < m.worst->slack) m.worst = &e;
    }
    for (const auto& word : check_words())
        for (const auto& [key, m] : groups)
            if (std::get<0>(key) == word.key) out.push_back(missed_check(in, row, m));
}

namespace {

/// What keeps an object from being timed, the same words for all that one thing would mend.
std::string cause_of(const UntimedObject& u) {
    if (!u.clock_port.empty()) return said("no clock is defined at {}, where theirs comes in", u.clock_port);
    return u.cause.empty() ? u.why : u.cause;
}

}  // namespace

void t02(const RuleInput& in, const RuleRow& row, std::vector<Finding>& out) {
    std::map<std::string, std::vector<const UntimedObject*>> causes;
    for (const auto& u : in.timing.coverage.untimed)
        if (!u.port && !u.by_port) causes[cause_of(u)].push_back(&u);
    for (const auto& [why, list] : causes) {
        std::vector<std::string> names;
        for (const auto* u : list) names.push_back(u->object);
        auto f = finding(row,
                         said("{}: {}. {}{}.", counted(list.size(), "pin is unconstrained", "pins are unconstrained"),
                              why, (list.size() == 1 ? "It is " : "They are "), list_names(names)),
                         {{Subject::endpoint, names.front()}});
        f.numbers = {{"unconstrained", "", static_cast<double>(list.size())}};
        out.push_back(std::move(f));
    }
}

void t03(const RuleInput& in, const RuleRow& row, std::vector<Finding>& out) {
    for (const auto& m : in.timing.messages) {
        if (m.code != Code::unused_exception) continue;
        auto f = finding(row, m.text, {{Subject::constraint, m.file + ":" + std::to_string(m.line)}});
        f.file = m.file;
        f.line = m.line;
        out.push_back(std::move(f));
    }
}

}  // namespace kp::rules
