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
        {"D01", Severity::stop, "The part of the project is the part on the board.", practice, "Agree on the part", nullptr, nullptr, rules::d01},
        {"D03", Severity::stop, "A constraint or a peg names something that exists in the design.", "SDC 2.x: an object query names design objects", say_it, rules::d03_peg, nullptr, rules::d03},
        {"D04", Severity::stop, "A clock on a port has the period and duty cycle of the oscillator wired to its pin.", "the board's oscillator data", say_it, nullptr, nullptr, rules::d04},
        {"D06", Severity::caution, "Every input and output has both its delays.", "SDC 2.x: set_input_delay, set_output_delay", say_it, nullptr, nullptr, rules::d06},
        {"E01", Severity::stop, "Every pegged port has an I/O standard that somebody chose or the board gives.", practice, choose_level, rules::e01},
        {"E02", Severity::stop, "The bank of the pin can carry the I/O standard of the port.", "the part's bank data", choose_level, rules::e02},
        {"E03", Severity::stop, "All outputs of a bank need one supply, the board's rail; inputs may differ where their standard allows.", "supply voltages of the JEDEC standards named per row of the table", choose_level, rules::e03},
        {"E04", Severity::stop, "Inputs that compare with a reference share one reference voltage in a bank.", "reference voltages of the JEDEC standards named per row of the table", choose_level, rules::e04},
        {"E06", Severity::stop, "Drive, slew, pull, termination, pad register and delay are ones that standard, bank and direction have; pad and board do not pull against each other.", "the part's bank data and the table of standards", choose_level, rules::e06},
        {"E07", Severity::caution, "The current that a lamp draws through its resistor is within the drive of the output.", "Ohm's law: I = (VCCO - Vf - VOL) / R", choose_level, rules::e07},
        {"L01", Severity::stop, "The pin exists on this package and is for users.", "the part's pin list", choose_place, rules::l01},
        {"L02", Severity::stop, "A pin holds one port.", practice, choose_place, nullptr, rules::l02},
        {"L03", Severity::stop, "The halves of a differential port sit on the two pins of a pair, the positive one on the true pin, and nobody else is on them.", "the part's pin list", choose_place, rules::l03},
        {"L05", Severity::stop, "A pin that the part drives while it is set up carries no port; one that the board drives then is a caution.", "the part's configuration modes", choose_place, rules::l05},
        {"L06", Severity::stop, "The reference pin of a bank is free while an input of the bank needs the reference.", "the part's pin list; reference voltages of the JEDEC standards", choose_place, rules::l06},
        {"L08", Severity::stop, "The port's direction fits what the board has on the pin.", practice, choose_place, rules::l08},
        {"L09", Severity::caution, "The bits of a bus lie on the numbered terminals of a board part in their order.", practice, choose_place, nullptr, nullptr, rules::l09},
        {"L11", Severity::stop, "Every port has a pin before the handoff.", practice, choose_place, rules::l11},
    };
    return table;
}

/// Marks the findings that a waiver speaks of. Gives which waivers met one.
std::vector<bool> mark_waived(const RuleInput& input, std::vector<Finding>& findings) {
    const auto& waivers = input.project.waivers;
    std::vector<bool> met(waivers.size(), false);
    for (auto& f : findings)
        for (size_t i = 0; i < waivers.size(); ++i) {
            if (waivers[i].rule != f.rule || waivers[i].objects != f.object_names()) continue;
            f.waived = waivers[i];
            met[i] = true;
        }
    return met;
}

Finding stale_waiver(const Waiver& w) {
    Finding f;
    f.rule = "W01";
    f.severity = Severity::note;
    f.remedy = "Waivers";
    f.source = practice;
    f.text = "The waiver of " + w.rule + " for " + list_names(w.objects) + " meets no finding any more.";
    for (const auto& o : w.objects) f.objects.push_back({"waived", o});
    f.fixes.push_back({"take the waiver back", Edit{"take back the waiver of " + w.rule, {WaiverChange{w, false}}}});
    return f;
}

void stops_first(std::vector<Finding>& findings) {
    std::stable_sort(findings.begin(), findings.end(), [](const Finding& a, const Finding& b) { return a.severity < b.severity; });
}

}  // namespace

std::span<const RuleRow> rule_table() { return rows(); }

std::vector<Finding> run_rules(const RuleInput& input) {
    std::vector<std::string> ports, pins;
    for (const auto& port : input.ports) ports.push_back(port.name);
    std::set<std::string> on;
    for (const auto& [name, peg] : input.project.pegs) {
        if (!input.port(name)) ports.push_back(name);
        if (on.insert(peg.pin).second) pins.push_back(peg.pin);
    }
    std::vector<Finding> out;
    for (const auto& row : rows()) {
        if (row.of_port)
            for (const auto& port : ports) row.of_port(input, row, port, out);
        if (row.of_pin)
            for (const auto& pin : pins) row.of_pin(input, row, pin, out);
        if (row.of_plan) row.of_plan(input, row, out);
    }
    const auto met = mark_waived(input, out);
    for (size_t i = 0; i < met.size(); ++i)
        if (!met[i]) out.push_back(stale_waiver(input.project.waivers[i]));
    stops_first(out);
    return out;
}

std::vector<Finding> run_rules_at(const RuleInput& input, const std::string& port, const std::vector<std::string>& pins) {
    std::vector<Finding> out;
    for (const auto& row : rows()) {
        if (row.of_port) row.of_port(input, row, port, out);
        if (row.of_pin)
            for (const auto& pin : pins) row.of_pin(input, row, pin, out);
    }
    mark_waived(input, out);
    stops_first(out);
    return out;
}

std::vector<Fix> fixes_of(const RuleInput& input, const Finding& finding) {
    if (!finding.fixes.empty()) return finding.fixes;
    std::vector<Finding> again;
    for (const auto& row : rows()) {
        if (finding.rule != row.code) continue;
        for (const auto& o : finding.objects) {
            if (row.of_port && o.kind == "port") row.of_port(input, row, o.name, again);
            if (row.of_pin && o.kind == "pin") row.of_pin(input, row, o.name, again);
        }
        if (row.of_plan) row.of_plan(input, row, again);
    }
    for (auto& f : again)
        if (f.text == finding.text && f.objects == finding.objects) return std::move(f.fixes);
    return {};
}

RuleInput::RuleInput(const Part& p, const Board& b, const StandardTable& s, const std::vector<Port>& o, const Project& j, const Constraints& c, const Coverage& v) : part(p), board(b), standards(s), ports(o), project(j), constraints(c), coverage(v) {
    by_name_.reserve(ports.size());
    for (const auto& port : ports) by_name_.emplace(port.name, &port);
    for (const auto& [port, peg] : project.pegs) on_pin_[peg.pin].push_back(port);
}

const std::vector<std::string>& RuleInput::at_pin(const std::string& pin) const {
    static const std::vector<std::string> none;
    const auto at = on_pin_.find(pin);
    return at == on_pin_.end() ? none : at->second;
}

const Port* RuleInput::port(const std::string& name) const {
    const auto at = by_name_.find(name);
    return at == by_name_.end() ? nullptr : at->second;
}

void RuleInput::moved(const std::string& port, const std::string& from, const std::string& to) {
    if (const auto at = on_pin_.find(from); at != on_pin_.end()) std::erase(at->second, port);
    if (to.empty()) return;
    auto& list = on_pin_[to];
    list.insert(std::lower_bound(list.begin(), list.end(), port), port);  // in the order of the pegs
}

const AttributeInput& RuleInput::attributes() const {
    if (!attributes_) attributes_ = std::make_unique<AttributeInput>(part, board, standards, ports, project);
    return *attributes_;
}

const NameMatcher& RuleInput::matcher() const {
    if (!matcher_) matcher_ = std::make_unique<NameMatcher>(board);
    return *matcher_;
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

namespace {
double distance(const Pin& a, const Pin& b, const Package& package) {
    if (package.ball_grid) return std::hypot(a.row - b.row, a.column - b.column);
    const int n = package.per_side * 4, d = std::abs((a.side * package.per_side + a.slot) - (b.side * package.per_side + b.slot));
    return std::min(d, n - d);
}
}  // namespace

std::optional<Place> better_place(const RuleInput& input, const Port& port, const std::vector<std::string>& leaving) {
    const auto taken = [&](const std::string& pin) {
        return std::any_of(input.at_pin(pin).begin(), input.at_pin(pin).end(), [&](const std::string& other) { return other != port.name && std::find(leaving.begin(), leaving.end(), other) == leaving.end(); });
    };
    if (const auto m = input.matcher().best(port, taken)) return Place{m->pin, m->terminal + ", " + m->why};
    const auto peg = input.project.pegs.find(port.name);
    const auto* here = peg == input.project.pegs.end() ? nullptr : input.part.pin(peg->second.pin);
    const Pin* best = nullptr;
    for (const auto& pin : input.part.pins) {
        if (!pin.usable() || !input.at_pin(pin.name).empty() || input.board.at_pin(pin.name)) continue;
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
