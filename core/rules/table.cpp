// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/text.hpp"
#include "core/pegs/place.hpp"
#include "core/rules/rules.hpp"

#include <algorithm>
#include <cmath>
#include <set>

namespace kp {

namespace {

constexpr const char* choose_place = "Choose a place";
constexpr const char* choose_level = "Choose a level";
constexpr const char* say_it = "Say it in the constraints";
constexpr const char* practice = "common practice, no source";

const std::vector<RuleRow>& rows() {
    static const std::vector<RuleRow> table{
        {"D01", Severity::stop, "The part of the project is the part on the board.", practice, "Agree on the part", rules::d01},
        {"D03", Severity::stop, "A constraint or a peg names something that exists in the design.", "SDC 2.x: an object query names design objects", say_it, rules::d03},
        {"D04", Severity::stop, "A clock on a port has the period and duty cycle of the oscillator wired to its pin.", "the board's oscillator data", say_it, rules::d04},
        {"D06", Severity::caution, "Every input and output has both its delays.", "SDC 2.x: set_input_delay, set_output_delay", say_it, rules::d06},
        {"E01", Severity::stop, "Every pegged port has an I/O standard that somebody chose or the board gives.", practice, choose_level, rules::e01},
        {"E03", Severity::stop, "All outputs of a bank need one supply, the board's rail; inputs may differ where their standard allows.", "supply voltages of the JEDEC standards named per row of the table", choose_level, rules::e03},
        {"L01", Severity::stop, "The pin exists on this package and is for users.", "the part's pin list", choose_place, rules::l01},
        {"L02", Severity::stop, "A pin holds one port.", practice, choose_place, rules::l02},
        {"L08", Severity::stop, "The port's direction fits what the board has on the pin.", practice, choose_place, rules::l08},
        {"L11", Severity::stop, "Every port has a pin before the handoff.", practice, choose_place, rules::l11},
    };
    return table;
}

void mark_waived(const RuleInput& input, std::vector<Finding>& findings) {
    std::vector<bool> met(input.project.waivers.size(), false);
    for (auto& f : findings)
        for (size_t i = 0; i < input.project.waivers.size(); ++i) {
            const auto& w = input.project.waivers[i];
            if (w.rule != f.rule || w.objects != f.object_names()) continue;
            f.waived = w;
            met[i] = true;
        }
    for (size_t i = 0; i < met.size(); ++i) {
        if (met[i]) continue;
        const auto& w = input.project.waivers[i];
        Finding f;
        f.rule = "W01";
        f.severity = Severity::note;
        f.remedy = "Waivers";
        f.source = practice;
        f.text = "The waiver of " + w.rule + " for " + list_names(w.objects) + " meets no finding any more.";
        for (const auto& o : w.objects) f.objects.push_back({"waived", o});
        f.fixes.push_back({"take the waiver back", Edit{"take back the waiver of " + w.rule, {WaiverChange{w, false}}}});
        findings.push_back(std::move(f));
    }
}

}  // namespace

std::span<const RuleRow> rule_table() { return rows(); }

std::vector<Finding> run_rules(const RuleInput& input) {
    std::vector<Finding> out;
    for (const auto& row : rows()) row.check(input, row, out);
    mark_waived(input, out);
    std::stable_sort(out.begin(), out.end(), [](const Finding& a, const Finding& b) { return a.severity < b.severity; });
    return out;
}

namespace rules {

Finding finding(const RuleRow& row, std::string text, std::vector<FindingObject> objects) {
    Finding f;
    f.rule = row.code;
    f.severity = row.severity;
    f.source = row.source;
    f.remedy = row.remedy;
    f.text = std::move(text);
    f.objects = std::move(objects);
    return f;
}

const Port* port_of(const RuleInput& input, const std::string& name) {
    for (const auto& port : input.ports)
        if (port.name == name) return &port;
    return nullptr;
}

namespace {
double distance(const Pin& a, const Pin& b, const Package& package) {
    if (package.ball_grid) return std::hypot(a.row - b.row, a.column - b.column);
    const int n = package.per_side * 4, d = std::abs((a.side * package.per_side + a.slot) - (b.side * package.per_side + b.slot));
    return std::min(d, n - d);
}
}  // namespace

std::optional<Place> better_place(const RuleInput& input, const Port& port) {
    PegMap others = input.project.pegs;
    others.erase(port.name);
    for (const auto& m : match_names({port}, input.board, others)) return Place{m.pin, m.terminal + ", " + m.why};
    const auto peg = input.project.pegs.find(port.name);
    const auto* here = peg == input.project.pegs.end() ? nullptr : input.part.pin(peg->second.pin);
    std::set<std::string> used;
    for (const auto& [name, p] : input.project.pegs) used.insert(p.pin);
    const Pin* best = nullptr;
    for (const auto& pin : input.part.pins) {
        if (!pin.usable() || used.contains(pin.name) || input.board.at_pin(pin.name)) continue;
        if (here && !here->bank.empty() && pin.bank != here->bank) continue;
        if (!best || (here && distance(pin, *here, input.part.package) < distance(*best, *here, input.part.package))) best = &pin;
    }
    if (!best) return std::nullopt;
    return Place{best->name, here ? "the nearest free pin of its bank" : "the first free pin"};
}

Fix move_fix(const RuleInput& input, const std::string& port, const Place& place) {
    return {"move " + port + " to pin " + place.pin + " (" + place.why + ")", peg_edit(input.project, input.board, port, place.pin, "by a fix")};
}

}  // namespace rules

}  // namespace kp
