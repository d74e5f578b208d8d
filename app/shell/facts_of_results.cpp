// SPDX-License-Identifier: GPL-3.0-or-later
// Each asks the analysis of now; what has gone since it was selected has no sheet.
#include "app/shell/facts_of_results.hpp"

#include "app/shell/counted.hpp"
#include "app/theme/text.hpp"
#include "core/base/text.hpp"
#include "core/model/lane_link.hpp"
#include "core/model/lane_pins.hpp"
#include "core/model/path_cause.hpp"
#include "core/model/timing_words.hpp"

#include <algorithm>
#include <cstdlib>

namespace kp::app {

namespace {

QString in_ns(double value) {
    return q(fixed(value, 3)) + QStringLiteral(" ns");
}

void add_path(const TimingPath& path, const TimingReport& report, FactSheet& sheet) {
    FactGroup way{QObject::tr("WORST PATH"), {}};
    way.facts.push_back({QObject::tr("from"), q(path.startpoint), {}});
    way.facts.push_back({QObject::tr("arrival"), in_ns(path.arrival),
                         QObject::tr("launched at %1 ns").arg(q(fixed(path.launch_edge, 3)))});
    way.facts.push_back({QObject::tr("required"), in_ns(path.required),
                         QObject::tr("captured at %1 ns").arg(q(fixed(path.capture_edge, 3)))});
    way.facts.push_back(
        {QObject::tr("levels"), QString::number(levels_of(path)), QObject::tr("cells in series, pads left out")});
    sheet.groups.push_back(std::move(way));
    if (path.slack < 0)
        sheet.groups.push_back({QObject::tr("WHY"), {{{}, q(why_failing(path, report.clocks).text), {}, 0}}});
}

}  // namespace

FactSheet endpoint_facts(const Session& s, const std::string& check_and_name) {
    FactSheet sheet;
    const auto blank = check_and_name.find(' ');
    if (blank == std::string::npos) return sheet;
    const auto check = check_and_name.substr(0, blank), name = check_and_name.substr(blank + 1);
    const auto& r = s.analysis().timing();
    if (check == "unconstrained") {
        for (const auto& u : r.unconstrained) {
            if (u.endpoint != name) continue;
            sheet.title = q(name);
            sheet.under = QObject::tr("endpoint · nothing constrains it");
            sheet.groups.push_back(
                {QObject::tr("DELAY"),
                 {{QObject::tr("longest"), in_ns(u.max_delay), QObject::tr("from %1").arg(q(u.startpoint))},
                  {QObject::tr("shortest"), in_ns(u.min_delay), {}}}});
        }
        return sheet;
    }
    FactGroup checks{QObject::tr("CHECKS"), {}};
    for (const auto& e : r.endpoints) {
        if (e.endpoint != name) continue;
        QString clocks = q(e.launch_clock.empty() ? e.capture_clock : e.launch_clock);
        if (e.launch_clock != e.capture_clock && !e.launch_clock.empty())
            clocks += QStringLiteral(" → ") + q(e.capture_clock);
        if (!e.corner.empty()) clocks += QObject::tr(", corner %1").arg(q(e.corner));
        checks.facts.push_back({q(words_of_check(e.check)), in_ns(e.slack), clocks});
    }
    if (checks.facts.empty()) return sheet;
    sheet.title = q(name);
    sheet.under = QObject::tr("endpoint · %1").arg(counted(static_cast<int>(checks.facts.size()), "check"));
    sheet.groups.push_back(std::move(checks));
    for (const auto& path : r.paths)
        if (path.endpoint == name && path.check == check) {
            add_path(path, r, sheet);
            break;
        }
    return sheet;
}

FactSheet cell_facts(const Session& s, const std::string& name) {
    FactSheet sheet;
    const auto& n = s.world().netlist;
    const auto at = std::find(n.cell_names.begin(), n.cell_names.end(), name);
    if (at == n.cell_names.end()) return sheet;
    const auto cell = static_cast<std::uint32_t>(at - n.cell_names.begin());
    sheet.title = q(name);
    sheet.under = QObject::tr("cell · %1").arg(q(n.type_of(cell)));
    FactGroup nets{QObject::tr("CONNECTIONS"), {}};
    for (auto p = n.cells[cell].first_pin; p < n.cells[cell].first_pin + n.cells[cell].pin_count; ++p)
        if (n.pins[p].net != no_id)
            nets.facts.push_back({q(n.pin_names[n.pins[p].name]), q(n.net_names[n.pins[p].net]), {}});
    sheet.groups.push_back(std::move(nets));
    return sheet;
}

FactSheet finding_facts(const Session& s, const std::string& identity) {
    FactSheet sheet;
    for (const auto& f : s.findings()) {
        if (f.identity() != identity) continue;
        sheet.title = q(f.rule);
        sheet.under = QObject::tr("finding · %1").arg(q(f.remedy).toLower());
        sheet.groups.push_back({QObject::tr("WHAT"), {{{}, q(f.text), {}, static_cast<int>(f.severity)}}});
        FactGroup numbers{QObject::tr("NUMBERS"), {}}, objects{QObject::tr("OBJECTS"), {}},
            where{QObject::tr("WHERE"), {}};
        for (const auto& v : f.numbers)
            numbers.facts.push_back({q(v.name), q(shortest(v.value)) + QLatin1Char(' ') + q(v.unit), {}});
        for (const auto& o : f.objects) objects.facts.push_back({q(word_of(o.kind)), q(o.name), {}});
        if (!f.file.empty()) where.facts.push_back({QObject::tr("line"), QString::number(f.line), q(f.file)});
        where.facts.push_back({QObject::tr("by"), {}, q(f.source)});
        for (auto* g : {&numbers, &objects, &where}) sheet.groups.push_back(std::move(*g));
        break;
    }
    return sheet;
}

FactSheet line_facts(const Session& s, const std::string& place) {
    FactSheet sheet;
    const auto colon = place.rfind(':');
    if (colon == std::string::npos) return sheet;
    const auto path = place.substr(0, colon);
    const auto line = to_integer(place.substr(colon + 1)).value_or(0);
    for (const auto& file : s.project().constraints) {
        if (file.path != path || line < 1) continue;
        const auto lines = split(file.text, '\n');
        if (static_cast<size_t>(line) > lines.size()) break;
        sheet.title = QObject::tr("line %1").arg(line);
        sheet.under = q(path);
        sheet.groups.push_back(
            {QObject::tr("TEXT"), {{{}, q(std::string(trim(lines[static_cast<size_t>(line) - 1]))), {}, 2}}});
        FactGroup said{QObject::tr("FINDINGS"), {}};
        for (const auto& f : s.findings())
            if (f.file == path && f.line == line)
                said.facts.push_back({q(f.rule), q(f.text), {}, static_cast<int>(f.severity)});
        sheet.groups.push_back(std::move(said));
    }
    return sheet;
}

FactSheet link_facts(const Session& s, const std::string& name) {
    FactSheet sheet;
    for (const auto& line : s.project().links) {
        const auto link = link_of(line);
        if (link.name != name) continue;
        sheet.title = q(name);
        sheet.under = QObject::tr("link · %1").arg(q(link.protocol));
        sheet.groups.push_back(
            {QObject::tr("ASKS FOR"),
             {{QObject::tr("lanes"), QString::number(link.lanes), {}},
              {QObject::tr("rate"), q(shortest(link.gbps)) + QStringLiteral(" Gbit/s"), {}},
              {QObject::tr("reference clock"), q(shortest(link.clock_mhz)) + QStringLiteral(" MHz"), {}}}});
        FactGroup lanes{QObject::tr("LANES"), {}};
        for (const auto& lane : link.at) {
            const auto of = lane_of_part(s.world().part, lane);
            if (!of) continue;
            const auto* part = wired_to(s.world().board, *of.lane);
            lanes.facts.push_back(
                {q(lane), part ? q(part->ref) : QObject::tr("not wired"), part ? q(part->label) : QString()});
        }
        sheet.groups.push_back(std::move(lanes));
        for (const auto& f : s.findings())
            if (f.rule == "L16" &&
                std::any_of(f.objects.begin(), f.objects.end(), [&](const Subject& o) { return o.name == name; }))
                sheet.groups.push_back(
                    {QObject::tr("FINDINGS"), {{q(f.rule), q(f.text), {}, static_cast<int>(f.severity)}}});
        break;
    }
    return sheet;
}

}  // namespace kp::app
