// SPDX-License-Identifier: GPL-3.0-or-later
// Terms are tried in the order they were written; the cheap ones need no path.
#include "core/model/path_query.hpp"

#include "core/base/text.hpp"
#include "core/model/path_cause.hpp"
#include "core/base/said.hpp"

#include <algorithm>

namespace kp {

namespace {

bool name_fits(const std::string& wanted, const std::string& name) {
    if (wanted.find_first_of("*?") != std::string::npos) return glob_match(wanted, name, true);
    return lower(name).find(lower(wanted)) != std::string::npos;
}

/// Whole names: a clock "sys" is not "sys2".
bool is_clock(const std::string& wanted, const std::string& name) {
    return glob_match(wanted, name, true);
}

}  // namespace

Result<PathQuery> PathQuery::parse(std::string_view text) {
    PathQuery out;
    const auto refuse = [](const std::string& why) { return Message{Severity::stop, Code::filter, why}; };
    const std::pair<std::string_view, Term::Key> keys[] = {
        {"from:", Term::from},           {"to:", Term::to},
        {"through:", Term::through},     {"clock:", Term::clock},
        {"launch:", Term::launch},       {"capture:", Term::capture},
        {"corner:", Term::corner},       {"cause:", Term::cause},
        {"slack<", Term::slack_below},   {"slack>", Term::slack_above},
        {"levels>", Term::levels_above}, {"levels<", Term::levels_below}};
    for (const auto word : split(text, ' ')) {
        if (word.empty()) continue;
        Term term;
        term.text = word;
        for (const auto& [key, what] : keys) {
            if (!lower(word).starts_with(key)) continue;
            term.key = what;
            term.text = word.substr(key.size());
            if (term.text.empty()) return refuse(said("'{}' wants something behind it.", word));
            if (what >= Term::slack_below) {
                const auto number = to_number(term.text);
                if (!number) return refuse(said("'{}' behind {} is not a number.", term.text, key));
                term.number = *number;
            }
        }
        out.needs_path_ |= term.key == Term::word || term.key == Term::from || term.key == Term::through ||
                           term.key == Term::cause || term.key >= Term::levels_above;
        out.terms_.push_back(std::move(term));
    }
    return out;
}

bool PathQuery::fits(const EndpointSlack& e, const TimingPath* path, std::span<const ClockReport> clocks) const {
    return std::all_of(terms_.begin(), terms_.end(), [&](const Term& t) {
        switch (t.key) {
            case Term::word: return name_fits(t.text, e.endpoint) || (path && name_fits(t.text, path->startpoint));
            case Term::from: return path && name_fits(t.text, path->startpoint);
            case Term::to: return name_fits(t.text, e.endpoint);
            case Term::through:
                return path && std::any_of(path->points.begin(), path->points.end(),
                                           [&](const PathPoint& p) { return name_fits(t.text, p.pin); });
            case Term::clock: return name_fits(t.text, e.launch_clock) || name_fits(t.text, e.capture_clock);
            case Term::launch: return is_clock(t.text, e.launch_clock);
            case Term::capture: return is_clock(t.text, e.capture_clock);
            case Term::corner: return is_clock(t.text, e.corner);
            case Term::cause: return path && name_fits(t.text, name_of(why_failing(*path, clocks).cause));
            case Term::slack_below: return e.slack < t.number;
            case Term::slack_above: return e.slack > t.number;
            case Term::levels_above: return path && levels_of(*path) > t.number;
            case Term::levels_below: return path && levels_of(*path) < t.number;
        }
        return false;
    });
}

bool PathQuery::fits(const UnconstrainedPath& u) const {
    return std::all_of(terms_.begin(), terms_.end(), [&](const Term& t) {
        switch (t.key) {
            case Term::word: return name_fits(t.text, u.startpoint) || name_fits(t.text, u.endpoint);
            case Term::from: return name_fits(t.text, u.startpoint);
            case Term::to: return name_fits(t.text, u.endpoint);
            default: return false;
        }
    });
}

}  // namespace kp
