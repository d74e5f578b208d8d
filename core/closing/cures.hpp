// SPDX-License-Identifier: GPL-3.0-or-later
// What would close a path: changes of constraints and choices, each tried on the kept engine with all that it brings.
#pragma once

#include "core/model/edit.hpp"
#include "core/session/snapshot.hpp"

#include <functional>
#include <optional>
#include <stop_token>
#include <string>
#include <vector>

namespace kp {

/// From what changes least of what is promised to what promises something that only the designer knows.
enum class CureKind { pad_delay, board_delay, clock_network, turned_back, period, cycles, unrelated, not_timed };
[[nodiscard]] const char* name_of(CureKind kind);

struct Cure {
    CureKind kind = CureKind::cycles;
    std::string text;      ///< "3 clocks from held*_reg to shear_q*_reg"
    std::string promises;  ///< what has to be true for it; empty: nothing beyond the text
    Edit edit;
};

/// What a cure does, all of it worked out as taking it would.
struct CureEffect {
    std::optional<double> slack;  ///< of the path it is for, ns; none: it is not checked any more
    CheckSummary setup, hold;
    int failing = 0;            ///< over all kinds
    int better = 0, worse = 0;  ///< other endpoints whose slack moves
    int hidden = 0;             ///< endpoints that are not checked any more
    int newly_failing = 0;
    std::vector<std::string> came, gone;  ///< findings, as "RULE: text"
};

/// Cures of a path that fails, those that change least first. Empty for one that is met.
[[nodiscard]] std::vector<Cure> cures_for(const Snapshot& now, const TimingPath& path);

/// Errors: those of preview().
[[nodiscard]] Result<CureEffect> effect_of(const Snapshot& now, const Cure& cure, const TimingPath& path,
                                           const std::stop_token& stop = {});

/// A small set of changes, found greedily: each step takes the change that leaves the fewest failing endpoints
/// and brings no stop; of equal ones, the one that changes least.
struct Closing {
    struct Step {
        Cure cure;
        int failing = 0;  ///< that are left after it
    };
    std::vector<Step> steps;
    Edit edit;                      ///< all steps, one undo
    int before = 0, after = 0;      ///< failing endpoints
    std::vector<std::string> left;  ///< what still fails, and by what
    unsigned long long revision = 0;
};
[[nodiscard]] Closing closing_changes(const Snapshot& now, size_t most_steps = 20, const std::stop_token& stop = {},
                                      const std::function<void(int failing, size_t steps)>& progress = {});

}  // namespace kp
