// SPDX-License-Identifier: GPL-3.0-or-later
// Draws the sheet it is given (FactSheet); which facts there are is asked of the session by kind of selection. No
// state.
#include "app/shell/facts.hpp"

#include "app/shell/counted.hpp"
#include "app/shell/facts_of_results.hpp"
#include "app/theme/text.hpp"
#include "core/base/text.hpp"
#include "core/model/by_hand.hpp"
#include "core/model/ports.hpp"
#include "core/planning/bus_order.hpp"
#include "core/planning/roles.hpp"

#include <QFontMetricsF>
#include <algorithm>
#include <map>
#include <set>

namespace kp::app {

namespace {

FactGroup before_power_on(const Session& s) {
    FactGroup g{QObject::tr("BEFORE POWER-ON"), {}};
    for (const auto& note : power_notes(s.world().board, s.project()))
        g.facts.push_back({{}, q(note.text), note.done ? QObject::tr("checked") : QObject::tr("to check"), 2});
    return g;
}

void add_findings(const Session& s, const std::string& name, FactSheet& sheet) {
    FactGroup g{QObject::tr("FINDINGS"), {}};
    for (const auto& f : s.findings())
        for (const auto& o : f.objects)
            if (o.name == name) {
                g.facts.push_back({q(f.rule), q(f.text),
                                   f.waived ? QObject::tr("waived: %1").arg(q(f.waived->reason)) : QString(),
                                   static_cast<int>(f.severity)});
                break;
            }
    if (!g.facts.empty()) sheet.groups.push_back(std::move(g));
}

void add_board(const World& w, const std::string& pin, FactSheet& sheet) {
    const auto at = w.board.at_pin(pin);
    FactGroup g{QObject::tr("ON THE BOARD"), {}};
    if (!at) {
        g.facts.push_back({QObject::tr("wired to"), QObject::tr("nothing"), q(w.board.name)});
    } else {
        g.facts.push_back({QObject::tr("terminal"), q(at.net->terminal), q(at.part->label)});
        g.facts.push_back({QObject::tr("board side"), q(name_of(at.terminal->direction)),
                           at.terminal->active_low ? QObject::tr("active low") : QObject::tr("active high")});
        if (!at.terminal->standard.empty()) g.facts.push_back({QObject::tr("standard"), q(at.terminal->standard), {}});
        g.facts.push_back({QObject::tr("trace"), q(fixed(at.net->trace_mm, 1)) + QStringLiteral(" mm"), {}});
        if (at.net->series_ohm > 0)
            g.facts.push_back({QObject::tr("series"), q(fixed(at.net->series_ohm, 0)) + QStringLiteral(" Ω"), {}});
        if (!at.net->pull.empty())
            g.facts.push_back({QObject::tr("pull %1").arg(q(at.net->pull)),
                               q(fixed(at.net->pull_ohm, 0)) + QStringLiteral(" Ω"),
                               {}});
    }
    sheet.groups.push_back(std::move(g));
}

void add_pin(const World& w, const std::string& name, FactSheet& sheet) {
    const auto* pin = w.part.pin(name);
    if (!pin) return;
    FactGroup g{QObject::tr("PIN"), {}};
    g.facts.push_back({QObject::tr("kind"), q(name_of(pin->kind)).replace('_', ' '), q(pin->function)});
    if (!pin->bank.empty()) {
        const auto rail = w.board.rail(pin->bank);
        g.facts.push_back({QObject::tr("bank"), q(pin->bank),
                           rail ? QObject::tr("%1 V on the board").arg(q(shortest(*rail))) : QString()});
    }
    if (!pin->pair.empty())
        g.facts.push_back({QObject::tr("pair"), QObject::tr("with %1").arg(q(pin->pair)),
                           pin->pair_true ? QObject::tr("true half") : QObject::tr("complement half")});
    sheet.groups.push_back(std::move(g));
}

void add_delays(const Session& s, const std::string& port, FactSheet& sheet) {
    const auto& c = s.analysis().constraints();
    const auto& ports = s.world().netlist.ports;
    FactGroup g{QObject::tr("CONSTRAINTS"), {}};
    for (const auto& d : c.io_delays) {
        if (d.port >= ports.size() || ports[d.port].name != port) continue;
        const QString side = d.early && d.late ? QString() : d.early ? QObject::tr(", min") : QObject::tr(", max");
        const auto file = static_cast<size_t>(d.span.file);
        g.facts.push_back(
            {(d.input ? QObject::tr("input delay") : QObject::tr("output delay")) + side,
             q(fixed(d.value, 3)) + QStringLiteral(" ns"),
             file < c.files.size() ? QStringLiteral("%1:%2").arg(q(c.files[file])).arg(d.span.line) : QString()});
    }
    for (const auto& u : s.analysis().timing().coverage.untimed)
        if (u.object == port) g.facts.push_back({{}, q(u.why), {}, 1});
    const auto slack = s.analysis().timing_index().slack_of_port(port);
    if (slack.late)
        g.facts.push_back({QObject::tr("setup slack"), q(fixed(*slack.late, 3)) + QStringLiteral(" ns"), {}});
    if (slack.early)
        g.facts.push_back({QObject::tr("hold slack"), q(fixed(*slack.early, 3)) + QStringLiteral(" ns"), {}});
    if (!g.facts.empty()) sheet.groups.push_back(std::move(g));
}

QString direction_of(const Port* port) {
    if (!port) return QObject::tr("no port of this design");
    switch (port->direction) {
        case Direction::in: return QObject::tr("input");
        case Direction::out: return QObject::tr("output");
        default: return QObject::tr("input and output");
    }
}

QString place_of(const Peg* peg) {
    if (!peg) return QObject::tr("adrift");
    return (peg->state == PegState::loose ? QObject::tr("loose at %1") : QObject::tr("pegged at %1")).arg(q(peg->pin));
}

FactGroup chosen_facts(const PlannedPort& seat) {
    FactGroup g{QObject::tr("ATTRIBUTES"), {}};
    const auto& chosen = *seat.chosen;
    const bool known = !chosen.standard.empty();
    g.facts.push_back({QObject::tr("standard"), known ? q(chosen.standard) : QObject::tr("missing"),
                       known ? q(chosen.standard_origin) : QString(), -1});
    if (known && seat.standard) {
        const auto& standard = *seat.standard;
        g.facts.push_back({QObject::tr("VIH min"), q(fixed(standard.vih, 2)) + QStringLiteral(" V"), {}});
        g.facts.push_back({QObject::tr("VIL max"), q(fixed(standard.vil, 2)) + QStringLiteral(" V"),
                           q(standard.source + ", " + standard.checked)});
    }
    if (seat.peg) g.facts.push_back({QObject::tr("peg"), q(seat.peg->pin), q(seat.peg->origin)});
    return g;
}

FactGroup meant_facts(const PlannedPort& seat) {
    FactGroup g{QObject::tr("MEANT AS"), {}};
    if (const auto role = role_of(seat); !role.role.empty())
        g.facts.push_back({QObject::tr("role"), q(role.role), q(role.why)});
    if (seat.port) {
        const auto sense = sense_of(seat.port->bus, *seat.chosen);
        g.facts.push_back({QObject::tr("active"), sense.low ? QObject::tr("low") : QObject::tr("high"), q(sense.why)});
    }
    if (!seat.chosen->open.empty())
        g.facts.push_back({QObject::tr("stays open"),
                           seat.chosen->tie.empty() ? QString() : QObject::tr("tied to %1").arg(q(seat.chosen->tie)),
                           q(seat.chosen->open)});
    return g;
}

FactSheet port_facts(const Session& s, const std::string& name) {
    FactSheet sheet;
    sheet.title = q(name);
    const auto* seat = s.plan().seat(name);
    sheet.under =
        direction_of(seat ? seat->port : nullptr) + QStringLiteral(" · ") + place_of(seat ? seat->peg : nullptr);
    if (seat) sheet.groups.push_back(chosen_facts(*seat));
    if (seat) sheet.groups.push_back(meant_facts(*seat));
    if (seat && seat->peg) {
        add_pin(s.world(), seat->peg->pin, sheet);
        add_board(s.world(), seat->peg->pin, sheet);
    }
    add_delays(s, name, sheet);
    add_findings(s, name, sheet);
    return sheet;
}

/// As declared, which bit weighs most, and how it lies on the board.
void add_bus(const Session& s, const std::string& bus, FactSheet& sheet) {
    FactGroup g{QObject::tr("AS DECLARED"), {}};
    const PlannedPort* first = nullptr;
    for (const auto* seat : s.plan().seats())
        if (seat->port && seat->port->bus == bus) {
            first = seat;
            break;
        }
    for (const auto& group : group_ports(s.world().netlist.ports)) {
        if (group.name != bus || !group.left) continue;
        g.facts.push_back({QObject::tr("range"), QStringLiteral("[%1:%2]").arg(*group.left).arg(*group.right),
                           counted(group.width(), "bit")});
        g.facts.push_back({QObject::tr("most significant"), QStringLiteral("%1[%2]").arg(q(bus)).arg(*group.left), {}});
    }
    if (!first || g.facts.empty()) return;
    const auto order = order_of(s.plan().bus_of(*first));
    const auto on = q(order.place);
    switch (order.kind) {
        case BusOrder::Kind::unknown: break;
        case BusOrder::Kind::spread:
            g.facts.push_back({QObject::tr("order"), QObject::tr("none"), QObject::tr("over several board parts")});
            break;
        case BusOrder::Kind::in_order:
            g.facts.push_back(
                {QObject::tr("order"),
                 order.shift == 0  ? QObject::tr("number by number")
                 : order.shift > 0 ? QObject::tr("shifted up by %1").arg(order.shift)
                                   : QObject::tr("shifted down by %1").arg(-order.shift),
                 QObject::tr("bit %1 on %2%3").arg(order.bits.front().index).arg(on).arg(order.bits.front().number)});
            break;
        case BusOrder::Kind::reversed:
        case BusOrder::Kind::mixed:
            g.facts.push_back(
                {QObject::tr("order"),
                 order.kind == BusOrder::Kind::reversed ? QObject::tr("reversed") : QObject::tr("mixed"),
                 QObject::tr("bit %1 on %2%3; Ctrl+K, “reverse”").arg(order.odd.index).arg(on).arg(order.odd.number)});
            break;
    }
    sheet.groups.push_back(std::move(g));
}

/// Several ports at once: which they are, where they lie, and what they have in common.
FactSheet ports_facts(const Session& s, const Selection& selection) {
    FactSheet sheet;
    FactGroup places{QObject::tr("PINS"), {}}, common{QObject::tr("IN COMMON"), {}};
    std::set<std::string> standards, banks;
    int adrift = 0;
    const bool bus = selection.kind == QLatin1String("bus");
    for (const auto* seat : s.plan().seats()) {
        if (!seat->port) continue;
        if (!(bus ? q(seat->port->bus) == selection.name : selection.has(QStringLiteral("port"), q(seat->name))))
            continue;
        places.facts.push_back({q(seat->name), seat->peg ? q(seat->peg->pin) : QObject::tr("adrift"),
                                seat->at ? q(seat->at.net->terminal) : QString()});
        adrift += seat->peg == nullptr;
        if (!seat->chosen->standard.empty()) standards.insert(seat->chosen->standard);
        if (seat->pin) banks.insert(seat->pin->bank);
    }
    const auto all = [](const std::set<std::string>& list) {
        if (list.empty()) return QObject::tr("none");
        return q(list_names(std::vector<std::string>(list.begin(), list.end()), 4));
    };
    sheet.title = bus ? selection.name : counted(static_cast<int>(places.facts.size()), "port");
    sheet.under = adrift == 0 ? QObject::tr("%1, all pegged").arg(counted(places.facts.size(), "bit"))
                              : QObject::tr("%1, %2 adrift").arg(counted(places.facts.size(), "bit")).arg(adrift);
    if (bus) add_bus(s, selection.name.toStdString(), sheet);
    common.facts = {{QObject::tr("standard"), all(standards), {}}, {QObject::tr("bank"), all(banks), {}}};
    sheet.groups.push_back(std::move(common));
    sheet.groups.push_back(std::move(places));
    return sheet;
}

FactSheet pin_facts(const Session& s, const std::string& name) {
    FactSheet sheet;
    sheet.title = q(name);
    const auto* pin = s.world().part.pin(name);
    sheet.under =
        pin ? (pin->bank.empty() ? q(pin->function)
                                 : QObject::tr("bank %1 · %2 pin")
                                       .arg(q(pin->bank), pin->usable() ? QObject::tr("user") : q(pin->function)))
            : QObject::tr("no pin of this package");
    FactGroup here{QObject::tr("HERE"), {}};
    for (const auto& port : s.plan().at_pin(name))
        here.facts.push_back({QObject::tr("port"), q(port), q(s.plan().seat(port)->peg->origin)});
    if (here.facts.empty()) here.facts.push_back({QObject::tr("port"), QObject::tr("none"), {}});
    sheet.groups.push_back(std::move(here));
    add_pin(s.world(), name, sheet);
    add_board(s.world(), name, sheet);
    add_findings(s, name, sheet);
    return sheet;
}

FactSheet part_facts(const Session& s, const std::string& ref) {
    FactSheet sheet;
    for (const auto& part : s.world().board.parts) {
        if (part.ref != ref) continue;
        sheet.title = q(part.label) + QStringLiteral(" ") + q(part.ref);
        sheet.under = QObject::tr("board part · %1").arg(q(part.kind));
        if (const auto note = s.project().part_notes.find(ref); note != s.project().part_notes.end())
            sheet.groups.push_back({QObject::tr("NOTE"), {{{}, q(note->second), {}, 2}}});
        FactGroup g{QObject::tr("TERMINALS"), {}};
        size_t wired = 0, pegged = 0;
        for (const auto& name : terminals_in_order(part)) {
            const auto at = s.world().board.at_terminal(part.ref + "." + name);
            const auto& t = *at.terminal;
            g.facts.push_back({q(t.name), at.net ? QObject::tr("pin %1").arg(q(at.net->pin)) : QObject::tr("not wired"),
                               q(name_of(t.direction)) + (t.active_low ? QObject::tr(", active low") : QString())});
            if (!at.net) continue;
            ++wired;
            pegged += s.plan().at_pin(at.net->pin).size();
        }
        if (!g.facts.empty()) sheet.groups.push_back(std::move(g));
        sheet.groups.push_back(
            {QObject::tr("PEGS"), {{QObject::tr("pegged"), QObject::tr("%1 of %2").arg(pegged).arg(wired), {}}}});
        for (const auto& o : s.world().board.oscillators)
            if (o.terminal.starts_with(ref + "."))
                sheet.groups.push_back(
                    {QObject::tr("CLOCK"),
                     {{QObject::tr("frequency"), q(shortest(o.mhz)) + QStringLiteral(" MHz"),
                       QStringLiteral("± %1 ppm").arg(o.ppm)},
                      {QObject::tr("period"), q(fixed(1000 / o.mhz, 3)) + QStringLiteral(" ns"), {}}}});
    }
    if (ref == s.world().board.fpga) {
        sheet.groups.push_back(before_power_on(s));
    }
    return sheet;
}

FactSheet clock_facts(const Session& s, const std::string& name) {
    FactSheet sheet;
    for (const auto& c : s.analysis().timing().clocks) {
        if (c.name != name) continue;
        sheet.title = q(name);
        sheet.under = QObject::tr("clock · %1 MHz").arg(q(fixed(1000 / c.period, 3)));
        const auto& constraints = s.analysis().constraints();
        const auto id = constraints.clock(name);
        QString place;
        if (id != no_id && static_cast<size_t>(constraints.clocks[id].span.file) < constraints.files.size())
            place = QStringLiteral("%1:%2")
                        .arg(q(constraints.files[static_cast<size_t>(constraints.clocks[id].span.file)]))
                        .arg(constraints.clocks[id].span.line);
        sheet.groups.push_back({QObject::tr("CONSTRAINTS"),
                                {{QObject::tr("period"), q(fixed(c.period, 3)) + QStringLiteral(" ns"), place},
                                 {QObject::tr("duty cycle"),
                                  q(fixed(100 * (c.waveform[1] - c.waveform[0]) / c.period, 1)) + QStringLiteral(" %"),
                                  {}}}});
        sheet.groups.push_back(
            {QObject::tr("SERVES"),
             {{QObject::tr("registers"), QString::number(c.registers), {}},
              {QObject::tr("could run at"),
               c.fmax_mhz ? q(fixed(*c.fmax_mhz, 1)) + QStringLiteral(" MHz") : QObject::tr("no path"),
               {}}}});
        for (const auto& source : c.sources) {
            const auto* seat = s.plan().seat(source);
            if (!seat || !seat->peg) continue;
            if (const auto* o = s.world().board.oscillator_at_pin(seat->peg->pin))
                sheet.groups.push_back(
                    {QObject::tr("OSCILLATOR"),
                     {{q(o->terminal), q(shortest(o->mhz)) + QStringLiteral(" MHz"),
                       QStringLiteral("± %1 ppm, %2 ns").arg(o->ppm).arg(q(fixed(1000 / o->mhz, 3)))}}});
        }
    }
    add_findings(s, name, sheet);
    return sheet;
}

}  // namespace

FactSheet facts_of(const Session& s, const Selection& selection) {
    const auto name = selection.name.toStdString();
    if (selection.facts) return *selection.facts;
    static const std::map<QString, FactSheet (*)(const Session&, const std::string&)> of_results{
        {QStringLiteral("endpoint"), endpoint_facts},
        {QStringLiteral("cell"), cell_facts},
        {QStringLiteral("finding"), finding_facts},
        {QStringLiteral("line"), line_facts},
        {QStringLiteral("link"), link_facts}};
    if (const auto of = of_results.find(selection.kind); of != of_results.end())
        if (auto sheet = of->second(s, name); !sheet.title.isEmpty()) return sheet;
    if (selection.kind == QLatin1String("bus") ||
        (selection.kind == QLatin1String("port") && !selection.also.isEmpty()))
        return ports_facts(s, selection);
    if (selection.kind == QLatin1String("port")) return port_facts(s, name);
    if (selection.kind == QLatin1String("pin")) return pin_facts(s, name);
    if (selection.kind == QLatin1String("terminal"))
        return pin_facts(s, s.world().board.at_terminal(name).net ? s.world().board.at_terminal(name).net->pin : name);
    if (selection.kind == QLatin1String("part")) return part_facts(s, name);
    if (selection.kind == QLatin1String("clock")) return clock_facts(s, name);
    FactSheet sheet;
    sheet.title = q(s.project().name);
    sheet.under = QObject::tr("nothing selected");
    const auto& p = s.project();
    sheet.groups.push_back(
        {QObject::tr("PROJECT"),
         {{QObject::tr("part"), q(p.part), q(s.world().board.name)},
          {QObject::tr("ports"), QString::number(s.world().netlist.ports.size()),
           QObject::tr("top %1").arg(q(s.world().netlist.top))},
          {QObject::tr("cells"),
           s.world().netlist.cells.empty() ? QObject::tr("unknown") : QString::number(s.world().netlist.cells.size()),
           {}}}});
    sheet.groups.push_back(before_power_on(s));
    return sheet;
}

void FactsPane::show_sheet(FactSheet sheet) {
    sheet_ = std::move(sheet);
    std::erase_if(sheet_.groups, [](const FactGroup& g) { return g.facts.empty(); });  // no heading over nothing
    double h = 70;
    const QFontMetricsF m(words(12));
    for (const auto& g : sheet_.groups) {
        h += 34;
        for (const auto& f : g.facts)
            h += f.severity >= 0 ? m.boundingRect(QRectF(0, 0, 226, 4000), Qt::TextWordWrap, f.value).height() + 8 +
                                       (f.origin.isEmpty() ? 0 : 15)
                 : f.origin.isEmpty() ? 20
                                      : 34;
    }
    setMinimumHeight(static_cast<int>(h));
    update();
}

void FactsPane::draw(QPainter& p) {
    const auto& t = theme();
    p.fillRect(rect(), t.sheet);
    const double left = 16, right = width() - 16;
    text(p, {left, 10, right - left, 20}, Qt::AlignVCenter, sheet_.title, mono(15, true), t.ink, true);
    text(p, {left, 31, right - left, 17}, Qt::AlignVCenter, sheet_.under, words(11.5), t.second, true);
    double y = 60;
    for (const auto& g : sheet_.groups) {
        p.fillRect(QRectF(left, y, right - left, 1), t.hairline);
        text(p, {left, y + 6, right - left, 16}, Qt::AlignVCenter, g.title, words(11.5, true), t.second);
        y += 26;
        for (const auto& f : g.facts) {
            if (f.severity >= 0) {
                if (f.severity < 3) draw_severity(p, {left + 5, y + 9}, static_cast<Severity>(f.severity));
                y += paragraph(p, {left + 18, y}, right - left - 18,
                               (f.name.isEmpty() ? QString() : f.name + QStringLiteral(" ")) + f.value, words(12),
                               t.ink) +
                     4;
                if (!f.origin.isEmpty())
                    y += paragraph(p, {left + 18, y - 3}, right - left - 18, f.origin, words(11), t.second);
                continue;
            }
            const double half = QFontMetricsF(words(12.5)).horizontalAdvance(f.name) + 8;
            text(p, {left, y, half, 18}, Qt::AlignVCenter, f.name, words(12.5), t.second);
            text(p, {left + half, y, right - left - half, 18}, Qt::AlignVCenter | Qt::AlignRight, f.value, mono(12.5),
                 t.ink, true);
            y += 18;
            if (!f.origin.isEmpty()) {
                text(p, {left, y - 2, right - left, 15}, Qt::AlignVCenter | Qt::AlignRight, f.origin, words(11),
                     t.second, true);
                y += 14;
            }
            y += 2;
        }
        y += 8;
    }
}

}  // namespace kp::app
