// SPDX-License-Identifier: GPL-3.0-or-later
// One function for each way to tell pins apart; each fills the legend in the order it meets entries.
#include "app/pegs/shades.hpp"

#include "app/theme/text.hpp"
#include "app/theme/theme.hpp"
#include "core/base/text.hpp"

#include <QObject>
#include <algorithm>
#include <map>

namespace kp::app {

namespace {

/// What a pin is colour by: a key that also sorts the legend, its name, its colour.
struct Told {
    std::string key;
    QString name;
    QColor color;
};

Told by_kind(const Pin& pin) {
    const auto& t = theme();
    switch (pin.kind) {
        case PinKind::clock: return {"1", QObject::tr("clock pin"), t.select};
        case PinKind::configuration: return {"4", QObject::tr("configuration pin"), t.caution};
        case PinKind::supply: return {"5", QObject::tr("core supply"), t.second};
        case PinKind::bank_supply: return {"6", QObject::tr("bank supply"), t.bank(3)};
        case PinKind::ground: return {"7", QObject::tr("ground"), t.second};
        case PinKind::not_connected: return {"8", QObject::tr("not connected"), t.hairline};
        case PinKind::reference: return {"3", QObject::tr("reference voltage"), t.bank(1)};
        case PinKind::lane:
        case PinKind::lane_clock: return {"9", QObject::tr("lane"), t.bank(6)};
        case PinKind::io: break;
    }
    if (pin.reference) return {"3", QObject::tr("reference voltage"), t.bank(1)};
    if (!pin.job.empty()) return {"2", QObject::tr("dual-purpose"), t.bank(4)};
    return {"0", QObject::tr("user pin"), t.cell};
}

Told by_slack(const PlanView::PortState& port) {
    const auto& t = theme();
    if (!port.slack) return {"4", QObject::tr("no slack known"), t.hairline};
    if (*port.slack < slack_steps[0]) return {"0", QObject::tr("below 0 ns"), t.stop};
    if (*port.slack < slack_steps[1]) return {"1", QObject::tr("0 to 0.5 ns"), t.caution};
    if (*port.slack < slack_steps[2]) return {"2", QObject::tr("0.5 to 2 ns"), t.bank(2)};
    return {"3", QObject::tr("2 ns and more"), t.good};
}

Told by_finding(const PlanView& plan, const PlanView::PinState& pin) {
    const auto& t = theme();
    const int worst = std::min(pin.severity, pin.port < 0 ? 3 : plan.ports[static_cast<size_t>(pin.port)].severity);
    if (worst == 0) return {"0", QObject::tr("stop"), t.stop};
    if (worst == 1) return {"1", QObject::tr("caution"), t.caution};
    if (worst == 2) return {"2", QObject::tr("note"), t.second};
    return {"3", pin.port < 0 ? QObject::tr("no finding") : QObject::tr("no finding"), t.hairline};
}

}  // namespace

Shading::Shading(const Part& part, const Session* session, const PlanView& plan, Shade by) {
    const auto& t = theme();
    std::map<std::string, int> standards;  // in a fixed order, for their colours
    for (const auto& port : plan.ports)
        if (!port.standard.empty()) standards.emplace(port.standard, 0);
    int next = 0;
    for (auto& [name, color] : standards) color = next++;
    std::map<double, int> volts;
    if (session)
        for (const auto& rail : session->world().board.rails) volts.emplace(rail.volts, 0);
    next = 0;
    for (auto& [v, color] : volts) color = next++;

    const auto told = [&](size_t i) -> Told {
        const auto& pin = part.pins[i];
        const PlanView::PinState state = i < plan.pins.size() ? plan.pins[i] : PlanView::PinState{};
        const auto* port = state.port < 0 ? nullptr : &plan.ports[static_cast<size_t>(state.port)];
        if (by == Shade::kind) return by_kind(pin);
        if (!pin.usable() && by != Shade::finding) return {"~", QObject::tr("not user pins"), t.second};
        if (by == Shade::finding) return by_finding(plan, state);
        if (by == Shade::standard) {
            if (!port) return {"}", QObject::tr("free"), t.hairline};
            if (port->standard.empty()) return {"!", QObject::tr("no standard chosen"), t.stop};
            return {"s" + port->standard, q(port->standard), t.bank(standards.at(port->standard))};
        }
        if (by == Shade::supply) {
            const auto rail = session ? session->world().board.rail(pin.bank) : std::nullopt;
            if (!rail) return {"}", QObject::tr("no rail known"), t.hairline};
            return {fixed(1000 + *rail, 3), q(shortest(*rail)) + QStringLiteral(" V"), t.bank(volts.at(*rail))};
        }
        if (by == Shade::slack) return port ? by_slack(*port) : Told{"}", QObject::tr("free"), t.hairline};
        const int bank = part.bank_position(pin.bank);
        const auto rail = session ? session->world().board.rail(pin.bank) : std::nullopt;
        return {fixed(1000 + bank, 0),
                QObject::tr("bank %1").arg(q(pin.bank)) +
                    (rail ? QStringLiteral(" · ") + q(shortest(*rail)) + QStringLiteral(" V") : QString()),
                t.bank(bank)};
    };

    struct Sum {
        Told told;
        int all = 0, used = 0;
        std::vector<int> pins;
    };
    std::map<std::string, Sum> sums;
    for (size_t i = 0; i < part.pins.size(); ++i) {
        auto one = told(i);
        auto& sum = sums[one.key];
        if (sum.all++ == 0) sum.told = std::move(one);
        sum.used += i < plan.pins.size() && plan.pins[i].port >= 0;
        sum.pins.push_back(static_cast<int>(i));
    }
    of_pin.assign(part.pins.size(), -1);
    for (const auto& [key, sum] : sums) {
        for (const int pin : sum.pins) of_pin[static_cast<size_t>(pin)] = static_cast<int>(entries.size());
        const bool share = by == Shade::bank && key != "~";
        entries.push_back({sum.told.name,
                           share ? QObject::tr("%1 of %2").arg(sum.used).arg(sum.all) : QString::number(sum.all),
                           sum.told.color});
    }
}

}  // namespace kp::app
