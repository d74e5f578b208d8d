// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/text.hpp"
#include "core/format/sdc/text.hpp"
#include "core/rules/rules.hpp"

#include <cmath>

namespace kp::rules {

namespace {

/// A fix that replaces one option of the clock's command and nothing else.
void option_fix(const RuleInput& in, const ClockDefinition& clock, const char* option, const std::string& value, const std::string& text, Finding& f) {
    const auto at = static_cast<size_t>(clock.span.file);
    if (at >= in.constraints.files.size()) return;
    for (const auto& file : in.project.constraints) {
        if (file.path != in.constraints.files[at] || clock.span.end > file.text.size()) continue;
        const sdc::Span span{clock.span.begin, clock.span.end};
        const std::string before(span.of(file.text));
        f.fixes.push_back({text, Edit{text, {TextChange{file.path, span.begin, before, sdc::with_option(file.text, span, option, value)}}}});
        f.file = file.path;
        f.line = clock.span.line;
    }
}

}  // namespace

void d04(const RuleInput& in, const RuleRow& row, std::vector<Finding>& out) {
    for (const auto& clock : in.constraints.clocks) {
        for (const auto& source : clock.sources) {
            if (source.kind != ObjectKind::port) continue;
            const auto& port = in.ports[source.id].name;
            const auto peg = in.project.pegs.find(port);
            const auto* oscillator = peg == in.project.pegs.end() ? nullptr : in.board.oscillator_at_pin(peg->second.pin);
            if (!oscillator) continue;
            const double period = 1000.0 / oscillator->mhz, tolerance = period * oscillator->ppm * 1e-6;
            // The smallest step that counts: below a femtosecond it is rounding of the written number.
            if (std::fabs(clock.period - period) > tolerance + 1e-6) {
                auto f = finding(row, "The clock " + clock.name + " is said to have " + shortest(clock.period) + " ns; the oscillator " + oscillator->terminal + " has " + shortest(oscillator->mhz) + " MHz, that is " + shortest(std::round(period * 1e6) / 1e6) + " ns.", {{"clock", clock.name}, {"port", port}, {"pin", peg->second.pin}});
                f.numbers = {{"constraint", "ns", clock.period}, {"oscillator", "ns", period}, {"tolerance", "ns", tolerance}};
                option_fix(in, clock, "-period", shortest(std::round(period * 1e6) / 1e6), "write -period " + shortest(std::round(period * 1e6) / 1e6) + " for " + clock.name, f);
                out.push_back(std::move(f));
                continue;
            }
            const double duty = 100.0 * (clock.waveform[1] - clock.waveform[0]) / clock.period;
            if (duty >= oscillator->duty_percent[0] && duty <= oscillator->duty_percent[1]) continue;
            auto f = finding(row, "The clock " + clock.name + " is said to be high for " + shortest(std::round(duty * 10) / 10) + " % of its period; the oscillator " + oscillator->terminal + " keeps " + shortest(oscillator->duty_percent[0]) + " to " + shortest(oscillator->duty_percent[1]) + " %.", {{"clock", clock.name}, {"port", port}, {"pin", peg->second.pin}});
            f.numbers = {{"duty", "%", duty}, {"least", "%", oscillator->duty_percent[0]}, {"most", "%", oscillator->duty_percent[1]}};
            option_fix(in, clock, "-waveform", "{0 " + shortest(period / 2) + "}", "write a waveform of half the period for " + clock.name, f);
            out.push_back(std::move(f));
        }
    }
}

}  // namespace kp::rules
