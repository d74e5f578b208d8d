// SPDX-License-Identifier: GPL-3.0-or-later
// Two states of a plan side by side: projects, runs of a log, or results of `kpeg time`.
#pragma once

#include "core/model/project.hpp"
#include "core/session/analysis.hpp"

#include <map>
#include <optional>
#include <string>
#include <vector>

namespace kp {

/// What is compared; a result of `kpeg time` has only slacks and messages.
struct ComparedState {
    PegMap pegs;
    std::map<std::string, PortAttributes> attributes;
    std::map<std::string, std::string> texts;                     ///< constraint files by path
    std::map<std::string, std::string> lanes;                     ///< by link: "lane4, lane5"; empty: adrift
    std::map<std::pair<std::string, std::string>, double> slack;  ///< by check and endpoint, ns
    std::vector<std::string> messages;
};

struct StateDifference {
    struct Change {
        std::string what, which;          ///< port; attribute of it, or command; check and endpoint
        std::optional<std::string> a, b;  ///< none: it is not there
    };
    struct Slack {
        std::string check, endpoint;
        std::optional<double> a, b;
    };
    std::vector<Change> pins, attributes, constraints, lanes;  ///< lanes: of links, by name
    std::vector<Slack> slack;
    std::vector<std::string> new_messages, gone_messages;
    [[nodiscard]] bool empty() const {
        return pins.empty() && attributes.empty() && constraints.empty() && lanes.empty() && slack.empty() &&
               new_messages.empty() && gone_messages.empty();
    }
};

/// Constraints by command, whatever their layout, order of files and comments: a command that is on one side only is
/// set against one of the same name on the other, if there is one. Slacks that differ by more than 0.05 ps.
[[nodiscard]] StateDifference compare_states(const ComparedState& a, const ComparedState& b);

/// The state of a project with its analysis; `analysis` with all endpoints.
[[nodiscard]] ComparedState state_of(const Project& project, const Analysis& analysis,
                                     const std::vector<Finding>& findings);
/// From the text of a kitepeg.timing/1 result. Errors: it is none.
[[nodiscard]] Result<ComparedState> state_of_timing(const std::string& text, const std::string& file);

}  // namespace kp
