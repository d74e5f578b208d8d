// SPDX-License-Identifier: GPL-3.0-or-later
// A typed text is tried as pin, as terminal, as kind with number, in this order; several things of one name are
// asked about.
#include "core/planning/place.hpp"

#include "core/base/text.hpp"
#include "core/base/said.hpp"

#include <algorithm>

namespace kp {

namespace {

Message no_place(std::string text) {
    return {Severity::stop, Code::place, std::move(text)};
}

/// Places that a text means on the board: a terminal with or without its part, a kind with its order, or the designator
/// of a part that has one terminal.
std::vector<std::string> places_on_board(const std::string& text, const Board& board, std::vector<std::string>& names) {
    std::vector<std::string> pins;
    for (const auto& net : board.nets) {
        const auto found = board.at_terminal(net.terminal);
        if (!found) continue;
        names.push_back(found.terminal->name);
        const bool single = found.part->terminals.size() == 1;
        const std::string by_order = found.part->kind + (single ? "" : std::to_string(found.terminal->order));
        const bool meant = lower(net.terminal) == text || lower(found.terminal->name) == text ||
                           lower(by_order) == text || (single && lower(found.part->ref) == text);
        if (meant && std::find(pins.begin(), pins.end(), net.pin) == pins.end()) pins.push_back(net.pin);
    }
    return pins;
}

}  // namespace

Result<std::string> find_place(const std::string& raw, const Part& part, const Board& board) {
    std::string text = lower(trim(raw));
    const bool pin_said = text.starts_with("pin ") || text.starts_with("ball "), part_said = text.starts_with("part ");
    if (pin_said || part_said) text = trim(std::string_view(text).substr(text.find(' ')));
    const auto pin =
        std::find_if(part.pins.begin(), part.pins.end(), [&](const Pin& p) { return lower(p.name) == text; });
    if (pin_said && pin != part.pins.end()) return pin->name;
    std::vector<std::string> names;
    const auto pins = places_on_board(text, board, names);
    const auto ref =
        std::find_if(board.parts.begin(), board.parts.end(), [&](const BoardPart& p) { return lower(p.ref) == text; });
    if (pin != part.pins.end() && !part_said) {
        // J2, D1 and K1 are balls and designators: nobody guesses which is meant.
        const bool elsewhere = ref != board.parts.end() && !(pins.size() == 1 && pins[0] == pin->name);
        if (!elsewhere) return pin->name;
        return no_place(
            said("'{}' is a pin of the FPGA and a designator of the board ({}); type 'pin {}' or 'part {}'.", raw,
                 ref->label, pin->name, ref->ref));
    }
    if (pins.size() == 1) return pins.front();
    if (pins.size() > 1)
        return no_place(said("'{}' names several terminals; type the pin or the part with it, such as {}.", raw,
                             board.at_pin(pins[0]).net->terminal));
    for (const auto& p : part.pins) names.push_back(p.name);
    return no_place(said("There is no pin or terminal '{}'.{}", raw, did_you_mean(raw, names)));
}

namespace {

std::optional<Peg> peg_of(const Project& project, const std::string& port) {
    const auto at = project.pegs.find(port);
    return at == project.pegs.end() ? std::nullopt : std::optional<Peg>(at->second);
}

PortAttributes attributes_of(const Project& project, const std::string& port) {
    const auto at = project.attributes.find(port);
    return at == project.attributes.end() ? PortAttributes{} : at->second;
}

/// A standard that came from the board follows the port to its new place; one that was chosen stays.
void follow_standard(Edit& edit, const Project& project, const Board& board, const std::string& port,
                     const std::string& pin) {
    const auto before = attributes_of(project, port);
    if (before.standard_chosen()) return;
    auto after = before;
    const auto found = board.at_pin(pin);
    after.standard = found ? found.terminal->standard : "";
    after.standard_origin = after.standard.empty() ? "" : from_the_board;
    if (after != before) edit.changes.emplace_back(AttributeChange{port, before, after});
}

}  // namespace

Edit peg_edit(const Project& project, const Board& board, const std::string& port, const std::string& pin,
              const std::string& origin) {
    Edit edit{said("peg {} to {}", port, pin), {}};
    const auto before = peg_of(project, port);
    const Peg after{pin, PegState::pegged, origin};
    if (before == std::optional<Peg>(after)) return edit;
    edit.changes.emplace_back(PegChange{port, before, after});
    follow_standard(edit, project, board, port, pin);
    return edit;
}

Edit unpeg_edit(const Project& project, const std::string& port) {
    Edit edit{said("set {} adrift", port), {}};
    if (const auto before = peg_of(project, port)) edit.changes.emplace_back(PegChange{port, before, std::nullopt});
    return edit;
}

Edit swap_edit(const Project& project, const std::string& a, const std::string& b) {
    Edit edit{said("swap {} and {}", a, b), {}};
    const auto pa = peg_of(project, a), pb = peg_of(project, b);
    if (a == b || (!pa && !pb)) return edit;
    edit.changes.emplace_back(PegChange{a, pa, pb});
    edit.changes.emplace_back(PegChange{b, pb, pa});
    return edit;
}

Edit standard_edit(const Project& project, const std::string& port, const std::string& standard,
                   const std::string& origin) {
    Edit edit{standard.empty() ? "take back the standard of " + port : said("choose {} for {}", standard, port), {}};
    const auto before = attributes_of(project, port);
    auto after = before;
    after.standard = standard;
    after.standard_origin = standard.empty() ? "" : origin;
    if (after != before) edit.changes.emplace_back(AttributeChange{port, before, after});
    return edit;
}

Edit accept_edit(const Project& project) {
    Edit edit{"accept what is loose", {}};
    for (const auto& [port, peg] : project.pegs) {
        if (peg.state != PegState::loose) continue;
        Peg after = peg;
        after.state = PegState::pegged;
        edit.changes.emplace_back(PegChange{port, peg, after});
    }
    return edit;
}

}  // namespace kp
