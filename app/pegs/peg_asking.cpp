// SPDX-License-Identifier: GPL-3.0-or-later
// One question for all who would lose a pin; the answer is one edit.
#include "app/pegs/peg_asking.hpp"

#include "app/theme/text.hpp"

#include "core/base/text.hpp"
#include "core/planning/ways.hpp"

#include <QObject>
#include <algorithm>

namespace kp::app {

namespace {

QString who_goes(const ManyPegs& many) {
    if (many.evicted.size() == 1)
        return QObject::tr("Pin %1 holds %2, which would go adrift.")
            .arg(q(many.evicted[0].second), q(many.evicted[0].first));
    std::vector<std::string> ports;
    for (const auto& [port, pin] : many.evicted) ports.push_back(port);
    return QObject::tr("%1 ports hold these pins and would go adrift: %2.")
        .arg(ports.size())
        .arg(q(list_names(ports, 8)));
}

/// What is wired neither moves nor gives way; empty when nothing of it is in the way.
QString locked_by(const Project& project, const std::vector<std::string>& ports, const std::vector<std::string>& pins) {
    for (const auto& [port, peg] : project.pegs) {
        if (!peg.wired) continue;
        const auto moved = std::find(ports.begin(), ports.end(), port);
        const auto at = static_cast<size_t>(moved - ports.begin());
        if (moved != ports.end() && at < pins.size() && pins[at] == peg.pin) continue;
        if (moved != ports.end() || std::find(pins.begin(), pins.end(), peg.pin) != pins.end())
            return QObject::tr("%1 is wired to pin %2; unlock it first (Ctrl+K, lock the selected pegs as wired).")
                .arg(q(port), q(peg.pin));
    }
    return {};
}

}  // namespace

void peg_asking(Desk& desk, const std::vector<std::string>& ports, const std::vector<std::string>& pins,
                const std::function<void()>& done) {
    const auto& s = desk.session();
    if (const auto locked = locked_by(s.project(), ports, pins); !locked.isEmpty()) return desk.say(locked, true);
    const auto many = peg_many(s.project(), s.world().board, ports, pins, "by hand");
    const auto take = [&desk, done](const Edit& edit) {
        if (desk.apply(edit) && done) done();
    };
    if (many.evicted.empty()) return take(many.edit);
    Desk::Question question{who_goes(many), QObject::tr("Take it"), [take, edit = many.edit] { take(edit); }};
    const bool swap = ports.size() == 1 && many.evicted.size() == 1 && s.project().pegs.contains(ports[0]);
    if (swap) {
        question.other_way = QObject::tr("Swap the two");
        question.other_run = [take, edit = swap_edit(s.project(), ports[0], many.evicted[0].first)] { take(edit); };
    }
    desk.ask(std::move(question));
}

}  // namespace kp::app
