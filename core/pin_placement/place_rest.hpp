// SPDX-License-Identifier: GPL-3.0-or-later
// Places for the ports that have none: legal by the knowledge of the rules, in order, near the last proposal. What is
// pegged never moves. Where nothing is legal, the smallest set of facts that conflict.
#pragma once

#include "core/model/edit.hpp"
#include "core/pin_placement/problem.hpp"
#include "core/rules/input.hpp"

#include <functional>
#include <optional>
#include <set>
#include <stop_token>
#include <string>
#include <vector>

namespace kp {

struct PlaceQuestion {
    std::set<std::string> ports;  ///< empty: all that are adrift or loose
    std::set<std::string> relax;  ///< ids of facts to be left out
    unsigned seed = 0;
    double seconds = 60;
};

struct PlacedPort {
    std::string port, pin, was;  ///< was: empty when it was adrift
};

struct PlaceAnswer {
    enum class Status { placed, partial, conflict } status = Status::placed;
    std::vector<PlacedPort> placed;
    int moved = 0;  ///< loose ones that lie elsewhere now
    /// Of a way: for each port the distance along the package from where its bus would lie in order, and what it takes
    /// away from others; and what no legal placement can cost less than.
    long long cost = 0, bound = 0;
    std::vector<pin_placement::Fact> conflict;  ///< minimal: without any one of them there is a way
    /// What is wrong between pegs alone, by the rules that say so: it stays as it is, its pins stay taken, and it
    /// hinders nobody else.
    std::vector<Finding> wrong;
    std::vector<std::string> left_adrift;  ///< asked for, but relaxed or out of time
    Edit edit;                             ///< pegs them, loose; empty on conflict
};

/// Errors: a port the design does not have, an id that names no fact of this question. The same question gives the same
/// answer; out of time it is partial.
[[nodiscard]] Result<PlaceAnswer> place_rest(const RuleInput& in, const PlaceQuestion& question,
                                             const std::stop_token& stop = {},
                                             const std::function<void(const std::string&)>& progress = {});

}  // namespace kp
