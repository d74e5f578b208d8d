// SPDX-License-Identifier: GPL-3.0-or-later
// Turns options into the query that the window's filter asks too.
#include "kpeg/path_filter.hpp"

#include "core/base/text.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <map>

namespace kpeg {

namespace {

/// A name, a bus without its index, a cell without its pin: what people type for an endpoint.
bool fits(const std::string& pattern, const std::string& name) {
    if (pattern.empty() || kp::glob_match(pattern, name)) return true;
    if (const auto bracket = name.rfind('[');
        bracket != std::string::npos && name.ends_with(']') && kp::glob_match(pattern, name.substr(0, bracket)))
        return true;
    const auto slash = name.rfind('/');
    return slash != std::string::npos && kp::glob_match(pattern, name.substr(0, slash));
}

bool clock_fits(const std::string& pattern, const std::string& launch, const std::string& capture) {
    return pattern.empty() || kp::glob_match(pattern, launch) || kp::glob_match(pattern, capture);
}

bool passes(const std::vector<std::string>& through, const kp::TimingPath& path) {
    std::size_t met = 0;
    for (const auto& point : path.points)
        if (met < through.size() && fits(through[met], point.pin)) ++met;
    return met == through.size();
}

}  // namespace

void PathFilter::add_options(Command& c) {
    c.add_option("--from", from, "Only paths from these ports, pins or cells (* and ? allowed)");
    c.add_option("--to", to, "Only endpoints and paths to these");
    c.add_option("--through", through, "Only paths that pass these, in this order; may be given several times")
        ->one_each();
    c.add_option("--check", check, "Only one kind of check")
        ->one_of({"setup", "hold", "recovery", "removal", "pulse_width", "period"});
    c.add_option("--clock", clock, "Only what this clock launches or captures");
}

void PathFilter::apply(kp::TimingReport& report, std::size_t paths, std::size_t per_endpoint,
                       std::size_t searched) const {
    if (empty()) return;
    const bool all = report.paths.size() < searched;
    std::erase_if(report.endpoints, [&](const kp::EndpointSlack& e) {
        return !fits(to, e.endpoint) || (!check.empty() && e.check != check) ||
               !clock_fits(clock, e.launch_clock, e.capture_clock);
    });
    std::erase_if(report.paths, [&](const kp::TimingPath& p) {
        return !fits(from, p.startpoint) || !fits(to, p.endpoint) || (!check.empty() && p.check != check) ||
               !clock_fits(clock, p.launch_clock, p.capture_clock) || !passes(through, p);
    });
    report.unconstrained.insert(report.unconstrained.end(), report.other_starts.begin(), report.other_starts.end());
    std::stable_sort(report.unconstrained.begin(), report.unconstrained.end(),
                     [](const auto& a, const auto& b) { return a.max_delay > b.max_delay; });
    if (!report.other_starts_known)
        report.messages.push_back({kp::Severity::note, kp::Code::searched,
                                   "Of what nothing constrains only the worst start of each end is listed: there are "
                                   "too many starts to follow each."});
    std::erase_if(report.unconstrained,
                  [&](const kp::UnconstrainedPath& u) { return !fits(from, u.startpoint) || !fits(to, u.endpoint); });
    std::map<std::pair<std::string, std::string>, std::size_t> listed;
    std::erase_if(report.paths, [&](const kp::TimingPath& p) {
        return ++listed[{p.check, p.endpoint}] > per_endpoint;
    });
    if (report.paths.size() > paths) report.paths.resize(paths);
    if (!all)
        report.messages.push_back(
            {kp::Severity::note, kp::Code::searched,
             kp::said("The {} worst paths were searched; further ones that fit are not listed.", searched)});
    else if (looks_inside())
        report.messages.push_back(
            {kp::Severity::note, kp::Code::searched,
             kp::said("The {} worst paths of each endpoint were searched.", searched_per_endpoint)});
}

}  // namespace kpeg
