// SPDX-License-Identifier: GPL-3.0-or-later
// The clock of the constraints against the oscillator of the board, through the peg. Period: within the ppm of the
// oscillator; duty: within its range where the data sheet gives one. Without a tolerance the oscillator counts as
// exact.
#include "core/rules/say.hpp"
#include "core/base/said.hpp"

#include <cmath>

namespace kp::rules {

void d04(const RuleInput& in, const RuleRow& row, std::vector<Finding>& out) {
    for (const auto& clock : in.constraints.clocks) {
        for (const auto& source : clock.sources) {
            if (source.kind != ObjectKind::port) continue;
            const auto& port = in.ports[source.id].name;
            const auto* seat = in.seat(port);
            const auto* oscillator = seat && seat->peg ? in.board.oscillator_at_pin(seat->on) : nullptr;
            if (!oscillator) continue;
            const double period = 1000.0 / oscillator->mhz, tolerance = period * oscillator->ppm * 1e-6;
            // The smallest step that counts: below a femtosecond it is rounding of the written number.
            if (std::fabs(clock.period - period) > tolerance + 1e-6) {
                auto f =
                    finding(row,
                            said("The clock {} is constrained to {} ns; the oscillator {} has {} MHz, that is {} ns.",
                                 clock.name, shortest(clock.period), oscillator->terminal, shortest(oscillator->mhz),
                                 shortest(std::round(period * 1e6) / 1e6)),
                            {{Subject::clock, clock.name}, {Subject::port, port}, {Subject::pin, seat->on}});
                f.numbers = {
                    {"constraint", "ns", clock.period}, {"oscillator", "ns", period}, {"tolerance", "ns", tolerance}};
                option_fix(in, clock, "-period", shortest(std::round(period * 1e6) / 1e6),
                           said("write -period {} for {}", shortest(std::round(period * 1e6) / 1e6), clock.name), f);
                out.push_back(std::move(f));
                continue;
            }
            const double duty = 100.0 * (clock.waveform[1] - clock.waveform[0]) / clock.period;
            if (!oscillator->knows_duty()) continue;
            if (duty >= oscillator->duty_percent[0] && duty <= oscillator->duty_percent[1]) continue;
            auto f = finding(row,
                             said("The clock {} is constrained to be high for {} % of its period; the oscillator {} "
                                  "keeps {} to {} %.",
                                  clock.name, shortest(std::round(duty * 10) / 10), oscillator->terminal,
                                  shortest(oscillator->duty_percent[0]), shortest(oscillator->duty_percent[1])),
                             {{Subject::clock, clock.name}, {Subject::port, port}, {Subject::pin, seat->on}});
            f.numbers = {{"duty", "%", duty},
                         {"least", "%", oscillator->duty_percent[0]},
                         {"most", "%", oscillator->duty_percent[1]}};
            option_fix(in, clock, "-waveform", said("{{0 {}}}", shortest(period / 2)),
                       "write a waveform of half the period for " + clock.name, f);
            out.push_back(std::move(f));
        }
    }
}

}  // namespace kp::rules
