// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/rules/say.hpp"
#include <algorithm>

namespace kp::rules {

namespace {

bool reaches_pll(const RuleInput& in, const Pin& pin) {
    return std::any_of(pin.reaches.begin(), pin.reaches.end(), [&](const std::string& to) {
        return std::any_of(in.part.plls.begin(), in.part.plls.end(), [&](const PllLimits& pll) { return pll.name == to; });
    });
}
bool reaches_network(const Pin& pin) {
    return std::any_of(pin.reaches.begin(), pin.reaches.end(), [](const std::string& to) { return to == "part" || to == "regions"; });
}

}  // namespace

void l04(const RuleInput& in, const RuleRow& row, const Seat& seat, std::vector<Finding>& out) {
    if (!seat.facts || !seat.pin || !seat.pin->usable() || !seat.reads() || !(seat.facts->clocks_registers || seat.facts->feeds_pll)) return;
    const auto& pin = *seat.pin;
    const bool pair = seat.standard && seat.standard->differential;
    const bool pll = seat.facts->feeds_pll;
    const std::string what = seat.name + (pll ? " feeds a PLL" : " clocks registers");
    const auto fits = [&](const Pin& p) { return p.kind == PinKind::clock && (pair || p.pair.empty() || p.pair_true) && (pll ? reaches_pll(in, p) : reaches_network(p)); };
    std::string text;
    auto severity = Severity::stop;
    if (pin.kind != PinKind::clock) {
        text = what + ", and pin " + pin.name + " is no clock pin; the clock could not get onto the clock network without wandering through the fabric.";
    } else if (!pair && !pin.pair.empty() && !pin.pair_true) {
        text = what + " over one wire, and pin " + pin.name + " is the complement pin of its pair; only the true pin, " + pin.pair + ", goes to the clock network.";
    } else if (!pair ? !fits(pin) : pin.pair_true && !fits(pin)) {
        severity = Severity::caution;
        text = what + ", and from clock pin " + pin.name + " only general routing gets to " + (pll ? "a PLL" : "the clock network") + "; its delay would differ from build to build.";
    } else {
        return;
    }
    auto f = finding(row, std::move(text), port_and_pin(seat));
    f.severity = severity;
    offer_move(in, seat, f, fits);
    out.push_back(std::move(f));
}

}  // namespace kp::rules
