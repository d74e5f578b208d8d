// SPDX-License-Identifier: GPL-3.0-or-later
// Clock inputs without a clock, and clocks without anything to do. What clocks registers comes from the netlist; the
// proposal takes the period of the oscillator on the pin, else asks for it.
#include "core/rules/say.hpp"
#include "core/model/sdc_words.hpp"
#include "core/base/said.hpp"
#include <algorithm>

namespace kp::rules {

namespace {

bool has_clock(const RuleInput& in, const PlannedPort& seat) {
    const auto id = seat.order;
    return std::any_of(in.constraints.clocks.begin(), in.constraints.clocks.end(), [&](const ClockDefinition& c) {
        return std::any_of(c.sources.begin(), c.sources.end(), [&](const ObjectRef& o) {
            return (o.kind == ObjectKind::port && o.id == id) || (o.kind == ObjectKind::net && o.id == seat.port->net);
        });
    });
}

/// Where a command names the clock that is missing, the clock goes in front of it: behind, the command would still find
/// none.
std::optional<Fix> before_its_use(const RuleInput& in, const std::string& clock, const std::string& command,
                                  const std::string& ask) {
    for (const auto& m : in.constraints.messages) {
        const auto missing = [&](const Subject& s) { return s.kind == Subject::clock && s.name == clock; };
        if (m.code != Code::no_match || m.line <= 0 || std::none_of(m.subjects.begin(), m.subjects.end(), missing))
            continue;
        for (const auto& file : in.project.constraints) {
            if (file.path != m.file) continue;
            size_t at = 0;
            for (int line = 1; line < m.line && at != std::string::npos; ++line) at = file.text.find('\n', at) + 1;
            if (at == std::string::npos || at > file.text.size()) continue;
            return Fix{said("add, in front of line {}: {}", m.line, command),
                       Edit{"define the clock " + clock, {TextChange{file.path, at, "", command + "\n"}}}, ask};
        }
    }
    return std::nullopt;
}

}  // namespace

void d05(const RuleInput& in, const RuleRow& row, const PlannedPort& seat, std::vector<Finding>& out) {
    if (!seat.facts || !seat.reads() || !(seat.facts->clocks_registers || seat.facts->feeds_pll) || has_clock(in, seat))
        return;
    // A clock defined behind the pad, or the other half of a pair, is a clock all the same.
    const auto* partner = in.partner(seat);
    if (partner && partner->port && partner->reads() && has_clock(in, *partner)) return;
    const bool unclocked = std::any_of(in.timing.coverage.untimed.begin(), in.timing.coverage.untimed.end(),
                                       [](const UntimedObject& u) { return !u.port && !u.endpoint; });
    if (seat.facts->clocks_registers && !unclocked) return;
    auto f = finding(row,
                     seat.name + (seat.facts->feeds_pll ? " feeds a PLL" : " clocks registers") +
                         ", and no clock is defined on it; what it clocks is not checked at all.",
                     port_and_pin(seat));
    const auto* oscillator = seat.peg ? in.board.oscillator_at_pin(seat.on) : nullptr;
    if (oscillator) f.numbers = {{"oscillator", "MHz", oscillator->mhz}};
    if (in.with_fixes) {
        std::string name = seat.name;
        for (int i = 2; in.constraints.clock(name) != no_id; ++i) name = seat.name + "_" + std::to_string(i);
        // Without an oscillator on the pin only the user knows the period.
        const std::string period = oscillator ? number(1000 / oscillator->mhz, 6) : number_wanted;
        const auto command =
            said("create_clock -name {} -period {} {}", sdc::quote(name), period, sdc::get_ports_word({seat.name}));
        const std::string ask = oscillator ? "" : said("period of the clock at {}, ns", seat.name);
        auto fix = before_its_use(in, name, command, ask);
        if (!fix) fix = append_fix(in, command, "define the clock " + name, {}, ask);
        if (fix) f.fixes.push_back(std::move(*fix));
    }
    out.push_back(std::move(f));
}

void d05_unused(const RuleInput& in, const RuleRow& row, std::vector<Finding>& out) {
    for (size_t i = 0; i < in.constraints.clocks.size() && i < in.design.clock_used.size(); ++i) {
        const auto& clock = in.constraints.clocks[i];
        if (in.design.clock_used[i]) continue;
        auto f = finding(
            row,
            said("Nothing uses the clock {}: it reaches no register and no PLL, and no delay is given against it.",
                 clock.name),
            {{Subject::clock, clock.name}});
        f.severity = Severity::note;
        if (const auto file = static_cast<size_t>(clock.span.file); file < in.constraints.files.size()) {
            f.file = in.constraints.files[file];
            f.line = clock.span.line;
        }
        out.push_back(std::move(f));
    }
}

}  // namespace kp::rules
