// SPDX-License-Identifier: GPL-3.0-or-later
// Columns are laid out from top to bottom and sorted, pins within their bank, terminals by what they are wired to,
// so that threads run level where they can. n log n in ports, pins and terminals.
#include "app/pegs/loom_layout.hpp"

#include "core/base/text.hpp"

#include <algorithm>
#include <map>
#include <memory>
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

namespace {

/// Where names belong on the board; found once for each world, since it does not change with pegs.
std::unordered_map<std::string, std::string> homes_of(const Session& s) {
    static std::weak_ptr<const World> of;
    static std::unordered_map<std::string, std::string> known;
    const auto world = s.snapshot()->world;
    if (of.lock() == world) return known;
    known.clear();
    for (const auto& m : s.plan().matcher().all(world->netlist.ports, {})) known[m.port] = m.pin;
    of = world;
    return known;
}

constexpr double nowhere = 1e9;

}  // namespace

/// A board part gets as much room as its pins and its ports take, so that all three stand beside each other.
void LoomLayout::make_room(const Session& s) {
    home_ = homes_of(s);
    const auto& board = s.world().board;
    std::map<std::string, std::pair<int, std::set<std::string>>> ports_of, pins_of;
    for (const auto& port : s.world().netlist.ports)
        if (const auto home = home_.find(port.name); home != home_.end())
            if (const auto at = board.at_pin(home->second)) {
                ++ports_of[at.part->ref].first;
                ports_of[at.part->ref].second.insert(port.index < 0 ? std::string() : port.bus);
            }
    for (const auto& net : board.nets)
        if (const auto at = board.at_pin(net.pin); at && s.world().part.pin(net.pin)) {
            ++pins_of[at.part->ref].first;
            pins_of[at.part->ref].second.insert(s.world().part.pin(net.pin)->bank);
        }
    for (const auto& [ref, n] : ports_of)
        room_[ref] = n.first * row + static_cast<double>(n.second.size()) * (head - 4);
    for (const auto& [ref, n] : pins_of)
        room_[ref] =
            std::max(room_[ref], n.first * (row - 1) + static_cast<double>(n.second.size()) * (head + 4 + gap));
}

void LoomLayout::measure() {
    for (const auto& t : terminals)
        if (!t.pin.empty()) terminal_y_.emplace(t.pin, t.rect.center().y());
}

double LoomLayout::height_of(const std::string& pin) const {
    const auto at = terminal_y_.find(pin);
    return at == terminal_y_.end() ? nowhere : at->second;
}

/// Bits of one bus; or single ports that follow each other, as long as they belong to one part of the board.
std::vector<LoomLayout::Group> LoomLayout::groups_of(const Session& s, const std::string& filter) const {
    std::vector<Group> groups;
    for (const auto& port : s.world().netlist.ports) {
        const auto home = home_.find(port.name);
        const auto peg = s.project().pegs.find(port.name);
        const auto pin = home != home_.end()             ? home->second
                         : peg != s.project().pegs.end() ? peg->second.pin
                                                         : std::string();
        const auto at = s.world().board.at_pin(pin);
        const std::string ref = at ? at.part->ref : "";
        const bool shown = only_.empty() ? kept(port.name, filter) || kept(port.bus, filter) : ref == only_;
        if (!shown) continue;
        const bool scalar = port.index < 0;
        const std::string key = scalar ? "\n" + ref : port.bus;  // no bus begins with a line end
        if (groups.empty() || groups.back().key != key) {
            const auto title = !scalar       ? QString::fromStdString(port.bus)
                               : ref.empty() ? QObject::tr("single")
                                             : QObject::tr("single, %1").arg(QString::fromStdString(ref));
            groups.push_back({title, key, scalar ? "" : port.bus, {}});
        }
        auto& g = groups.back();
        g.ports.push_back(&port);
        if (const double y = height_of(pin); y < nowhere) {
            g.sum += y;
            ++g.known;
        }
    }
    // Bits whose names belong on one part of the board stand in the order of its terminals.
    const auto belongs = [&](const Port* p) {
        const auto home = home_.find(p->name);
        return home == home_.end() ? nowhere : height_of(home->second);
    };
    for (auto& g : groups)
        if (std::all_of(g.ports.begin(), g.ports.end(), [&](const Port* p) { return belongs(p) < nowhere; }))
            std::stable_sort(g.ports.begin(), g.ports.end(),
                             [&](const Port* a, const Port* b) { return belongs(a) < belongs(b); });
    std::stable_sort(groups.begin(), groups.end(), [](const Group& a, const Group& b) {
        return (a.known ? a.sum / a.known : nowhere) < (b.known ? b.sum / b.known : nowhere);
    });
    return groups;
}

/// Buses and single ports by the height of the pins where they belong.
double LoomLayout::lay_ports(const Session& s, double left, double width, const std::string& filter) {
    const auto& p = s.project();
    double y = 30;
    for (const auto& g : groups_of(s, filter)) {
        const double tall = head - 4 + row * static_cast<double>(g.ports.size());
        if (g.known) y = std::max(y, g.sum / g.known - tall / 2);
        headings.push_back({g.title, g.bus, {left, y, width, head - 4}});
        y += head - 4;
        for (const auto* port : g.ports) {
            PortRow r;
            r.port = port->name;
            r.rect = {left, y, width, row};
            r.direction = port->direction;
            if (const auto a = p.attributes.find(port->name); a != p.attributes.end()) r.standard = a->second.standard;
            if (const auto peg = p.pegs.find(port->name); peg != p.pegs.end()) {
                r.pin = peg->second.pin;
                r.state = peg->second.state == PegState::pegged ? 0 : 1;
            }
            port_at_.emplace(r.port, ports.size());
            ports.push_back(std::move(r));
            y += row;
        }
    }
    return y;
}

/// Pins that matter: pegged or wired by the board. Those of one board part stand beside it, a piece for each bank it
/// uses; what no part is wired to comes last, bank by bank.
std::vector<LoomLayout::Piece> LoomLayout::pieces_of(const Session& s) const {
    const auto& part = s.world().part;
    const auto& board = s.world().board;
    std::vector<Piece> out;
    std::unordered_set<std::string> seen;
    for (const auto& on : board.parts) {
        if (!only_.empty() && on.ref != only_) continue;
        std::map<int, Piece> by_bank;
        for (const auto& t : on.terminals) {
            const auto at = board.at_terminal(on.ref + "." + t.name);
            const auto* pin = at && at.net ? part.pin(at.net->pin) : nullptr;
            if (!pin || !pin->usable() || !seen.insert(pin->name).second) continue;
            by_bank[part.bank_position(pin->bank)].pins.push_back(pin);
        }
        const size_t first = out.size();
        for (auto& [bank, piece] : by_bank) {
            piece.bank = bank;
            out.push_back(std::move(piece));
        }
        for (size_t i = first; i < out.size(); ++i)
            for (const auto* pin : out[i].pins)
                if (const double y = height_of(pin->name); y < nowhere) out[i].top = std::min(out[i].top, y);
        std::sort(out.begin() + static_cast<std::ptrdiff_t>(first), out.end(),
                  [](const Piece& x, const Piece& y) { return x.top < y.top; });
    }
    std::map<int, Piece> rest;
    for (const auto& [port, peg] : s.project().pegs)
        if (const auto* pin = part.pin(peg.pin); only_.empty() && pin && pin->usable() && seen.insert(pin->name).second)
            rest[part.bank_position(pin->bank)].pins.push_back(pin);
    for (auto& [bank, piece] : rest) {
        piece.bank = bank;
        std::sort(piece.pins.begin(), piece.pins.end(),
                  [](const Pin* x, const Pin* y) { return natural_less(x->name, y->name); });
        out.push_back(std::move(piece));
    }
    return out;
}

double LoomLayout::lay_banks(const Session& s, double left, double width) {
    const auto& part = s.world().part;
    std::unordered_set<std::string> used;
    for (const auto& [port, peg] : s.project().pegs) used.insert(peg.pin);
    std::vector<std::pair<int, int>> counts(part.banks.size());  // used and usable
    for (const auto& pin : part.pins)
        if (const int b = part.bank_position(pin.bank); b >= 0 && pin.usable()) {
            counts[static_cast<size_t>(b)].first += used.contains(pin.name);
            ++counts[static_cast<size_t>(b)].second;
        }
    double y = 30;
    for (const auto& piece : pieces_of(s)) {
        if (piece.bank < 0) continue;
        const auto b = static_cast<size_t>(piece.bank);
        if (piece.top < nowhere) y = std::max(y, piece.top - head - row / 2);
        BankBox box;
        box.bank = part.banks[b].name;
        box.position = piece.bank;
        box.volts = s.world().board.rail(box.bank).value_or(0);
        box.used = counts[b].first;
        box.usable = counts[b].second;
        double inner = y + head;
        for (const auto* pin : piece.pins) {
            pin_at_.emplace(pin->name, pins.size());
            pins.push_back(
                {pin->name, {left + width * 0.42, inner, 44, row - 3}, piece.bank, -1, used.contains(pin->name)});
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
        if (part.terminals.empty() || (!only_.empty() && part.ref != only_)) continue;
        const double top = y;
        y += head;
        for (const auto& t : part.terminals) {
            const std::string full = part.ref + "." + t.name;
            if (only_.empty() && !kept(full, filter) && !kept(part.label, filter)) continue;
            const auto found = board.at_terminal(full);
            TerminalRow r{full,
                          found.net ? found.net->pin : "",
                          QString::fromStdString(t.name),
                          {left, y, width, row - 2},
                          t.active_low,
                          -1};
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
        // A filter leaves less than the whole part.
        if (const auto room = room_.find(part.ref); room != room_.end() && (filter.empty() || !only_.empty()))
            y = std::max(y, top + room->second);
    }
    return y;
}

LoomLayout::LoomLayout(const Session& s, double width, const std::string& filter) {
    const double left = 20, port_width = std::max(240.0, width * 0.27), pin_x = left + port_width + width * 0.06,
                 pin_width = std::max(200.0, width * 0.24), part_x = pin_x + pin_width + width * 0.14,
                 part_width = width - part_x - 20;
    if (filter.starts_with("part:")) only_ = filter.substr(5);
    make_room(s);
    height = lay_parts(s, part_x, part_width, filter);
    measure();
    height = std::max(height, lay_banks(s, pin_x, pin_width));
    height = std::max(height, lay_ports(s, left, port_width, filter)) + 10;
    for (size_t i = 0; i < terminals.size(); ++i)
        if (const auto at = pin_at_.find(terminals[i].pin); at != pin_at_.end()) {
            terminals[i].pin_box = static_cast<int>(at->second);
            pins[at->second].terminal = static_cast<int>(i);
        }
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
