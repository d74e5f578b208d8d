// SPDX-License-Identifier: GPL-3.0-or-later
// One exception is switched off in a copy of the text, as the list of commands does it, and all endpoints are compared.
#include "core/constraints/exception_review.hpp"

#include "core/base/text.hpp"
#include "core/constraints/endpoint_slacks.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <cmath>
#include <map>

namespace kp {

namespace {

bool is_exception(const std::string& name) {
    return name == "set_false_path" || name == "set_multicycle_path" || name == "set_max_delay" ||
           name == "set_min_delay" || name == "set_clock_groups";
}

}  // namespace

std::string ExceptionReview::words() const {
    const auto ends = [](int n) { return counted(n, "endpoint"); };
    if (hidden > 0) return said("hides {} that would fail, worst {} ns", ends(hidden), fixed(worst.value_or(0), 3));
    if (endpoints > 0) return said("relaxes {}, none would fail", ends(endpoints));
    return "changes nothing: it hits no path, or others say the same";
}

std::vector<ExceptionReview> review_exceptions(const World& world, const Project& project, const std::string& folder,
                                               TimingOptions options, size_t most, const std::stop_token& stop) {
    std::vector<ExceptionReview> out;
    options.paths = 0;
    const auto with = analyse(world, project, folder, options, stop);
    const auto before = slacks_of(with->timing());
    for (const auto& command : list_commands(project, with->constraints(), with->texts())) {
        if (out.size() >= most || stop.stop_requested()) break;
        if (!is_exception(command.name)) continue;
        const auto edit = switch_command(project, command);
        Project bare = project;
        if (edit.empty() || !apply(bare, edit)) continue;
        const auto without = analyse(world, bare, folder, options, stop);
        if (stop.stop_requested()) break;
        ExceptionReview row;
        row.command = command;
        for (const auto& [key, slack] : slacks_of(without->timing())) {
            const auto was = before.find(key);
            if (was != before.end() && std::fabs(was->second - slack) < 5e-5) continue;
            ++row.endpoints;
            const bool failed_already = was != before.end() && was->second < 0 && slack >= was->second;
            if (slack >= 0 || failed_already) continue;
            ++row.hidden;
            row.worst = std::min(row.worst.value_or(slack), slack);
        }
        out.push_back(std::move(row));
    }
    return out;
}

}  // namespace kp
