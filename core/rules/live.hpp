// SPDX-License-Identifier: GPL-3.0-or-later
// The findings of a plan that follow its edits: after each one only those subjects are asked again that could answer
// otherwise. The result is the same, to the order, as that of run_rules on the plan as it is then.
#pragma once

#include "core/rules/rules.hpp"

#include <set>
#include <string>
#include <vector>

namespace kp {

class LiveRules {
public:
    /// Runs every rule. The input outlives it and is told of changes (RuleInput::refresh) by update().
    explicit LiveRules(const RuleInput& input);

    [[nodiscard]] const std::vector<Finding>& findings() const { return findings_; }
    [[nodiscard]] std::vector<Finding> take() { return std::move(findings_); }

    /// To be called when `edit` has been applied to the project that `input` (the one of the constructor) looks at.
    /// Edits of inputs (netlist, board, part) and new analyses need a new LiveRules.
    void update(RuleInput& input, const Edit& edit);

private:
    struct Key {
        Severity severity = Severity::stop;
        rules::Order order;
        size_t sequence = 0;  ///< among the findings of one subject
        auto operator<=>(const Key&) const = default;
    };
    struct Dirty {
        std::set<std::string> ports, pins, banks;
        bool lanes = false, pegs = false, all_plan = false;
    };
    struct Subjects {
        std::set<const PlannedPort*> seats;
        std::set<std::string> pins;
        std::vector<const Bank*> banks;
        bool plan = false;
    };
    using Found = std::vector<std::pair<Key, Finding>>;
    template <class Run>
    void ask(const rules::Order& order, Found& out, Run run) const;
    [[nodiscard]] Subjects subjects_of(const RuleRow& row, const Dirty* dirty) const;
    void ask_row(size_t row, const Subjects& subjects, Found& out) const;
    void touch(const std::string& port, const RuleInput& input, Dirty& dirty) const;
    void merge(Found found);
    void waive();

    const RuleInput& input_;
    std::vector<Key> keys_;  ///< of each finding, same order
    std::vector<Finding> findings_;
};

}  // namespace kp
