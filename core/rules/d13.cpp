// SPDX-License-Identifier: GPL-3.0-or-later
// I/O delays of the constraints against the sum that data sheet, traces and user give (core/clocks/budget.hpp). A
// linked budget is to be kept exactly; otherwise a delay may ask for more than the board does, and not for less. Costs
// the budgets of the design where a board part has numbers or the user gave some; nothing elsewhere.
#include "core/clocks/budget.hpp"
#include "core/rules/say.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <cmath>

namespace kp::rules {

namespace {

bool has_numbers(const Board& board) {
    return std::any_of(board.parts.begin(), board.parts.end(), [](const BoardPart& p) {
        return std::any_of(p.terminals.begin(), p.terminals.end(),
                           [](const Terminal& t) { return t.setup_ns || t.hold_ns || t.out_min_ns || t.out_max_ns; });
    });
}

constexpr double smallest = 5e-4;  // ns; half of the last digit that delays are written with
/// ns; a hand that rounds or leaves a few millimetres of trace out says nothing else (common practice, no source).
constexpr double rounding = 0.05;

/// Later than the constraints say, or earlier: what they promise less than the board asks.
bool too_loose(const clocks::Budget& b) {
    return b.in_force->max < b.max - rounding || b.in_force->min > b.min + rounding;
}
bool differs(const clocks::Budget& b) {
    return std::fabs(b.in_force->max - b.max) > smallest || std::fabs(b.in_force->min - b.min) > smallest;
}

/// What is in force speaks of the clock of the budget; against another one its numbers mean something else.
bool of_its_clock(const RuleInput& in, const clocks::Budget& b) {
    for (const auto& d : in.constraints.io_delays) {
        if (d.input != b.input || d.port >= in.ports.size() || d.clock >= in.constraints.clocks.size()) continue;
        const auto& port = in.ports[d.port].name;
        const bool own = std::find(b.ports.begin(), b.ports.end(), port) != b.ports.end();
        if (own && in.constraints.clocks[d.clock].name != b.clock) return false;
    }
    return true;
}

std::string terms_of(const clocks::Budget& b) {
    std::string out;
    for (const auto& t : b.terms) out += said("{}{} {} ({})", out.empty() ? "" : ", ", t.what, ns(t.max), t.from);
    return out;
}

/// File and line of the first delay that speaks of one of its ports.
void place_of(const RuleInput& in, const clocks::Budget& b, Finding& f) {
    for (const auto& d : in.constraints.io_delays) {
        if (d.input != b.input || d.port >= in.ports.size()) continue;
        const auto& port = in.ports[d.port].name;
        if (std::find(b.ports.begin(), b.ports.end(), port) == b.ports.end()) continue;
        const auto file = static_cast<size_t>(d.span.file);
        if (file < in.constraints.files.size()) f.file = in.constraints.files[file];
        f.line = d.span.line;
        return;
    }
}

}  // namespace

void d13(const RuleInput& in, const RuleRow& row, std::vector<Finding>& out) {
    if (in.constraints.io_delays.empty() || (in.project.budgets.empty() && !has_numbers(in.board))) return;
    for (const auto& b : clocks::budgets({in, in.constraints, in.timing.port_clocks})) {
        if (b.arrangement == clocks::Arrangement::asynchronous || b.terms.empty() || !b.in_force) continue;
        if (!of_its_clock(in, b) || (b.linked ? !differs(b) : !too_loose(b))) continue;
        auto f = finding(row,
                         said("The {} delays of {} are {} at most and {} at least; the board says {} and {}: {}.",
                              b.input ? "input" : "output", list_names(b.ports, 5), ns(b.in_force->max),
                              ns(b.in_force->min), ns(b.max), ns(b.min), terms_of(b)),
                         {{Subject::port, b.ports.front()}});
        for (size_t i = 1; i < b.ports.size(); ++i) f.objects.push_back({Subject::port, b.ports[i]});
        if (!b.clock.empty()) f.objects.push_back({Subject::clock, b.clock});
        f.numbers = {{"constraint, max", "ns", b.in_force->max},
                     {"board, max", "ns", b.max},
                     {"constraint, min", "ns", b.in_force->min},
                     {"board, min", "ns", b.min}};
        place_of(in, b, f);
        if (in.with_fixes && !b.sdc.empty()) {
            std::string lines;
            for (const auto& line : b.sdc) lines += (lines.empty() ? "" : "\n") + line;
            if (auto fix = append_fix(in, lines, said("write the delays that the board asks of {}", b.name), b.clock))
                f.fixes.push_back(std::move(*fix));
        }
        out.push_back(std::move(f));
    }
}

}  // namespace kp::rules
