// SPDX-License-Identifier: GPL-3.0-or-later
// Each half of a pair answers for itself, so that one port can be asked alone.
#include "core/pegs/place.hpp"
#include "core/rules/rules.hpp"

namespace kp::rules {

namespace {

/// 'p' or 'n' by the ending of the bus name, 0 when it does not say. Common practice, no source.
char half_of(const std::string& bus) {
    if (bus.ends_with("_p") || bus.ends_with("_P")) return 'p';
    if (bus.ends_with("_n") || bus.ends_with("_N")) return 'n';
    return 0;
}

/// The port on the other wire: the one that was chosen, else the one whose name differs in the ending only.
const Port* partner_of(const RuleInput& in, const Port& port) {
    const auto chosen = in.project.attributes.find(port.name);
    if (chosen != in.project.attributes.end() && !chosen->second.partner.empty()) return in.port(chosen->second.partner);
    const char half = half_of(port.bus);
    if (!half) return nullptr;
    std::string name = port.name;
    name[port.bus.size() - 1] = half == 'p' ? (port.bus.back() == 'p' ? 'n' : 'N') : (port.bus.back() == 'n' ? 'p' : 'P');
    return in.port(name);
}

}  // namespace

void l03(const RuleInput& in, const RuleRow& row, const std::string& name, std::vector<Finding>& out) {
    const auto* port = in.port(name);
    const auto peg = in.project.pegs.find(name);
    const auto chosen = in.project.attributes.find(name);
    if (!port || peg == in.project.pegs.end() || chosen == in.project.attributes.end()) return;
    const auto* standard = in.standards.find(chosen->second.standard);
    const auto* pin = in.part.pin(peg->second.pin);
    if (!standard || !standard->differential || !pin || !pin->usable()) return;
    const auto* partner = partner_of(in, *port);
    const auto say = [&](const std::string& text) -> Finding& {
        out.push_back(finding(row, text, {{"port", name}, {"pin", pin->name}}));
        return out.back();
    };
    if (pin->pair.empty()) {
        auto& f = say(name + " is half of a pair (" + standard->name + "), and pin " + pin->name + " has no other half.");
        if (in.with_fixes)
            if (const auto place = better_place(in, *port)) f.fixes.push_back(move_fix(in, name, *place));
        return;
    }
    char half = half_of(port->bus);
    if (!half && partner) half = half_of(partner->bus) == 'p' ? 'n' : half_of(partner->bus) == 'n' ? 'p' : 0;
    if (half && (half == 'p') != pin->pair_true) {
        auto& f = say(name + " is the " + (half == 'p' ? "positive" : "negative") + " half of its pair and sits on pin " + pin->name + ", the " + (pin->pair_true ? "true" : "complement") + " one; every bit would arrive inverted.");
        if (in.with_fixes && partner && in.project.pegs.contains(partner->name)) f.fixes.push_back({"swap " + name + " and " + partner->name, swap_edit(in.project, name, partner->name)});
    }
    for (const auto& other : in.at_pin(pin->pair))
        if (!partner || other != partner->name) {
            auto& f = say("Pin " + pin->pair + " is the other half of the pair of " + name + ", and " + other + " is on it.");
            if (in.with_fixes)
                if (const auto* o = in.port(other))
                    if (const auto place = better_place(in, *o)) f.fixes.push_back(move_fix(in, other, *place));
        }
    const auto at = partner ? in.project.pegs.find(partner->name) : in.project.pegs.end();
    if (half == 'p' && at != in.project.pegs.end() && at->second.pin != pin->pair) {
        auto& f = say(name + " and " + partner->name + " are a pair, but pins " + pin->name + " and " + at->second.pin + " are not; the other half of " + pin->name + " is " + pin->pair + ".");
        if (in.with_fixes && in.at_pin(pin->pair).empty()) f.fixes.push_back(move_fix(in, partner->name, {pin->pair, "the other half of " + pin->name}));
    }
}

}  // namespace kp::rules
