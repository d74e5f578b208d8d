// SPDX-License-Identifier: GPL-3.0-or-later
// Look-ups by pin and terminal through hash tables made by index(); a board under construction is searched instead.
#include "core/model/board.hpp"

#include "core/base/text.hpp"
#include "core/base/said.hpp"

#include <algorithm>
#include <array>
#include <utility>

namespace kp {

namespace {
constexpr std::array<std::pair<TerminalDirection, const char*>, 4> directions{
    {{TerminalDirection::drives, "drives"},
     {TerminalDirection::reads, "reads"},
     {TerminalDirection::both, "both"},
     {TerminalDirection::passive, "passive"}}};
}

const char* name_of(TerminalDirection direction) {
    for (const auto& [d, word] : directions)
        if (d == direction) return word;
    return "";
}

std::optional<TerminalDirection> terminal_direction_of(const std::string& word) {
    for (const auto& [d, w] : directions)
        if (word == w) return d;
    return std::nullopt;
}

void Board::index() {
    terminal_index_.clear();
    net_of_pin_.clear();
    net_of_terminal_.clear();
    indexed_nets_ = nets.size();
    for (size_t p = 0; p < parts.size(); ++p)
        for (size_t t = 0; t < parts[p].terminals.size(); ++t)
            terminal_index_.insert_or_assign(parts[p].ref + "." + parts[p].terminals[t].name, TerminalIndex{p, t});
    for (size_t n = 0; n < nets.size(); ++n) {
        net_of_pin_.emplace(nets[n].pin, n);
        net_of_terminal_.insert_or_assign(nets[n].terminal, n);
    }
}

Board::Found Board::at_terminal(const std::string& ref_and_name) const {
    if (indexed()) {
        const auto place = terminal_index_.find(ref_and_name);
        if (place == terminal_index_.end()) return {};
        const auto net = net_of_terminal_.find(ref_and_name);
        return found(place->second, net == net_of_terminal_.end() ? nullptr : &nets[net->second]);
    }
    Found found;
    for (const auto& part : parts)
        for (const auto& terminal : part.terminals)
            if (ref_and_name.size() == part.ref.size() + 1 + terminal.name.size() &&
                ref_and_name.starts_with(part.ref) && ref_and_name[part.ref.size()] == '.' &&
                ref_and_name.ends_with(terminal.name)) {
                found.part = &part;
                found.terminal = &terminal;
            }
    for (const auto& net : nets)
        if (found && net.terminal == ref_and_name) found.net = &net;
    return found;
}

Board::Found Board::at_pin(const std::string& pin) const {
    if (indexed()) {
        const auto net = net_of_pin_.find(pin);
        return net == net_of_pin_.end() ? Found{} : at_terminal(nets[net->second].terminal);
    }
    for (const auto& net : nets)
        if (net.pin == pin) return at_terminal(net.terminal);
    return {};
}

std::optional<double> Board::rail(const std::string& bank) const {
    for (const auto& rail : rails)
        if (rail.bank == bank) return rail.volts;
    return std::nullopt;
}

const Oscillator* Board::oscillator_at_pin(const std::string& pin) const {
    for (const auto& net : nets)
        if (net.pin == pin)
            for (const auto& oscillator : oscillators)
                if (oscillator.terminal == net.terminal) return &oscillator;
    return nullptr;
}

Status fit_module(Board& board, const BoardModule& module, const std::string& header) {
    const auto refuse = [&](const std::string& text) { return Message{Severity::stop, Code::board_module, text}; };
    BoardPart* at = nullptr;
    std::vector<std::string> headers;
    for (auto& part : board.parts)
        if (part.kind == "header") {
            headers.push_back(part.ref);
            if (part.ref == header) at = &part;
        }
    if (!at) return refuse(said("The board has no header {}; it has {}.", header, list_names(headers, 6)));
    if (at->header_kind != module.header_kind)
        return refuse(said("The module {} fits a header of kind '{}', and {} is of kind '{}'.", module.name,
                           module.header_kind, header, at->header_kind));
    for (const auto& fitted : board.fitted)
        if (fitted.ends_with("@" + header))
            return refuse("The header " + header + " is taken by " + fitted.substr(0, fitted.find('@')) + ".");
    auto nets = board.nets;
    for (const auto& [wanted, to] : module.wires) {
        // By the terminal's name, or by its place in the header, so that one module fits all headers of its kind.
        std::string from = wanted;
        for (const auto& t : at->terminals)
            if (std::to_string(t.order) == wanted) from = t.name;
        bool found = false;
        for (auto& net : nets)
            if (net.terminal == header + "." + from) {
                net.terminal = header + "." + to;
                found = true;
            }
        if (!found)
            return refuse(
                said("The module {} wants terminal {}, which header {} does not wire.", module.name, from, header));
        const auto dot = to.find('.');
        const bool known = std::any_of(module.parts.begin(), module.parts.end(), [&](const BoardPart& p) {
            return p.ref == to.substr(0, dot) &&
                   std::any_of(p.terminals.begin(), p.terminals.end(),
                               [&](const Terminal& t) { return t.name == to.substr(dot + 1); });
        });
        if (!known) return refuse(said("The module {} wires {} to {}, which it does not have.", module.name, from, to));
    }
    const BoardPart place = *at;
    for (size_t i = 0; i < module.parts.size(); ++i) {
        BoardPart part = module.parts[i];
        part.ref = header + "." + part.ref;
        part.module = header;
        // Shown over the header, one beside the other.
        const double w = place.w / static_cast<double>(module.parts.size());
        part.x = place.x + w * static_cast<double>(i);
        part.y = place.y;
        part.w = w;
        part.h = place.h;
        board.parts.push_back(std::move(part));
    }
    board.terminal_index_.clear();
    board.nets = std::move(nets);
    board.fitted.push_back(module.name + "@" + header);
    return Done{};
}

}  // namespace kp
