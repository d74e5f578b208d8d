// SPDX-License-Identifier: GPL-3.0-or-later
// Clocks at clock pins. What is a clock is known from the netlist; before there is one, a constraint, an oscillator or
// the name says so. Which pins reach which network or PLL comes from the pin list.
#include "core/rules/say.hpp"
#include <algorithm>

namespace kp::rules {

namespace {

/// "clk", "sys_clk_i", "clock_50", "mclk_p": a part of the name between underscores is clk or clock, with letters or
/// digits around it. A clock enable is none. Common practice, no source.
bool looks_like_clock(const std::string& name) {
    const auto low = lower(name);
    for (const auto part : split(low, '_')) {
        if (part == "en" || part == "ena" || part == "enable" || part == "ce" || part == "sel" || part == "out")
            return false;
    }
    for (const auto part : split(low, '_'))
        if (part.starts_with("clk") || part.starts_with("clock") || part.ends_with("clk") || part.ends_with("clock"))
            return part.find("clken") == std::string_view::npos;
    return false;
}

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

constexpr const char* by_its_name = "is a clock by its name";

/// Why a port is taken as a clock; empty when it is none. With a netlist that is known; before there is one, a
/// constraint or an oscillator on its pin says so, or its name.
std::string why_clock(const RuleInput& in, const Seat& seat) {
    if (seat.facts)
        return seat.facts->feeds_pll ? "feeds a PLL" : seat.facts->clocks_registers ? "clocks registers" : "";
    for (const auto& clock : in.constraints.clocks)
        for (const auto& o : clock.sources)
            if (!clock.generated && o.kind == ObjectKind::port && o.id == seat.order)
                return "has the clock " + clock.name;
    if (in.board.oscillator_at_pin(seat.on)) return "is driven by an oscillator";
    return looks_like_clock(seat.port->bus) && seat.port->direction == Direction::in && seat.port->index < 0
               ? by_its_name
               : "";
}

}  // namespace

void l04(const RuleInput& in, const RuleRow& row, const Seat& seat, std::vector<Finding>& out) {
    if (!seat.port || !seat.pin || !seat.pin->usable() || !seat.reads()) return;
    const std::string said = why_clock(in, seat);
    if (said.empty()) return;
    const auto& pin = *seat.pin;
    const bool pair = seat.standard && seat.standard->differential;
    const bool pll = seat.facts && seat.facts->feeds_pll;
    const std::string what = seat.name + " " + said;
    // A part that was made from a pin list may not say which pins are clock pins, or where they lead.
    const bool knows_pins =
        std::any_of(in.part.pins.begin(), in.part.pins.end(), [](const Pin& p) { return p.kind == PinKind::clock; });
    const bool knows_ways =
        std::any_of(in.part.pins.begin(), in.part.pins.end(), [](const Pin& p) { return !p.reaches.empty(); });
    const auto fits = [&](const Pin& p) {
        return p.kind == PinKind::clock && (pair || p.pair.empty() || p.pair_true) &&
               (!knows_ways || (pll ? reaches_pll(in, p) : reaches_network(p)));
    };
    std::string text;
    auto severity = Severity::stop;
    if (!knows_pins) {
        severity = Severity::caution;
        text = what + ", and the part file does not say which pins are clock pins; whether pin " + pin.name +
               " is one is not known.";
    } else if (pin.kind != PinKind::clock) {
        text = what + ", and pin " + pin.name +
               " is no clock pin; the clock could not get onto the clock network without wandering through the fabric.";
    } else if (!pair && !pin.pair.empty() && !pin.pair_true) {
        text = what + " over one wire, and pin " + pin.name +
               " is the complement pin of its pair; only the true pin, " + pin.pair + ", goes to the clock network.";
    } else if (!pair ? !fits(pin) : pin.pair_true && !fits(pin)) {
        severity = Severity::caution;
        text = what + ", and from clock pin " + pin.name + " only general routing gets to " +
               (pll ? "a PLL" : "the clock network") + "; its delay would differ from build to build.";
    } else {
        return;
    }
    auto f = finding(row, std::move(text), port_and_pin(seat));
    // A name is a guess until a netlist or a constraint bears it out.
    f.severity = said == by_its_name ? Severity::caution : severity;
    offer_move(in, seat, f, fits);
    out.push_back(std::move(f));
}

}  // namespace kp::rules
