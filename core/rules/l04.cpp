// SPDX-License-Identifier: GPL-3.0-or-later
// Clocks at clock pins. What is a clock is known from the netlist; before there is one, a constraint, an oscillator or
// the name says so. Which pins reach which network or PLL comes from the pin list.
#include "core/rules/legal.hpp"
#include "core/rules/say.hpp"
#include "core/base/said.hpp"
#include <algorithm>

namespace kp::rules {

namespace {

bool reaches_pll(const RuleInput& in, const Pin& pin) {
    return std::any_of(pin.reaches.begin(), pin.reaches.end(), [&](const std::string& to) {
        return std::any_of(in.part.plls.begin(), in.part.plls.end(),
                           [&](const PllLimits& pll) { return pll.name == to; });
    });
}
bool reaches_network(const Pin& pin) {
    return std::any_of(pin.reaches.begin(), pin.reaches.end(),
                       [](const std::string& to) { return to == "part" || to == "regions"; });
}

}  // namespace

void l04(const RuleInput& in, const RuleRow& row, const PlannedPort& seat, std::vector<Finding>& out) {
    if (!seat.port || !seat.pin || !seat.pin->usable() || !seat.reads()) return;
    const auto evidence = clock_evidence(in, seat);
    if (!evidence) return;
    const auto& pin = *seat.pin;
    const bool pair = seat.standard && seat.standard->differential;
    const bool pll = seat.facts && seat.facts->feeds_pll;
    const std::string what = seat.name + " " + evidence.words;
    // A part that was made from a pin list may not say which pins are clock pins, or where they lead.
    const bool knows_pins = knows_clock_pins(in.part);
    const bool knows_ways =
        std::any_of(in.part.pins.begin(), in.part.pins.end(), [](const Pin& p) { return !p.reaches.empty(); });
    const auto fits = [&](const Pin& p) {
        return is_clock_place(p, pair) && (!knows_ways || (pll ? reaches_pll(in, p) : reaches_network(p)));
    };
    std::string text;
    auto severity = Severity::stop;
    if (!knows_pins) {
        severity = Severity::caution;
        text = said("{}, and the part file does not say which pins are clock pins; whether pin {} is one is not known.",
                    what, pin.name);
    } else if (pin.kind != PinKind::clock) {
        text = said(
            "{}, and pin {} is not a clock pin; the clock could not get onto the clock network without wandering "
            "through the fabric.",
            what, pin.name);
    } else if (!pair && !pin.pair.empty() && !pin.pair_true) {
        text = said(
            "{} over one wire, and pin {} is the complement pin of its pair; only the true pin, {}, goes to the clock "
            "network.",
            what, pin.name, pin.pair);
    } else if (!pair ? !fits(pin) : pin.pair_true && !fits(pin)) {
        severity = Severity::caution;
        text = said(
            "{}, and from clock pin {} only general routing gets to {}; its delay would differ from build to build.",
            what, pin.name, (pll ? "a PLL" : "the clock network"));
    } else {
        return;
    }
    auto f = finding(row, std::move(text), port_and_pin(seat));
    // A name is a guess until a netlist or a constraint bears it out.
    f.severity = !evidence.sure() ? Severity::caution : severity;
    if (const auto source = oscillator_place(in, seat); in.with_fixes && source && in.at_pin(source->pin).empty())
        f.fixes.push_back(move_fix(in, seat.name, *source));
    else
        offer_move(in, seat, f, fits);
    out.push_back(std::move(f));
}

}  // namespace kp::rules
