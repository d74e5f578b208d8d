// SPDX-License-Identifier: GPL-3.0-or-later
// What the footprint does with mouse, keys and selection; how it is drawn stands in footprint_draw.cpp.
#include "app/pegs/footprint.hpp"

#include "app/theme/text.hpp"

#include "core/base/text.hpp"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QWheelEvent>
#include <algorithm>
#include <cmath>

namespace kp::app {

namespace {
constexpr double most_zoom = 12;
}  // namespace

Footprint::Footprint(Desk& desk) : desk_(desk), drag_(desk) {
    setObjectName("footprint");
    setAccessibleName(tr("Footprint: the package with its pins"));
    setFocusPolicy(Qt::StrongFocus);
}

void Footprint::refresh(const PlanView& plan) {
    plan_ = plan;
    shading_ = Shading(part(), other_ ? nullptr : &desk_.session(), plan_, shade_);
    stamps_.clear();
    if (outlined_ != &part()) {
        outlined_ = &part();
        bank_lines_ = outlines_mm(part(), [](const Pin& pin) -> const std::string& { return pin.bank; });
        region_lines_ = outlines_mm(part(), [](const Pin& pin) -> const std::string& { return pin.region; });
    }
    update();
}

void Footprint::set_shade(Shade shade) {
    shade_ = shade;
    hidden_.clear();
    if (desk_.has_session()) refresh(plan_);
}

void Footprint::set_hidden(std::set<QString> names) {
    hidden_ = std::move(names);
    update();
}

void Footprint::show_extra(Extra extra, bool on) {
    extras_ = on ? extras_ | extra : extras_ & ~extra;
    update();
}

void Footprint::set_look(const FootprintLook& look) {
    look_ = look;
    look_.zoom = std::clamp(look_.zoom, 1.0, most_zoom);
    // No further than its edges, so that no empty half is looked at.
    const double side = std::min(width(), height()) * look_.zoom, over = 0.08 * side;
    const double x = std::max(0.0, (side - width()) / 2) + over, y = std::max(0.0, (side - height()) / 2) + over;
    look_.pan = {std::clamp(look_.pan.x(), -x, x), std::clamp(look_.pan.y(), -y, y)};
    if (look_.zoom <= 1.0001) look_.pan = {};
    emit look_changed();
    update();
}

void Footprint::turn_over() {
    set_look({!look_.below, look_.turns, look_.zoom, {-look_.pan.x(), look_.pan.y()}});
}
void Footprint::rotate() {
    set_look({look_.below, (look_.turns + 1) % 4, look_.zoom, {-look_.pan.y(), look_.pan.x()}});
}

void Footprint::zoom_by(double factor, const QPointF& around) {
    const double zoom = std::clamp(look_.zoom * factor, 1.0, most_zoom);
    const QPointF centre(width() / 2.0, height() / 2.0), from = around - centre;
    // What lies under the mouse stays there.
    set_look({look_.below, look_.turns, zoom, from - (from - look_.pan) * (zoom / look_.zoom)});
}

void Footprint::zoom_to_selection() {
    const auto pins = chosen_pins();
    if (pins.empty()) return desk_.say(tr("Select a port or a pin first."), true);
    const FootprintMap m(part(), QRectF(rect()).adjusted(8, 8, -8, -8), {look_.below, look_.turns, 1, {}});
    QRectF box;
    for (const int pin : pins) box |= m.pins[static_cast<size_t>(pin)];
    const double zoom = std::clamp(
        std::min(width() / (box.width() + 12 * m.pitch), height() / (box.height() + 12 * m.pitch)), 1.0, 8.0);
    const QPointF centre(width() / 2.0, height() / 2.0);
    set_look({look_.below, look_.turns, zoom, (centre - box.center()) * zoom});
}

void Footprint::show_part(const Part* part) {
    other_ = part;
    refresh({});
}

FootprintMap Footprint::map_now() const {
    return FootprintMap(part(), QRectF(rect()).adjusted(8, 8, -8, -8), look_);
}

std::string Footprint::port_at(int pin) const {
    if (pin < 0 || static_cast<size_t>(pin) >= plan_.pins.size() || plan_.pins[static_cast<size_t>(pin)].port < 0)
        return {};
    return desk_.session().world().netlist.ports[static_cast<size_t>(plan_.pins[static_cast<size_t>(pin)].port)].name;
}

/// The pins of what is selected: of a pin, of ports, of a bus, of a bank, of a terminal.
std::vector<int> Footprint::chosen_pins() const {
    std::vector<int> out;
    if (!desk_.has_session() || other_) return out;
    const auto& s = desk_.selection();
    const auto add = [&](const std::string& name) {
        if (const auto at = part().by_name.find(name); at != part().by_name.end())
            out.push_back(static_cast<int>(at->second));
    };
    if (s.kind == QLatin1String("pin"))
        add(s.name.toStdString());
    else if (s.kind == QLatin1String("terminal")) {
        if (const auto at = desk_.session().world().board.at_terminal(s.name.toStdString()); at.net) add(at.net->pin);
    } else if (s.kind == QLatin1String("bank")) {
        for (const auto& pin : part().pins)
            if (q(pin.bank) == s.name) add(pin.name);
    } else {
        for (const auto& port : desk_.chosen_ports())
            if (const auto at = plan_.port_of.find(port);
                at != plan_.port_of.end() && plan_.ports[static_cast<size_t>(at->second)].pin >= 0)
                out.push_back(plan_.ports[static_cast<size_t>(at->second)].pin);
    }
    return out;
}

void Footprint::select_pin(int at) {
    const auto& pin = part().pins[static_cast<size_t>(at)].name;
    const auto port = port_at(at);
    // A second click on the same pin goes from the port to the pin itself.
    if (port.empty() || desk_.selection() == Selection{QStringLiteral("port"), q(port), {}})
        desk_.select({QStringLiteral("pin"), q(pin), {}});
    else
        desk_.select({QStringLiteral("port"), q(port), {}});
}

void Footprint::mousePressEvent(QMouseEvent* event) {
    if (!desk_.has_session() || other_) return;
    setFocus();
    const int at = map_now().at(event->position());
    if (at < 0) {
        grabbed_ = event->position();
        return;
    }
    const auto port = port_at(at);
    if (!port.empty() && (event->modifiers() & Qt::ControlModifier))
        desk_.select(desk_.selection().toggled(QStringLiteral("port"), q(port)));
    else if (port.empty() || desk_.selection().also.isEmpty() ||
             !desk_.selection().has(QStringLiteral("port"), q(port)))
        select_pin(at);
    if (!port.empty()) {
        const auto chosen =
            desk_.selection().kind == QLatin1String("port") ? desk_.chosen_ports() : std::vector<std::string>{};
        drag_.press(chosen.size() > 1 ? chosen : std::vector{port}, event->position());
    }
    update();
}

void Footprint::mouseMoveEvent(QMouseEvent* event) {
    if (grabbed_) {
        auto look = look_;
        look.pan += event->position() - *grabbed_;
        grabbed_ = event->position();
        return set_look(look);
    }
    drag_.turn(event->modifiers() & Qt::ShiftModifier);
    if (drag_.move(event->position())) return update();
    if (!desk_.has_session()) return;
    const int at = map_now().at(event->position());
    if (at == hovered_) return;
    hovered_ = at;
    const auto port = at < 0 || other_ ? std::string() : port_at(at);
    setToolTip(at < 0 ? QString()
                      : tr("pin %1%2")
                            .arg(q(part().pins[static_cast<size_t>(at)].name),
                                 port.empty() ? QString() : QStringLiteral(": ") + q(port)));
    update();
}

void Footprint::mouseReleaseEvent(QMouseEvent* event) {
    grabbed_.reset();
    drag_ends(event->position());
}

void Footprint::drag_from_outside(const std::string& port, const QPointF& at) {
    drag_.press({port}, at);
}

void Footprint::drag_to(const QPointF& at, bool round) {
    drag_.turn(round);
    if (drag_.move(at)) update();
}

void Footprint::drag_ends(const QPointF& at) {
    if (!drag_.moving()) return drag_.end();
    const int pin = map_now().at(at);
    if (pin < 0)
        drag_.end();
    else
        drag_.drop({DropTarget::Kind::pin, part().pins[static_cast<size_t>(pin)].name});
    update();
}

void Footprint::leaveEvent(QEvent*) {
    hovered_ = -1;
    update();
}

void Footprint::wheelEvent(QWheelEvent* event) {
    if (!desk_.has_session()) return;
    zoom_by(std::pow(1.2, event->angleDelta().y() / 120.0), event->position());
    event->accept();
}

/// To the next pin in a direction: the nearest one within a quarter of a turn.
void Footprint::step(int dx, int dy) {
    const auto m = map_now();
    const auto chosen = chosen_pins();
    const QPointF from = chosen.empty() ? m.body.topLeft() : m.pins[static_cast<size_t>(chosen[0])].center();
    int best = -1;
    double least = 1e30;
    for (size_t i = 0; i < m.pins.size(); ++i) {
        const QPointF d = m.pins[i].center() - from;
        const double along = d.x() * dx + d.y() * dy, aside = std::abs(d.x() * dy) + std::abs(d.y() * dx);
        if (along < 0.5 || aside > along + 0.5) continue;
        if (const double distance = along + 2 * aside; distance < least) {
            least = distance;
            best = static_cast<int>(i);
        }
    }
    if (best < 0) return;
    const auto port = port_at(best);
    if (port.empty())
        desk_.select({QStringLiteral("pin"), q(part().pins[static_cast<size_t>(best)].name), {}});
    else
        desk_.select({QStringLiteral("port"), q(port), {}});
    update();
}

void Footprint::keyPressEvent(QKeyEvent* event) {
    if (!desk_.has_session()) return;
    const QPointF middle(width() / 2.0, height() / 2.0);
    switch (event->key()) {
        case Qt::Key_Left: return step(-1, 0);
        case Qt::Key_Right: return step(1, 0);
        case Qt::Key_Up: return step(0, -1);
        case Qt::Key_Down: return step(0, 1);
        case Qt::Key_Plus: return zoom_by(1.25, middle);
        case Qt::Key_Minus: return zoom_by(0.8, middle);
        case Qt::Key_0: return show_all();
        case Qt::Key_Escape: drag_.end(); return update();
        default: Canvas::keyPressEvent(event);
    }
}

}  // namespace kp::app
