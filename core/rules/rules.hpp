// SPDX-License-Identifier: GPL-3.0-or-later
// The rules of I/O planning: one function per rule in a file of its own, one table of them all.
#pragma once

#include "core/model/board.hpp"
#include "core/model/finding.hpp"
#include "core/model/netlist.hpp"
#include "core/model/part.hpp"
#include "core/model/standards.hpp"
#include "core/model/timing_report.hpp"

#include <span>
#include <string>
#include <vector>

namespace kp {

/// What rules may look at. Nothing of it is changed; all of it outlives the call.
struct RuleInput {
    const Part& part;
    const Board& board;
    const StandardTable& standards;
    const std::vector<Port>& ports;
    const Project& project;
    const Constraints& constraints;
    const Coverage& coverage;
};

struct RuleRow {
    const char* code;
    Severity severity;
    const char* statement;  ///< one sentence
    const char* source;     ///< published source, or "common practice, no source"
    const char* remedy;     ///< the heading under which its findings are grouped
    void (*check)(const RuleInput&, const RuleRow&, std::vector<Finding>&);
};

/// All rules, in order of their codes.
[[nodiscard]] std::span<const RuleRow> rule_table();

/// Runs every rule and marks what is waived; a waiver that meets nothing becomes a note with code W01. Stops come first.
[[nodiscard]] std::vector<Finding> run_rules(const RuleInput& input);

namespace rules {

/// A finding of `row` with its severity, source and remedy filled in.
[[nodiscard]] Finding finding(const RuleRow& row, std::string text, std::vector<FindingObject> objects);
/// The port a peg speaks of, or null when the design has it no more.
[[nodiscard]] const Port* port_of(const RuleInput& input, const std::string& name);
/// A place this port may go to: the terminal its name suggests, otherwise the nearest free user pin of the same bank.
struct Place {
    std::string pin, why;
};
[[nodiscard]] std::optional<Place> better_place(const RuleInput& input, const Port& port);
[[nodiscard]] Fix move_fix(const RuleInput& input, const std::string& port, const Place& place);

void l01(const RuleInput&, const RuleRow&, std::vector<Finding>&);
void l02(const RuleInput&, const RuleRow&, std::vector<Finding>&);
void l08(const RuleInput&, const RuleRow&, std::vector<Finding>&);
void l11(const RuleInput&, const RuleRow&, std::vector<Finding>&);
void e01(const RuleInput&, const RuleRow&, std::vector<Finding>&);
void e03(const RuleInput&, const RuleRow&, std::vector<Finding>&);
void d01(const RuleInput&, const RuleRow&, std::vector<Finding>&);
void d03(const RuleInput&, const RuleRow&, std::vector<Finding>&);
void d04(const RuleInput&, const RuleRow&, std::vector<Finding>&);
void d06(const RuleInput&, const RuleRow&, std::vector<Finding>&);

}  // namespace rules

}  // namespace kp
