// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/pegs/loom_layout.hpp"

#include "core/base/text.hpp"

#include <algorithm>
#include <set>
#include <unordered_map>
#include <unordered_set>

namespace kp::app {

namespace {
constexpr double row = 19, head = 24, gap = 8;

bool kept(const std::string& name, const std::string& filter) {
    return filter.empty() || lower(name).find(lower(filter)) != std::string::npos;
}
}  // namespace

double LoomLayout::lay_ports(const Session& s, double left, double width, const std::string& filter) {
    const auto& p = s.project();
    double y = 30;
    std::string bus;
    bool scalars = false;
    for (const auto& port : s.world().netlist.ports) {
        if (!kept(port.name, filter) && !kept(port.bus, filter)) continue;
        const bool scalar = port.index < 0;
        if (scalar ? !scalars : port.bus != bus) {
            headings.push_back({scalar ? QObject::tr("single") : QString::fromStdString(port.bus),
                                scalar ? "" : port.bus,
                                {left, y, width, head - 4}});
            y += head - 4;
        }
        scalars = scalar;
        bus = port.bus;
        PortRow r;
        r.port = port.name;
        r.rect = {left, y, width, row};
        r.direction = port.direction;
        if (const auto a = p.attributes.find(port.name); a != p.attributes.end()) r.standard = a->second.standard;
        if (const auto peg = p.pegs.find(port.name); peg != p.pegs.end()) {
            r.pin = peg->second.pin;
            r.state = peg->second.state == PegState::pegged ? 0 : 1;
        }
        port_at_.emplace(r.port, ports.size());
        ports.push_back(std::move(r));
        y += row;
    }
    return y;
}

/// Pins that matter: pegged or wired by the board, in their banks, in the order of the package.
double LoomLayout::lay_banks(const Session& s, double left, double width) {
    const auto& part = s.world().part;
    std::unordered_set<std::string> shown, used;
    for (const auto& [port, peg] : s.project().pegs) used.insert(peg.pin);
    shown = used;
    for (const auto& net : s.world().board.nets) shown.insert(net.pin);
    std::unordered_map<std::string, std::vector<const Pin*>> of_bank;
    for (const auto& pin : part.pins)
        if (pin.usable()) of_bank[pin.bank].push_back(&pin);
    double y = 30;
    for (size_t b = 0; b < part.banks.size(); ++b) {
        BankBox box;
        box.bank = part.banks[b].name;
        box.position = static_cast<int>(b);
        box.volts = s.world().board.rail(box.bank).value_or(0);
        double inner = y + head;
        for (const auto* pin : of_bank[box.bank]) {
            ++box.usable;
            const bool taken = used.contains(pin->name);
            box.used += taken;
            if (!shown.contains(pin->name)) continue;
            pin_at_.emplace(pin->name, pins.size());
            pins.push_back({pin->name, {left + width * 0.42, inner, 44, row - 3}, box.position, -1, taken});
            inner += row - 1;
        }
        box.rect = {left, y, width, inner - y + 4};
        banks.push_back(box);
        y = inner + 4 + gap;
    }
    return y;
}

double LoomLayout::lay_parts(const Session& s, double left, double width, const std::string& filter) {
    const auto& board = s.world().board;
    double y = 30;
    for (const auto& part : board.parts) {
        if (part.terminals.empty()) continue;
        const double top = y;
        y += head;
        for (const auto& t : part.terminals) {
            const std::string full = part.ref + "." + t.name;
            if (!kept(full, filter) && !kept(part.label, filter)) continue;
            const auto found = board.at_terminal(full);
            TerminalRow r{full,
                          found.net ? found.net->pin : "",
                          QString::fromStdString(t.name),
                          {left, y, width, row - 2},
                          t.active_low,
                          -1};
            if (const auto at = pin_at_.find(r.pin); at != pin_at_.end()) {
                r.pin_box = static_cast<int>(at->second);
                pins[at->second].terminal = static_cast<int>(terminals.size());
            }
            terminals.push_back(std::move(r));
            y += row - 2;
        }
        if (y == top + head) {
            y = top;
            continue;
        }
        parts.push_back(
            {part.ref, QString::fromStdString(part.label + " " + part.ref), {left, top, width, y - top + 4}});
        y += 4 + gap;
    }
    return y;
}

LoomLayout::LoomLayout(const Session& s, double width, const std::string& filter) {
    const double left = 20, port_width = std::max(240.0, width * 0.27), pin_x = left + port_width + width * 0.06,
                 pin_width = std::max(200.0, width * 0.24), part_x = pin_x + pin_width + width * 0.14,
                 part_width = width - part_x - 20;
    height = lay_ports(s, left, port_width, filter);
    height = std::max(height, lay_banks(s, pin_x, pin_width));
    height = std::max(height, lay_parts(s, part_x, part_width, filter)) + 10;
    for (auto& port : ports)
        if (const auto at = pin_at_.find(port.pin); at != pin_at_.end()) port.pin_box = static_cast<int>(at->second);
}

namespace {
template <class List>
auto hit(const List& list, const QPointF& at) -> decltype(&list.front()) {
    for (const auto& item : list)
        if (item.rect.contains(at)) return &item;
    return nullptr;
}
}  // namespace

const LoomLayout::PortRow* LoomLayout::port_at(const QPointF& at) const {
    return hit(ports, at);
}
const LoomLayout::PinBox* LoomLayout::pin_at(const QPointF& at) const {
    return hit(pins, at);
}
const LoomLayout::TerminalRow* LoomLayout::terminal_at(const QPointF& at) const {
    return hit(terminals, at);
}
const LoomLayout::Heading* LoomLayout::heading_at(const QPointF& at) const {
    return hit(headings, at);
}
const LoomLayout::PinBox* LoomLayout::pin(const std::string& name) const {
    const auto at = pin_at_.find(name);
    return at == pin_at_.end() ? nullptr : &pins[at->second];
}
const LoomLayout::PortRow* LoomLayout::port(const std::string& name) const {
    const auto at = port_at_.find(name);
    return at == port_at_.end() ? nullptr : &ports[at->second];
}

std::optional<DropTarget> LoomLayout::target_at(const QPointF& at) const {
    if (const auto* p = pin_at(at)) return DropTarget{DropTarget::Kind::pin, p->pin};
    if (const auto* t = terminal_at(at); t && !t->pin.empty()) return DropTarget{DropTarget::Kind::pin, t->pin};
    if (const auto* b = hit(banks, at)) return DropTarget{DropTarget::Kind::bank, b->bank};
    if (const auto* p = hit(parts, at)) return DropTarget{DropTarget::Kind::board_part, p->ref};
    return std::nullopt;
}

}  // namespace kp::app
