// SPDX-License-Identifier: GPL-3.0-or-later
// Budgets of the open project, and the edits that write them into the constraint text.
#pragma once

#include "core/clocks/budget.hpp"
#include "core/session/session.hpp"

#include <map>
#include <optional>
#include <string>
#include <utility>
#include <vector>

namespace kp {

[[nodiscard]] std::vector<clocks::Budget> budgets_of(const World& world, const Analysis& analysis, const Plan& plan);
[[nodiscard]] inline std::vector<clocks::Budget> budgets_of(const Session& s) {
    return budgets_of(s.world(), s.analysis(), s.plan());
}

struct BudgetEdit {
    Edit edit;
    std::string note;  ///< what the user should know of it, such as a loop that stays and is overridden; may be empty
};
/// Writes the lines of a budget. Commands that speak of its ports alone give way to them; one that speaks of others
/// too, or stands in a loop or a procedure, stays, and the lines go behind it, where they replace what it says of these
/// ports. Errors: a budget without a clock, a text that is being read just now, no file for new commands.
[[nodiscard]] Result<BudgetEdit> take_budget(const Session& session, const clocks::Budget& budget);

/// What each linked budget said last, late and early in ns, by name.
using FollowedTimes = std::map<std::string, std::pair<double, double>>;
struct FollowedBudget {
    clocks::Budget budget;
    Edit edit;
};
/// The first linked budget that says something else than last time and than its lines, with the edit that lets them
/// follow; `said_last` is brought up to date. An edit that was undone is not proposed again until the board changes.
/// One at a time: the places of the next one's lines are known only after the text was read again.
[[nodiscard]] std::optional<FollowedBudget> next_to_follow(const Session& session, FollowedTimes& said_last);

}  // namespace kp
