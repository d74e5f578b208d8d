// SPDX-License-Identifier: GPL-3.0-or-later
// Gathers by the finding's subjects, never by its text. Made anew when another finding is chosen; no state.
#include "app/findings/finding_context.hpp"

#include "app/theme/text.hpp"

#include "core/base/text.hpp"
#include "core/session/session.hpp"

#include <QObject>
#include <algorithm>
#include <set>

namespace kp::app {

namespace {

std::string named(const Finding& f, Subject::Kind kind) {
    for (const auto& o : f.objects)
        if (o.kind == kind) return o.name;
    return {};
}

void add_lines(const Session& s, const Finding& f, FindingContext& out) {
    constexpr int around = 3;
    for (const auto& file : s.project().constraints) {
        if (file.path != f.file || f.line <= 0) continue;
        out.file = q(file.path);
        int number = 0;
        for (const auto line : split(file.text, '\n')) {
            ++number;
            if (number < f.line - around) continue;
            if (number > f.line + around) return;
            out.lines.push_back({number,
                                 QString::fromUtf8(line.data(), static_cast<int>(std::min<size_t>(line.size(), 300))),
                                 number == f.line});
        }
    }
}

void add_thread(const Session& s, const Finding& f, FindingContext& out) {
    const auto port = named(f, Subject::port);
    if (port.empty()) return;
    const auto& w = s.world();
    QString way;
    for (const auto& p : w.netlist.ports)
        if (p.name == port)
            way = p.direction == Direction::in    ? QObject::tr("input")
                  : p.direction == Direction::out ? QObject::tr("output")
                                                  : QObject::tr("input and output");
    const auto a = s.project().attributes.find(port);
    const QString standard = a == s.project().attributes.end() || a->second.standard.empty()
                                 ? QObject::tr("no I/O standard")
                                 : q(a->second.standard);
    out.thread.push_back(
        {QObject::tr("port"), q(port), way.isEmpty() ? standard : way + QStringLiteral(", ") + standard});
    const auto peg = s.project().pegs.find(port);
    if (peg == s.project().pegs.end()) return out.thread.push_back({QObject::tr("pin"), QObject::tr("adrift"), {}});
    const auto* pin = w.part.pin(peg->second.pin);
    out.thread.push_back(
        {QObject::tr("pin"), q(peg->second.pin), pin ? q(pin->function) : QObject::tr("not on this part")});
    if (pin && !pin->bank.empty()) {
        const auto rail = w.board.rail(pin->bank);
        out.thread.push_back({QObject::tr("bank"), q(pin->bank),
                              rail ? q(shortest(*rail)) + QStringLiteral(" V") : QObject::tr("supply not given")});
    }
    if (const auto at = w.board.at_pin(peg->second.pin))
        out.thread.push_back({QObject::tr("board"), q(at.net->terminal), q(at.part->label)});
}

void add_bank(const Session& s, const Finding& f, FindingContext& out) {
    const auto bank = named(f, Subject::bank);
    if (bank.empty()) return;
    const auto& w = s.world();
    const auto rail = w.board.rail(bank);
    out.bank = rail ? QObject::tr("bank %1, %2 V by the board").arg(q(bank), q(shortest(*rail)))
                    : QObject::tr("bank %1, supply not given").arg(q(bank));
    std::set<std::string> here;
    for (const auto& o : f.objects)
        if (o.kind == Subject::port) here.insert(o.name);
    for (const auto& [port, peg] : s.project().pegs) {
        const auto* pin = w.part.pin(peg.pin);
        if (!pin || pin->bank != bank) continue;
        const auto a = s.project().attributes.find(port);
        out.seats.push_back({q(port), q(peg.pin), a == s.project().attributes.end() ? QString() : q(a->second.standard),
                             here.contains(port)});
    }
    std::stable_partition(out.seats.begin(), out.seats.end(), [](const auto& seat) { return seat.here; });
}

}  // namespace

FindingContext context_of(const Session& session, const Finding& finding) {
    FindingContext out;
    add_lines(session, finding, out);
    add_thread(session, finding, out);
    add_bank(session, finding, out);
    return out;
}

}  // namespace kp::app
