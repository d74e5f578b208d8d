// SPDX-License-Identifier: GPL-3.0-or-later
// What each exception does: asked by timing the design without it.
#pragma once

#include "core/session/analysis.hpp"
#include "core/constraints/command_list.hpp"

#include <optional>
#include <stop_token>
#include <string>
#include <vector>

namespace kp {

struct ExceptionReview {
    ListedCommand command;
    int endpoints = 0;            ///< whose slack is other without it, or that get one
    int hidden = 0;               ///< of them: those that would fail
    std::optional<double> worst;  ///< slack of the worst of those, ns
    /// "hides 12 endpoints, worst -1.200 ns", "relaxes 4 endpoints", or "changes nothing: …".
    [[nodiscard]] std::string words() const;
};

/// The exceptions of the text that stand by themselves (false paths, multicycles, delays, clock groups), in their
/// order, each against the analysis with all. Costs one analysis for each; at most `most` of them are looked at.
[[nodiscard]] std::vector<ExceptionReview> review_exceptions(const World& world, const Project& project,
                                                             const std::string& folder, TimingOptions options,
                                                             size_t most = 200, const std::stop_token& stop = {});

}  // namespace kp
