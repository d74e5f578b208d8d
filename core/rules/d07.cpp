// SPDX-License-Identifier: GPL-3.0-or-later
// PLL arithmetic: detector = in / divide, VCO = detector * multiply, output = VCO / its divider, each against the range
// of the part, and the generated clocks of the constraints against what comes of it. Costs one pass over the PLLs.
#include "core/rules/say.hpp"

#include "core/base/text.hpp"
#include "core/base/said.hpp"
#include <algorithm>
#include <cmath>

namespace kp::rules {

namespace {

/// One PLL of the design against the limits of a PLL of the part: f_vco = f_in / divide * multiply, f_out = f_vco /
/// output.
struct Check {
    const RuleInput& in;
    const RuleRow& row;
    const PllFacts& pll;
    const PllLimits& limits;
    std::vector<Finding>& out;
    double input = 0;  ///< MHz

    Finding& say(const std::string& text) {
        out.push_back(finding(row, text, {{Subject::cell, pll.cell}}));
        if (pll.clock != no_id) out.back().objects.push_back({Subject::clock, in.constraints.clocks[pll.clock].name});
        return out.back();
    }
    void within(const char* what, double value, const double (&range)[2]) {
        if (range[1] <= 0 || (value >= range[0] * (1 - 1e-9) && value <= range[1] * (1 + 1e-9))) return;
        say(said("The {} of {} is {}; {} takes {} to {}.", what, pll.cell, mhz(value), limits.name, number(range[0], 3),
                 mhz(range[1])))
            .numbers = {{what, "MHz", value}, {"least", "MHz", range[0]}, {"most", "MHz", range[1]}};
    }
    void whole(const std::string& what, long long value, const int (&range)[2]) {
        if (value >= range[0] && value <= range[1]) return;
        say(said("{} of {} is {}; {} has {} to {}.", what, pll.cell, value, limits.name, range[0], range[1]))
            .numbers = {{"set", "", static_cast<double>(value)},
                        {"least", "", static_cast<double>(range[0])},
                        {"most", "", static_cast<double>(range[1])}};
    }

    void by_parameters() {
        whole("The divider before the detector", *pll.divide, limits.divide);
        whole("The multiplier", *pll.multiply, limits.multiply);
        if (*pll.divide < 1 || *pll.multiply < 1) return;
        const double detector = input / static_cast<double>(*pll.divide),
                     vco = detector * static_cast<double>(*pll.multiply);
        within("detector frequency", detector, limits.detector_mhz);
        within("oscillator frequency", vco, limits.vco_mhz);
        for (const auto& o : pll.outputs) {
            if (!o.divide || *o.divide < 1) continue;
            whole("The divider of output " + o.pin.substr(o.pin.rfind('/') + 1), *o.divide, limits.output_divide);
            const double made = vco / static_cast<double>(*o.divide);
            within("output frequency", made, limits.output_mhz);
            if (o.clock != no_id) agree(in.constraints.clocks[o.clock], made);
        }
    }

    void agree(const ClockDefinition& clock, double made) {
        const double period = 1000 / made;
        if (clock.period <= 0 || std::fabs(clock.period - period) <= 1e-6 * period) return;
        auto& f = say(said("The clock {} is constrained to {}, that is {}; {} makes {} there.", clock.name,
                           ns(clock.period), mhz(1000 / clock.period), pll.cell, mhz(made)));
        f.objects.push_back({Subject::clock, clock.name});
        f.numbers = {{"constraint", "MHz", 1000 / clock.period}, {"made", "MHz", made}};
        // The ratio as a fraction of small whole numbers.
        for (int divide = 1; divide <= 1024; ++divide) {
            const double multiply = made / input * divide;
            if (std::fabs(multiply - std::round(multiply)) > 1e-7 || multiply < 0.5) continue;
            if (divide == 1)
                option_fix(in, clock, "-multiply_by", number(multiply, 0),
                           said("write -multiply_by {} for {}", number(multiply, 0), clock.name), f);
            else if (std::round(multiply) == 1)
                option_fix(in, clock, "-divide_by", std::to_string(divide),
                           said("write -divide_by {} for {}", divide, clock.name), f);
            break;
        }
    }

    /// Without parameters: is there any setting that makes all the clocks the constraints ask for?
    void by_search() {
        std::vector<double> wanted;
        std::vector<std::string> names;
        for (const auto& o : pll.outputs)
            if (o.clock != no_id && in.constraints.clocks[o.clock].period > 0) {
                wanted.push_back(1000 / in.constraints.clocks[o.clock].period);
                names.push_back(in.constraints.clocks[o.clock].name);
            }
        if (wanted.empty()) return;
        for (const double f : wanted) within("output frequency", f, limits.output_mhz);
        const auto inside = [](double v, const double(&r)[2]) {
            return r[1] <= 0 || (v >= r[0] * (1 - 1e-9) && v <= r[1] * (1 + 1e-9));
        };
        for (int d = limits.divide[0]; d <= limits.divide[1]; ++d)
            for (int m = limits.multiply[0]; m <= limits.multiply[1]; ++m) {
                const double vco = input / d * m;
                if (!inside(input / d, limits.detector_mhz) || !inside(vco, limits.vco_mhz)) continue;
                if (std::all_of(wanted.begin(), wanted.end(), [&](double f) {
                        const double o = vco / f;
                        return std::fabs(o - std::round(o)) < 1e-6 && std::round(o) >= limits.output_divide[0] &&
                               std::round(o) <= limits.output_divide[1];
                    }))
                    return;
            }
        auto& f = say(said("No setting of {} makes {} from {} at once; every multiplier and divider was tried.",
                           limits.name, list_names(names, 8), mhz(input)));
        for (size_t i = 0; i < wanted.size(); ++i) f.numbers.push_back({names[i], "MHz", wanted[i]});
    }
};

/// The PLL of the part that is meant: one that the pin of its clock reaches, else the first.
const PllLimits* limits_of(const RuleInput& in, const PllFacts& pll) {
    const auto* seat = pll.port.empty() ? nullptr : in.seat(pll.port);
    if (seat && seat->pin)
        for (const auto& l : in.part.plls)
            if (std::find(seat->pin->reaches.begin(), seat->pin->reaches.end(), l.name) != seat->pin->reaches.end())
                return &l;
    return in.part.plls.empty() ? nullptr : &in.part.plls.front();
}

}  // namespace

void d07(const RuleInput& in, const RuleRow& row, std::vector<Finding>& out) {
    for (const auto& pll : in.design.plls) {
        const auto* limits = limits_of(in, pll);
        if (!limits || pll.clock == no_id || in.constraints.clocks[pll.clock].period <= 0) continue;
        Check check{in, row, pll, *limits, out, 1000 / in.constraints.clocks[pll.clock].period};
        if (static_cast<int>(pll.outputs.size()) > limits->outputs)
            check.say(said("{} uses {}; {} has {}.", pll.cell, counted(pll.outputs.size(), "output"), limits->name,
                           limits->outputs));
        check.within("input frequency", check.input, limits->input_mhz);
        if (pll.divide && pll.multiply)
            check.by_parameters();
        else
            check.by_search();
    }
}

}  // namespace kp::rules
