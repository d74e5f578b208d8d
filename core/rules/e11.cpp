// SPDX-License-Identifier: GPL-3.0-or-later
// Ends of lines: a pair by its resistor, a single wire when the edge is shorter than twice the way. Delay of the trace
// by its stack (Hammerstad and Jensen 1980), rise time by the drive.
#include "core/rules/say.hpp"
#include "core/base/text.hpp"
#include "core/model/trace.hpp"
#include "core/base/said.hpp"
#include <algorithm>

namespace kp::rules {

namespace {

void pair_end(const RuleInput& in, const RuleRow& row, const PlannedPort& seat, std::vector<Finding>& out) {
    // One finding for a pair, at its true pin. A pair that goes both ways ends as its bus does.
    const auto* partner = in.partner(seat);
    const bool second = partner && partner->peg && !seat.pin->pair_true;
    if (second || seat.port->direction == Direction::inout) return;
    const bool on_board =
        seat.at.net->parallel_ohm > 0 || (partner && partner->at && partner->at.net->parallel_ohm > 0);
    const bool on_chip = !seat.chosen->termination.empty() || (partner && !partner->chosen->termination.empty());
    if (on_board || on_chip) return;
    auto f = finding(
        row,
        said("{} ({}) comes from {} on a pair that is not terminated; edges reflect. It wants 100 Ω across the pair.",
             seat.name, seat.standard->name, seat.at.net->terminal),
        port_and_pin(seat));
    f.objects.push_back({Subject::terminal, seat.at.net->terminal});
    if (seat.bank && std::find(seat.bank->termination_ohm.begin(), seat.bank->termination_ohm.end(), 100.0) !=
                         seat.bank->termination_ohm.end())
        f.fixes.push_back(attribute_fix(in, seat, &PortAttributes::termination, "100",
                                        said("terminate the pair of {} with 100 Ω on the chip", seat.name)));
    out.push_back(std::move(f));
}

double rise_ns(const PlannedPort& s) {
    const auto& slews = s.bank->slews;
    const auto& chosen = s.chosen->slew.empty() && !slews.empty() ? slews.front() : s.chosen->slew;
    for (size_t i = 0; i < slews.size() && i < s.bank->rise_ns.size(); ++i)
        if (slews[i] == chosen) return s.bank->rise_ns[i];
    return 0;
}

/// What changes by hand or by lamp may ring as it likes; a wire with a reference ends at its receiver by its own
/// standard.
bool may_ring(const PlannedPort& s) {
    const auto& net = *s.at.net;
    return s.drives() && !s.standard->differential && s.at.terminal->forward_volts <= 0 && s.standard->vref <= 0 &&
           !s.standard->open_drain && net.series_ohm <= 0 && net.parallel_ohm <= 0 && !s.at.terminal->open_drain;
}

}  // namespace

void e11(const RuleInput& in, const RuleRow& row, const PlannedPort& seat, std::vector<Finding>& out) {
    if (!seat.port || !seat.at || !seat.bank || !seat.standard || !seat.pin->usable()) return;
    if (seat.standard->differential) {
        if (seat.reads() && seat.at.terminal->direction != TerminalDirection::reads) pair_end(in, row, seat, out);
        return;
    }
    const auto& net = *seat.at.net;
    if (!may_ring(seat)) return;
    const double rise = rise_ns(seat), delay = trace_delay(in.board.stack, net.trace_mm);
    if (rise <= 0 || delay <= 0 || rise >= 2 * delay - 1e-12) return;
    auto f = finding(row,
                     said("An edge of {} rises in {}, and the {} mm of trace to {} take {} ns; below twice that the "
                          "edge comes back and rings, and the line is not terminated.",
                          seat.name, ns(rise), number(net.trace_mm, 1), net.terminal, number(delay, 3)),
                     port_and_pin(seat));
    f.objects.push_back({Subject::terminal, net.terminal});
    f.numbers = {{"rise time", "ns", rise}, {"twice the trace", "ns", 2 * delay}, {"trace", "mm", net.trace_mm}};
    for (size_t i = 0; i < seat.bank->slews.size() && i < seat.bank->rise_ns.size() && f.fixes.empty(); ++i)
        if (seat.bank->rise_ns[i] >= 2 * delay)
            f.fixes.push_back(attribute_fix(in, seat, &PortAttributes::slew, seat.bank->slews[i],
                                            said("choose {} edges for {}", seat.bank->slews[i], seat.name)));
    out.push_back(std::move(f));
}

/// Without a stack, or without the length of a trace, ringing cannot be judged: then that is said, once.
void e11_unknown(const RuleInput& in, const RuleRow& row, std::vector<Finding>& out) {
    std::vector<std::string> names;
    for (const auto* seat : in.seats()) {
        if (!seat->port || !seat->at || !seat->bank || !seat->standard || !may_ring(*seat) || rise_ns(*seat) <= 0)
            continue;
        if (trace_delay(in.board.stack, seat->at.net->trace_mm) <= 0) names.push_back(seat->name);
    }
    if (names.empty()) return;
    const bool no_stack = in.board.stack.kind.empty();
    auto f = finding(
        row,
        said("{} not checked for ringing: the board file gives no {}. {}{}.",
             counted(names.size(), "output was", "outputs were"), (no_stack ? "stack" : "length for their traces"),
             (names.size() == 1 ? "It is " : "They are "), list_names(names)),
        {{Subject::board, in.board.name}});
    f.severity = Severity::note;
    out.push_back(std::move(f));
}

}  // namespace kp::rules
