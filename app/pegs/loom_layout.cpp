// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/pegs/loom_layout.hpp"

#include "core/base/text.hpp"

#include <algorithm>
#include <map>
#include <set>

namespace kp::app {

namespace {
constexpr double row = 19, head = 24, gap = 8;

bool kept(const std::string& name, const std::string& filter) { return filter.empty() || lower(name).find(lower(filter)) != std::string::npos; }
}  // namespace

LoomLayout::LoomLayout(const Session& s, double width, const std::string& filter) {
    const auto& p = s.project();
    const auto& w = s.world();
    const double left = 20, port_width = std::max(240.0, width * 0.27), pin_x = left + port_width + width * 0.06, pin_width = std::max(200.0, width * 0.24), part_x = pin_x + pin_width + width * 0.14, part_width = width - part_x - 20;
    double y = 30;
    std::string bus;
    bool scalars = false;
    for (const auto& port : w.netlist.ports) {
        if (!kept(port.name, filter) && !kept(port.bus, filter)) continue;
        const bool scalar = port.index < 0;
        if (scalar ? !scalars : port.bus != bus) {
            headings.push_back({scalar ? QObject::tr("single") : QString::fromStdString(port.bus), {left, y, port_width, head - 4}});
            y += head - 4;
        }
        scalars = scalar;
        bus = port.bus;
        PortRow r;
        r.port = port.name;
        r.rect = {left, y, port_width, row};
        r.output = port.direction != Direction::in;
        r.both = port.direction == Direction::inout;
        if (const auto a = p.attributes.find(port.name); a != p.attributes.end()) r.standard = a->second.standard;
        if (const auto peg = p.pegs.find(port.name); peg != p.pegs.end()) r.pin = peg->second.pin, r.state = peg->second.state == PegState::pegged ? 0 : 1;
        ports.push_back(std::move(r));
        y += row;
    }
    height = y;

    // Pins that matter: pegged or wired by the board, in their banks, in the order of the package.
    std::set<std::string> shown;
    for (const auto& net : w.board.nets) shown.insert(net.pin);
    for (const auto& [port, peg] : p.pegs) shown.insert(peg.pin);
    y = 30;
    for (size_t b = 0; b < w.part.banks.size(); ++b) {
        BankBox box;
        box.bank = w.part.banks[b].name;
        box.position = static_cast<int>(b);
        box.volts = w.board.rail(box.bank).value_or(0);
        std::set<std::string> used;
        for (const auto& [port, peg] : p.pegs) used.insert(peg.pin);
        double inner = y + head;
        for (const auto& pin : w.part.pins) {
            if (pin.bank != box.bank || !pin.usable()) continue;
            ++box.usable;
            box.used += used.contains(pin.name);
            if (!shown.contains(pin.name)) continue;
            pins.push_back({pin.name, {pin_x + pin_width * 0.42, inner, 44, row - 3}, box.position});
            inner += row - 1;
        }
        box.rect = {pin_x, y, pin_width, inner - y + 4};
        banks.push_back(box);
        y = inner + 4 + gap;
    }
    height = std::max(height, y);

    y = 30;
    for (const auto& part : w.board.parts) {
        if (part.terminals.empty()) continue;
        const double top = y;
        y += head;
        for (const auto& t : part.terminals) {
            const std::string full = part.ref + "." + t.name;
            const auto found = w.board.at_terminal(full);
            if (!kept(full, filter) && !kept(part.label, filter)) continue;
            terminals.push_back({full, found.net ? found.net->pin : "", QString::fromStdString(t.name), {part_x, y, part_width, row - 2}});
            y += row - 2;
        }
        if (y == top + head) {
            y = top;
            continue;
        }
        parts.push_back({QString::fromStdString(part.label + " " + part.ref), {part_x, top, part_width, y - top + 4}});
        y += 4 + gap;
    }
    height = std::max(height, y) + 10;
}

namespace {
template <class List>
auto hit(const List& list, const QPointF& at) -> decltype(&list.front()) {
    for (const auto& item : list)
        if (item.rect.contains(at)) return &item;
    return nullptr;
}
}  // namespace

const LoomLayout::PortRow* LoomLayout::port_at(const QPointF& at) const { return hit(ports, at); }
const LoomLayout::PinBox* LoomLayout::pin_at(const QPointF& at) const { return hit(pins, at); }
const LoomLayout::TerminalRow* LoomLayout::terminal_at(const QPointF& at) const { return hit(terminals, at); }
const LoomLayout::PinBox* LoomLayout::pin(const std::string& name) const {
    for (const auto& p : pins)
        if (p.pin == name) return &p;
    return nullptr;
}

}  // namespace kp::app
