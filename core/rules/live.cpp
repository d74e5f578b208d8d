// SPDX-License-Identifier: GPL-3.0-or-later
// After an edit the subjects that a rule reads (Reads) are asked again, before and after; all others keep their
// findings. Cost: the subjects touched, times the rules.
#include "core/rules/live.hpp"

#include <algorithm>

namespace kp {

namespace {

rules::Order plan_order(size_t row) {
    return {row, ~std::uint64_t{0}, {}};
}

}  // namespace

template <class Run>
void LiveRules::ask(const rules::Order& order, Found& out, Run run) const {
    std::vector<Finding> found;
    run(found);
    size_t sequence = 0;
    for (auto& f : found) {
        const Key key{f.severity, order, sequence++};
        out.emplace_back(key, std::move(f));
    }
}

/// Whom a rule has to be asked at: everybody, or those that could answer otherwise after an edit.
LiveRules::Subjects LiveRules::subjects_of(const RuleRow& row, const Dirty* dirty) const {
    const auto& in = input_;
    Subjects s;
    s.plan = row.of_plan &&
             (!dirty || dirty->all_plan || (dirty->pegs && (row.reads == Reads::pegs || row.reads == Reads::pair)));
    if (row.of_bank)
        for (const auto& bank : in.part.banks)
            if (!dirty || dirty->banks.contains(bank.name)) s.banks.push_back(&bank);
    if (!dirty) {
        if (row.of_port) s.seats = {in.seats().begin(), in.seats().end()};
        if (row.of_pin)
            for (const auto* seat : in.seats())
                if (seat->peg) s.pins.insert(seat->on);
        return s;
    }
    if (row.of_pin) s.pins = dirty->pins;
    if (!row.of_port) return s;
    for (const auto& name : dirty->ports) {
        const auto* seat = in.seat(name);
        if (!seat) continue;
        s.seats.insert(seat);
        if (row.reads == Reads::bus && !in.bus_of(*seat).empty()) s.seats.insert(in.bus_of(*seat).front());
    }
    if (row.reads == Reads::bank)
        for (const auto& bank : dirty->banks) s.seats.insert(in.in_bank(bank).begin(), in.in_bank(bank).end());
    if (row.reads == Reads::lane && dirty->lanes)
        for (const auto& lane : in.lanes())
            for (const auto* list : {&lane.bits, &lane.strobes})
                for (const auto& name : *list) s.seats.insert(in.seat(name));
    return s;
}

void LiveRules::ask_row(size_t at, const Subjects& s, Found& out) const {
    const auto& row = rule_table()[at];
    const auto& in = input_;
    for (const auto* seat : s.seats)
        ask(rules::order_of(in, at, *seat), out,
            [&](std::vector<Finding>& found) { row.of_port(in, row, *seat, found); });
    for (const auto& pin : s.pins)
        ask(rules::order_of_pin(in, at, pin), out,
            [&](std::vector<Finding>& found) { row.of_pin(in, row, pin, found); });
    for (const auto* bank : s.banks)
        ask(rules::order_of_bank(in, at, *bank), out,
            [&](std::vector<Finding>& found) { row.of_bank(in, row, *bank, found); });
    if (s.plan) ask(plan_order(at), out, [&](std::vector<Finding>& found) { row.of_plan(in, row, found); });
}

LiveRules::LiveRules(const RuleInput& input) : input_(input) {
    Found found;
    for (size_t row = 0; row < rule_table().size(); ++row) ask_row(row, subjects_of(rule_table()[row], nullptr), found);
    merge(std::move(found));
    waive();
}

/// All that could answer otherwise when the peg or the choices of a port change; asked before and after the change.
void LiveRules::touch(const std::string& port, const RuleInput& in, Dirty& dirty) const {
    dirty.ports.insert(port);
    dirty.pegs = true;
    dirty.lanes |= in.lane_of(port) != nullptr;
    const auto* seat = in.seat(port);
    if (!seat) return;
    if (seat->bank) dirty.banks.insert(seat->bank->name);
    if (!seat->on.empty()) {
        dirty.pins.insert(seat->on);
        for (const auto& name : in.at_pin(seat->on)) dirty.ports.insert(name);
    }
    if (seat->pin && !seat->pin->pair.empty())
        for (const auto& name : in.at_pin(seat->pin->pair)) dirty.ports.insert(name);
    if (const auto* partner = in.partner(*seat)) dirty.ports.insert(partner->name);
    // Who names this port as its partner without being named back.
    for (const auto* other : in.seats())
        if (other->partner == port) dirty.ports.insert(other->name);
}

void LiveRules::update(RuleInput& input, const Edit& edit) {
    Dirty dirty;
    std::vector<std::string> ports;
    for (const auto& change : edit.changes) {
        if (const auto* peg = std::get_if<PegChange>(&change))
            ports.push_back(peg->port);
        else if (const auto* attribute = std::get_if<AttributeChange>(&change))
            ports.push_back(attribute->port);
        else
            dirty.all_plan = true;
    }
    // Seats still show what was before.
    std::vector<rules::Order> gone;
    for (const auto& port : ports) {
        touch(port, input, dirty);
        if (const auto* seat = input.seat(port); seat && !seat->port) gone.push_back(rules::order_of(input, 0, *seat));
    }
    for (const auto& port : ports) input.refresh(port);
    for (const auto& port : ports) touch(port, input, dirty);
    // What the subjects said before is taken out, and they are asked again.
    Found found;
    std::set<rules::Order> orders;
    for (size_t row = 0; row < rule_table().size(); ++row) {
        const auto s = subjects_of(rule_table()[row], &dirty);
        for (const auto* seat : s.seats) orders.insert(rules::order_of(input, row, *seat));
        for (const auto& pin : s.pins) orders.insert(rules::order_of_pin(input, row, pin));
        for (const auto* bank : s.banks) orders.insert(rules::order_of_bank(input, row, *bank));
        if (s.plan) orders.insert(plan_order(row));
        for (auto order : gone) {
            order.row = row;
            orders.insert(order);
        }
        ask_row(row, s, found);
    }
    size_t kept = 0;
    for (size_t i = 0; i < keys_.size(); ++i) {
        if (keys_[i].order.row == rule_table().size() || orders.contains(keys_[i].order)) continue;
        if (kept != i) {
            keys_[kept] = std::move(keys_[i]);
            findings_[kept] = std::move(findings_[i]);
        }
        ++kept;
    }
    keys_.resize(kept);
    findings_.resize(kept);
    merge(std::move(found));
    waive();
}

void LiveRules::merge(Found found) {
    if (found.empty()) return;
    std::sort(found.begin(), found.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
    std::vector<Key> keys;
    std::vector<Finding> findings;
    keys.reserve(keys_.size() + found.size());
    findings.reserve(keys_.size() + found.size());
    size_t old = 0;
    for (auto& [key, finding] : found) {
        for (; old < keys_.size() && keys_[old] < key; ++old) {
            keys.push_back(std::move(keys_[old]));
            findings.push_back(std::move(findings_[old]));
        }
        keys.push_back(key);
        findings.push_back(std::move(finding));
    }
    for (; old < keys_.size(); ++old) {
        keys.push_back(std::move(keys_[old]));
        findings.push_back(std::move(findings_[old]));
    }
    keys_ = std::move(keys);
    findings_ = std::move(findings);
}

void LiveRules::waive() {
    const auto& waivers = input_.project.waivers;
    const auto met = rules::mark_waived(waivers, findings_);
    Found stale;
    for (size_t i = 0; i < met.size(); ++i)
        if (!met[i])
            stale.emplace_back(Key{Severity::note, {rule_table().size(), i, {}}, 0}, rules::stale_waiver(waivers[i]));
    merge(std::move(stale));
}

}  // namespace kp
