// SPDX-License-Identifier: GPL-3.0-or-later
// The rules of I/O planning: one function per rule in a file of its own, one table of them all.
#pragma once

#include "core/model/board.hpp"
#include "core/model/finding.hpp"
#include "core/model/netlist.hpp"
#include "core/model/part.hpp"
#include "core/model/standards.hpp"
#include "core/model/timing_report.hpp"
#include "core/pegs/attributes.hpp"
#include "core/pegs/place.hpp"

#include <memory>
#include <span>
#include <string>
#include <string_view>
#include <unordered_map>
#include <vector>

namespace kp {

/// What rules may look at. Nothing of it is changed by them; all of it outlives the input.
struct RuleInput {
    const Part& part;
    const Board& board;
    const StandardTable& standards;
    const std::vector<Port>& ports;
    const Project& project;
    const Constraints& constraints;
    const Coverage& coverage;
    bool with_fixes = true;  ///< ways out cost more than the findings; who only wants the findings goes without

    RuleInput(const Part& part, const Board& board, const StandardTable& standards, const std::vector<Port>& ports, const Project& project, const Constraints& constraints, const Coverage& coverage);

    /// Ports pegged to a pin; none for most.
    [[nodiscard]] const std::vector<std::string>& at_pin(const std::string& pin) const;
    /// Null when the design has no such port.
    [[nodiscard]] const Port* port(const std::string& name) const;
    /// To be told when a peg of `project` went from one pin to another; an empty text is adrift.
    void moved(const std::string& port, const std::string& from, const std::string& to);
    [[nodiscard]] const NameMatcher& matcher() const;
    [[nodiscard]] const AttributeInput& attributes() const;

private:
    std::unordered_map<std::string_view, const Port*> by_name_;
    std::unordered_map<std::string, std::vector<std::string>> on_pin_;
    mutable std::unique_ptr<NameMatcher> matcher_;  // made when first asked for
    mutable std::unique_ptr<AttributeInput> attributes_;
};

/// A rule says what it checks at: each port, each pin that holds a port, or the plan as a whole. So one port or pin can be
/// checked by itself, and what a place would say to a port is what Findings would say.
struct RuleRow {
    const char* code;
    Severity severity;
    const char* statement;  ///< one sentence
    const char* source;     ///< published source, or "common practice, no source"
    const char* remedy;     ///< the heading under which its findings are grouped
    void (*of_port)(const RuleInput&, const RuleRow&, const std::string& port, std::vector<Finding>&) = nullptr;
    void (*of_pin)(const RuleInput&, const RuleRow&, const std::string& pin, std::vector<Finding>&) = nullptr;
    void (*of_plan)(const RuleInput&, const RuleRow&, std::vector<Finding>&) = nullptr;
};

/// All rules, in order of their codes.
[[nodiscard]] std::span<const RuleRow> rule_table();

/// Runs every rule and marks what is waived; a waiver that meets nothing becomes a note with code W01. Stops come first.
[[nodiscard]] std::vector<Finding> run_rules(const RuleInput& input);

/// docs/rules.md: every rule with its severity, statement and source, made from the table.
[[nodiscard]] std::string rules_document();

/// What every rule says of one port and of the pins `pins`, waivers marked; stops first.
[[nodiscard]] std::vector<Finding> run_rules_at(const RuleInput& input, const std::string& port, const std::vector<std::string>& pins);

/// The ways out of a finding that was made without them.
[[nodiscard]] std::vector<Fix> fixes_of(const RuleInput& input, const Finding& finding);

namespace rules {

/// A finding of `row` with its severity, source and remedy filled in.
[[nodiscard]] Finding finding(const RuleRow& row, std::string text, std::vector<FindingObject> objects);
/// A place this port may go to: the terminal its name suggests, otherwise the nearest free user pin of the same bank.
struct Place {
    std::string pin, why;
};
/// Pins of `leaving` count as free.
[[nodiscard]] std::optional<Place> better_place(const RuleInput& input, const Port& port, const std::vector<std::string>& leaving = {});
[[nodiscard]] Fix move_fix(const RuleInput& input, const std::string& port, const Place& place);

void l01(const RuleInput&, const RuleRow&, const std::string& port, std::vector<Finding>&);
void l02(const RuleInput&, const RuleRow&, const std::string& pin, std::vector<Finding>&);
void l08(const RuleInput&, const RuleRow&, const std::string& port, std::vector<Finding>&);
void l11(const RuleInput&, const RuleRow&, const std::string& port, std::vector<Finding>&);
void e01(const RuleInput&, const RuleRow&, const std::string& port, std::vector<Finding>&);
void e03(const RuleInput&, const RuleRow&, const std::string& port, std::vector<Finding>&);
void l03(const RuleInput&, const RuleRow&, const std::string& port, std::vector<Finding>&);
void l05(const RuleInput&, const RuleRow&, const std::string& port, std::vector<Finding>&);
void l06(const RuleInput&, const RuleRow&, const std::string& port, std::vector<Finding>&);
void l09(const RuleInput&, const RuleRow&, std::vector<Finding>&);
void e02(const RuleInput&, const RuleRow&, const std::string& port, std::vector<Finding>&);
void e04(const RuleInput&, const RuleRow&, const std::string& port, std::vector<Finding>&);
void e06(const RuleInput&, const RuleRow&, const std::string& port, std::vector<Finding>&);
void e07(const RuleInput&, const RuleRow&, const std::string& port, std::vector<Finding>&);
void d01(const RuleInput&, const RuleRow&, std::vector<Finding>&);
void d03(const RuleInput&, const RuleRow&, std::vector<Finding>&);
void d03_peg(const RuleInput&, const RuleRow&, const std::string& port, std::vector<Finding>&);
void d04(const RuleInput&, const RuleRow&, std::vector<Finding>&);
void d06(const RuleInput&, const RuleRow&, std::vector<Finding>&);

}  // namespace rules

}  // namespace kp
