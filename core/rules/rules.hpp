// SPDX-License-Identifier: GPL-3.0-or-later
// The rules of I/O planning: one function per rule in a file of its own, one table of them all.
#pragma once

#include "core/rules/input.hpp"

#include <span>
#include <string>
#include <vector>

namespace kp {

/// What a rule looks at beside its own subject, so that an edit asks only those again that could answer otherwise.
enum class Reads : std::uint8_t {
    own,   ///< nothing else of the plan
    pair,  ///< the pegs of its partner and of the other pin of its pair
    bank,  ///< all that is pegged in its bank
    lane,  ///< the other ports of its byte
    bus,   ///< the other bits of its bus
    pegs,  ///< any peg or choice (rules on the plan as a whole)
};

/// A rule says what it checks at: each port, each pin that holds a port, each bank, or the plan as a whole. So one port
/// or pin can be checked by itself, and what a place would say to a port is what Findings would say.
struct RuleRow {
    const char* code;
    Severity severity;
    const char* statement;  ///< one sentence
    const char* source;     ///< published source, or "common practice, no source"
    const char* remedy;     ///< the heading under which its findings are grouped
    Reads reads = Reads::own;
    void (*of_port)(const RuleInput&, const RuleRow&, const PlannedPort&, std::vector<Finding>&) = nullptr;
    void (*of_pin)(const RuleInput&, const RuleRow&, const std::string& pin, std::vector<Finding>&) = nullptr;
    void (*of_bank)(const RuleInput&, const RuleRow&, const Bank&, std::vector<Finding>&) = nullptr;
    void (*of_plan)(const RuleInput&, const RuleRow&, std::vector<Finding>&) = nullptr;
};

/// All rules, in order of their codes.
[[nodiscard]] std::span<const RuleRow> rule_table();

/// Runs every rule and marks what is waived; a waiver that meets nothing becomes a note with code W01. Stops come
/// first, then the order of the rules, then that of ports, pins and banks.
[[nodiscard]] std::vector<Finding> run_rules(const RuleInput& input);

/// What every rule says of one port and of the pins `pins`, waivers marked; stops first.
[[nodiscard]] std::vector<Finding> run_rules_at(const RuleInput& input, const std::string& port,
                                                const std::vector<std::string>& pins);

/// The edit that waives a finding: it holds for its rule at its objects and nothing else.
[[nodiscard]] Edit waiver_edit(const Finding& finding, const std::string& reason, const std::string& who,
                               const std::string& date);

/// The ways out of a finding that was made without them.
[[nodiscard]] std::vector<Fix> fixes_of(const RuleInput& input, const Finding& finding);

/// docs/rules.md: every rule with its severity, statement and source, made from the table.
[[nodiscard]] std::string rules_document();

namespace rules {

/// Where the findings of one run belong in their order.
struct Order {
    size_t row = 0;        ///< in rule_table(); its size for stale waivers
    std::uint64_t at = 0;  ///< place of the subject among its kind
    std::string name;      ///< of the subject, for those that have no place
    auto operator<=>(const Order&) const = default;
};
[[nodiscard]] Order order_of(const RuleInput& input, size_t row, const PlannedPort& seat);
[[nodiscard]] Order order_of_pin(const RuleInput& input, size_t row, const std::string& pin);
[[nodiscard]] Order order_of_bank(const RuleInput& input, size_t row, const Bank& bank);

/// Sets or takes back `waived` of each finding. Gives which waivers met one.
std::vector<bool> mark_waived(const std::vector<Waiver>& waivers, std::vector<Finding>& findings);
[[nodiscard]] Finding stale_waiver(const Waiver& waiver);

}  // namespace rules

}  // namespace kp
