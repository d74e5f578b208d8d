// SPDX-License-Identifier: GPL-3.0-or-later
// Moved out of the rules that say findings by it; each function costs its own port, pin or bank.
#include "core/rules/legal.hpp"

#include "core/base/text.hpp"
#include "core/planning/roles.hpp"
#include "core/rules/say.hpp"

#include <algorithm>
#include <cmath>
#include <map>

namespace kp::rules {

ClockEvidence clock_evidence(const RuleInput& in, const PlannedPort& seat) {
    using K = ClockEvidence::Kind;
    if (seat.facts) {
        if (seat.facts->feeds_pll) return {K::netlist, "feeds a PLL"};
        return seat.facts->clocks_registers ? ClockEvidence{K::netlist, "clocks registers"} : ClockEvidence{};
    }
    for (const auto& clock : in.constraints.clocks)
        for (const auto& o : clock.sources)
            if (!clock.generated && o.kind == ObjectKind::port && o.id == seat.order)
                return {K::constraint, "has the clock " + clock.name};
    if (in.board.oscillator_at_pin(seat.on)) return {K::board, "is driven by an oscillator"};
    return looks_like_clock(seat.port->bus) && seat.port->direction == Direction::in && seat.port->index < 0
               ? ClockEvidence{K::name, "is a clock by its name"}
               : ClockEvidence{};
}

bool is_clock_place(const Pin& pin, bool differential) {
    return pin.kind == PinKind::clock && (differential || pin.pair.empty() || pin.pair_true);
}

bool knows_clock_pins(const Part& part) {
    return std::any_of(part.pins.begin(), part.pins.end(), [](const Pin& p) { return p.kind == PinKind::clock; });
}

bool part_drives(const RuleInput& in, const Pin& pin) {
    const auto* mode = pin.job.empty() ? nullptr : mode_of(in);
    return mode && std::find(mode->drives.begin(), mode->drives.end(), pin.job) != mode->drives.end();
}

char half_of_pair(const PlannedPort& seat, const PlannedPort* partner) {
    if (const char own = half_of(seat.port->bus)) return own;
    const char other = partner && partner->port ? half_of(partner->port->bus) : 0;
    return other == 'p' ? 'n' : other == 'n' ? 'p' : 0;
}

bool knows_strobe_groups(const Part& part) {
    return std::any_of(part.pins.begin(), part.pins.end(), [](const Pin& p) { return !p.strobe_group.empty(); });
}

bool bank_carries(const Bank& bank, const IoStandard& s, bool drives, bool reads) {
    const bool listed = bank.standards.empty() ||
                        std::find(bank.standards.begin(), bank.standards.end(), s.name) != bank.standards.end();
    return listed && !(s.direction == "in" && drives) && !(s.direction == "out" && reads);
}

bool takes_supply(const IoStandard& s, bool drives, double volts) {
    if (same_volts(s.supply, volts)) return true;
    return !drives && std::any_of(s.input_at.begin(), s.input_at.end(),
                                  [&](const std::string& v) { return same_volts(to_number(v).value_or(0), volts); });
}

std::optional<double> supply_by_ports(const Bank& bank, const std::vector<const PlannedPort*>& seats) {
    std::map<long, int> asked;  // by mV
    const auto mv_of = [](double volts) { return std::lround(volts * 1000); };
    for (const auto* s : seats)
        if (s->port && s->standard && s->standard->supply > 0) ++asked[mv_of(s->standard->supply)];
    if (asked.empty()) return std::nullopt;
    std::map<long, int> options = bank.volts.empty() ? asked : std::map<long, int>{};
    for (const double v : bank.volts) options[mv_of(v)] = asked.contains(mv_of(v)) ? asked.at(mv_of(v)) : 0;
    std::optional<double> best;
    std::pair<int, int> most{-1, -1};
    for (const auto& [mv, n] : options) {
        const double volts = static_cast<double>(mv) / 1000;
        const int live = static_cast<int>(std::count_if(seats.begin(), seats.end(), [&](const PlannedPort* s) {
            return s->port && s->standard && takes_supply(*s->standard, s->drives(), volts);
        }));
        if (std::pair(live, n) <= most) continue;
        most = {live, n};
        best = volts;
    }
    return best;
}

}  // namespace kp::rules
