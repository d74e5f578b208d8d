// SPDX-License-Identifier: GPL-3.0-or-later
// Verdicts are asked of a Trial on a snapshot as the mouse comes over a place, and kept for the drag. The drag
// holds ports and verdicts, nothing of the widgets.
#include "app/pegs/port_drag.hpp"

#include "app/pegs/peg_asking.hpp"
#include "app/shell/counted.hpp"
#include "core/base/text.hpp"

#include <algorithm>

namespace kp::app {

void PortDrag::press(std::vector<std::string> ports, const QPointF& at) {
    end();
    ports_ = std::move(ports);
    from_ = now_ = at;
}

bool PortDrag::move(const QPointF& at) {
    now_ = at;
    if (!ports_.empty() && !moving_ && (at - from_).manhattanLength() > 6) {
        moving_ = true;
        trial_ = std::make_unique<Trial>(desk_.session().snapshot());
    }
    return moving_;
}

void PortDrag::end() {
    ports_.clear();
    moving_ = round_ = false;
    trial_.reset();
    verdicts_.clear();
    answers_.clear();
}

const std::string& PortDrag::trouble(const std::string& pin) {
    const auto [at, fresh] = verdicts_.try_emplace(pin);
    if (fresh && trial_) at->second = trial_->trouble(ports_.front(), pin);
    return at->second;
}

bool PortDrag::fades(const std::string& pin) {
    constexpr qint64 most_ms = 5;
    if (!verdicts_.contains(pin) && frame_.elapsed() >= most_ms) return unfinished_ = true;
    return !trouble(pin).empty();
}

const PortDrag::Answer& PortDrag::answer(const DropTarget& target) {
    const auto [at, fresh] =
        answers_.try_emplace(std::to_string(static_cast<int>(target.kind)) + (round_ ? "r" : " ") + target.name);
    auto& a = at->second;
    if (!fresh || !trial_) return a;
    auto ports = ports_;
    if (round_) std::reverse(ports.begin(), ports.end());
    const auto& s = desk_.session();
    a.pins = places_from(
        target, ports, s.world().part, s.world().board, s.project().pegs,
        [&](const std::string& port, const std::string& pin) { return trial_->trouble(port, pin).empty(); });
    if (a.pins.size() > ports.size()) a.pins.resize(ports.size());
    a.left.assign(ports.begin() + static_cast<long>(a.pins.size()), ports.end());
    if (a.pins.empty())
        a.why = target.kind == DropTarget::Kind::bank
                    ? "Bank " + target.name + " has no free pin that would take " + ports.front() + "."
                    : "Nothing there is wired to the part.";
    else
        a.why = a.pins.size() == 1 && ports.size() == 1 ? trial_->trouble(ports.front(), a.pins.front())
                                                        : trial_->trouble_of_all(ports, a.pins);
    return a;
}

QString PortDrag::sentence(const DropTarget& target) {
    const auto& a = answer(target);
    const QString who = QString::fromStdString(ports_.size() == 1 ? ports_[0] : ports_[0] + " … " + ports_.back());
    if (!a.why.empty()) return who + QStringLiteral(": ") + QString::fromStdString(a.why);
    QString out = QObject::tr("%1: yes, %2 %3")
                      .arg(who, a.pins.size() == 1 ? QObject::tr("pin") : QObject::tr("pins"),
                           QString::fromStdString(list_names(a.pins, 8)));
    if (ports_.size() > 1) out += round_ ? QObject::tr("; reversed") : QObject::tr("; Shift reverses them");
    if (!a.left.empty())
        out += QObject::tr("; no pin is left for %1").arg(QString::fromStdString(list_names(a.left, 4)));
    return out;
}

void PortDrag::drop(const DropTarget& target) {
    const Answer a = answer(target);
    auto ports = ports_;
    if (round_) std::reverse(ports.begin(), ports.end());
    end();
    if (!a.why.empty())
        return desk_.say(
            QString::fromStdString(
                (ports.size() == 1 ? ports[0] + " stays where it was. " : "All stay where they were. ") + a.why),
            true);
    ports.resize(a.pins.size());
    peg_asking(desk_, ports, a.pins, [this, a, ports] {
        if (a.left.empty()) return;
        desk_.say(
            QObject::tr("%1 pegged; no pin was left for %2")
                .arg(counted(static_cast<int>(ports.size()), "port"), QString::fromStdString(list_names(a.left, 6))));
    });
}

}  // namespace kp::app
