// SPDX-License-Identifier: GPL-3.0-or-later
// Where an I/O delay comes from: the sum along the board between a port and its partner, term by term.
//
// Input, against the clock the partner launches with:   delay = clock to output + data trace - clock trace
// Input, against a clock that the FPGA sends:           delay = clock trace + clock to output + data trace
// Output: max = setup + data trace - clock trace,       min = -hold + data trace - clock trace
// Common practice, no source; traces by core/model/trace.hpp.
#pragma once

#include "core/model/constraints.hpp"
#include "core/model/timing_report.hpp"
#include "core/planning/plan.hpp"

#include <functional>
#include <map>
#include <optional>
#include <string>
#include <vector>

namespace kp::clocks {

enum class Arrangement {
    system_synchronous,  ///< the partner has the board's clock
    source_synchronous,  ///< the partner sends its clock with the data
    forwarded,           ///< the FPGA sends the clock
    asynchronous         ///< a hand, a lamp, a slow or an unknown part: no promise about time
};
[[nodiscard]] const char* name_of(Arrangement arrangement);

/// One part of the sum, ns; what it says was taken from `from`: a board part and key, a trace and its formula, or the
/// user.
struct BudgetTerm {
    std::string what;
    double max = 0, min = 0;
    std::string from;
};

/// A clock that has to be defined before the delays can speak of it.
struct ClockWish {
    std::string name, command, why;
};

struct Budget {
    std::string name;     ///< board part, its clock terminal, and "in" or "out"; unique in a project
    std::string partner;  ///< ref of the board part; empty: none is known
    std::vector<std::string> ports;
    bool input = true;
    Arrangement arrangement = Arrangement::asynchronous;
    std::string clock;               ///< empty for asynchronous ones, and where no clock is known yet
    bool rise = true, fall = false;  ///< edges of the clock that the delays are against
    double max = 0, min = 0;         ///< ns; exactly the sums of the terms
    std::vector<BudgetTerm> terms;
    std::string why;                ///< in words: the arrangement, or why there is no promise
    std::vector<ClockWish> clocks;  ///< to be defined first
    std::vector<std::string> sdc;   ///< complete commands; empty while no clock is known
    bool unknown = false;           ///< no promise, because nobody says what the partner is or when it moves
    bool linked = false;            ///< its lines follow the board
    struct InForce {
        double max = 0, min = 0;
    };
    std::optional<InForce> in_force;  ///< what the constraints say now, over all its ports
    bool excluded = false;            ///< the constraints take all its ports out
    [[nodiscard]] bool agrees() const;
};

struct BudgetInput {
    const Plan& plan;
    const Constraints& constraints;
    const std::vector<PortClocks>& port_clocks;            ///< by position in the plan's ports; may be empty
    std::function<std::string(std::uint32_t)> pin_name{};  ///< of an ObjectRef of kind pin
};

/// Budgets of all ports that take part in timing, in the order of the design. What the user says in Project::budgets
/// holds: "GROUP.term" gives most and least of a term ("0.3 -0.1", or one number for both), "GROUP.linked" is "yes" or
/// "no". A term that the user gives for a group without data-sheet numbers makes it synchronous.
[[nodiscard]] std::vector<Budget> budgets(const BudgetInput& input);

/// The terms of a budget that are the user's to say, beside those that the board gives.
inline constexpr const char* user_terms[] = {"partner", "clock skew", "allowance"};

/// The lines of Project::budgets for a term; nothing for a text that is not a number or two. `text` empty: not said any
/// more.
[[nodiscard]] std::optional<std::map<std::string, std::string>> with_term(const Project& project,
                                                                          const std::string& group,
                                                                          const std::string& term,
                                                                          const std::string& text);

/// What is wrong with the terms that the project says: the first that is not a number or two, which is left out of its
/// budget.
[[nodiscard]] std::optional<std::string> budget_trouble(const Project& project);

}  // namespace kp::clocks
