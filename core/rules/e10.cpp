// SPDX-License-Identifier: GPL-3.0-or-later
// A wire that everybody only pulls low: the pull-up has to be strong enough for the rise time, weak enough for the
// sinks (UM10204, 7.1). The capacitance is that of trace, pads and parts as far as it is known.
#include "core/rules/say.hpp"
#include "core/base/said.hpp"

namespace kp::rules {

namespace {

// I2C-bus specification UM10204, tables 9 and 10 (from memory): 3 mA at 0.4 V; edges of 1000 ns at most at 100 kbit/s,
// 300 ns at 400 kbit/s.
constexpr double sink_ma = 3, low_volts = 0.4, slowest_ns = 1000, fast_ns = 300;
// From 30 to 70 % of an RC edge: t = 0.8473 R C, UM10204 section 7.1.
constexpr double edge = 0.8473;

bool open_drain(const PlannedPort& s) {
    return s.at && (s.at.terminal->open_drain ||
                    (s.drives() && ((s.standard && s.standard->open_drain) || (s.facts && s.facts->only_low))));
}

}  // namespace

void e10(const RuleInput& in, const RuleRow& row, const PlannedPort& seat, std::vector<Finding>& out) {
    if (!seat.port || !seat.pin || !open_drain(seat)) return;
    const auto& net = *seat.at.net;
    const std::string wire = seat.name + " and " + net.terminal;
    if (net.pull != "up" || net.pull_ohm <= 0) {
        const bool weak = seat.chosen->pull == "up";
        auto f = finding(
            row,
            weak ? wire +
                       " share a wire that everybody only pulls low, and only the weak pull in the pad lifts it; it is "
                       "slow to rise."
                 : wire +
                       " share a wire that everybody only pulls low, and nothing pulls it up; it would never be high.",
            port_and_pin(seat));
        f.objects.push_back({Subject::terminal, net.terminal});
        if (weak)
            f.severity = Severity::caution;
        else
            f.fixes.push_back(
                attribute_fix(in, seat, &PortAttributes::pull, "up", said("pull {} up in its pad", seat.name)));
        return out.push_back(std::move(f));
    }
    const double supply = seat.rail.value_or(seat.standard ? seat.standard->supply : 0);
    if (supply <= 0) return;
    const double least = (supply - low_volts) / sink_ma * 1000;
    const double most = net.capacitance_pf > 0 ? slowest_ns / (edge * net.capacitance_pf) * 1000 : 0;
    const double rise = edge * net.pull_ohm * net.capacitance_pf / 1000;
    std::vector<FindingNumber> numbers{{"pull", "Ω", net.pull_ohm}, {"least", "Ω", least}};
    if (most > 0) {
        numbers.push_back({"most", "Ω", most});
        numbers.push_back({"rise time", "ns", rise});
    }
    if (net.pull_ohm < least - 1e-9) {
        auto f = finding(row,
                         said("The pull-up of {} is {} Ω; who pulls low with {} only gets below {} from {} Ω on.", wire,
                              number(net.pull_ohm), ma(sink_ma), volts(low_volts), number(least, 0)),
                         port_and_pin(seat));
        f.objects.push_back({Subject::terminal, net.terminal});
        f.numbers = std::move(numbers);
        return out.push_back(std::move(f));
    }
    if (most <= 0 || net.pull_ohm <= most + 1e-9) return;
    auto f = finding(row,
                     said("The pull-up of {} is {} Ω; with {} pF the wire takes {} ns to rise, and {} ns are allowed "
                          "at 100 kbit/s ({} ns at 400).",
                          wire, number(net.pull_ohm), number(net.capacitance_pf), number(rise, 0), number(slowest_ns),
                          number(fast_ns)),
                     port_and_pin(seat));
    f.severity = Severity::caution;
    f.objects.push_back({Subject::terminal, net.terminal});
    f.numbers = std::move(numbers);
    out.push_back(std::move(f));
}

}  // namespace kp::rules
