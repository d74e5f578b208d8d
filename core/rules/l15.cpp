// SPDX-License-Identifier: GPL-3.0-or-later
// A clock that nothing of the board drives where it sits. Each port answers for itself, whoever has the oscillator.
#include "core/planning/meant.hpp"
#include "core/rules/legal.hpp"
#include "core/rules/say.hpp"
#include "core/base/said.hpp"

#include <algorithm>

namespace kp::rules {

namespace {

/// Something at this place may well give a clock: an oscillator, a part that says so, a plug that is for anything.
bool may_clock(const RuleInput& in, const PlannedPort& seat) {
    if (!seat.at) return false;
    if (in.board.oscillator_at_pin(seat.on) || seat.at.part->kind == "header" || seat.at.terminal->clock_mhz)
        return true;
    for (const auto& t : seat.at.part->terminals)
        if (t.clock == seat.at.terminal->name) return true;
    const auto& kind = seat.at.part->kind;
    const bool worked_by_hand = kind == "key" || kind == "rocker" || kind == "vane";
    return !worked_by_hand && seat.at.terminal->direction != TerminalDirection::reads;
}

/// "; the clock clk is constrained to 25 MHz, and no oscillator of the board has that": why none is named.
std::string which_disagrees(const Board& board, double rate) {
    std::string all;
    for (const auto& o : board.oscillators) all += said("{}{} {}", all.empty() ? "" : ", ", o.terminal, mhz(o.mhz));
    return said("constraints say {}, and no oscillator of the board has that ({})", mhz(rate), all);
}

}  // namespace

void l15(const RuleInput& in, const RuleRow& row, const PlannedPort& seat, std::vector<Finding>& out) {
    if (in.board.oscillators.empty() || !seat.port || seat.port->direction != Direction::in || !seat.pin ||
        !seat.chosen->meant.empty() || may_clock(in, seat))
        return;
    const auto evidence = clock_evidence(in, seat);
    if (!evidence) return;
    const auto rate = constrained_mhz(in, seat);
    const auto here = seat.at ? said("sits on {} ({})", seat.at.net->terminal, seat.at.part->shown())
                              : said("sits on pin {}, where the board has nothing", seat.on);
    const auto* oscillator = oscillator_for(in.board, rate);
    const auto at = oscillator ? in.board.at_terminal(oscillator->terminal) : Board::Found{};
    std::string text;
    if (at)
        text = said("{} {} and {}; the oscillator {} ({}) is on pin {}.", seat.name, evidence.words, here,
                    oscillator->terminal, mhz(oscillator->mhz), at.net->pin);
    else if (rate > 0 && std::none_of(in.board.oscillators.begin(), in.board.oscillators.end(),
                                      [&](const Oscillator& o) { return has_rate(o, rate); }))
        text = said("{} {} and {}; {}.", seat.name, evidence.words, here, which_disagrees(in.board, rate));
    else
        text = said("{} {} and {}; the board has {} that could drive it, and nothing says which.", seat.name,
                    evidence.words, here, counted(static_cast<long long>(in.board.oscillators.size()), "oscillator"));
    auto f = finding(row, std::move(text), port_and_pin(seat));
    // Without a rate that somebody said, it may be a clock that a hand is meant to give.
    if (!evidence.sure() || rate <= 0) f.severity = Severity::caution;
    if (at) f.objects.push_back({Subject::terminal, oscillator->terminal});
    if (at && in.with_fixes) {
        const auto& there = in.at_pin(at.net->pin);
        const BetterPin place{at.net->pin, said("{}, {}", oscillator->terminal, mhz(oscillator->mhz))};
        if (there.empty())
            f.fixes.push_back(move_fix(in, seat.name, place));
        else if (there.size() == 1)
            f.fixes.push_back(
                {said("swap {} and {}", seat.name, there[0]), swap_edit(in.project, seat.name, there[0])});
    }
    out.push_back(std::move(f));
}

}  // namespace kp::rules
