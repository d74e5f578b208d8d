// SPDX-License-Identifier: GPL-3.0-or-later
// Whatever is compared becomes differences port by port; what is taken becomes one edit that evicts nobody without
// saying so.
#include "core/planning/proposals.hpp"

#include "core/base/text.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <map>
#include <set>

namespace kp {

namespace {

std::string pin_now(const Project& project, const std::string& port) {
    const auto at = project.pegs.find(port);
    return at == project.pegs.end() ? "" : at->second.pin;
}

std::set<std::string> names_of(const std::vector<Port>& ports) {
    std::set<std::string> out;
    for (const auto& p : ports) out.insert(p.name);
    return out;
}

/// Differences of two sheets as proposals; only those of `fields`, and only of ports the design has.
std::vector<Proposal> from_differences(const std::vector<SheetDifference>& differences,
                                       const std::set<std::string>& fields, const std::string& origin,
                                       const std::string& why) {
    std::vector<Proposal> out;
    for (const auto& d : differences)
        if (fields.contains(d.field)) out.push_back({d.port, d.field, d.before, d.after, origin, why, -1, ""});
    return out;
}

}  // namespace

std::vector<Proposal> proposals_by_name(const std::vector<Port>& ports, const Board& board, const Project& project,
                                        const ClockRates& clocks) {
    std::vector<Proposal> out;
    for (const auto& m : meant_places(ports, board, project, project.pegs, clocks))
        out.push_back({m.port, "pin", "", m.pin, "by name", m.terminal + ": " + m.why, m.confidence, ""});
    return out;
}

std::vector<Proposal> proposals_of_sheet(const Project& project, const std::vector<Port>& ports, const Part& part,
                                         const Board& board, const Sheet& sheet) {
    std::set<std::string> fields;
    for (const auto* c : sheet.columns)
        if (c->settable) fields.insert(c->name);
    const auto now = sheet_rows(ports, part, board, project);
    // What a row does not say stays: it is filled in from the plan, so that it makes no difference.
    std::map<std::string, const SheetRow*> by_port;
    for (const auto& r : now) by_port[r.port] = &r;
    std::vector<SheetRow> before, after;
    std::vector<Proposal> out;
    std::map<std::string, int> line;
    for (size_t i = 0; i < sheet.rows.size(); ++i) {
        const auto& r = sheet.rows[i];
        line[r.port] = sheet.lines[i];
        const auto at = by_port.find(r.port);
        if (at == by_port.end()) {
            std::vector<std::string> names;
            for (const auto& p : ports) names.push_back(p.name);
            out.push_back({r.port, "port", "", r.pin, "", "", -1,
                           said("The design has no port '{}'.{}", r.port, did_you_mean(r.port, names))});
            continue;
        }
        SheetRow full = *at->second;
        for (const auto* c : sheet.columns)
            if (c->settable) take_cell(full.*(c->field), r.*(c->field));
        before.push_back(*at->second);
        after.push_back(std::move(full));
    }
    for (auto& p : from_differences(compare_sheets(before, after), fields, "from a sheet", "")) {
        if (p.field == "standard_origin" || p.field == "origin" ||
            (p.field == "state" && (p.then == "adrift" || p.now == "adrift")))
            continue;  // they go with the pin or the standard
        p.why = said("line {}", line[p.port]);
        if (p.field == "pin" && !p.then.empty() && !part.pins.empty() && !part.pin(p.then))
            p.refused = said("The part has no pin '{}'.", p.then);
        out.push_back(std::move(p));
    }
    return out;
}

std::vector<Proposal> proposals_of_plan(const Project& project, const std::vector<Port>& ports, const Part& part,
                                        const Board& board, const Project& other, const std::string& origin) {
    std::set<std::string> fields;
    for (const auto& c : sheet_columns())
        if (c.settable && c.field != &SheetRow::origin && c.field != &SheetRow::standard_origin &&
            c.field != &SheetRow::state)
            fields.insert(c.name);
    const auto there = sheet_rows(ports, part, board, other);
    return from_differences(compare_sheets(sheet_rows(ports, part, board, project), there), fields, origin, origin);
}

const char* name_of(Obtained::Verdict verdict) {
    switch (verdict) {
        case Obtained::Verdict::as_requested: return "as requested";
        case Obtained::Verdict::elsewhere: return "elsewhere than requested";
        case Obtained::Verdict::not_requested: return "not requested";
        case Obtained::Verdict::not_reported: return "not in the report";
        case Obtained::Verdict::unknown: break;
    }
    return "no port of this design";
}

std::vector<Obtained> compare_obtained(const Project& project, const std::vector<Port>& ports,
                                       const std::vector<PinReportRow>& report) {
    using V = Obtained::Verdict;
    std::map<std::string, const PinReportRow*> rows;
    for (const auto& r : report) rows[r.port] = &r;
    std::vector<Obtained> out;
    for (const auto& port : ports) {
        const auto row = rows.find(port.name);
        Obtained o{port.name, pin_now(project, port.name), row == rows.end() ? "" : row->second->pin, V::as_requested,
                   row == rows.end() ? 0 : row->second->line};
        if (o.obtained.empty())
            o.verdict = V::not_reported;
        else if (o.requested.empty())
            o.verdict = V::not_requested;
        else if (lower(o.requested) != lower(o.obtained))
            o.verdict = V::elsewhere;
        out.push_back(std::move(o));
    }
    const auto known = names_of(ports);
    for (const auto& r : report)
        if (!known.contains(r.port)) out.push_back({r.port, "", r.pin, V::unknown, r.line});
    return out;
}

std::vector<Proposal> proposals_of_report(const Project& project, const std::vector<Port>& ports, const Part& part,
                                          const std::vector<PinReportRow>& report) {
    std::vector<Proposal> out;
    for (const auto& o : compare_obtained(project, ports, report)) {
        if (o.verdict == Obtained::Verdict::as_requested ||
            (o.verdict == Obtained::Verdict::not_reported && o.requested.empty()))
            continue;
        Proposal p{o.port, "pin", o.requested, o.obtained, "from a build", name_of(o.verdict), -1, ""};
        if (o.line > 0) p.why += said(", line {}", o.line);
        if (o.verdict == Obtained::Verdict::unknown)
            p.refused = said("The design has no port '{}'.", o.port);
        else if (o.obtained.empty())
            p.refused = "The build says nothing of this port.";
        else if (!part.pins.empty() && !part.pin(o.obtained))
            p.refused = said("The part has no pin '{}'.", o.obtained);
        out.push_back(std::move(p));
    }
    std::stable_partition(out.begin(), out.end(), [](const Proposal& p) { return p.refused.empty(); });
    return out;
}

Edit take_proposals(const Project& project, const Board& board, std::span<const Proposal> taken,
                    const std::string& title) {
    Edit out{title, {}};
    Project next = project;
    const auto add = [&](const Edit& edit) {
        if (edit.empty() || !apply(next, edit)) return;
        out.changes.insert(out.changes.end(), edit.changes.begin(), edit.changes.end());
    };
    for (const auto& p : taken)
        if (p.refused.empty() && p.field == "pin" && p.then != pin_now(next, p.port)) add(unpeg_edit(next, p.port));
    for (const auto& p : taken)
        if (p.refused.empty() && p.field == "pin" && !p.then.empty())
            add(peg_edit(next, board, p.port, p.then, p.origin));
    for (const auto& p : taken) {
        if (!p.refused.empty() || p.field == "pin") continue;
        const auto peg = next.pegs.find(p.port);
        if (p.field == "state" && peg != next.pegs.end()) {
            Peg after = peg->second;
            after.state = p.then == "loose" ? PegState::loose : PegState::pegged;
            add({"", {PegChange{p.port, peg->second, after}}});
        }
        const auto at = next.attributes.find(p.port);
        const PortAttributes before = at == next.attributes.end() ? PortAttributes{} : at->second;
        const auto after = with_sheet_field(before, p.field, p.then);
        if (after != before) add({"", {AttributeChange{p.port, before, after}}});
    }
    return out;
}

}  // namespace kp
