// SPDX-License-Identifier: GPL-3.0-or-later
// All rules at all subjects, in one order that both this and LiveRules keep.
#include "core/rules/live.hpp"
#include "core/rules/say.hpp"
#include "core/base/said.hpp"

#include <algorithm>

namespace kp {

namespace {

void stops_first(std::vector<Finding>& findings) {
    std::stable_sort(findings.begin(), findings.end(),
                     [](const Finding& a, const Finding& b) { return a.severity < b.severity; });
}

}  // namespace

std::vector<Finding> run_rules(const RuleInput& input) {
    LiveRules live(input);
    return live.take();
}

std::vector<Finding> run_rules_at(const RuleInput& input, const std::string& port,
                                  const std::vector<std::string>& pins) {
    std::vector<Finding> out;
    const auto* seat = input.seat(port);
    for (const auto& row : rule_table()) {
        if (row.of_port && seat) row.of_port(input, row, *seat, out);
        if (row.of_pin)
            for (const auto& pin : pins) row.of_pin(input, row, pin, out);
    }
    rules::mark_waived(input.project.waivers, out);
    stops_first(out);
    return out;
}

std::vector<Fix> fixes_of(const RuleInput& input, const Finding& finding) {
    if (!finding.fixes.empty()) return finding.fixes;
    if (finding.rule == "W01")
        for (const auto& w : input.project.waivers)
            if (auto f = rules::stale_waiver(w); f.text == finding.text && f.objects == finding.objects)
                return std::move(f.fixes);
    std::vector<Finding> again;
    for (const auto& row : rule_table()) {
        if (finding.rule != row.code) continue;
        for (const auto& o : finding.objects) {
            if (row.of_port && o.kind == Subject::port)
                if (const auto* seat = input.seat(o.name)) {
                    const auto& bus = input.bus_of(*seat);  // its first bit answers for all
                    row.of_port(input, row, row.reads == Reads::bus && !bus.empty() ? *bus.front() : *seat, again);
                }
            if (row.of_pin && o.kind == Subject::pin) row.of_pin(input, row, o.name, again);
            if (row.of_bank && o.kind == Subject::bank)
                if (const auto* bank = input.part.bank(o.name)) row.of_bank(input, row, *bank, again);
        }
        if (row.of_plan) row.of_plan(input, row, again);
    }
    for (auto& f : again)
        if (f.text == finding.text && f.objects == finding.objects) return std::move(f.fixes);
    return {};
}

Edit waiver_edit(const Finding& finding, const std::string& reason, const std::string& who, const std::string& date) {
    const Waiver w{finding.rule, finding.object_names(), reason, who, date};
    return {said("waive {} for {}", w.rule, list_names(w.objects)), {WaiverChange{w, true}}};
}

namespace rules {

Order order_of(const RuleInput&, size_t row, const PlannedPort& seat) {
    return {row, seat.order, seat.port ? std::string() : seat.name};
}

Order order_of_pin(const RuleInput& in, size_t row, const std::string& pin) {
    const auto* p = in.part.pin(pin);
    constexpr std::uint64_t pins_come_after_ports = std::uint64_t{1} << 33, unknown = std::uint64_t{1} << 34;
    return {row, p ? pins_come_after_ports + static_cast<std::uint64_t>(p - in.part.pins.data()) : unknown,
            p ? std::string() : pin};
}

Order order_of_bank(const RuleInput& in, size_t row, const Bank& bank) {
    constexpr std::uint64_t banks_come_last = std::uint64_t{1} << 35;
    return {row, banks_come_last + static_cast<std::uint64_t>(&bank - in.part.banks.data()), ""};
}

std::vector<bool> mark_waived(const std::vector<Waiver>& waivers, std::vector<Finding>& findings) {
    std::vector<bool> met(waivers.size(), false);
    for (auto& f : findings) {
        f.waived.reset();
        for (size_t i = 0; i < waivers.size(); ++i) {
            if (waivers[i].rule != f.rule || waivers[i].objects != f.object_names()) continue;
            f.waived = waivers[i];
            met[i] = true;
        }
    }
    return met;
}

Finding stale_waiver(const Waiver& w) {
    Finding f;
    f.rule = "W01";
    f.severity = Severity::note;
    f.remedy = "Waivers";
    f.source = "common practice, no source";
    f.text = said("The waiver of {} for {} matches no finding any more.", w.rule, list_names(w.objects));
    for (const auto& o : w.objects) f.objects.push_back({Subject::waived, o});
    f.fixes.push_back({"take the waiver back", Edit{"take back the waiver of " + w.rule, {WaiverChange{w, false}}}});
    return f;
}

}  // namespace rules

}  // namespace kp
