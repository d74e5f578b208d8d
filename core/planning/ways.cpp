// SPDX-License-Identifier: GPL-3.0-or-later
// Many ports to many places by their orders; nothing here judges a place, the caller's rules do.
#include "core/planning/ways.hpp"

#include "core/base/ranges.hpp"
#include "core/base/text.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <map>
#include <set>

namespace kp {

namespace {

std::optional<std::vector<std::string>> bits_of(const std::string& name, const std::vector<Port>& ports) {
    std::vector<std::string> out;
    for (const auto& p : ports) {
        if (p.name == name) return std::vector{p.name};
        if (p.bus == name) out.push_back(p.name);
    }
    return out.empty() ? std::nullopt : std::optional(out);
}

/// name[7:4] or name[0..3] in parts.
struct Slice {
    std::string name;
    long long from = 0, to = 0;
};
std::optional<Slice> slice_of(const std::string& text) {
    const auto open = text.rfind('[');
    if (open == std::string::npos || open == 0 || !text.ends_with("]")) return std::nullopt;
    const auto inside = std::string_view(text).substr(open + 1, text.size() - open - 2);
    const auto dots = inside.find(".."), colon = inside.find(':');
    const auto middle = dots != std::string_view::npos ? dots : colon;
    if (middle == std::string_view::npos) return std::nullopt;
    const auto from = to_integer(trim(inside.substr(0, middle))),
               to = to_integer(trim(inside.substr(middle + (dots != std::string_view::npos ? 2 : 1))));
    if (!from || !to || distance_of(*from, *to) > 4096) return std::nullopt;
    return Slice{text.substr(0, open), *from, *to};
}

}  // namespace

Result<std::vector<std::string>> find_ports(const std::string& text, const std::vector<Port>& ports) {
    std::vector<std::string> out, names;
    std::string bus;
    for (const auto& p : ports) {
        if (p.bus != p.name && p.bus != bus) names.push_back(bus = p.bus);
        names.push_back(p.name);
    }
    std::string word;
    for (const char c : text + ",") {
        if (c != ',' && c != ' ') {
            word += c;
            continue;
        }
        if (word.empty()) continue;
        if (const auto bits = bits_of(word, ports)) {
            out.insert(out.end(), bits->begin(), bits->end());
        } else if (const auto slice = slice_of(word)) {
            for (long long i = slice->from;; i += slice->from <= slice->to ? 1 : -1) {
                const auto bit = slice->name + "[" + std::to_string(i) + "]";
                if (!bits_of(bit, ports))
                    return Message{Severity::stop, Code::port,
                                   said("The design has no port '{}'.{}", bit, did_you_mean(bit, names))};
                out.push_back(bit);
                if (i == slice->to) break;
            }
        } else {
            return Message{Severity::stop, Code::port,
                           said("The design has no port '{}'.{}", word, did_you_mean(word, names))};
        }
        word.clear();
    }
    if (out.empty()) return Message{Severity::stop, Code::port, "Name a port, a bus or a slice of one."};
    return out;
}

namespace {

/// The wired terminals of a board part in the order the hand sees them.
std::vector<std::string> wired_pins(const BoardPart& part, const Board& board) {
    std::vector<std::pair<int, std::string>> wired;
    for (const auto& t : part.terminals)
        if (const auto at = board.at_terminal(part.ref + "." + t.name); at.net)
            wired.emplace_back(t.order, at.net->pin);
    std::stable_sort(wired.begin(), wired.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
    std::vector<std::string> out;
    for (const auto& [order, pin] : wired) out.push_back(pin);
    return out;
}

}  // namespace

Result<std::vector<std::string>> find_places(const std::string& text, const Part& part, const Board& board) {
    const bool part_said = lower(text).starts_with("part "),
               pin_said = lower(text).starts_with("pin ") || lower(text).starts_with("ball ");
    const auto bare = lower(trim(std::string_view(text).substr(part_said ? 5 : 0)));
    // What is a pin and a designator is asked about; a board part stands for its terminals.
    const bool is_pin =
        std::any_of(part.pins.begin(), part.pins.end(), [&](const Pin& p) { return lower(p.name) == bare; });
    if (is_pin && !part_said) {
        auto pin = find_place(text, part, board);
        if (!pin) return pin.messages();
        return std::vector{pin.take()};
    }
    for (const auto& p : board.parts) {
        if (lower(p.ref) != bare && lower(p.name) != bare) continue;
        const auto out = wired_pins(p, board);
        if (out.size() < 2) break;
        return out;
    }
    const std::string range(pin_said ? trim(std::string_view(text).substr(text.find(' '))) : std::string_view(text));
    const auto names = expand_names(range);
    if (!names || names->empty())
        return Message{Severity::stop, Code::place, said("'{}' is not a range; write K1..K8, or list the pins.", text)};
    std::vector<std::string> out;
    for (const auto& name : *names) {
        auto pin = find_place((pin_said ? "pin " : "") + name, part, board);
        if (!pin) return pin.messages();
        out.push_back(pin.take());
    }
    return out;
}

std::vector<std::string> places_from(const DropTarget& target, const std::vector<std::string>& ports, const Part& part,
                                     const Board& board, const PegMap& pegs,
                                     const std::function<bool(const std::string& port, const std::string& pin)>& fits) {
    std::set<std::string> moving(ports.begin(), ports.end()), used;
    for (const auto& [port, peg] : pegs)
        if (!moving.contains(port)) used.insert(peg.pin);
    std::vector<std::string> out;
    const auto full = [&] { return out.size() >= ports.size(); };
    if (target.kind == DropTarget::Kind::board_part) {
        for (const auto& p : board.parts)
            if (p.ref == target.name) out = wired_pins(p, board);
    } else if (target.kind == DropTarget::Kind::bank) {
        for (const bool wired : {false, true})
            for (const auto& pin : part.pins) {
                if (full() || pin.bank != target.name || !pin.usable() || used.contains(pin.name) ||
                    static_cast<bool>(board.at_pin(pin.name)) != wired)
                    continue;
                if (fits(ports[out.size()], pin.name)) out.push_back(pin.name);
            }
    } else if (const auto wired = board.at_pin(target.name); wired && ports.size() > 1) {
        const auto all = wired_pins(*wired.part, board);
        out.assign(std::find(all.begin(), all.end(), target.name), all.end());
    } else {
        out.push_back(target.name);
        const auto at = part.by_name.find(target.name);
        for (size_t i = at == part.by_name.end() ? part.pins.size() : at->second + 1; i < part.pins.size() && !full();
             ++i) {
            const auto& pin = part.pins[i];
            if (pin.bank == part.pins[at->second].bank && pin.usable() && !used.contains(pin.name) &&
                !board.at_pin(pin.name))
                out.push_back(pin.name);
        }
    }
    if (full()) out.resize(ports.size());
    return out;
}

ManyPegs peg_many(const Project& project, const Board& board, const std::vector<std::string>& ports,
                  const std::vector<std::string>& pins, const std::string& origin) {
    ManyPegs out;
    const size_t n = std::min(ports.size(), pins.size());
    out.ports_left.assign(ports.begin() + static_cast<long>(n), ports.end());
    out.pins_left.assign(pins.begin() + static_cast<long>(n), pins.end());
    out.edit.title = n == 1 ? said("peg {} to {}", ports[0], pins[0]) : "peg " + counted(n, "port");
    const std::set<std::string> moving(ports.begin(), ports.begin() + static_cast<long>(n)),
        wanted(pins.begin(), pins.begin() + static_cast<long>(n));
    Project next = project;
    const auto apply_to = [&](const Edit& edit) {
        if (!kp::apply(next, edit)) return;
        out.edit.changes.insert(out.edit.changes.end(), edit.changes.begin(), edit.changes.end());
    };
    // First everybody leaves: those that move, and those on whose pins others come.
    for (const auto& [port, peg] : project.pegs)
        if (moving.contains(port) || wanted.contains(peg.pin)) {
            const auto stays = std::find(ports.begin(), ports.begin() + static_cast<long>(n), port);
            const bool same = stays != ports.begin() + static_cast<long>(n) &&
                              pins[static_cast<size_t>(stays - ports.begin())] == peg.pin;
            if (!same && !moving.contains(port)) out.evicted.emplace_back(port, peg.pin);
            if (!same) apply_to(unpeg_edit(next, port));
        }
    for (size_t i = 0; i < n; ++i) apply_to(peg_edit(next, board, ports[i], pins[i], origin));
    return out;
}

namespace {

/// The pins the ports have now.
Result<std::vector<std::string>> pins_of(const Project& project, const std::vector<std::string>& ports) {
    const auto refuse = [](const std::string& why) { return Message{Severity::stop, Code::place, why}; };
    if (ports.size() < 2) return refuse("Select a bus, or several ports.");
    std::vector<std::string> out;
    for (const auto& port : ports) {
        const auto peg = project.pegs.find(port);
        if (peg == project.pegs.end()) return refuse(port + " is adrift; peg the whole bus first.");
        out.push_back(peg->second.pin);
    }
    return out;
}

}  // namespace

Result<ManyPegs> turn_round(const Project& project, const Board& board, const std::vector<std::string>& ports) {
    auto pins = pins_of(project, ports);
    if (!pins) return pins.messages();
    auto turned = pins.take();
    std::reverse(turned.begin(), turned.end());
    auto out = peg_many(project, board, ports, turned, "by hand");
    out.edit.title = "reverse " + counted(ports.size(), "port");
    return out;
}

Result<ManyPegs> shift_along(const Project& project, const Board& board, const std::vector<std::string>& ports,
                             int by) {
    auto pins = pins_of(project, ports);
    if (!pins) return pins.messages();
    const auto refuse = [](const std::string& why) { return Message{Severity::stop, Code::place, why}; };
    const auto first = board.at_pin(pins.value().front());
    if (!first) return refuse(ports[0] + " is on no board part, so there is nothing to shift along.");
    const auto places = wired_pins(*first.part, board);
    const auto n = static_cast<long>(places.size());
    std::vector<std::string> shifted;
    for (size_t i = 0; i < ports.size(); ++i) {
        const auto at = std::find(places.begin(), places.end(), pins.value()[i]);
        if (at == places.end()) return refuse(said("{} is not on {} like {}.", ports[i], first.part->ref, ports[0]));
        shifted.push_back(places[static_cast<size_t>(((at - places.begin() + by) % n + n) % n)]);
    }
    auto out = peg_many(project, board, ports, shifted, "by hand");
    out.edit.title = said("shift {} along {}", counted(ports.size(), "port"), first.part->ref);
    return out;
}

}  // namespace kp
